"""Gaps and their specs in the words of a question: as leaves are marked, in both units."""

from decimal import Decimal

from valvetrain.angles import normalise_deg
from valvetrain.drill.question import CannotAskError
from valvetrain.engine import Clearance, Engine, Valve
from valvetrain.lobe import gap_mm, lobe_of
from valvetrain.spec_words import difference
from valvetrain.units import MM_PER_THOU, Unit, in_both

HUNDREDTH = Decimal("0.01")
NO_SPEC = "The valves of this engine adjust themselves: there is no clearance to ask about."


def read(engine: Engine, valve: Valve, crank_deg: float, left: Decimal) -> Decimal:
    """What a leaf finds there, as finely as leaves for its spec go."""
    cycle_deg = engine.cycle_deg(valve.cylinder, normalise_deg(crank_deg))
    lift = lobe_of(engine.seen_by(valve), valve.role).follower_lift_mm(cycle_deg)
    found = Decimal(str(float(gap_mm(lift, float(left)))))
    return rounded(found, engine.clearance[valve.role])


def spec_of(engine: Engine, valve: Valve) -> Clearance:
    if engine.adjuster_of(valve.role).adjusts_itself or valve.role not in engine.clearance:
        raise CannotAskError(NO_SPEC)
    return engine.clearance[valve.role]


def in_words(length_mm: Decimal, spec: Clearance) -> str:
    """In both units, that of the spec first; no gap at all takes no leaf."""
    if not length_mm:
        return "no gap"
    return in_both(length_mm, spec.unit)


def low(spec: Clearance) -> Decimal:
    return rounded(spec.low_mm, spec)


def high(spec: Clearance) -> Decimal:
    return rounded(spec.high_mm, spec)


def middle(spec: Clearance) -> Decimal:
    return rounded(spec.middle_mm, spec)


def rounded(length_mm: Decimal, spec: Clearance) -> Decimal:
    """To a figure that a leaf for this spec has: hundredths, or whole thou."""
    if spec.unit is Unit.MM:
        return length_mm.quantize(HUNDREDTH)
    return (length_mm / MM_PER_THOU).quantize(Decimal(1)) * MM_PER_THOU


def plain(length_mm: Decimal, spec: Clearance) -> str:
    """A difference of two such figures, in the spec's unit alone."""
    return difference(float(length_mm), spec.unit).replace(".0 thou", " thou")
