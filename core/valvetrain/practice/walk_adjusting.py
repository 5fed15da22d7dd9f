"""The shown job, where something is changed: nut and screw, or shim; tried again, and written."""

from collections.abc import Callable

from valvetrain.angles import CYCLE_DEG
from valvetrain.engine import Valve
from valvetrain.practice import actions as a
from valvetrain.practice.boxes import stacks
from valvetrain.practice.constants import MOST_TRIES, NEAR_LIMIT_MM, SAME_FIGURE_MM
from valvetrain.practice.evidence import lengths_mm, stints
from valvetrain.practice.left_loose import LEAVE_COLUMN
from valvetrain.practice.measuring import margin_now_deg
from valvetrain.practice.proved import Proved, proved_by, spec_of
from valvetrain.practice.running import RunningCheck, running_check
from valvetrain.practice.setup import Setup
from valvetrain.practice.walk_screw import (
    Measure,
    is_stuck,
    loosen,
    set_by_angle,
    set_screw,
)
from valvetrain.practice.walk_shims import (
    best_shim_um,
    cams_out,
    fit,
    fitted_um,
    leave,
    needs_cams_out,
    shim_called,
)
from valvetrain.practice.walk_step import (
    AFTER,
    Step,
    Told,
    gap_text,
    let_go,
    measured_mm,
    pad_takes_mm,
    try_step,
    written_mm,
)

TurnTo = Callable[[Told, Valve], Step]


def adjust(
    told: Told, valve: Valve, gap: a.GapKind, *, measure: Measure, turn_to: TurnTo
) -> Step | None:
    """The next step at this gap; None where it is within its spec and written."""
    number = valve.number
    if is_open(told, valve, gap):
        return _go_on(told, valve, gap, measure)
    if is_stuck(told, number):
        return loosen(told, number)
    if any(is_open(told, valve, other) for other in AFTER):
        return None  # its other shim is out
    if not any(told.changes(number)):
        if _is_within(told, valve, gap) and not told.is_hollow(number):
            return None
        return _begin(told, valve, gap, turn_to)
    if told.last.cams_out:
        # Those that were found out of their spec again; the others are as they should be.
        again = measured_mm(told, stints(told.history, number, gap)[-1], number)
        if again is None or _is_done(told, valve, gap, again):
            return None
        return _begin(told, valve, gap, turn_to)
    if told.note(number, AFTER[gap]):
        return leave(told, valve) or _running(told, valve, turn_to)
    if told.last.crank_locked:
        # Just locked, it is for the cams; else it is the end of that, and it comes out.
        just = isinstance(told.run[-1].action, a.LockCrank)
        return cams_out(told) if just else turn_to(told, valve)
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
    takes_mm = pad_takes_mm(told, number) if gap == "opening" else 0.0
    if not _is_done(told, valve, gap, found.estimate_mm + takes_mm):
        return _begin(told, valve, gap, turn_to)
    return _write_after(told, number, gap, found, takes_mm)


def _write_after(told: Told, number: int, gap: a.GapKind, found: Proved, takes_mm: float) -> Step:
    text = gap_text(told, number, gap, found.estimate_mm)
    why = "Only a figure that was tried after the change is worth writing down."
    if takes_mm >= NEAR_LIMIT_MM:
        why = (
            "That is what a leaf finds over the hollow pad. The screw's angle proves the gap: it "
            "is larger by what the hollow takes. Report the pad: its rocker is renewed."
        )
    return Step(
        f"Write {text} for valve {number}, as it is left.",
        why,
        a.Write(number, AFTER[gap], text),  # type: ignore[arg-type]
        number,
        gap,
    )


def _is_within(told: Told, valve: Valve, gap: a.GapKind) -> bool:
    """Whether a gap was found within its spec."""
    spec = spec_of(told.setup, valve.number, gap)
    return float(spec.low_mm) <= _first_mm(told, valve, gap) <= float(spec.high_mm)


def is_inside(told: Told, valve: int, gap: a.GapKind, gap_mm: float) -> bool:
    """Whether a gap lies so far inside its spec that a hand can tell, as far as the spec has room
    for that."""
    spec = spec_of(told.setup, valve, gap)
    low, high = float(spec.low_mm), float(spec.high_mm)
    # Over a hollow pad two readings come together, each as uncertain as one.
    inside = min(NEAR_LIMIT_MM * (2 if told.is_hollow(valve) else 1), (high - low) / 4)
    return low + inside <= gap_mm <= high - inside


def _is_done(told: Told, valve: Valve, gap: a.GapKind, gap_mm: float) -> bool:
    """Whether a changed gap is right, or gets no better."""
    if is_inside(told, valve.number, gap, gap_mm):
        return True
    return _gets_no_better(told, valve, gap, gap_mm)


def _gets_no_better(told: Told, valve: Valve, gap: a.GapKind, gap_mm: float) -> bool:
    """Whether it was set several times already, or no other shim would bring it nearer."""
    number = valve.number
    begun = [
        one.action
        for one, _ in told.history.own[number]
        if isinstance(one.action, a.Loosen)
        or (isinstance(one.action, a.TakeShim) and one.action.gap == gap)
    ]
    if len(begun) >= MOST_TRIES:
        return True
    fitted = fitted_um(told, number, gap)
    if fitted is None:
        return False
    return best_shim_um(told, valve, gap, fitted / 1000, gap_mm) == fitted


def _running(told: Told, valve: Valve, turn_to: TurnTo) -> Step | None:
    """A brake's running range, proved by a thin and a thick stack once its nut is tight again."""
    done = [(stretch.action, stretch.seen) for stretch in told.run]
    check = running_check(told.setup, valve.number, done)
    if check is None or check.proved or not check.set_anew:
        return None
    if margin_now_deg(told.setup, told.last, valve.number) < 0:
        return turn_to(told, valve)
    if (step := let_go(told, valve, "running")) is not None:
        return step
    size = running_stack_um(told.setup, check)
    tried = {
        sum(one.action.leaves_um)
        for one, _ in told.history.own[valve.number]
        if isinstance(one.action, a.Try) and one.action.gap == "running"
    }
    if size in tried:
        return None  # it is as it is; the record shows it
    made = stacks(told.setup.leaves_um).with_pairs
    return try_step(told, valve, made[size], "running", check.says)


def running_stack_um(setup: Setup, check: RunningCheck) -> int:
    """The stack that is tried next: one that must go is no thinner than the range's lower end, one
    that must not go no thicker than its upper end."""
    made = stacks(setup.leaves_um).with_pairs
    low, high = float(check.low_mm) * 1000, float(check.high_mm) * 1000
    inside = [size for size in made if low <= size <= high] or list(made)
    wanted = high if check.small_went else low
    return min(inside, key=lambda size: abs(size - wanted))


def _first_mm(told: Told, valve: Valve, gap: a.GapKind) -> float:
    """The gap as it was found: as the student wrote it; where that is what the leaves say, more
    finely by these."""
    written = written_mm(told, valve, gap)
    first = stints(told.history, valve.number, gap)[0]
    found = proved_by(one for one in first.felt if one.margin_deg >= 0 or gap == "closing")
    if not found.is_bounded or abs(found.estimate_mm - written) > SAME_FIGURE_MM:
        return written
    return found.estimate_mm


def left_outside(told: Told) -> list[int]:
    """Valves whose last figure on the notepad lies outside their spec, over a sound pad, and that
    have no reason beside it."""
    outside = []
    for valve in told.setup.engine.valves:
        text = told.note(valve.number, "after") or told.note(valve.number, "first")
        spec = spec_of(told.setup, valve.number, "opening")
        lengths = lengths_mm(text)
        if (
            lengths
            and not told.is_hollow(valve.number)
            and not told.note(valve.number, LEAVE_COLUMN)
            and not any(spec.low_mm <= mm <= spec.high_mm for mm in lengths)
        ):
            outside.append(valve.number)
    return outside


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
        return loosen(told, number)
    if needs_cams_out(told, valve, gap):
        if not told.last.cams_out:
            return cams_out(told)
    elif margin_now_deg(told.setup, told.last, number) < 0:
        return turn_to(told, valve)
    return Step(
        f"Take the {shim_called(gap)} of valve {number} out.",
        "The next shim is calculated from its size.",
        a.TakeShim(number, gap),
        number,
        gap,
    )


def _go_on(told: Told, valve: Valve, gap: a.GapKind, measure: Measure) -> Step:
    """With the nut loose, or the shim out."""
    number = valve.number
    if told.setup.engine.adjuster(number).has_nut:
        return (
            set_by_angle(told, valve, measure) if told.is_hollow(number) else set_screw(told, valve)
        )
    own = [stretch for stretch, _ in told.history.own[number]]
    read = own[-1] if own and isinstance(own[-1].action, a.ReadShim) else None
    if read is None:
        return Step(
            f"Read the {shim_called(gap)} of valve {number} with the micrometer.",
            "Stamps wear off, and not all makers stamp alike.",
            a.ReadShim(number, "micrometer", gap),
            number,
            gap,
        )
    return fit(told, valve, gap, float(str(read.seen.facts["size_mm"])))
