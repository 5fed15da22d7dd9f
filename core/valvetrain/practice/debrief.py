"""After the run: what was done, where, what was wrong and what it cost, beside the truth."""

from collections.abc import Iterable, Mapping
from typing import Any, NamedTuple

from valvetrain.engine import Clearance, Engine, Valve
from valvetrain.practice import actions as a
from valvetrain.practice.closing import FirstStartResult, first_start
from valvetrain.practice.coach import asks, margin_now_deg
from valvetrain.practice.constants import BARELY_MM, HOW_MM, PRACTICE_VERSION, PRESSING_MM
from valvetrain.practice.measuring import clearance_mm, lift_mm
from valvetrain.practice.run import Stretch, stretches
from valvetrain.practice.running import running_checks
from valvetrain.practice.setup import Hidden, PlantedFault, Setup
from valvetrain.practice.state import ShimSeat, State, first_state


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
    """Whether a leaf was tried there at all; a valve that adjusts itself needs none."""
    closing_found_mm: float | None = None
    closing_left_mm: float | None = None
    closing: str | None = None
    """The second gap of a valve that is pulled shut, and what was written of it. None without."""
    running_mm: float | None = None
    """A brake's running gap as it was left."""


class Debrief(NamedTuple):
    moments: tuple[Moment, ...]
    valves: tuple[ValveTruth, ...]
    faults: tuple[PlantedFault, ...]
    result: FirstStartResult
    turned_deg: float
    left_out: tuple[str, ...]
    """What should have been checked, and was not."""
    rests_on: tuple[str, ...] = ()
    """What `within` rests on, of specs of one figure."""


def debrief(setup: Setup, done: Iterable[a.Action]) -> Debrief:
    """The whole run told back. For the end of a run only: it holds everything hidden."""
    run = stretches(setup, done)
    last = run[-1].after if run else first_state(setup)
    return Debrief(
        moments=tuple(_moment(setup, stretch) for stretch in run),
        valves=tuple(_truths(setup, last, run)),
        faults=setup.faults,
        result=first_start(setup, last),
        turned_deg=last.turned_deg,
        left_out=tuple(_left_out(setup, run)),
        rests_on=tuple(
            f"{role.capitalize()}: {words}."
            for role in setup.engine.roles
            if (words := setup.engine.clearance[role].shop_words)
        ),
    )


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
        "left_out": list(told.left_out),
        "rests_on": list(told.rests_on),
    }


class Shown(NamedTuple):
    """What a run proves of its student: whether every valve was measured, and left within."""

    measured: bool
    left_right: bool


def what_it_shows(told: Mapping[str, Any]) -> Shown:
    """Of a debrief as `write_debrief` gave it, now or by an older version of the rules."""
    valves = told["valves"]
    tried = {moment["valve"] for moment in told["moments"] if moment["action"] == "try"}
    return Shown(
        bool(valves) and all(one.get("measured", one["valve"] in tried) for one in valves),
        bool(valves) and all(one["within"] for one in valves),
    )


def _left_out(setup: Setup, run: list[Stretch]) -> list[str]:
    said = []
    for check in running_checks(setup, [(one.action, one.seen) for one in run]):
        if check.set_anew and not check.proved:
            said.append(
                f"Valve {check.valve}: its running gap was not proved after its nut was tight: "
                f"{check.low_mm:.2f} mm must go, {check.high_mm:.2f} mm must not."
            )
    return said


def _moment(setup: Setup, stretch: Stretch) -> Moment:
    wrong, cost = _judge(setup, stretch)
    document = a.write_action(stretch.action)
    return Moment(
        step=stretch.before.step + 1,
        crank_deg=stretch.before.crank_deg,
        action=document["do"],
        valve=document.get("valve"),
        says=stretch.seen.says,
        wrong=wrong,
        cost=cost,
    )


def _judge(setup: Setup, stretch: Stretch) -> tuple[str | None, str | None]:
    action, before = stretch.action, stretch.before
    if isinstance(action, a.Try | a.SetByLeaf | a.Screw | a.Zero):
        told = _off_heel(setup, stretch, action.valve) or _by_technique(setup, stretch)
        if told is not None:
            return told
    if isinstance(action, a.FitShim) and action.gap == "opening":
        return _wrong_way(setup, stretch, action)
    if isinstance(action, a.Tighten) and _has_stretched(setup, stretch, action.valve):
        return "The nut was tightened far above its torque.", "The screw is stretched."
    asked = asks(setup, before, action)
    return (None, None) if asked is None else (_as_said_after(action), None)


def _has_stretched(setup: Setup, stretch: Stretch, valve: int) -> bool:
    place = setup.place[valve]
    return stretch.after.seats[place].stretched and not stretch.before.seats[place].stretched


def _off_heel(setup: Setup, stretch: Stretch, valve: int) -> tuple[str, str] | None:
    margin = margin_now_deg(setup, stretch.before, valve)
    if margin >= 0:
        return None
    lift = lift_mm(setup, stretch.before, valve)
    wrong = f"Valve {valve} was not on its heel: {-margin:.0f}° inside its ramp or lobe."
    if isinstance(stretch.action, a.Try):
        return wrong, f"The gap felt {lift:.2f} mm smaller than the clearance."
    true_mm = stretch.after.seats[setup.place[valve]].clearance_mm
    return wrong, f"Back on its heel the clearance is {true_mm:.2f} mm."


def _by_technique(setup: Setup, stretch: Stretch) -> tuple[str, str] | None:
    action = stretch.action
    if isinstance(action, a.Try | a.SetByLeaf):
        if action.how == "one-side":
            return (
                "The leaf was under one side of the bridge only.",
                "The bridge tipped: it went in up to twice the gap.",
            )
        if action.how != "straight":
            name = "skewed" if action.how == "skewed" else "caught with its tip under the rocker"
            return (
                f"The leaf was {name}.",
                f"It read about {HOW_MM[action.how]:.2f} mm tight.",
            )
        if action.pressing:
            return (
                "The rocker was pressed meanwhile.",
                f"It read about {PRESSING_MM:.3f} mm tight and springs back loose.",
            )
    return None


def _wrong_way(setup: Setup, stretch: Stretch, action: a.FitShim) -> tuple[str | None, str | None]:
    """A shim that brought the gap further from the middle of its spec than it was found."""
    place = setup.place[action.valve]
    middle = float(setup.engine.clearance[setup.engine.valve[action.valve].role].middle_mm)
    was = setup.hidden[place].clearance_mm
    now = stretch.after.seats[place].clearance_mm
    if abs(now - middle) <= abs(was - middle) + BARELY_MM:
        return None, None
    needed = "thinner" if was < middle else "thicker"
    return (
        f"The shim of valve {action.valve} took the gap the wrong way: it needed a {needed} one.",
        f"It was {was:.2f} mm and is {now:.2f} mm.",
    )


def _as_said_after(action: a.Action) -> str:
    match action:
        case a.Loosen() | a.TakeShim():
            return "Changed before every valve was measured and written down."
        case a.Cams():
            return "The cams came out with the crank unlocked."
        case a.Turn():
            return "Turned back on an engine that is turned one way only."
        case a.Cover():
            return "Closed with a lock nut loose or the tools not counted."
        case a.FirstStart():
            return "Started with what turned it still in place, or the cover off."
    return "Not as it should be done."


def _truths(setup: Setup, last: State, run: list[Stretch]) -> list[ValveTruth]:
    tries = [one.action for one in run if isinstance(one.action, a.Try)]
    tried = {action.valve for action in tries if action.gap == "opening"}
    notes = {(note.valve, note.column): note.text for note in last.notes}
    truths = []
    for valve, hidden, seat in zip(setup.engine.valves, setup.hidden, last.seats, strict=True):
        spec = setup.engine.clearance[valve.role]
        out = (hidden.shim_um is not None and seat.shim_um is None) or (
            hidden.closing_um is not None and seat.closing_um is None
        )
        number = valve.number
        itself = setup.engine.adjuster(number).adjusts_itself
        truths.append(
            ValveTruth(
                valve=number,
                found_mm=hidden.clearance_mm,
                left_mm=None if out else seat.clearance_mm,
                first=notes.get((number, "first")),
                second=notes.get((number, "second")),
                after=notes.get((number, "after")),
                within=itself
                or (
                    not out
                    and _lies_within(spec, seat.clearance_mm)
                    and _closes_within(setup.engine, valve, seat)
                ),
                nut_moves_mm=None if hidden.shim_um is not None else hidden.creep_mm,
                measured=itself or (number in tried and _closing_was_felt(hidden, number, run)),
                closing_found_mm=hidden.closing_mm,
                closing_left_mm=None if out else seat.closing_mm,
                closing=notes.get((number, "closing-after"), notes.get((number, "closing"))),
                running_mm=None
                if hidden.running_mm is None
                else clearance_mm(setup, last, number, "running"),
            )
        )
    return truths


def _lies_within(spec: Clearance, gap_mm: float) -> bool:
    return float(spec.low_mm) <= gap_mm <= float(spec.high_mm)


def _closes_within(engine: Engine, valve: Valve, seat: ShimSeat) -> bool:
    closing = engine.closing.get(valve.role)
    return closing is None or seat.closing_mm is None or _lies_within(closing, seat.closing_mm)


def _closing_was_felt(hidden: Hidden, valve: int, run: list[Stretch]) -> bool:
    """By a leaf, or by turning the shim; true where there is no such gap."""
    felt = [one.action for one in run if isinstance(one.action, a.Try | a.Wiggle)]
    return hidden.closing_mm is None or any(
        action.valve == valve and action.gap == "closing" for action in felt
    )
