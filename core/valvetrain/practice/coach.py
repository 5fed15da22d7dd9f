"""Coaching while it is done: a question before a mistake becomes costly, and the next leaf.

Questions are asked at the level *prompted*; at *shown* the next leaf is named as well, from what
the student's own leaves have proved and never from the hidden clearance.
"""

from collections.abc import Sequence
from decimal import Decimal
from typing import NamedTuple

from valvetrain.constants import UM_PER_MM
from valvetrain.engine import Role
from valvetrain.gauges import GaugeError, Reading, Spec, best_stack, read_gap
from valvetrain.looks import GEAR
from valvetrain.practice import actions as a
from valvetrain.practice.constants import SMALLEST_STACK_ERROR_MM, WARM_FELT_MM
from valvetrain.practice.evidence import GAP_OF_COLUMN, felt_here, history, reads_as_figure
from valvetrain.practice.measuring import hanging_mm, margin_now_deg, warm_mm
from valvetrain.practice.observation import Observation
from valvetrain.practice.run import Stretch
from valvetrain.practice.running import CHANGES, RunningCheck, running_check
from valvetrain.practice.setup import Setup
from valvetrain.practice.state import State
from valvetrain.turned import hand_turning
from valvetrain.units import LengthError, Unit, parse_mm

_ON_THE_HEEL = (a.Try, a.SetByLeaf, a.Screw, a.Zero)


def _how_to_tell(setup: Setup, valve: int) -> str:
    gear = GEAR[setup.engine.train(valve)]
    return f"Wiggle its {gear.part}" if gear.wiggles else "Look where its lobe points"


def asks(setup: Setup, state: State, action: a.Action) -> str | None:
    """What a careful colleague would ask before this is done; None where there is nothing.

    The valve of the action must be one of the engine's.
    """
    if isinstance(action, _ON_THE_HEEL) and margin_now_deg(setup, state, action.valve) < 0:
        return (
            f"Is valve {action.valve} on its heel here? {_how_to_tell(setup, action.valve)}, and "
            "look where its companion stands."
        )
    if isinstance(action, a.Try | a.SetByLeaf | a.Zero) and (
        warm_mm(setup, state, setup.engine.valve[action.valve].role) > WARM_FELT_MM
    ):
        return (
            "Is the engine cold? Lay a hand on the head: the spec is for a cold one. A warm one is "
            "let stand, not corrected in the head."
        )
    if isinstance(action, a.Try | a.SetByLeaf) and _hangs(setup, state, action):
        gear = GEAR[setup.engine.train(action.valve)]
        if setup.engine.valve[action.valve].role is Role.BRAKE:
            return (
                f"Is brake rocker {action.valve} pushed back to its detent? Off it, part of the "
                "lash is hidden from the leaf."
            )
        if gear.has_rod:
            return (
                f"Is the slack of the push rod of valve {action.valve} pressed out? Press it down "
                "first: else the leaf finds part of the play only."
            )
        return (
            f"Does the {gear.part} of valve {action.valve} hang on its lobe? Lift it first: else "
            "the leaf finds part of the play only."
        )
    if isinstance(action, a.Loosen | a.TakeShim) and not all_written(setup, state):
        return "Is every valve measured and written down? All are, before anything is changed."
    if (
        isinstance(action, a.TakeShim)
        and action.gap == "opening"
        and _is_second(setup, state, action)
    ):
        return (
            f"Is the closing gap of valve {action.valve} right, and measured again? It comes "
            "first: it moves the opening gap with it."
        )
    if isinstance(action, a.SetByLeaf | a.Try) and action.pressing:
        return "Are you pressing on the rocker? It springs back, and the gap comes out loose."
    if _is_on_one_side(setup, state, action):
        return "Is the leaf under both sides of the bridge? On one side only, the bridge tips."
    if isinstance(action, a.Cams) and action.out and not state.crank_locked:
        return (
            "Is the crank locked? As the caps come off, the valve springs turn the camshaft, and "
            "its drive turns the crank with it."
        )
    if (
        isinstance(action, a.Turn)
        and action.by_deg < 0
        and not setup.engine.turning.reverse_allowed
    ):
        return "This engine is turned one way only. Go on, and round again."
    if isinstance(action, a.Write) and action.text.strip() and not reads_as_figure(action):
        return f"“{action.text.strip()}” is not a figure. Which figure did you mean?"
    return _asks_at_the_end(setup, state, action)


def _hangs(setup: Setup, state: State, action: a.Try | a.SetByLeaf) -> bool:
    if isinstance(action, a.Try) and action.gap == "closing":
        return False
    return hanging_mm(setup, state, action.valve) > 0


def _asks_at_the_end(setup: Setup, state: State, action: a.Action) -> str | None:
    if isinstance(action, a.Cover) and action.on:
        loose = [
            valve.number
            for valve, seat in zip(setup.engine.valves, state.seats, strict=True)
            if not seat.nut_tight
        ]
        if loose:
            return f"Are all lock nuts tight? That of valve {loose[0]} is not."
        if not state.tools_counted:
            return "Are the leaves and spanners counted? One could lie under the cover."
    if isinstance(action, a.FirstStart):
        if state.tool_on:
            return f"Ready to run? See first: {hand_turning(setup.engine).is_on}."
        if not state.closed:
            return "Is the cover on?"
    return None


def _is_on_one_side(setup: Setup, state: State, action: a.Action) -> bool:
    """Whether a valve is set, or its figure written, with the leaf under one side of its bridge.
    Trying the near side is no mistake: a leaf that is pushed in reaches that side first."""
    if isinstance(action, a.SetByLeaf):
        return action.how == "one-side"
    return (
        isinstance(action, a.Write)
        and GAP_OF_COLUMN.get(action.column) == "opening"
        and state.seats[setup.place[action.valve]].near_only
    )


def all_written(setup: Setup, state: State) -> bool:
    """Every valve has its figure, and those that are pulled shut their second one."""
    written = {(note.valve, note.column) for note in state.notes}
    return all(
        (valve.number, "first") in written
        and (valve.role not in setup.engine.closing or (valve.number, "closing") in written)
        for valve in setup.engine.valves
    )


def _is_second(setup: Setup, state: State, action: a.TakeShim) -> bool:
    """Whether this opening shim is changed before the closing gap, which was written out of spec,
    was set and written anew."""
    spec = setup.engine.closing.get(setup.engine.valve[action.valve].role)
    if spec is None:
        return False
    written = {n.column: n.text for n in state.notes if n.valve == action.valve}
    text = written.get("closing-after", written.get("closing", ""))
    try:
        closing_mm = parse_mm(text.strip(), Unit.MM)
    except LengthError:
        return True
    return not spec.low_mm <= closing_mm <= spec.high_mm


class Advice(NamedTuple):
    """The leaf or stack to try next, None where the gap is settled or cannot be."""

    reading: Reading
    leaves_mm: tuple[Decimal, ...] | None
    says: str

    @property
    def proves(self) -> str:
        """What the next leaf can tell; empty where none is named."""
        if self.leaves_mm is None:
            return ""
        size = f"{sum(self.leaves_mm, Decimal(0)):.3f}".rstrip("0").rstrip(".")
        return (
            f"If {size} mm goes in, the gap is at least that; if it does not, or only by force, "
            "it is no more."
        )


def advise(setup: Setup, valve: int, run: Sequence[Stretch], gap: a.GapKind = "opening") -> Advice:
    """What the leaves of this gap prove where the crank now stands, and the next one.

    Only leaves since the valve was last changed and the crank last turned belong together; one that
    was tried off the heel proves nothing, and that is said. A valve that has no such gap is advised
    on the one that all have.
    """
    role = setup.engine.valve[valve].role
    closing = setup.engine.closing.get(role) if gap == "closing" else None
    spec = closing or setup.engine.clearance[role]
    asked: a.GapKind = "closing" if closing else "opening"
    box = [Decimal(leaf) / UM_PER_MM for leaf in setup.leaves_um]
    felt = felt_here(history(setup, run), valve, asked)
    proving = [one for one in felt if one.margin_deg >= 0 or asked == "closing"]
    limits = Spec(spec.low_mm, spec.high_mm, spec.nominal_mm)
    reading = read_gap([one.leaf for one in proving], limits, box)
    if len(proving) < len(felt):
        return Advice(reading, None, _off_the_heel(setup, valve))
    leaves: tuple[Decimal, ...] | None = None
    if reading.next_leaf_mm is not None:
        leaves = (reading.next_leaf_mm,)
    if not proving:
        leaves = _leaf_for(box, spec.nominal_mm or spec.low_mm or spec.high_mm)
    done = [(one.action, one.seen) for one in run]
    running = running_check(setup, valve, done)
    if running is not None and running.set_anew and _nut_came_last(valve, done):
        return Advice(reading, _stack_for_running(box, running), running.says)
    rests_on = f" So judged: {spec.shop_words}." if spec.shop_words and leaves is None else ""
    return Advice(reading, leaves, reading.says + rests_on)


def _off_the_heel(setup: Setup, valve: int) -> str:
    return (
        f"Valve {valve} is not on its heel here: what a leaf says now proves nothing. "
        f"{_how_to_tell(setup, valve)}, turn the crank to its place, and begin again."
    )


def _nut_came_last(valve: int, done: list[tuple[a.Action, Observation]]) -> bool:
    """Whether the last change of a valve was that its nut was tightened."""
    changes = [act for act, _ in done if isinstance(act, CHANGES) and act.valve == valve]
    return bool(changes) and isinstance(changes[-1], a.Tighten)


def _stack_for_running(box: list[Decimal], running: RunningCheck) -> tuple[Decimal, ...] | None:
    if running.proved:
        return None
    return _leaf_for(box, running.high_mm if running.small_went else running.low_mm)


def _leaf_for(box: list[Decimal], wanted_mm: Decimal) -> tuple[Decimal, ...]:
    """The leaf of this size, or the two or three that come closest to it."""
    if wanted_mm in box:
        return (wanted_mm,)
    try:
        stack = best_stack(box, max(wanted_mm, box[0]), most=3)
    except GaugeError:
        return (min(box, key=lambda leaf: abs(leaf - wanted_mm)),)
    nearest = min(box, key=lambda leaf: abs(leaf - wanted_mm))
    if abs(nearest - wanted_mm) - abs(stack.error_mm) < SMALLEST_STACK_ERROR_MM:
        return (nearest,)
    return stack.leaves_mm
