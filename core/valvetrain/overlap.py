"""Valve overlap: the stretch around TDC in which exhaust and intake are open together."""

from dataclasses import dataclass

from valvetrain.angles import CYCLE_DEG, OVERLAP_TDC_DEG, normalise_deg
from valvetrain.engine import Engine, Role


@dataclass(frozen=True, slots=True)
class Overlap:
    """One cylinder's overlap in crank angles.

    overlap_deg is zero or negative, and the three angles None, where its valves are never
    open together; it is None itself where the cylinder lacks an intake or exhaust valve.
    """

    cylinder: int
    companion: int | None
    overlap_deg: float | None
    starts_deg: float | None
    centre_deg: float | None
    ends_deg: float | None
    centre_past_tdc_deg: float | None
    """How far the overlap's centre lies past the overlap TDC; negative before it."""


def overlap_of(engine: Engine, cylinder: int) -> Overlap:
    companion = engine.companion(cylinder)
    roles = {valve.role for valve in engine.valves_of(cylinder)}
    if not {Role.INTAKE, Role.EXHAUST} <= roles:
        return Overlap(cylinder, companion, None, None, None, None, None)
    starts_cycle_deg, length = overlap_stretch(engine)
    if length <= 0:
        return Overlap(cylinder, companion, length, None, None, None, None)
    starts = starts_cycle_deg + engine.fire_deg[cylinder]
    return Overlap(
        cylinder,
        companion,
        length,
        normalise_deg(starts),
        normalise_deg(starts + length / 2),
        normalise_deg(starts + length),
        starts_cycle_deg + length / 2 - OVERLAP_TDC_DEG,
    )


def overlap_stretch(engine: Engine) -> tuple[float, float]:
    """Where on the cycle intake and exhaust begin to be open together, and for how long.

    From the later opening to the earlier closing, so that one event that lies inside the other is
    overlap from end to end. Where the exhaust shuts before the intake opens the length is what
    lies between, negative.
    """
    intake, exhaust = engine.events[Role.INTAKE], engine.events[Role.EXHAUST]
    half = CYCLE_DEG / 2
    # Of the two events on the circle, those beside one another around the overlap TDC.
    apart_deg = (exhaust.middle_cycle_deg - intake.middle_cycle_deg + half) % CYCLE_DEG - half
    middle = intake.middle_cycle_deg
    starts = max(middle - intake.duration_deg / 2, middle + apart_deg - exhaust.duration_deg / 2)
    ends = min(middle + intake.duration_deg / 2, middle + apart_deg + exhaust.duration_deg / 2)
    return starts, ends - starts


def overlap_length_deg(engine: Engine) -> float:
    return overlap_stretch(engine)[1]


def overlaps(engine: Engine) -> tuple[Overlap, ...]:
    """For every cylinder, in number order."""
    return tuple(overlap_of(engine, n) for n in range(1, engine.cylinders + 1))
