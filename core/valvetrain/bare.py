"""What anybody sees of an engine that stands somewhere: its marks at the pointer, and which valves
are pressed down. Nothing that tells strokes, heels or margins: those are to be found out."""

from typing import NamedTuple

from valvetrain.angles import CYCLE_DEG, TURN_DEG, normalise_deg
from valvetrain.engine import Engine, Valve
from valvetrain.lobe import lobe_of, valve_lift_mm
from valvetrain.looks import gear_of


class BareMark(NamedTuple):
    label: str
    deg: float
    """Where on the crank it is: at the pointer when the wheel has turned by it. What it means is
    for the class to know."""


class BareValve(NamedTuple):
    number: int
    cylinder: int
    role: str
    label: str
    down: float
    """How far it is pressed off its seat, as a share of its lift: 0 to 1, in hundredths."""
    lobe_deg: float | None
    """How far its lobe has turned past it, in crank degrees, -360 to 360; None where the cam is out
    of sight."""


class BareView(NamedTuple):
    wheel_deg: float
    """0 up to 360: which of its two turns a crank is in, nobody sees."""
    clockwise: bool
    marks: tuple[BareMark, ...]
    valves: tuple[BareValve, ...]
    """In physical order from the front."""


def bare_view(engine: Engine, crank_deg: float) -> BareView:
    return BareView(
        normalise_deg(crank_deg) % TURN_DEG,
        engine.rotation == "clockwise",
        tuple(BareMark(mark.label, mark.deg) for mark in engine.marks if mark.on == "crank"),
        tuple(_valve(engine, valve, crank_deg) for valve in engine.valves),
    )


def _valve(engine: Engine, valve: Valve, crank_deg: float) -> BareValve:
    lobe = lobe_of(engine.seen_by(valve), valve.role)
    follower = lobe.follower_lift_mm(engine.cycle_deg(valve.cylinder, crank_deg))
    lift_mm = float(valve_lift_mm(follower, lobe.clearance_mm))
    share = round(lift_mm / engine.lift_mm[valve.role], 2)
    return BareValve(
        valve.number,
        valve.cylinder,
        valve.role.value,
        valve.label,
        min(share, 1.0),
        _lobe_deg(engine, valve, crank_deg),
    )


def _lobe_deg(engine: Engine, valve: Valve, crank_deg: float) -> float | None:
    if not gear_of(engine, valve.role).cam_in_sight:
        return None
    past = normalise_deg(crank_deg - engine.full_lift_deg(valve))
    return round(past if past <= TURN_DEG else past - CYCLE_DEG, 1)
