"""The shown job, where something is changed: nut and screw, or shim; tried again, and written."""

import statistics
from collections.abc import Callable

from valvetrain.angles import CYCLE_DEG
from valvetrain.engine import Clearance, Valve
from valvetrain.practice import actions as a
from valvetrain.practice.constants import MOST_TRIES, NEAR_LIMIT_MM, RIGHT_DRAG_MM
from valvetrain.practice.evidence import Stint, lengths_mm, stints
from valvetrain.practice.measuring import margin_now_deg
from valvetrain.practice.proved import Proved, held_mm, mm_text, stacks
from valvetrain.practice.running import running_check
from valvetrain.practice.walk_step import Step, Told, leaf_text, try_step

Measure = Callable[[Told, Valve, a.GapKind], Step | Proved]
TurnTo = Callable[[Told, Valve], Step]
AFTER: dict[a.GapKind, str] = {"opening": "after", "closing": "closing-after"}
FIRST: dict[a.GapKind, str] = {"opening": "first", "closing": "closing"}


def adjust(
    told: Told, valve: Valve, gap: a.GapKind, *, measure: Measure, turn_to: TurnTo
) -> Step | None:
    """The next step at this gap; None where it is within its spec and written."""
    number, spec = valve.number, _spec(told, valve, gap)
    if is_open(told, valve, gap):
        return _go_on(told, valve, gap)
    if _is_stuck(told, number):
        return _loosen(told, number)
    if any(is_open(told, valve, other) for other in AFTER):
        return None  # its other shim is out
    if not any(told.changes(number)):
        if _is_near(spec, _written_mm(told, valve, gap), NEAR_LIMIT_MM):
            return None
        return _begin(told, valve, gap, turn_to)
    if told.last.cams_out:
        # Those that were found out of their spec again; the others are as they should be.
        again = _found_since_mm(told, valve, gap)
        if again is None or _is_near(spec, again, -NEAR_LIMIT_MM) or _gets_no_better(told, valve):
            return None
        return _begin(told, valve, gap, turn_to)
    if told.note(number, AFTER[gap]):
        return _running(told, valve, turn_to)
    if told.last.crank_locked:
        # Just locked, it is for the cams; else it is the end of that, and it comes out.
        just = isinstance(told.run[-1].action, a.LockCrank)
        return _cams_out(told) if just else turn_to(told, valve)
    if not _turned_over(told, number):
        return Step(
            "Turn the engine over twice.",
            "Oil and parts settle only when it has turned; a gap that was just set deceives.",
            a.Turn(CYCLE_DEG),
            number,
            gap,
        )
    if margin_now_deg(told.setup, told.last, number) < 0:
        return turn_to(told, valve)
    found = measure(told, valve, gap)
    if isinstance(found, Step):
        return found
    if not _is_near(spec, found.estimate_mm, -NEAR_LIMIT_MM) and not _gets_no_better(told, valve):
        return _begin(told, valve, gap, turn_to)
    text = leaf_text(found)
    return Step(
        f"Write {text} for valve {number}, as it is left.",
        "Only a figure that was tried after the change is worth writing down.",
        a.Write(number, AFTER[gap], text),  # type: ignore[arg-type]
        number,
        gap,
    )


def _is_near(spec: Clearance, gap_mm: float, beyond_mm: float) -> bool:
    """Whether a gap lies within its limits, made so much wider; narrower below zero, as far as the
    spec has room for it."""
    low, high = float(spec.low_mm), float(spec.high_mm)
    beyond = max(beyond_mm, (low - high) / 4)
    return low - beyond <= gap_mm <= high + beyond


def _found_since_mm(told: Told, valve: Valve, gap: a.GapKind) -> float | None:
    """By the leaves that were held since its last change, wherever the crank stood."""
    return _held_in(stints(told.history, valve.number, gap)[-1])


def _held_in(stint: Stint) -> float | None:
    felt = [one for one in stint.felt if one.margin_deg >= 0]
    held = [mm for one in felt if (mm := held_mm(one)) is not None]
    return statistics.fmean(held) if held else None


def _gets_no_better(told: Told, valve: Valve) -> bool:
    """Whether it was set several times already: then it is left, and noted."""
    begun = (a.Loosen, a.TakeShim)
    own = [one.action for one, _ in told.history.own[valve.number]]
    return sum(isinstance(action, begun) for action in own) >= MOST_TRIES


def _running(told: Told, valve: Valve, turn_to: TurnTo) -> Step | None:
    """A brake's running range, proved by a thin and a thick stack once its nut is tight again."""
    done = [(stretch.action, stretch.seen) for stretch in told.run]
    check = running_check(told.setup, valve.number, done)
    if check is None or check.proved or not check.set_anew:
        return None
    if margin_now_deg(told.setup, told.last, valve.number) < 0:
        return turn_to(told, valve)
    made = stacks(told.setup.leaves_um)
    wanted = check.high_mm if check.small_went else check.low_mm
    size = min(made, key=lambda one: abs(one - float(wanted) * 1000))
    tried = {
        sum(one.action.leaves_um)
        for one, _ in told.history.own[valve.number]
        if isinstance(one.action, a.Try) and one.action.gap == "running"
    }
    if size in tried:
        return None  # it is as it is; the record shows it
    return try_step(told, valve, made[size], "running", check.says)


def _spec(told: Told, valve: Valve, gap: a.GapKind) -> Clearance:
    engine = told.setup.engine
    return engine.closing[valve.role] if gap == "closing" else engine.clearance[valve.role]


def _written_mm(told: Told, valve: Valve, gap: a.GapKind) -> float:
    text = told.note(valve.number, "settled") if gap == "opening" else ""
    text = text or told.note(valve.number, FIRST[gap])
    middle_mm = _spec(told, valve, gap).middle_mm
    return float(min(lengths_mm(text), key=lambda mm: abs(mm - middle_mm), default=middle_mm))


def is_open(told: Told, valve: Valve, gap: a.GapKind) -> bool:
    seat = told.last.seats[told.setup.place[valve.number]]
    hidden = told.setup.hidden[told.setup.place[valve.number]]
    if gap == "closing":
        return hidden.closing_um is not None and seat.closing_um is None
    return not seat.nut_tight or (hidden.shim_um is not None and seat.shim_um is None)


def _turned_over(told: Told, valve: int) -> bool:
    """Whether the crank was turned since this valve was last changed."""
    last = max(stretch.before.step for stretch in told.changes(valve))
    return any(isinstance(s.action, a.Turn) and s.before.step > last for s in told.run)


def _begin(told: Told, valve: Valve, gap: a.GapKind, turn_to: TurnTo) -> Step:
    """Out of its spec: the nut is loosened, or the shim taken out."""
    number = valve.number
    if told.setup.engine.adjuster(number).has_nut:
        if margin_now_deg(told.setup, told.last, number) < 0:
            return turn_to(told, valve)
        return _loosen(told, number)
    if _needs_cams_out(told, valve, gap):
        if not told.last.cams_out:
            return _cams_out(told)
    elif margin_now_deg(told.setup, told.last, number) < 0:
        return turn_to(told, valve)
    return Step(
        f"Take the {_shim(gap)} of valve {number} out.",
        "Its own size is what the next one is reckoned from.",
        a.TakeShim(number, gap),
        number,
        gap,
    )


def _is_stuck(told: Told, number: int) -> bool:
    """Whether its nut was just found seized."""
    own = [stretch for stretch, _ in told.history.own[number]]
    return bool(own) and own[-1].seen.facts.get("seized") is True


def _loosen(told: Told, number: int) -> Step:
    if _is_stuck(told, number):
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


def _go_on(told: Told, valve: Valve, gap: a.GapKind) -> Step:
    """With the nut loose, or the shim out."""
    number = valve.number
    if told.setup.engine.adjuster(number).has_nut:
        return _set(told, valve)
    own = [stretch for stretch, _ in told.history.own[number]]
    read = own[-1] if own and isinstance(own[-1].action, a.ReadShim) else None
    if read is None:
        return Step(
            f"Read the {_shim(gap)} of valve {number} with the micrometer.",
            "Stamps wear off, and not all makers stamp alike.",
            a.ReadShim(number, "micrometer", gap),
            number,
            gap,
        )
    return _fit(told, valve, gap, float(str(read.seen.facts["size_mm"])))


def _set(told: Told, valve: Valve) -> Step:
    number = valve.number
    own = [stretch.action for stretch, _ in told.history.own[number]]
    if isinstance(own[-1], a.SetByLeaf):
        nut = told.setup.engine.adjuster(number).screw
        torque = None if nut is None else nut.locknut_torque_nm
        to = "by hand: no torque is given" if torque is None else f"to {round(torque, 1):g} N·m"
        return Step(
            f"Hold the screw, and tighten the nut of valve {number} {to}.",
            "The nut takes the screw with it; so the gap is tried again afterwards.",
            a.Tighten(number, torque),
            number,
        )
    angled = told.needs_angled(number)
    leaves_um = _leaves_to_set(told, valve, angled=angled)
    return Step(
        f"Turn the screw of valve {number} until {mm_text(sum(leaves_um))} mm drags.",
        "Held lightly on both faces, like a page in a book: neither clamped nor loose."
        + _beforehand(told, valve),
        a.SetByLeaf(number, leaves_um, angled=angled),
        number,
    )


def _leaves_to_set(told: Told, valve: Valve, *, angled: bool) -> tuple[int, ...]:
    """The middle of the spec, less what this nut moved the gap by when it was last tightened."""
    made = stacks(told.setup.angled_um if angled else told.setup.leaves_um)
    wanted_um = float(told.setup.engine.clearance[valve.role].middle_mm) * 1000
    wanted_um -= _nut_moved_um(told, valve) + RIGHT_DRAG_MM * 1000
    return made[min(made, key=lambda size: abs(size - wanted_um))]


def _nut_moved_um(told: Told, valve: Valve) -> float:
    """What the student's own leaves showed it to do: the gap with the nut tight less that to which
    it was set. 0 at the first time."""
    set_to, moved = None, 0.0
    for stint in stints(told.history, valve.number):
        changed = next(
            (s for s in told.changes(valve.number) if s.before.step + 1 == stint.from_step), None
        )
        if changed is not None and isinstance(changed.action, a.SetByLeaf):
            set_to = sum(changed.action.leaves_um) + RIGHT_DRAG_MM * 1000
        elif changed is not None and isinstance(changed.action, a.Tighten) and set_to is not None:
            found_mm = _held_in(stint)
            if found_mm is not None:
                moved = found_mm * 1000 - set_to
    return moved


def _beforehand(told: Told, valve: Valve) -> str:
    moved = _nut_moved_um(told, valve)
    if not moved:
        return ""
    return " This nut moved the gap before: that much is set off beforehand."


def _fit(told: Told, valve: Valve, gap: a.GapKind, fitted_mm: float) -> Step:
    number = valve.number
    gap_mm, middle = _gap_before(told, valve, gap), float(_spec(told, valve, gap).middle_mm)
    box = told.last.closing_box_um if gap == "closing" else told.last.box_um
    wanted_um = (fitted_mm + gap_mm - middle) * 1000
    size_um = min(box, key=lambda size: abs(size - wanted_um))
    thick = "thicker" if size_um / 1000 > fitted_mm else "thinner"
    return Step(
        f"Fit a {_shim(gap)} of {size_um / 1000:.2f} mm at valve {number}, its printed face down.",
        f"{fitted_mm:.2f} fitted + {gap_mm:.2f} measured − {middle:.2f} wanted = "
        f"{fitted_mm + gap_mm - middle:.2f} mm; the nearest made is {size_um / 1000:.2f}, {thick}.",
        a.FitShim(number, size_um, gap=gap),
        number,
        gap,
    )


def _gap_before(told: Told, valve: Valve, gap: a.GapKind) -> float:
    """As it was last measured before the shim came out, else as it is written."""
    before = [_held_in(stint) for stint in stints(told.history, valve.number, gap)]
    found = [gap_mm for gap_mm in before if gap_mm is not None]
    return found[-1] if found else _written_mm(told, valve, gap)


def _shim(gap: a.GapKind) -> str:
    return "closing shim" if gap == "closing" else "shim"


def _needs_cams_out(told: Told, valve: Valve, gap: a.GapKind) -> bool:
    engine = told.setup.engine
    adjuster = (
        engine.closing_adjuster_of(valve.role)
        if gap == "closing"
        else engine.adjuster(valve.number)
    )
    return adjuster.shim is not None and adjuster.shim.cams_out


def _cams_out(told: Told) -> Step:
    pins = [mark for mark in told.setup.marks if mark.means == "pin"]
    if not told.last.crank_locked:
        if pins:
            at = min(
                ((deg - told.last.crank_deg) % CYCLE_DEG, deg)
                for mark in pins
                for deg in mark.crank_degs()
            )
            if at[0] > 1:
                return Step(
                    f"Turn the crank on by {at[0]:.0f}° to the hole of the timing pin.",
                    "The pin goes in only at its place, and locks the crank there.",
                    a.Turn(at[0]),
                )
        return Step(
            "Lock the crank.",
            "When the cams come out, the springs of lifted valves turn a crank that is not locked.",
            a.LockCrank(locked=True),
        )
    return Step(
        "Take the cams out, their marks noted.",
        "The shims of this engine lie under them.",
        a.Cams(out=True),
    )


def cams_in() -> Step:
    return Step(
        "Put the cams in, their marks to their lines.",
        "Half a tooth out, and valves meet pistons.",
        a.Cams(out=False),
    )
