"""Closing up, and what the engine then does at its first start."""

from enum import StrEnum
from typing import NamedTuple

from valvetrain.constants import ROUNDED_MM, UM_PER_MM
from valvetrain.effect import effect_of
from valvetrain.engine import Valve
from valvetrain.practice.constants import (
    HARD_DEG,
    NO_GAP_MM,
    SLACK_TORQUE,
    STRIKES_DEG,
    TICKS_MM,
)
from valvetrain.practice.measuring import clearance_mm
from valvetrain.practice.setup import Setup
from valvetrain.practice.state import ShimSeat, State
from valvetrain.turned import hand_turning


class Outcome(StrEnum):
    QUIET = "quiet"
    TICKS = "ticks"
    HARD = "hard-to-start"
    DEAD = "will-not-run"
    DAMAGE = "damage"


_ORDER = (
    Outcome.QUIET,
    Outcome.TICKS,
    Outcome.HARD,
    Outcome.DEAD,
    Outcome.DAMAGE,
)
_HEADLINES = {
    Outcome.QUIET: "It starts at once and runs quietly.",
    Outcome.TICKS: "It starts and runs, and it ticks.",
    Outcome.HARD: "It is hard to start.",
    Outcome.DEAD: "It will not run.",
    Outcome.DAMAGE: "It is stopped at once: something was damaged.",
}


class Consequence(NamedTuple):
    start: Outcome
    says: str
    valve: int | None = None


class FirstStartResult(NamedTuple):
    start: Outcome
    headline: str
    consequences: tuple[Consequence, ...]
    """Worst first."""
    later: tuple[str, ...]
    """What nobody hears today."""


def first_start(setup: Setup, state: State) -> FirstStartResult:
    """What the final state leads to. Tight valves are quiet: what they do comes later."""
    found = [*_whole_engine(setup, state), *_each_valve(setup, state)]
    found += _cylinders(setup, state)
    found.sort(key=lambda one: -_ORDER.index(one.start))
    worst = found[0].start if found else Outcome.QUIET
    return FirstStartResult(worst, _HEADLINES[worst], tuple(found), tuple(_later(setup, state)))


def _whole_engine(setup: Setup, state: State) -> list[Consequence]:
    found = []
    if state.tool_on:
        found.append(Consequence(Outcome.DAMAGE, hand_turning(setup.engine).left))
    if state.crank_locked:
        found.append(Consequence(Outcome.DAMAGE, "The crank was still locked: the pin sheared."))
    if not state.tools_counted:
        found.append(
            Consequence(Outcome.QUIET, "The tools were not counted: nobody knows what lies inside.")
        )
    if not state.closed:
        found.append(Consequence(Outcome.TICKS, "The cover was off: oil is all over the bench."))
    if state.cams_out:
        found.append(Consequence(Outcome.DEAD, "The cams were still out."))
    late = abs(state.cam_late_deg)
    if late >= STRIKES_DEG:
        found.append(
            Consequence(Outcome.DAMAGE, f"The cams stood {late:.0f}° off: valves met pistons.")
        )
    elif late >= HARD_DEG:
        found.append(Consequence(Outcome.HARD, f"The cams stood {late:.0f}° off."))
    return found


def _each_valve(setup: Setup, state: State) -> list[Consequence]:
    found = []
    for valve, hidden, seat in zip(setup.engine.valves, setup.hidden, state.seats, strict=True):
        number = valve.number
        if setup.engine.adjuster(valve.number).adjusts_itself:
            continue
        high_mm = float(setup.engine.clearance[valve.role].high_mm)
        if not seat.nut_tight:
            said = f"The lock nut of valve {number} was loose: its rocker came adrift."
            found.append(Consequence(Outcome.DAMAGE, said, number))
        elif hidden.shim_um is not None and seat.shim_um is None:
            said = f"Valve {number} had no shim in."
            found.append(Consequence(Outcome.DAMAGE, said, number))
        elif seat.closing_mm is not None and seat.closing_um is None:
            said = f"Valve {number} had no closing shim in: nothing pulled it shut."
            found.append(Consequence(Outcome.DAMAGE, said, number))
        elif seat.clearance_mm > high_mm + TICKS_MM:
            over_mm = seat.clearance_mm - high_mm
            said = f"Valve {number} ticks: {over_mm:.2f} mm above its spec."
            found.append(Consequence(Outcome.TICKS, said, number))
        found += _pulled_shut(setup, valve, seat)
    return found


def _pulled_shut(setup: Setup, valve: Valve, seat: ShimSeat) -> list[Consequence]:
    """What a closing gap does that is no gap, or too large a one."""
    if seat.closing_mm is None or seat.closing_um is None:
        return []
    number = valve.number
    over_mm = seat.closing_mm - float(setup.engine.closing[valve.role].high_mm)
    if seat.closing_mm < 0:
        said = f"Valve {number} binds: its closing rocker has no gap left, and drags on its shim."
        return [Consequence(Outcome.HARD, said, number)]
    if over_mm > TICKS_MM:
        said = f"Valve {number} clatters: its closing gap is {over_mm:.2f} mm above its spec."
        return [Consequence(Outcome.TICKS, said, number)]
    return []


def _cylinders(setup: Setup, state: State) -> list[Consequence]:
    """A valve without clearance does not seat, and its cylinder has no compression."""
    held: dict[int, list[int]] = {}
    for valve, seat in zip(setup.engine.valves, state.seats, strict=True):
        sets_itself = setup.engine.adjuster(valve.number).adjusts_itself
        if seat.clearance_mm < 0 and not sets_itself:
            held.setdefault(valve.cylinder, []).append(valve.number)
    worst = Outcome.DEAD if len(held) * 2 > setup.engine.cylinders else Outcome.HARD
    return [
        Consequence(
            worst,
            f"Cylinder {cylinder} has no compression: valve {', '.join(map(str, valves))} is held "
            "open.",
            valves[0],
        )
        for cylinder, valves in sorted(held.items())
    ]


def _later(setup: Setup, state: State) -> list[str]:
    said = []
    for valve, hidden, seat in zip(setup.engine.valves, setup.hidden, state.seats, strict=True):
        spec = setup.engine.clearance[valve.role]
        low_mm, high_mm = float(spec.low_mm), float(spec.high_mm)
        number = valve.number
        if setup.engine.adjuster(valve.number).adjusts_itself:
            continue
        if not low_mm <= seat.clearance_mm <= high_mm and seat.clearance_mm < NO_GAP_MM:
            effect = effect_of(setup.engine, valve, max(0.0, seat.clearance_mm))
            said.append(f"Valve {number}: {' '.join(effect.says)}")
        running = spec.running_mm
        if running is not None and hidden.running_mm is not None:
            now_mm = clearance_mm(setup, state, number, "running")
            if not running[0] <= now_mm <= running[1]:
                does = "works weakly" if now_mm > running[1] else "does not let go"
                said.append(f"Valve {number}: outside its running range; its brake {does}.")
        closing = setup.engine.closing.get(valve.role)
        if closing is not None and seat.closing_mm is not None and seat.closing_um is not None:
            if seat.closing_mm < float(closing.low_mm) - ROUNDED_MM:
                said.append(
                    f"Valve {number}: its closing gap is below its spec; it wears as it runs."
                )
            elif seat.closing_mm > float(closing.high_mm) + ROUNDED_MM:
                said.append(
                    f"Valve {number}: its closing gap is above its spec; it is pulled shut late, "
                    "and bounces on its seat."
                )
        if seat.torque_share < SLACK_TORQUE and seat.nut_tight:
            said.append(f"Valve {number}: its lock nut is under its torque and will work loose.")
        if seat.stretched:
            said.append(f"Valve {number}: its screw was stretched and has to be renewed.")
        if seat.face_up:
            said.append(f"Valve {number}: the printed face is up, and wears off under the cam.")
        if seat.shim_um is not None and seat.aside_um is not None:
            aside = seat.aside_um / UM_PER_MM
            said.append(f"Valve {number}: the shim of {aside:.3f} mm is left on the bench.")
    return said
