"""What was not done as it should be, one action at a time: where, the evidence, what it led to."""

from collections.abc import Callable, Iterator
from enum import StrEnum
from typing import Any, NamedTuple

from valvetrain.engine import Role
from valvetrain.looks import GEAR
from valvetrain.practice import actions as a
from valvetrain.practice.coach import all_written
from valvetrain.practice.constants import BARELY_MM, HOW_MM, PRESSING_MM, WARM_FELT_MM
from valvetrain.practice.leaf_words import gap_now
from valvetrain.practice.measuring import hanging_mm, lift_mm, margin_now_deg, warm_mm
from valvetrain.practice.run import Stretch
from valvetrain.practice.setup import Setup
from valvetrain.spec_words import difference


class RemarkKind(StrEnum):
    """In the order in which an instructor would speak of them."""

    LEFT_OUT_OF_SPEC = "left-out-of-spec"
    UNMEASURED = "unmeasured"
    UNSUPPORTED_FIGURE = "unsupported-figure"
    NOT_WRITTEN = "not-written"
    NUT_LOOSE = "nut-loose"
    TOOL_LEFT_ON = "tool-left-on"
    PIN_LEFT_IN = "pin-left-in"
    CAMS_OUT_UNLOCKED = "cams-out-unlocked"
    OFF_HEEL = "off-heel"
    MEASURED_WARM = "measured-warm"
    CHANGED_BEFORE_ALL_WRITTEN = "changed-before-all-written"
    NEEDLESS_CHANGE = "needless-change"
    WRONG_WAY = "wrong-way"
    NOT_RECHECKED = "not-rechecked"
    NOT_TURNED_OVER = "not-turned-over"
    RUNNING_NOT_PROVED = "running-not-proved"
    TECHNIQUE = "technique"
    OVER_TORQUE = "over-torque"
    TURNED_BACK = "turned-back"
    TOOLS_NOT_COUNTED = "tools-not-counted"
    COVER_OFF = "cover-off"


class Slip(NamedTuple):
    """At one step; says is the evidence, led_to what came of it, empty where nothing did."""

    kind: RemarkKind
    step: int
    valve: int | None
    says: str
    led_to: str = ""


def slips_of(setup: Setup, stretch: Stretch) -> Iterator[Slip]:
    """Everything that was wrong about one action."""
    for judge in _JUDGES.get(type(stretch.action), ()):
        yield from judge(setup, stretch)


def _slip(
    kind: RemarkKind, stretch: Stretch, says: str, led_to: str = "", *, whole: bool = False
) -> Slip:
    valve = None if whole else getattr(stretch.action, "valve", None)
    return Slip(kind, stretch.before.step + 1, valve, says, led_to)


def _apart(setup: Setup, valve: int, length_mm: float) -> str:
    """How far off a gap was, in the unit of its spec."""
    return difference(length_mm, setup.engine.clearance[setup.engine.valve[valve].role].unit)


def _off_heel(setup: Setup, stretch: Stretch) -> Iterator[Slip]:
    action: Any = stretch.action
    valve: int = action.valve
    margin = margin_now_deg(setup, stretch.before, valve)
    if margin >= 0 or (isinstance(action, a.Try) and action.gap == "closing"):
        return
    says = f"Valve {valve} was not on its heel: {-margin:.0f}° inside its ramp or lobe."
    seat = stretch.after.seats[setup.place[valve]]
    if isinstance(action, a.Try):
        lift = lift_mm(setup, stretch.before, valve)
        led_to = (
            "The valve stood open there, so there was no gap to measure."
            if lift >= seat.clearance_mm
            else f"The gap felt {_apart(setup, valve, lift)} smaller than the clearance."
        )
    else:
        left = gap_now(setup, valve, seat.clearance_mm)
        led_to = f"Back on its heel the clearance is {left}."
    yield _slip(RemarkKind.OFF_HEEL, stretch, says, led_to)


def _technique(setup: Setup, stretch: Stretch) -> Iterator[Slip]:
    action: Any = stretch.action
    if action.how == "one-side":
        if isinstance(action, a.Try) and stretch.seen.facts["feel"] == "no":
            return  # what does not go in there goes in nowhere
        says = "The leaf was under one side of the bridge only."
        led_to = "The bridge tipped: it went in up to twice the gap."
    elif action.how != "straight":
        name = "skewed" if action.how == "skewed" else "caught with its tip under the rocker"
        tight = _apart(setup, action.valve, HOW_MM[action.how])
        says, led_to = f"The leaf was {name}.", f"It read about {tight} tight."
    elif action.pressing:
        says = "The rocker was pressed meanwhile."
        tight = _apart(setup, action.valve, PRESSING_MM)
        led_to = f"It read about {tight} tight and springs back loose."
    else:
        return
    yield _slip(RemarkKind.TECHNIQUE, stretch, says, led_to)


def _slack(setup: Setup, stretch: Stretch) -> Iterator[Slip]:
    """A push rod or follower that was left hanging, where that took something of the gap."""
    action: Any = stretch.action
    hangs_mm = hanging_mm(setup, stretch.before, action.valve)
    if not hangs_mm or getattr(action, "gap", "opening") == "closing":
        return
    if setup.engine.valve[action.valve].role is Role.BRAKE:
        yield _slip(
            RemarkKind.TECHNIQUE,
            stretch,
            "The brake rocker was not pushed back to its detent.",
            f"The gap felt {_apart(setup, action.valve, hangs_mm)} smaller than it is.",
        )
        return
    gear = GEAR[setup.engine.train(action.valve)]
    says = (
        "The slack of its push rod was not pressed out."
        if gear.has_rod
        else f"Its {gear.part} was not lifted first."
    )
    smaller = _apart(setup, action.valve, hangs_mm)
    yield _slip(RemarkKind.TECHNIQUE, stretch, says, f"The gap felt {smaller} smaller than it is.")


def _warm(setup: Setup, stretch: Stretch) -> Iterator[Slip]:
    action: Any = stretch.action
    role = setup.engine.valve[action.valve].role
    off_mm = warm_mm(setup, stretch.before, role)
    if off_mm <= WARM_FELT_MM:
        return
    says = "The engine was still warm, and its spec is for a cold one."
    what = "felt" if isinstance(action, a.Try) else "was set"
    off = _apart(setup, action.valve, off_mm)
    led_to = f"The gap {what} {off} {'smaller' if what == 'felt' else 'too large'}."
    yield _slip(RemarkKind.MEASURED_WARM, stretch, says, led_to)


def _wrong_way(setup: Setup, stretch: Stretch) -> Iterator[Slip]:
    """A shim that brought the gap further from the middle of its spec than it was found. Of a
    valve that was within it is said that it needed no other."""
    action: Any = stretch.action
    if action.gap != "opening":
        return
    place = setup.place[action.valve]
    spec = setup.engine.clearance[setup.engine.valve[action.valve].role]
    was = setup.hidden[place].clearance_mm
    now = stretch.after.seats[place].clearance_mm
    middle = float(spec.middle_mm)
    within = float(spec.low_mm) <= was <= float(spec.high_mm)
    if within or abs(now - middle) <= abs(was - middle) + BARELY_MM:
        return
    needed = "thinner" if was < middle else "thicker"
    yield _slip(
        RemarkKind.WRONG_WAY,
        stretch,
        f"The shim of valve {action.valve} took the gap the wrong way: it needed a {needed} one.",
        f"It was {gap_now(setup, action.valve, was)} and is {gap_now(setup, action.valve, now)}.",
    )


def _stretched(setup: Setup, stretch: Stretch) -> Iterator[Slip]:
    action: Any = stretch.action
    place = setup.place[action.valve]
    if stretch.after.seats[place].stretched and not stretch.before.seats[place].stretched:
        yield _slip(
            RemarkKind.OVER_TORQUE,
            stretch,
            f"The nut of valve {action.valve} was tightened far above its torque.",
            "The screw is stretched.",
        )


def _too_early(setup: Setup, stretch: Stretch) -> Iterator[Slip]:
    if not all_written(setup, stretch.before):
        yield _slip(
            RemarkKind.CHANGED_BEFORE_ALL_WRITTEN,
            stretch,
            "Changed before every valve was measured and written down.",
        )


def _unlocked(_setup: Setup, stretch: Stretch) -> Iterator[Slip]:
    action: Any = stretch.action
    if action.out and not stretch.before.crank_locked:
        jumped = bool(stretch.seen.facts.get("jumped"))
        yield _slip(
            RemarkKind.CAMS_OUT_UNLOCKED,
            stretch,
            "The cams came out with the crank unlocked.",
            "The valve springs turned the camshaft, and the timing was lost." if jumped else "",
        )


def _turned_back(setup: Setup, stretch: Stretch) -> Iterator[Slip]:
    action: Any = stretch.action
    if action.by_deg < 0 and not setup.engine.turning.reverse_allowed:
        why = setup.engine.turning.why
        yield _slip(
            RemarkKind.TURNED_BACK,
            stretch,
            "Turned back on an engine that is turned one way only.",
            f"{why[0].upper()}{why[1:]}." if why else "",
        )


_Judge = Callable[[Setup, Stretch], Iterator[Slip]]
_JUDGES: dict[type, tuple[_Judge, ...]] = {
    a.Try: (_off_heel, _technique, _slack, _warm),
    a.SetByLeaf: (_off_heel, _technique, _slack, _warm),
    a.Screw: (_off_heel,),
    a.Zero: (_off_heel, _warm),
    a.FitShim: (_wrong_way,),
    a.Tighten: (_stretched,),
    a.Loosen: (_too_early,),
    a.TakeShim: (_too_early,),
    a.Cams: (_unlocked,),
    a.Turn: (_turned_back,),
}
