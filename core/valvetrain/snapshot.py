"""What everything in the engine is doing at one crank angle."""

from typing import NamedTuple

from valvetrain.angles import Stroke, normalise_deg, stroke_at
from valvetrain.engine import Engine, Role, Valve
from valvetrain.heel import ValveState, state_at, valve_margin_deg
from valvetrain.lobe import gap_mm, lobe_of, valve_lift_mm
from valvetrain.piston import piston_from_tdc_mm


class CylinderNow(NamedTuple):
    cylinder: int
    cycle_deg: float
    stroke: Stroke
    piston_from_tdc_mm: float | None
    """None where the engine file gives no stroke and rod."""


class ValveNow(NamedTuple):
    valve: int
    cylinder: int
    role: Role
    state: ValveState
    lift_mm: float
    gap_mm: float
    """What a leaf would find at nominal clearance."""
    settable: bool
    margin_deg: float


class Snapshot(NamedTuple):
    crank_deg: float
    cylinders: tuple[CylinderNow, ...]
    valves: tuple[ValveNow, ...]


def snapshot(engine: Engine, crank_deg: float) -> Snapshot:
    """Cylinders in number order, valves in physical order; crank_deg is normalised."""
    angle = normalise_deg(crank_deg)
    cylinders = tuple(_cylinder(engine, n, angle) for n in range(1, engine.cylinders + 1))
    return Snapshot(angle, cylinders, tuple(_valve(engine, v, angle) for v in engine.valves))


def _cylinder(engine: Engine, cylinder: int, crank_deg: float) -> CylinderNow:
    cycle_deg = engine.cycle_deg(cylinder, crank_deg)
    height = None
    if engine.geometry is not None:
        height = float(piston_from_tdc_mm(engine.geometry, cycle_deg))
    return CylinderNow(cylinder, cycle_deg, stroke_at(cycle_deg), height)


def _valve(engine: Engine, valve: Valve, crank_deg: float) -> ValveNow:
    cycle_deg = engine.cycle_deg(valve.cylinder, crank_deg)
    own = engine.seen_by(valve)
    lobe = lobe_of(own, valve.role)
    lift = lobe.follower_lift_mm(cycle_deg)
    margin = valve_margin_deg(engine, valve, crank_deg)
    return ValveNow(
        valve=valve.number,
        cylinder=valve.cylinder,
        role=valve.role,
        state=state_at(own, valve.role, cycle_deg),
        lift_mm=float(valve_lift_mm(lift, lobe.clearance_mm)),
        gap_mm=float(gap_mm(lift, lobe.clearance_mm)),
        settable=margin >= 0,
        margin_deg=margin,
    )
