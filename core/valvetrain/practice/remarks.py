"""The run as an instructor would speak of it: each remark with its step, the evidence and what it
led to; and, shortly, what was done well."""

from collections.abc import Iterator, Sequence
from decimal import Decimal
from typing import NamedTuple

from valvetrain.adjusters import typed_size
from valvetrain.constants import ROUNDED_MM, UM_PER_MM
from valvetrain.engine import Clearance
from valvetrain.practice import actions as a
from valvetrain.practice.constants import NEAR_LIMIT_MM, SIZE_READ_MM
from valvetrain.practice.evidence import (
    GAP_OF_COLUMN,
    SHIM_COLUMNS,
    History,
    NotedFigure,
    Stint,
    bounds_gap,
    figures_written,
    history,
    lengths_mm,
    stints,
    supports,
)
from valvetrain.practice.leaf_words import gap_now
from valvetrain.practice.left_loose import is_left_with_reason
from valvetrain.practice.measuring import clearance_mm, is_out
from valvetrain.practice.proved import spec_of
from valvetrain.practice.run import Stretch
from valvetrain.practice.running import CHANGES, running_checks
from valvetrain.practice.setup import Setup
from valvetrain.practice.slips import RemarkKind, Slip
from valvetrain.practice.state import State
from valvetrain.spec_words import gap_words
from valvetrain.turned import hand_turning


class Remark(NamedTuple):
    """step is None of what concerns the whole run; led_to is empty where nothing came of it."""

    kind: RemarkKind
    valves: tuple[int, ...]
    step: int | None
    says: str
    led_to: str = ""


class Checked(NamedTuple):
    """One valve: whether its gap was measured (`bounds_gap`), changed, and tried again after that.

    turned_over: whether a leaf was tried after the change and after turning the crank as well.
    """

    valve: int
    measured: bool
    changed: bool
    rechecked: bool
    turned_over: bool


def lies_within(spec: Clearance, gap_mm: float) -> bool:
    return float(spec.low_mm) - ROUNDED_MM <= gap_mm <= float(spec.high_mm) + ROUNDED_MM


def left_within(setup: Setup, state: State, valve: int) -> bool:
    """Whether a valve stands within its spec, both gaps of one that is pulled shut; one that
    adjusts itself always does."""
    if setup.engine.adjuster(valve).adjusts_itself:
        return True
    place = setup.place[valve]
    seat, role = state.seats[place], setup.engine.valve[valve].role
    if is_out(setup, state, valve):
        return False
    closing = setup.engine.closing.get(role)
    return lies_within(setup.engine.clearance[role], seat.clearance_mm) and (
        closing is None or seat.closing_mm is None or lies_within(closing, seat.closing_mm)
    )


class Runs(NamedTuple):
    """One run with what was felt of each valve, worked out once."""

    setup: Setup
    run: Sequence[Stretch]
    first: State
    last: State
    history: History
    written: tuple[NotedFigure, ...]
    opening: dict[int, list[Stint]]
    closing: dict[int, list[Stint]]

    @property
    def valves(self) -> list[int]:
        """Those that are measured and set at all."""
        engine = self.setup.engine
        return [v.number for v in engine.valves if not engine.adjuster(v.number).adjusts_itself]


def felt_in(setup: Setup, run: Sequence[Stretch], first: State) -> Runs:
    last = run[-1].after if run else first
    of = history(setup, run)
    opening = {v.number: stints(of, v.number) for v in setup.engine.valves}
    closing = {
        v.number: stints(of, v.number, "closing")
        for v in setup.engine.valves
        if v.role in setup.engine.closing
    }
    written = tuple(figures_written(run))
    return Runs(setup, run, first, last, of, written, opening, closing)


def checked(told: Runs, valve: int) -> Checked:
    if told.setup.engine.adjuster(valve).adjusts_itself:
        return Checked(valve, True, False, True, True)
    own = told.opening[valve]
    spec = spec_of(told.setup, valve, "opening")
    measured = any(bounds_gap(told.setup, valve, stint, spec) for stint in own)
    if valve in told.closing:
        measured = measured and any(one.felt or one.shim_turned for one in told.closing[valve])
    changed = len(own) > 1
    after = own[-1]
    turned_over = any(chain.turned for chain in after.chains)
    rechecked = bool(after.felt) if changed else measured
    return Checked(valve, measured, changed, rechecked, turned_over or not changed)


def remarks(told: Runs, slips: Sequence[Slip]) -> tuple[Remark, ...]:
    """In the order of the kinds, then of the steps."""
    found = [
        *_grouped(slips),
        *_left_out(told),
        *_unmeasured(told),
        *_unsupported(told),
        *_not_written(told),
        *_needless(told),
        *_rechecks(told),
        *_running(told),
        *_at_the_end(told),
    ]
    order = list(RemarkKind)
    return tuple(sorted(found, key=lambda one: (order.index(one.kind), one.step or 0)))


_OF_THE_ENGINE = (RemarkKind.CHANGED_BEFORE_ALL_WRITTEN, RemarkKind.MEASURED_WARM)
"""Kinds that are one remark, however many valves they were done at."""


def _grouped(slips: Sequence[Slip]) -> Iterator[Remark]:
    """The same slip at one valve is one remark, told where it was first made."""
    groups: dict[tuple[RemarkKind, int | None], list[Slip]] = {}
    for slip in slips:
        alike = None if slip.kind in _OF_THE_ENGINE else slip.valve
        groups.setdefault((slip.kind, alike), []).append(slip)
    for (kind, _), own in groups.items():
        first = own[0]
        valves = tuple(sorted({slip.valve for slip in own if slip.valve is not None}))
        says = first.says
        if len(own) > 1:
            says = f"{says[:-1]} ({len(own)} times)."
        if kind is RemarkKind.MEASURED_WARM:
            says = f"{_named(valves)[0]}: {says[0].lower()}{says[1:]}"
        yield Remark(kind, valves, first.step, says, first.led_to)


def _left_out(told: Runs) -> Iterator[Remark]:
    for valve in told.valves:
        if left_within(told.setup, told.last, valve):
            continue
        if is_left_with_reason(told.setup, told.last, valve):
            continue
        place = told.setup.place[valve]
        seat = told.last.seats[place]
        spec = told.setup.engine.clearance[told.setup.engine.valve[valve].role]
        if is_out(told.setup, told.last, valve):
            says = f"Valve {valve} was left without its shim."
        elif not lies_within(spec, seat.clearance_mm):
            side = "tight" if seat.clearance_mm < spec.low_mm else "loose"
            gap = gap_words(spec, seat.clearance_mm)
            says = f"Valve {valve} was left {side}: {gap}. The spec is {spec.limits}."
        else:
            gap = gap_now(told.setup, valve, seat.closing_mm or 0.0, "closing")
            closing = told.setup.engine.closing[told.setup.engine.valve[valve].role]
            says = (
                f"Valve {valve} was left with a closing gap out of spec: {gap}. The spec is "
                f"{closing.limits}."
            )
        never = len(told.opening[valve]) == 1
        led_to = "It was found so, and not changed." if never else ""
        yield Remark(RemarkKind.LEFT_OUT_OF_SPEC, (valve,), None, says, led_to)


def _unmeasured(told: Runs) -> Iterator[Remark]:
    never = tuple(valve for valve in told.valves if not checked(told, valve).measured)
    if never:
        named, was = _named(never)
        yield Remark(
            RemarkKind.UNMEASURED,
            never,
            None,
            f"{named} {was} never measured: on the heel it takes a leaf that goes and one that "
            "does not, or one that drags.",
            "How far off it was is unknown."
            if len(never) == 1
            else "How far off they were is unknown.",
        )


def _unsupported(told: Runs) -> Iterator[Remark]:
    for figure in told.written:
        if figure.column in SHIM_COLUMNS:
            yield from _shim_size(told, figure)
            continue
        if not figure.lengths_mm or _is_supported(told, figure):
            continue
        own = _stint_of(told, figure)
        tried = "no leaf was tried there" if not own.felt else "no leaf that was tried says so"
        yield Remark(
            RemarkKind.UNSUPPORTED_FIGURE,
            (figure.valve,),
            figure.step,
            f"“{figure.text}” was written for valve {figure.valve}, and {tried}.",
            "A figure that nobody measured is worse than a blank.",
        )


def _shim_size(told: Runs, figure: NotedFigure) -> Iterator[Remark]:
    """The size of a fitted shim rests on its stamp or the micrometer, that of a chosen one on the
    sizes that are made."""
    if figure.column == "fitted":
        sizes = _sizes_read(told, figure)
        what = "no shim of this size was read there"
    else:
        sizes = _sizes_made(told, figure.valve)
        what = "no shim of this size is made"
    lengths = _shim_lengths_mm(told, figure)
    if any(abs(size - length) <= SIZE_READ_MM for size in sizes for length in lengths):
        return
    yield Remark(
        RemarkKind.UNSUPPORTED_FIGURE,
        (figure.valve,),
        figure.step,
        f"“{figure.text}” was written as the {figure.column} shim of valve {figure.valve}, and "
        f"{what}.",
        "A figure that nobody measured is worse than a blank.",
    )


def _shim_lengths_mm(told: Runs, figure: NotedFigure) -> tuple[Decimal, ...]:
    """What a shim's figure may mean: a size, or the code that is stamped on it."""
    shim = told.setup.engine.adjuster(figure.valve).shim
    if shim is None:
        return figure.lengths_mm
    stamped = lengths_mm(typed_size(figure.text, shim.codes, shim.sizes))
    return (*figure.lengths_mm, *stamped)


def _sizes_read(told: Runs, figure: NotedFigure) -> list[Decimal]:
    """By stamp or micrometer, and those that were fitted in this run, up to the figure."""
    sizes: list[Decimal] = []
    for stretch, _ in told.history.own[figure.valve]:
        if stretch.before.step >= figure.step:
            break
        if isinstance(stretch.action, a.ReadShim) and stretch.seen.facts["size_mm"] is not None:
            sizes.append(Decimal(str(stretch.seen.facts["size_mm"])))
        elif isinstance(stretch.action, a.FitShim):
            sizes.append(Decimal(stretch.action.size_um) / UM_PER_MM)
    return sizes


def _sizes_made(told: Runs, valve: int) -> list[Decimal]:
    engine = told.setup.engine
    role = engine.valve[valve].role
    adjusters = (engine.adjuster(valve), engine.closing_adjuster_of(role))
    return [size for one in adjusters if one.shim is not None for size in one.shim.sizes.all()]


def _not_written(told: Runs) -> Iterator[Remark]:
    """Those who work on their own keep the record themselves: every valve has a reading."""
    if told.setup.is_coached:
        return
    written = {one.valve for one in told.written if one.lengths_mm and one.column in _READINGS}
    without = tuple(valve for valve in told.valves if valve not in written)
    if without:
        named, _ = _named(without)
        yield Remark(
            RemarkKind.NOT_WRITTEN,
            without,
            None,
            f"No reading was written for {named.lower()}.",
            "A reading that is not written down is lost.",
        )


_READINGS = frozenset({"first", "second", "settled", "after"})


def _is_supported(told: Runs, figure: NotedFigure) -> bool:
    own = [_stint_of(told, figure)]
    if figure.column in ("first", "second", "settled") and own[0].from_step:
        # Of a valve that is set as it is reached: the gap that was found may be written afterwards.
        own += [one for one in told.opening[figure.valve] if one.from_step < own[0].from_step]
    return any(
        supports(told.setup, figure.valve, stint, length)
        for stint in own
        for length in figure.lengths_mm
    )


def _stint_of(told: Runs, figure: NotedFigure) -> Stint:
    """What the figure is of: the gap between the changes before and after it was written."""
    gap = GAP_OF_COLUMN[figure.column]
    if gap == "opening":
        own = told.opening[figure.valve]
    elif gap == "closing" and figure.valve in told.closing:
        own = told.closing[figure.valve]
    else:
        own = stints(told.history, figure.valve, gap)
    return next(stint for stint in reversed(own) if stint.from_step <= figure.step)


def _needless(told: Runs) -> Iterator[Remark]:
    """A valve that was found within its spec, and was changed. Not where a leaf could not have
    told: over a worn pad. A brake out of its running range has its lash changed with reason."""
    for valve in told.valves:
        place = told.setup.place[valve]
        hidden = told.setup.hidden[place]
        if hidden.hollow_mm or not left_within(told.setup, told.first, valve):
            continue
        if _is_near_a_limit(told, valve):
            continue
        if _running_is_off(told, valve):
            continue
        change = _first_change(told, valve)
        if change is None:
            continue
        step, moved = change
        if not moved:
            continue
        now = told.last.seats[place]
        stays = f"It was {gap_now(told.setup, valve, hidden.clearance_mm)}, within its spec"
        yield Remark(
            RemarkKind.NEEDLESS_CHANGE,
            (valve,),
            step,
            f"Valve {valve} was within its spec and was changed.",
            f"{stays}, and is {gap_now(told.setup, valve, now.clearance_mm)}."
            if not is_out(told.setup, told.last, valve)
            else f"{stays}.",
        )


def _is_near_a_limit(told: Runs, valve: int) -> bool:
    """Whether the gap was found so near a limit that no hand can tell the side."""
    place = told.setup.place[valve]
    role = told.setup.engine.valve[valve].role
    seat = told.first.seats[place]
    pairs = [(told.setup.engine.clearance[role], seat.clearance_mm)]
    if role in told.setup.engine.closing and seat.closing_mm is not None:
        pairs.append((told.setup.engine.closing[role], seat.closing_mm))
    return any(
        abs(gap_mm - float(limit_mm)) < NEAR_LIMIT_MM
        for spec, gap_mm in pairs
        for limit_mm in (spec.low_mm, spec.high_mm)
    )


def _first_change(told: Runs, valve: int) -> tuple[int, bool] | None:
    """The step of it, and whether anything of the gap was moved after it: a shim that was taken
    out to be read and put back is none."""
    step = None
    moved = False
    place = told.setup.place[valve]
    fitted = {
        "opening": told.setup.hidden[place].shim_um,
        "closing": told.setup.hidden[place].closing_um,
    }
    for stretch, _ in told.history.own[valve]:
        action = stretch.action
        if not isinstance(action, CHANGES):
            continue
        step = step or stretch.before.step + 1
        if isinstance(action, a.FitShim):
            moved = moved or action.size_um != fitted[action.gap]
        elif isinstance(action, a.Screw | a.SetByLeaf | a.Zero):
            moved = True
    return None if step is None else (step, moved)


def _running_is_off(told: Runs, valve: int) -> bool:
    limits = told.setup.engine.clearance[told.setup.engine.valve[valve].role].running_mm
    if limits is None:
        return False
    running = clearance_mm(told.setup, told.first, valve, "running")
    return not float(limits[0]) <= running <= float(limits[1])


def _rechecks(told: Runs) -> Iterator[Remark]:
    every = [checked(told, valve) for valve in told.valves]
    without = tuple(one.valve for one in every if one.changed and not one.rechecked)
    still = tuple(
        one.valve for one in every if one.changed and one.rechecked and not one.turned_over
    )
    if without:
        named, was = _named(without)
        part = "shim" if told.setup.engine.adjuster(without[0]).has_shims else "nut"
        yield Remark(
            RemarkKind.NOT_RECHECKED,
            without,
            told.opening[without[0]][-1].from_step,
            f"{named} {was} not tried again after the {part}.",
            "A nut takes the screw with it; only a leaf shows which way."
            if part == "nut"
            else "A shim that lies askew, or is another than it says, shows only there.",
        )
    if still:
        named, was = _named(still)
        yield Remark(
            RemarkKind.NOT_TURNED_OVER,
            still,
            told.opening[still[0]][-1].from_step,
            f"{named} {was} tried again without turning the engine over first.",
            "Oil and parts settle only when it has turned.",
        )


def _running(told: Runs) -> Iterator[Remark]:
    for check in running_checks(told.setup, [(one.action, one.seen) for one in told.run]):
        if check.set_anew and not check.proved:
            yield Remark(
                RemarkKind.RUNNING_NOT_PROVED,
                (check.valve,),
                None,
                f"Valve {check.valve}: its running gap was not proved after its nut was tight: "
                f"{check.small} must go, {check.large} must not.",
            )


def _at_the_end(told: Runs) -> Iterator[Remark]:
    last = told.last
    loose = tuple(
        valve.number
        for valve, seat in zip(told.setup.engine.valves, last.seats, strict=True)
        if not seat.nut_tight
    )
    if loose:
        named, was = _named(loose)
        yield Remark(
            RemarkKind.NUT_LOOSE, loose, None, f"The lock nut of {named.lower()} {was} left loose."
        )
    if not last.closed and not last.started:
        # Broken off in the middle of the work: nobody has closed up yet.
        return
    if last.tool_on:
        is_on = hand_turning(told.setup.engine).is_on
        yield Remark(RemarkKind.TOOL_LEFT_ON, (), None, f"At the end {is_on}.")
    if last.crank_locked:
        yield Remark(RemarkKind.PIN_LEFT_IN, (), None, "The crank was left locked.")
    if not last.tools_counted:
        yield Remark(
            RemarkKind.TOOLS_NOT_COUNTED, (), None, "The tools and leaves were not counted."
        )
    if not last.closed:
        yield Remark(RemarkKind.COVER_OFF, (), None, "The cover was left off.")


def _named(valves: Sequence[int]) -> tuple[str, str]:
    """`Valve 3`, `was`; `Valves 3 and 5`, `were`."""
    if len(valves) == 1:
        return f"Valve {valves[0]}", "was"
    return f"Valves {', '.join(map(str, valves[:-1]))} and {valves[-1]}", "were"


def done_well(told: Runs, found: Sequence[Remark]) -> tuple[str, ...]:
    """What deserves a word. Only what there was to do, and was done throughout."""
    kinds = {one.kind for one in found}
    said = []
    every = [checked(told, valve) for valve in told.valves]
    if every and all(one.measured for one in every) and RemarkKind.OFF_HEEL not in kinds:
        said.append("Every valve was measured, and each on its heel.")
    elif every and all(one.measured for one in every):
        said.append("Every valve was measured.")
    if any(one.lengths_mm for one in told.written) and not kinds & {
        RemarkKind.UNSUPPORTED_FIGURE,
        RemarkKind.NOT_WRITTEN,
    }:
        said.append("Every figure written rests on a leaf.")
    changed = [one for one in every if one.changed]
    if changed:
        if RemarkKind.CHANGED_BEFORE_ALL_WRITTEN not in kinds:
            said.append("All was written down before anything was changed.")
        if RemarkKind.NEEDLESS_CHANGE not in kinds and all(one.measured for one in changed):
            said.append("Only what was out of its spec was changed.")
        if all(one.rechecked and one.turned_over for one in changed):
            said.append("What was changed was tried again after turning over.")
    second = {one.valve for one in told.written if one.column == "second"}
    if second and second >= set(told.valves):
        said.append("A second pass was made and written beside the first.")
    last = told.last
    left = [v for v in told.valves if is_left_with_reason(told.setup, last, v)]
    if left:
        named, was = _named(tuple(left))
        said.append(f"{named} {was} left loose, and why is written: no shim lands nearer.")
    if last.started and not kinds & {
        RemarkKind.TOOL_LEFT_ON,
        RemarkKind.PIN_LEFT_IN,
        RemarkKind.TOOLS_NOT_COUNTED,
        RemarkKind.COVER_OFF,
        RemarkKind.NUT_LOOSE,
    }:
        said.append("Closed up as it should be: nuts, tools, cover.")
    return tuple(said)
