"""After the run: what was done, where, what was wrong and what it cost, beside the truth."""

from collections.abc import Iterable, Mapping, Sequence
from types import MappingProxyType
from typing import Any, NamedTuple

from valvetrain.engine import Clearance, Valve
from valvetrain.practice import actions as a
from valvetrain.practice.closing import FirstStartResult, Outcome, first_start
from valvetrain.practice.constants import PRACTICE_VERSION
from valvetrain.practice.evidence import pushed_on
from valvetrain.practice.left_loose import is_left_with_reason
from valvetrain.practice.measuring import clearance_mm, is_out
from valvetrain.practice.remarks import (
    Remark,
    Runs,
    checked,
    done_well,
    felt_in,
    left_within,
    remarks,
)
from valvetrain.practice.run import Stretch, stretches
from valvetrain.practice.setup import PlantedFault, Setup
from valvetrain.practice.slips import RemarkKind, Slip, slips_of
from valvetrain.practice.state import State, first_state
from valvetrain.spec_words import difference, gap_words


class Moment(NamedTuple):
    """One action on the time line; wrong is None where it was done as it should be."""

    step: int
    crank_deg: float
    action: str
    valve: int | None
    says: str
    wrong: str | None
    cost: str | None


class ValveTruth(NamedTuple):
    """What a valve's clearance was and is, beside what the student wrote. Millimetres, cold."""

    valve: int
    found_mm: float
    left_mm: float | None
    """None where its shim is out."""
    first: str | None
    second: str | None
    after: str | None
    within: bool
    """As it was left; a valve that adjusts itself always is."""
    nut_moves_mm: float | None
    """What this rocker's lock nut does to the gap; None where it has a shim."""
    measured: bool
    """Whether a leaf was tried there on its heel; a valve that adjusts itself needs none."""
    closing_found_mm: float | None = None
    closing_left_mm: float | None = None
    closing: str | None = None
    """The second gap of a valve that is pulled shut, and what was written of it. None without."""
    running_mm: float | None = None
    """A brake's running gap as it was left."""
    rechecked: bool = False
    """Whether a leaf was tried after the last change; of a valve that was not changed, at all."""
    left_loose: bool = False
    """Out of its spec on the loose side, and left so with its reason, which holds."""
    shown: Mapping[str, str] = MappingProxyType({})
    """The same lengths in words, each in the unit of its spec and beside its limits: `found`,
    `left`, `closing_found`, `closing_left`, `running`, `nut`, those that there are."""


class Debrief(NamedTuple):
    moments: tuple[Moment, ...]
    valves: tuple[ValveTruth, ...]
    faults: tuple[PlantedFault, ...]
    result: FirstStartResult
    turned_deg: float
    stood_h: float
    """How long it was let stand, in hours."""
    remarks: tuple[Remark, ...]
    done_well: tuple[str, ...]
    passed: bool
    rests_on: tuple[str, ...] = ()
    """What `within` rests on, of specs of one figure."""


def debrief(setup: Setup, done: Iterable[a.Action]) -> Debrief:
    """The whole run told back. For the end of a run only: it holds everything hidden."""
    return debrief_of(setup, stretches(setup, done))


def debrief_of(setup: Setup, run: Sequence[Stretch]) -> Debrief:
    """The same of a run that was replayed already."""
    told = felt_in(setup, run, first_state(setup))
    passed_by = pushed_on(run)
    slips = [
        () if stretch.before.step in passed_by else tuple(slips_of(setup, stretch))
        for stretch in run
    ]
    found = remarks(told, [slip for own in slips for slip in own])
    result = first_start(setup, _as_if_started(told.last))
    valves = tuple(_truth(told, valve) for valve in setup.engine.valves)
    return Debrief(
        moments=tuple(_moment(*pair) for pair in zip(run, slips, strict=True)),
        valves=valves,
        faults=setup.faults,
        result=result,
        turned_deg=told.last.turned_deg,
        stood_h=told.last.stood_h,
        remarks=found,
        done_well=done_well(told, found),
        passed=_has_passed(result, valves, found),
        rests_on=tuple(
            f"{role.capitalize()}: {words}."
            for role in setup.engine.roles
            if (words := setup.engine.clearance[role].shop_words)
        ),
    )


def _as_if_started(last: State) -> State:
    """A run that was broken off was not closed up: it is told what its valves would do, not that a
    tool which nobody has taken off yet would fly."""
    return last if last.started else last._replace(tool_on=False, crank_locked=False)


def _has_passed(
    result: FirstStartResult, valves: Iterable[ValveTruth], found: Iterable[Remark]
) -> bool:
    """Every valve that was to be set was measured, and is within its spec or left loose with a
    reason that holds, no figure was made up, who works alone has written every reading, and the
    engine runs."""
    return (
        result.start in (Outcome.QUIET, Outcome.TICKS)
        and all((valve.within or valve.left_loose) and valve.measured for valve in valves)
        and not any(one.kind in FAILING for one in found)
    )


FAILING = (
    RemarkKind.LEFT_OUT_OF_SPEC,
    RemarkKind.UNMEASURED,
    RemarkKind.UNSUPPORTED_FIGURE,
    RemarkKind.NOT_WRITTEN,
)
"""Kinds of remark that a run does not pass with."""


def write_debrief(told: Debrief) -> dict[str, Any]:
    """JSON values, to be kept with the run: what is told once is never worked out again."""
    return {
        "rules_version": PRACTICE_VERSION,
        "headline": told.result.headline,
        "outcome": told.result.start.value,
        "consequences": [one._asdict() for one in told.result.consequences],
        "later": list(told.result.later),
        "moments": [moment._asdict() for moment in told.moments],
        "valves": [truth._asdict() for truth in told.valves],
        "faults": [fault._asdict() for fault in told.faults],
        "turned_deg": told.turned_deg,
        "stood_h": told.stood_h,
        "remarks": [_remark(one) for one in told.remarks],
        "done_well": list(told.done_well),
        "passed": told.passed,
        "rests_on": list(told.rests_on),
    }


def _remark(one: Remark) -> dict[str, Any]:
    return one._asdict() | {"kind": one.kind.value, "valves": list(one.valves)}


class Shown(NamedTuple):
    """What a run shows of its student: whether every valve was measured, and left within; on what
    share of them no leaf was tried off the heel, None where nothing was measured or its rules did
    not say; and whether the run was not failed."""

    measured: bool
    left_right: bool
    place: float | None = None
    passed: bool = True


def what_it_shows(told: Mapping[str, Any]) -> Shown:
    """Of a debrief as `write_debrief` gave it, now or by an older version of the rules."""
    valves = told["valves"]
    tried = {moment["valve"] for moment in told["moments"] if moment["action"] == "try"}
    place = None
    if valves and "remarks" in told:
        kind = RemarkKind.OFF_HEEL.value
        off = {valve for one in told["remarks"] if one["kind"] == kind for valve in one["valves"]}
        found = [one for one in valves if one["measured"] and one["valve"] not in off]
        place = len(found) / len(valves) if any(one["measured"] for one in valves) else None
    return Shown(
        bool(valves) and all(one.get("measured", one["valve"] in tried) for one in valves),
        bool(valves) and all(one["within"] or one.get("left_loose", False) for one in valves),
        place,
        told.get("passed") is not False,
    )


def _moment(stretch: Stretch, slips: Sequence[Slip]) -> Moment:
    document = a.write_action(stretch.action)
    return Moment(
        step=stretch.before.step + 1,
        crank_deg=stretch.before.crank_deg,
        action=document["do"],
        valve=document.get("valve"),
        says=stretch.seen.says,
        wrong=" ".join(slip.says for slip in slips) or None,
        cost=" ".join(slip.led_to for slip in slips if slip.led_to) or None,
    )


def _truth(told: Runs, valve: Valve) -> ValveTruth:
    number = valve.number
    place = told.setup.place[number]
    hidden, seat = told.setup.hidden[place], told.last.seats[place]
    notes = {note.column: note.text for note in told.last.notes if note.valve == number}
    out, check = is_out(told.setup, told.last, number), checked(told, number)
    return ValveTruth(
        valve=number,
        found_mm=hidden.clearance_mm,
        left_mm=None if out else seat.clearance_mm,
        first=notes.get("first"),
        second=notes.get("second"),
        after=notes.get("after"),
        within=left_within(told.setup, told.last, number),
        nut_moves_mm=None if hidden.shim_um is not None else hidden.creep_mm,
        measured=check.measured,
        closing_found_mm=hidden.closing_mm,
        closing_left_mm=None if out else seat.closing_mm,
        closing=notes.get("closing-after", notes.get("closing")),
        running_mm=None
        if hidden.running_mm is None
        else clearance_mm(told.setup, told.last, number, "running"),
        rechecked=check.rechecked,
        left_loose=is_left_with_reason(told.setup, told.last, number),
        shown=_shown(told, valve, out=out),
    )


def _shown(told: Runs, valve: Valve, *, out: bool) -> dict[str, str]:
    number, engine = valve.number, told.setup.engine
    place = told.setup.place[number]
    hidden, seat = told.setup.hidden[place], told.last.seats[place]
    spec, closing = engine.clearance[valve.role], engine.closing.get(valve.role)
    lengths = {"found": gap_words(spec, hidden.clearance_mm)}
    lengths["left"] = "shim out" if out else gap_words(spec, seat.clearance_mm)
    if closing is not None and hidden.closing_mm is not None:
        lengths["closing_found"] = gap_words(closing, hidden.closing_mm)
        left_mm = seat.closing_mm
        lengths["closing_left"] = (
            "shim out" if out or left_mm is None else gap_words(closing, left_mm)
        )
    if hidden.running_mm is not None and spec.running is not None:
        of_running = Clearance(spec.unit, spec.running)
        running_mm = clearance_mm(told.setup, told.last, number, "running")
        lengths["running"] = gap_words(of_running, running_mm)
    if hidden.shim_um is None:
        does = "opens" if hidden.creep_mm > 0 else "closes"
        lengths["nut"] = f"{does} {difference(abs(hidden.creep_mm), spec.unit)}"
    return lengths
