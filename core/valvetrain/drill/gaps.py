"""Gaps and their specs in the words of a question: to the hundredth, in both units."""

from decimal import Decimal

from valvetrain.angles import normalise_deg
from valvetrain.drill.question import CannotAskError
from valvetrain.engine import Clearance, Engine, Valve
from valvetrain.lobe import gap_mm, lobe_of
from valvetrain.units import in_both

HUNDREDTH = Decimal("0.01")
NO_SPEC = "The valves of this engine adjust themselves: there is no clearance to ask about."


def read(engine: Engine, valve: Valve, crank_deg: float, left: Decimal) -> Decimal:
    """What a leaf finds there, to the hundredth."""
    cycle_deg = engine.cycle_deg(valve.cylinder, normalise_deg(crank_deg))
    lift = lobe_of(engine.seen_by(valve), valve.role).follower_lift_mm(cycle_deg)
    return Decimal(f"{float(gap_mm(lift, float(left))):.2f}")


def spec_of(engine: Engine, valve: Valve) -> Clearance:
    if engine.adjuster_of(valve.role).adjusts_itself or valve.role not in engine.clearance:
        raise CannotAskError(NO_SPEC)
    return engine.clearance[valve.role]


def in_words(length_mm: Decimal, spec: Clearance) -> str:
    """In both units, that of the spec first."""
    return in_both(length_mm, spec.unit)


def low(spec: Clearance) -> Decimal:
    return spec.low_mm.quantize(HUNDREDTH)


def high(spec: Clearance) -> Decimal:
    return spec.high_mm.quantize(HUNDREDTH)


def middle(spec: Clearance) -> Decimal:
    return spec.middle_mm.quantize(HUNDREDTH)
