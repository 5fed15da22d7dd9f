"""The shown job at a screw and its nut: set by leaf or by angle, and what this nut does to it."""

from collections.abc import Callable

from valvetrain.angles import TURN_DEG
from valvetrain.engine import Valve
from valvetrain.practice import actions as a
from valvetrain.practice.boxes import stacks
from valvetrain.practice.constants import EACH_LEAF_MM, NEAR_LIMIT_MM, RIGHT_DRAG_MM
from valvetrain.practice.evidence import stints
from valvetrain.practice.leaf_words import stack_words
from valvetrain.practice.proved import Proved, spec_of
from valvetrain.practice.running import CHANGES
from valvetrain.practice.walk_step import Step, Told, let_go, measured_mm

Measure = Callable[[Told, Valve, a.GapKind], Step | Proved]


def set_screw(told: Told, valve: Valve) -> Step:
    number = valve.number
    own = [s.action for s, _ in told.history.own[number] if isinstance(s.action, CHANGES)]
    if isinstance(own[-1], a.SetByLeaf):
        return _off_by_angle(told, valve, own[-1]) or _tighten(told, number)
    if isinstance(own[-1], a.Screw):
        return _tighten(told, number)
    if (step := let_go(told, valve, "opening")) is not None:
        return step
    angled = told.needs_angled(number)
    leaves_um = _leaves_to_set(told, valve)
    return Step(
        f"Turn the screw of valve {number} until {stack_words(told.setup, leaves_um)} drags.",
        "Held lightly on both faces, like a page in a book: neither clamped nor loose."
        + _beforehand(told, valve),
        a.SetByLeaf(number, leaves_um, angled=angled),
        number,
    )


def _off_by_angle(told: Told, valve: Valve, by_leaf: a.SetByLeaf) -> Step | None:
    """What the leaves of this box do not come to is set off by the angle of the screw; None where
    they come near enough."""
    screw = told.setup.engine.adjuster(valve.number).screw
    off_mm = _wanted_set_mm(told, valve) - _set_mm(by_leaf)
    if screw is None or abs(off_mm) < NEAR_LIMIT_MM:
        return None
    turn_deg = -off_mm / screw.gap_per_turn_mm * TURN_DEG
    way = "in" if turn_deg > 0 else "out"
    return Step(
        f"Turn the screw of valve {valve.number} {abs(turn_deg):.0f}° {way}, without the leaf.",
        f"One turn is {screw.gap_per_turn_mm:.2f} mm of gap, and no leaf of this box is what is "
        "wanted." + _beforehand(told, valve),
        a.Screw(valve.number, round(turn_deg)),
        valve.number,
    )


def _set_mm(by_leaf: a.SetByLeaf) -> float:
    """The gap that a screw is left at by leaves that drag as they should."""
    more_mm = (len(by_leaf.leaves_um) - 1) * EACH_LEAF_MM
    return sum(by_leaf.leaves_um) / 1000 + more_mm + RIGHT_DRAG_MM


def _wanted_set_mm(told: Told, valve: Valve) -> float:
    """The middle of the spec, less what this nut moved the gap by when it was last tightened."""
    return float(spec_of(told.setup, valve.number, "opening").middle_mm) - _nut_moved_mm(
        told, valve
    )


def set_by_angle(told: Told, valve: Valve, measure: Measure) -> Step:
    """Zero and back off, over a hollow pad: the angle proves the gap, and one leaf there shows what
    the hollow takes."""
    number = valve.number
    last = next(
        s.action for s, _ in reversed(told.history.own[number]) if isinstance(s.action, CHANGES)
    )
    if isinstance(last, a.Loosen):
        return let_go(told, valve, "opening") or Step(
            f"Turn the screw of valve {number} until there is just no gap.",
            "Its pad is hollow: a leaf reads tight there, and the angle of the screw does not.",
            a.Zero(number),
            number,
        )
    if isinstance(last, a.Zero):
        screw = told.setup.engine.adjuster(number).screw
        per_turn_mm = 1.0 if screw is None else screw.gap_per_turn_mm
        back_deg = round(_wanted_set_mm(told, valve) / per_turn_mm * TURN_DEG)
        return Step(
            f"Turn the screw of valve {number} back by {back_deg}°.",
            f"One turn of this screw is {per_turn_mm:.2f} mm of gap." + _beforehand(told, valve),
            a.Screw(number, -back_deg),
            number,
        )
    found = measure(told, valve, "opening")
    return found if isinstance(found, Step) else _tighten(told, number)


def _tighten(told: Told, number: int) -> Step:
    nut = told.setup.engine.adjuster(number).screw
    torque = None if nut is None else nut.locknut_torque_nm
    to = "by hand: no torque is given" if torque is None else f"to {round(torque, 1):g} N·m"
    return Step(
        f"Hold the screw, and tighten the nut of valve {number} {to}.",
        "The nut takes the screw with it; so the gap is tried again afterwards.",
        a.Tighten(number, torque),
        number,
    )


def _leaves_to_set(told: Told, valve: Valve) -> tuple[int, ...]:
    """Those that leave the gap nearest to the one that is wanted with the nut loose."""
    made = stacks(told.setup.leaves_at(valve.number)).with_pairs
    wanted_um = (_wanted_set_mm(told, valve) - RIGHT_DRAG_MM) * 1000

    def off_um(size: int) -> float:
        """By how much the gap would miss, and a little for every further leaf."""
        more = len(made[size]) - 1
        return abs(size + more * EACH_LEAF_MM * 1000 - wanted_um) + 3 * more

    return made[min(made, key=off_um)]


def _nut_moved_mm(told: Told, valve: Valve) -> float:
    """What the student's own leaves showed it to do: the gap with the nut tight less that to which
    it was set. 0 at the first time."""
    set_to, moved = 0.0, 0.0
    screw = told.setup.engine.adjuster(valve.number).screw
    per_turn_mm = 0.0 if screw is None else screw.gap_per_turn_mm
    began = {change.before.step + 1: change.action for change in told.changes(valve.number)}
    for stint in stints(told.history, valve.number):
        change = began.get(stint.from_step)
        if isinstance(change, a.SetByLeaf):
            set_to = _set_mm(change)
        elif isinstance(change, a.Screw):
            turned_mm = -change.by_deg / TURN_DEG * per_turn_mm
            set_to = set_to + turned_mm if stint.angle_mm is None else stint.angle_mm
        elif isinstance(change, a.Tighten) and set_to:
            found_mm = measured_mm(told, stint, valve.number)
            if found_mm is not None:
                moved = found_mm - set_to
    return moved


def _beforehand(told: Told, valve: Valve) -> str:
    if abs(_nut_moved_mm(told, valve)) < NEAR_LIMIT_MM:
        return ""
    return " This nut moved the gap before: that much is set off beforehand."


def is_stuck(told: Told, number: int) -> bool:
    """Whether its nut was just found seized."""
    own = [stretch for stretch, _ in told.history.own[number]]
    return bool(own) and own[-1].seen.facts.get("seized") is True


def loosen(told: Told, number: int) -> Step:
    if is_stuck(told, number):
        return Step(
            f"Oil the lock nut of valve {number}, wait, and loosen it with the ring spanner.",
            "It is seized; forced, it rounds off.",
            a.Loosen(number, oil=True),
            number,
        )
    return Step(
        f"Loosen the lock nut of valve {number}.",
        "It is out of its spec by what is written; every valve is written down by now.",
        a.Loosen(number),
        number,
    )
