"""The cycle table: what a screen needs to show an engine at any angle without asking again.

Valves of one role share a lobe, and cylinders differ only by their firing angle. So the
table holds one cycle for each role, at every whole degree of the cylinder's own cycle
(index = cycle angle), plus the firing angle of each cylinder; and `segments`, the exact
stretches of the cycle within which each role's state and what may be said of it stay the
same.
"""

from dataclasses import dataclass
from typing import NamedTuple

import numpy as np

from valvetrain.angles import (
    CYCLE_DEG,
    SAME_ANGLE_DEG,
    STROKE_DEG,
    Stroke,
    apart_deg,
    normalise_deg,
    stroke_at,
)
from valvetrain.constants import FULL_LIFT_DEG
from valvetrain.engine import Engine, Role
from valvetrain.heel import ValveState, margin_deg, off_heel_arcs, states_at
from valvetrain.lobe import FloatArray, closing_gap_mm, gap_mm, lobe_of, valve_lift_mm
from valvetrain.overlap import overlap_stretch
from valvetrain.piston import piston_from_tdc_mm
from valvetrain.rocking import RockArcs, rock_arcs
from valvetrain.signs import Signs, signs_of

STEPS = int(CYCLE_DEG)


@dataclass(frozen=True, slots=True)
class RoleCycle:
    """Arrays of 720 values, one for each whole degree of the cylinder's cycle."""

    lift_mm: FloatArray
    gap_mm: FloatArray
    margin_deg: FloatArray
    rocks: RockArcs
    """From where rocking the crank opens it."""
    closing_gap_mm: FloatArray | None = None
    """Of valves that are pulled shut."""


@dataclass(frozen=True, slots=True)
class RoleInSegment:
    state: ValveState
    settable: bool
    says: str
    """What this valve is doing, in a few words, and so why it may or may not be set."""


@dataclass(frozen=True, slots=True)
class Segment:
    """A stretch of the cycle, from_deg up to to_deg, with nothing changing in between."""

    from_deg: float
    to_deg: float
    stroke: Stroke
    overlap: bool
    roles: dict[str, RoleInSegment]
    """By `Engine.cycle_key`: the role, but for valves that a decompressor leaves alone."""
    signs: Signs


class CycleEvent(NamedTuple):
    """A place on the crank where something begins or ends, for turning from one to the next."""

    crank_deg: float
    says: str


@dataclass(frozen=True, slots=True)
class CycleTable:
    roles: dict[str, RoleCycle]
    """By `Engine.cycle_key`."""
    segments: tuple[Segment, ...]
    piston_from_tdc_mm: FloatArray | None
    events: tuple[CycleEvent, ...]
    """In turning order from 0."""


def cycle_table(engine: Engine) -> CycleTable:
    """Computes the whole table, about a millisecond for any engine."""
    cycle = np.arange(STEPS, dtype=np.float64)
    roles = {key: _role_cycle(own, role, cycle) for key, own, role in _kinds(engine)}
    pistons = None
    if engine.geometry is not None:
        pistons = piston_from_tdc_mm(engine.geometry, cycle)
    return CycleTable(roles, segments(engine), pistons, events_of(engine))


def events_of(engine: Engine) -> tuple[CycleEvent, ...]:
    """Every cylinder's firing TDC, and the opening and closing of each role in it."""
    found = []
    for cylinder, fire_deg in engine.fire_deg.items():
        found.append(CycleEvent(fire_deg, f"cylinder {cylinder} at firing TDC"))
        for role in engine.roles:
            numbers = [str(v.number) for v in engine.valves_of(cylinder) if v.role is role]
            if not numbers:
                continue
            who = f"{role} {' and '.join(numbers)}"
            events = engine.events[role]
            for cycle_deg, does in (
                (events.opens_cycle_deg, "open" if len(numbers) > 1 else "opens"),
                (events.closes_cycle_deg, "close" if len(numbers) > 1 else "closes"),
            ):
                found.append(CycleEvent(normalise_deg(fire_deg + cycle_deg), f"{who} {does}"))
    return tuple(sorted(found))


def _kinds(engine: Engine) -> list[tuple[str, Engine, Role]]:
    """Each kind of valve once: its key, the engine as it has it, and its role; the roles first."""
    by_role = [(role.value, engine, role) for role in engine.roles]
    unlifted = {
        engine.cycle_key(valve): valve.role
        for valve in engine.valves
        if engine.seen_by(valve) is not engine
    }
    return [*by_role, *((key, engine.unlifted, role) for key, role in unlifted.items())]


def segments(engine: Engine) -> tuple[Segment, ...]:
    """The cycle cut wherever a stroke, a state or the overlap changes; covers 0 to 720."""
    cuts = {n * STROKE_DEG for n in range(4)}
    for role in engine.roles:
        events = engine.events[role]
        cuts |= {normalise_deg(a) for a in (events.opens_cycle_deg, events.closes_cycle_deg)}
        middle = events.middle_cycle_deg
        cuts |= {normalise_deg(middle - FULL_LIFT_DEG), normalise_deg(middle + FULL_LIFT_DEG)}
        for arc in off_heel_arcs(engine, role):
            cuts |= {normalise_deg(arc.from_deg), normalise_deg(arc.to_deg)}
        cuts |= _bump_opens_and_closes(engine, role)
    starts: list[float] = []
    for cut in sorted(cuts):
        if not starts or cut - starts[-1] > SAME_ANGLE_DEG:
            starts.append(cut)
    ends = [*starts[1:], CYCLE_DEG]
    middles = [(start + end) / 2 for start, end in zip(starts, ends, strict=True)]
    kinds = _kinds(engine)
    states = {key: states_at(own, role, middles) for key, own, role in kinds}
    return tuple(
        _segment(engine, ends_at, {(key, role): states[key][index] for key, _, role in kinds})
        for index, ends_at in enumerate(zip(starts, ends, strict=True))
    )


def _bump_opens_and_closes(engine: Engine, role: Role) -> set[float]:
    """Where a decompressor's bump has taken up the clearance: half the way along a cosine."""
    lobe = lobe_of(engine, role)
    if lobe.bump is None:
        return set()
    height = lobe.bump.lift_mm + lobe.clearance_mm
    share = float(np.arccos(1 - 2 * lobe.clearance_mm / height)) / (2 * np.pi)
    length = (lobe.bump.closes_cycle_deg - lobe.bump.opens_cycle_deg) % CYCLE_DEG
    start = lobe.bump.opens_cycle_deg
    return {normalise_deg(start + share * length), normalise_deg(start + (1 - share) * length)}


def _role_cycle(engine: Engine, role: Role, cycle: FloatArray) -> RoleCycle:
    lobe = lobe_of(engine, role)
    lift = lobe.follower_lift_mm(cycle)
    gap = gap_mm(lift, lobe.clearance_mm)
    spec = engine.closing.get(role)
    return RoleCycle(
        lift_mm=valve_lift_mm(lift, lobe.clearance_mm),
        gap_mm=gap,
        margin_deg=margin_deg(engine, role, cycle),
        rocks=rock_arcs(lobe),
        closing_gap_mm=None
        if spec is None
        else closing_gap_mm(float(spec.middle_mm), lobe.clearance_mm, gap),
    )


def _segment(
    engine: Engine, ends: tuple[float, float], states: dict[tuple[str, Role], ValveState]
) -> Segment:
    middle = sum(ends) / 2
    overlap = _in_overlap(engine, middle)
    return Segment(
        from_deg=ends[0],
        to_deg=ends[1],
        stroke=stroke_at(middle),
        overlap=overlap,
        roles={
            key: RoleInSegment(
                state, state is ValveState.HEEL, _says(engine, role, middle, state, overlap)
            )
            for (key, role), state in states.items()
        },
        signs=signs_of(
            engine,
            stroke_at(middle),
            {role: states[role.value, role] for role in engine.roles},
        ),
    )


def _in_overlap(engine: Engine, cycle_deg: float) -> bool:
    if not {Role.INTAKE, Role.EXHAUST} <= set(engine.roles):
        return False
    starts_deg, length_deg = overlap_stretch(engine)
    return (cycle_deg - starts_deg) % CYCLE_DEG < max(0.0, length_deg)


def _says(engine: Engine, role: Role, cycle_deg: float, state: ValveState, overlap: bool) -> str:
    if state is ValveState.HEEL:
        return "on its heel"
    events = engine.events[role]
    rising = (events.middle_cycle_deg - cycle_deg) % CYCLE_DEG < CYCLE_DEG / 2
    if not _on_main_lobe(engine, role, cycle_deg):
        return "held off by the decompressor"
    if state is ValveState.RAMP:
        return "opening ramp: reads small" if rising else "closing ramp: reads small"
    if apart_deg(events.middle_cycle_deg, cycle_deg) < FULL_LIFT_DEG:
        return "fully open"
    if overlap and role is not Role.BRAKE:
        return "opening, in overlap" if rising else "closing, in overlap"
    return "open, still lifting" if rising else "open, coming back"


def _on_main_lobe(engine: Engine, role: Role, cycle_deg: float) -> bool:
    events = engine.events[role]
    since = (cycle_deg - events.opens_cycle_deg + engine.ramp_deg) % CYCLE_DEG
    return since < events.duration_deg + 2 * engine.ramp_deg
