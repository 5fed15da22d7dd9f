"""Closing up, and what the engine then does at its first start."""

from enum import StrEnum
from typing import NamedTuple

import numpy as np

from valvetrain.angles import CYCLE_DEG
from valvetrain.constants import ROUNDED_MM, UM_PER_MM
from valvetrain.effect import effect_words
from valvetrain.engine import Engine, Role, Valve
from valvetrain.lobe import lobe_of, valve_lift_mm
from valvetrain.practice.constants import (
    HAMMERS_MM,
    HARD_DEG,
    NO_AIR,
    NO_GAP_MM,
    SLACK_TORQUE,
    STRIKES_DEG,
    TICKS_MM,
    WARM_MM,
    WEAK_AIR,
)
from valvetrain.practice.measuring import clearance_mm, is_out
from valvetrain.practice.setup import Setup
from valvetrain.practice.state import ShimSeat, State
from valvetrain.spec_words import difference
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
    Outcome.HARD: "It starts hard and runs badly.",
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
        pinned = any(mark.means == "pin" for mark in setup.marks)
        broke = "its timing pin sheared" if pinned else "its holding tool was torn off"
        found.append(Consequence(Outcome.DAMAGE, f"The crank was still locked: {broke}."))
    if not state.tools_counted:
        found.append(
            Consequence(Outcome.QUIET, "The tools were not counted: nobody knows what lies inside.")
        )
    if not state.closed:
        found.append(Consequence(Outcome.QUIET, "The cover was off: oil is all over the bench."))
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
            how = "hammers" if over_mm >= HAMMERS_MM else "ticks"
            over = difference(over_mm, setup.engine.clearance[valve.role].unit)
            said = f"Valve {number} {how}: {over} above its spec."
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
        over = difference(over_mm, setup.engine.closing[valve.role].unit)
        said = f"Valve {number} clatters: its closing gap is {over} above its spec."
        return [Consequence(Outcome.TICKS, said, number)]
    return []


def _cylinders(setup: Setup, state: State) -> list[Consequence]:
    """What is wrong with each cylinder, and from how many the engine still runs: with more than
    half of them dead it does not."""
    faults: list[CylinderFault] = []
    for cylinder in range(1, setup.engine.cylinders + 1):
        own = _working(setup, state, cylinder)
        faults += _held_open(cylinder, own) or _breathing(setup, cylinder, own)
        faults += [fault for pair in own for fault in _held_when_warm(setup, *pair)]
    dead = {fault.cylinder for fault in faults if fault.dead}
    worst = Outcome.DEAD if len(dead) * 2 > setup.engine.cylinders else Outcome.HARD
    return [
        Consequence(worst if fault.dead else Outcome.HARD, fault.says, fault.valve)
        for fault in sorted(faults, key=lambda one: (not one.dead, one.cylinder))
    ]


class CylinderFault(NamedTuple):
    """dead: its cylinder does not fire; else it runs badly."""

    cylinder: int
    valve: int
    dead: bool
    says: str


Working = list[tuple[Valve, ShimSeat]]


def _working(setup: Setup, state: State, cylinder: int) -> Working:
    """The valves that let a cylinder breathe and have a clearance to speak of."""
    return [
        (valve, seat)
        for valve in setup.engine.valves_of(cylinder)
        if valve.role is not Role.BRAKE
        and not setup.engine.adjuster(valve.number).adjusts_itself
        and not is_out(setup, state, valve.number)
        for seat in [state.seats[setup.place[valve.number]]]
    ]


def _held_open(cylinder: int, own: Working) -> list[CylinderFault]:
    """A valve without clearance does not seat, and its cylinder has no compression."""
    held = [valve.number for valve, seat in own if seat.clearance_mm < 0]
    if not held:
        return []
    which = f"valve {held[0]} is" if len(held) == 1 else f"valves {', '.join(map(str, held))} are"
    says = f"Cylinder {cylinder} has no compression: {which} held open."
    return [CylinderFault(cylinder, held[0], dead=True, says=says)]


def _breathing(setup: Setup, cylinder: int, own: Working) -> list[CylinderFault]:
    """Valves that are far too loose open late, close early and lift less. What a cylinder is filled
    with falls with what its intake lets in and with what its exhaust lets out (derived: the charge
    as the product of the two shares)."""
    shares = {valve: air_share(setup.engine, valve, seat.clearance_mm) for valve, seat in own}
    charge = 1.0
    for role in (Role.INTAKE, Role.EXHAUST):
        of_role = [min(1.0, share) for valve, share in shares.items() if valve.role is role]
        charge *= sum(of_role) / len(of_role) if of_role else 1.0
    if charge >= WEAK_AIR:
        return []
    dead = charge < NO_AIR
    loosest = min(shares, key=lambda valve: shares[valve])
    says = (
        f"Cylinder {cylinder} {'does not fire' if dead else 'is weak'}: it is filled to "
        f"{100 * charge:.0f} %; valve {loosest.number} lets through {100 * shares[loosest]:.0f} % "
        "of what it should."
    )
    return [CylinderFault(cylinder, loosest.number, dead, says)]


def _held_when_warm(setup: Setup, valve: Valve, seat: ShimSeat) -> list[CylinderFault]:
    """A valve below its cold spec by so much that its growth takes up the rest. One that is
    measured hot shows it when it is measured."""
    low_mm = float(setup.engine.clearance[valve.role].low_mm)
    warm_gap_mm = seat.clearance_mm - WARM_MM[valve.role]
    if setup.engine.measured == "hot" or not 0 <= seat.clearance_mm < low_mm or warm_gap_mm >= 0:
        return []
    says = (
        f"Once it is warm valve {valve.number} is held open: cylinder {valve.cylinder} loses its "
        "compression, and the seat burns."
    )
    return [CylinderFault(valve.cylinder, valve.number, dead=False, says=says)]


def _is_over_bucket(setup: Setup, valve: int) -> bool:
    """Whether its shim lies under the cam itself, which rubs a printed face off."""
    shim = setup.engine.adjuster(valve).shim
    return shim is not None and shim.place == "over-bucket"


def air_share(engine: Engine, valve: Valve, clearance_mm: float) -> float:
    """What a valve lets through at this clearance, of what it does at its nominal one: the area
    under its lift over the cycle. 0 where it never opens."""
    lift = lobe_of(engine, valve.role).follower_lift_mm(np.arange(0.0, CYCLE_DEG, 1.0))
    nominal_mm = float(engine.clearance[valve.role].middle_mm)
    nominal = float(valve_lift_mm(lift, nominal_mm).sum())
    return float(valve_lift_mm(lift, clearance_mm).sum()) / nominal


def _later(setup: Setup, state: State) -> list[str]:
    said = []
    for valve, hidden, seat in zip(setup.engine.valves, setup.hidden, state.seats, strict=True):
        spec = setup.engine.clearance[valve.role]
        low_mm, high_mm = float(spec.low_mm), float(spec.high_mm)
        number = valve.number
        if setup.engine.adjuster(valve.number).adjusts_itself:
            continue
        if not low_mm <= seat.clearance_mm <= high_mm and seat.clearance_mm < NO_GAP_MM:
            words = effect_words(setup.engine, valve, max(0.0, seat.clearance_mm))
            said.append(f"Valve {number}: {' '.join(words)}")
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
        if seat.face_up and _is_over_bucket(setup, number):
            said.append(f"Valve {number}: the printed face is up, and wears off under the cam.")
        if seat.shim_um is not None and seat.aside_um is not None:
            aside = seat.aside_um / UM_PER_MM
            said.append(f"Valve {number}: the shim of {aside:.3f} mm is left on the bench.")
    return said
