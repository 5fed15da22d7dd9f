"""The shown job, where something is changed: nut and screw, or shim; tried again, and written."""

from collections.abc import Callable

from valvetrain.angles import CYCLE_DEG, TURN_DEG
from valvetrain.constants import UM_PER_MM
from valvetrain.engine import Valve
from valvetrain.practice import actions as a
from valvetrain.practice.adjusting import size_words
from valvetrain.practice.boxes import stacks
from valvetrain.practice.constants import (
    EACH_LEAF_MM,
    MOST_TRIES,
    NEAR_LIMIT_MM,
    NO_PLAY_MM,
    RIGHT_DRAG_MM,
    SAME_FIGURE_MM,
)
from valvetrain.practice.evidence import lengths_mm, stints
from valvetrain.practice.leaf_words import stack_words
from valvetrain.practice.measuring import margin_now_deg
from valvetrain.practice.proved import Proved, proved_by, spec_of
from valvetrain.practice.running import CHANGES, RunningCheck, running_check
from valvetrain.practice.setup import Setup
from valvetrain.practice.walk_step import (
    Step,
    Told,
    gap_text,
    let_go,
    measured_mm,
    pad_takes_mm,
    try_step,
)

Measure = Callable[[Told, Valve, a.GapKind], Step | Proved]
TurnTo = Callable[[Told, Valve], Step]
AFTER: dict[a.GapKind, str] = {"opening": "after", "closing": "closing-after"}
FIRST: dict[a.GapKind, str] = {"opening": "first", "closing": "closing"}


def adjust(
    told: Told, valve: Valve, gap: a.GapKind, *, measure: Measure, turn_to: TurnTo
) -> Step | None:
    """The next step at this gap; None where it is within its spec and written."""
    number = valve.number
    if is_open(told, valve, gap):
        return _go_on(told, valve, gap, measure)
    if _is_stuck(told, number):
        return _loosen(told, number)
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
    fitted_um = _fitted_um(told, number, gap)
    if fitted_um is None:
        return False
    return _best_shim_um(told, valve, gap, fitted_um / 1000, gap_mm) == fitted_um


def _fitted_um(told: Told, number: int, gap: a.GapKind) -> int | None:
    """The shim that was last fitted here in this run."""
    fitted = [
        one.action.size_um
        for one, _ in told.history.own[number]
        if isinstance(one.action, a.FitShim) and one.action.gap == gap
    ]
    return fitted[-1] if fitted else None


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
    written_mm = _written_mm(told, valve, gap)
    first = stints(told.history, valve.number, gap)[0]
    found = proved_by(one for one in first.felt if one.margin_deg >= 0 or gap == "closing")
    if not found.is_bounded or abs(found.estimate_mm - written_mm) > SAME_FIGURE_MM:
        return written_mm
    return found.estimate_mm


def _written_mm(told: Told, valve: Valve, gap: a.GapKind) -> float:
    text = told.note(valve.number, "settled") if gap == "opening" else ""
    text = text or told.note(valve.number, FIRST[gap])
    middle_mm = spec_of(told.setup, valve.number, gap).middle_mm
    return float(min(lengths_mm(text), key=lambda mm: abs(mm - middle_mm), default=middle_mm))


def left_outside(told: Told) -> list[int]:
    """Valves whose last figure on the notepad lies outside their spec, over a sound pad."""
    outside = []
    for valve in told.setup.engine.valves:
        text = told.note(valve.number, "after") or told.note(valve.number, "first")
        spec = spec_of(told.setup, valve.number, "opening")
        lengths = lengths_mm(text)
        if (
            lengths
            and not told.is_hollow(valve.number)
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
        return _loosen(told, number)
    if _needs_cams_out(told, valve, gap):
        if not told.last.cams_out:
            return _cams_out(told)
    elif margin_now_deg(told.setup, told.last, number) < 0:
        return turn_to(told, valve)
    return Step(
        f"Take the {_shim(gap)} of valve {number} out.",
        "The next shim is calculated from its size.",
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


def _go_on(told: Told, valve: Valve, gap: a.GapKind, measure: Measure) -> Step:
    """With the nut loose, or the shim out."""
    number = valve.number
    if told.setup.engine.adjuster(number).has_nut:
        return _by_angle(told, valve, measure) if told.is_hollow(number) else _set(told, valve)
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


def _by_angle(told: Told, valve: Valve, measure: Measure) -> Step:
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


def _fit(told: Told, valve: Valve, gap: a.GapKind, read_mm: float) -> Step:
    number = valve.number
    fitted_mm = _true_size_mm(told, number, gap, read_mm)
    gap_mm, middle = (
        _gap_before(told, valve, gap),
        float(spec_of(told.setup, number, gap).middle_mm),
    )
    size_um = _best_shim_um(told, valve, gap, fitted_mm, gap_mm)
    way = "the same" if size_um == round(fitted_mm * 1000) else (
        "thicker" if size_um / 1000 > fitted_mm else "thinner"
    )  # fmt: skip
    size = size_words(size_um)
    return Step(
        f"Fit a {_shim(gap)} of {size} mm at valve {number}{_face(told, number, gap)}.",
        f"{size_words(round(fitted_mm * 1000))} fitted + {gap_mm:.3f} measured − {middle:.3f} "
        f"wanted = {fitted_mm + gap_mm - middle:.3f} mm; the nearest made is {size}, {way}.",
        a.FitShim(number, size_um, gap=gap),
        number,
        gap,
    )


def _face(told: Told, number: int, gap: a.GapKind) -> str:
    """Which way an over-bucket shim lies: the cam would rub its print off."""
    shim = told.setup.engine.adjuster(number).shim
    over = gap == "opening" and shim is not None and shim.place == "over-bucket"
    return ", its printed face down" if over else ""


def _best_shim_um(told: Told, valve: Valve, gap: a.GapKind, fitted_mm: float, gap_mm: float) -> int:
    """The shim at hand that brings the gap nearest the middle of its spec, the fitted one among
    them."""
    box = told.last.closing_box_um if gap == "closing" else told.last.box_um
    own = _sizes_um(told, valve.number, gap)
    at_hand = [size for size in box if size in own] + [round(fitted_mm * 1000)]
    middle = float(spec_of(told.setup, valve.number, gap).middle_mm)
    wanted_um = (fitted_mm + gap_mm - middle) * 1000
    return min(at_hand, key=lambda size: abs(size - wanted_um))


def _sizes_um(told: Told, number: int, gap: a.GapKind) -> frozenset[int]:
    """The sizes that are made for this gap: other roles' shims are other parts."""
    engine = told.setup.engine
    adjuster = (
        engine.closing_adjuster_of(engine.valve[number].role)
        if gap == "closing"
        else engine.adjuster(number)
    )
    return frozenset(
        int(size * UM_PER_MM) for size in (adjuster.shim.sizes.all() if adjuster.shim else ())
    )


def _true_size_mm(told: Told, number: int, gap: a.GapKind, read_mm: float) -> float:
    """The size of the shim that came out: known where it was fitted in this run, else the nearest
    that is made to what the micrometer showed."""
    fitted_um = _fitted_um(told, number, gap)
    if fitted_um is not None:
        return fitted_um / 1000
    made = _sizes_um(told, number, gap)
    return (
        min(made, key=lambda size: abs(size / 1000 - read_mm), default=round(read_mm * 1000)) / 1000
    )


def _gap_before(told: Told, valve: Valve, gap: a.GapKind) -> float:
    """As it was last measured before the shim came out, else as it is written."""
    every = stints(told.history, valve.number, gap)
    for stint in reversed(every):
        found = proved_by(one for one in stint.felt if one.margin_deg >= 0 or gap == "closing")
        if found.is_nothing and stint.play == "none":
            return -NO_PLAY_MM
        if found.is_nothing and stint.play is not None:
            return min(told.setup.leaves_um) / 2000
        if found.is_bounded:
            return found.estimate_mm
    return _written_mm(told, valve, gap)


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
                    "The pin goes in only at its place, and proves that the crank is there.",
                    a.Turn(at[0]),
                )
        return Step(
            "Lock the crank with its holding tool, the timing pin in."
            if pins
            else "Lock the crank with its holding tool.",
            "Lifted valves turn the camshaft as its caps come off, and the drive turns the crank "
            "with it. A timing pin only shows the place: it must not hold torque.",
            a.LockCrank(locked=True),
        )
    return Step(
        "Note the cam marks, take the tensioner off, loosen the caps evenly in stages, and take "
        "the cams out.",
        "The shims of this engine lie under the cams.",
        a.Cams(out=True),
    )


def free_crank(told: Told) -> Step:
    pinned = any(mark.means == "pin" for mark in told.setup.marks)
    return Step(
        "Take the timing pin out, and free the crank." if pinned else "Free the crank.",
        "Turned against its pin, the crank shears it." if pinned else "Locked, it does not turn.",
        a.LockCrank(locked=False),
    )


def cams_in() -> Step:
    return Step(
        "Put the cams in, their marks to their lines; caps in order and in stages to their torque, "
        "then the tensioner.",
        "With the marks wrong, valves meet pistons.",
        a.Cams(out=False),
    )
