"""Every length that stands beside a spec or a verdict: in the unit of that spec first, and never
rounded onto a limit or across it."""

from decimal import ROUND_CEILING, ROUND_FLOOR, ROUND_HALF_EVEN, Decimal
from functools import lru_cache

from valvetrain.engine import Clearance
from valvetrain.units import MM_PER_THOU, Unit, to_mm

_STEPS = {
    Unit.MM: (Decimal("0.01"), Decimal("0.001"), Decimal("0.0001")),
    Unit.THOU: (Decimal("0.1"), Decimal("0.01"), Decimal("0.001")),
}
"""As finely as it takes to show on which side of a limit a length lies."""


def in_unit(length_mm: Decimal, unit: Unit) -> Decimal:
    return length_mm if unit is Unit.MM else length_mm / MM_PER_THOU


def beside_spec(spec: Clearance, gap_mm: float) -> str:
    """A gap in its spec's unit, with as many digits as it takes to show on which side of each limit
    it lies: `0.31 mm`, `0.182 mm` beside 0.18, `5.6 thou`."""
    gap = in_unit(Decimal(str(round(gap_mm, 6))), spec.unit)
    limits = (spec.spread.low - spec.shop_tolerance, spec.spread.high + spec.shop_tolerance)
    for step in _STEPS[spec.unit]:
        shown = gap.quantize(step, ROUND_HALF_EVEN)
        if all(_side(shown, limit) == _side(gap, limit) for limit in limits):
            break
    return f"{shown} {spec.unit}"


def gap_words(spec: Clearance, gap_mm: float) -> str:
    """The same; below zero the valve is held off its seat."""
    if gap_mm < 0:
        return f"no gap: held open by {beside_spec(spec, -gap_mm)}"
    return beside_spec(spec, gap_mm)


def difference(length_mm: float, unit: Unit) -> str:
    """How far two lengths are apart: `0.04 mm`, `1.6 thou`."""
    step = _STEPS[unit][0]
    return f"{in_unit(Decimal(str(length_mm)), unit).quantize(step, ROUND_HALF_EVEN)} {unit}"


@lru_cache(maxsize=4096)
def exact(length_mm: Decimal | None, unit: Unit = Unit.MM) -> str:
    """A length as it was written down: all the digits that it has, thou with the millimetres that
    they are: `0.25 mm`, `10 thou (0.254 mm)`; `nothing` for None."""
    if length_mm is None:
        return "nothing"
    if unit is Unit.MM:
        return f"{figure(length_mm)} mm"
    return f"{_thou(length_mm)} thou ({figure(length_mm)} mm)"


def limits_words(low_mm: Decimal, high_mm: Decimal, unit: Unit) -> str:
    """Two limits exactly: `0.22 mm to 0.28 mm`, `5 to 7 thou (0.127 mm to 0.1778 mm)`."""
    plain = f"{exact(low_mm)} to {exact(high_mm)}"
    return plain if unit is Unit.MM else f"{_thou(low_mm)} to {_thou(high_mm)} thou ({plain})"


@lru_cache(maxsize=4096)
def figure(length_mm: Decimal) -> str:
    """Two decimals, as gaps are written, or as many more as the length has."""
    in_hundredths = length_mm.quantize(Decimal("0.01")) == length_mm
    return f"{length_mm:.2f}" if in_hundredths else f"{length_mm.normalize():f}"


def spec_texts(spec: Clearance) -> tuple[str, str]:
    """A spec as its manual prints it, and in the other unit. One figure without a tolerance has
    what the shop allows beside it."""
    if spec.nominal_mm is None:
        return spec.printed, other_limits(spec.low_mm, spec.high_mm, spec.unit)
    tolerance = spec.shop_tolerance.normalize()
    shop = f", ±{tolerance:f} {spec.unit} by the shop" if tolerance else ""
    other = (
        f"{in_unit(spec.nominal_mm, Unit.THOU):.1f} thou"
        if spec.unit is Unit.MM
        else f"{figure(spec.nominal_mm)} mm"
    )
    return f"{spec.printed}{shop}", other


def running_texts(spec: Clearance) -> tuple[str, str] | None:
    """The same for a running range; None where there is none."""
    if spec.running is None:
        return None
    return spec_texts(Clearance(spec.unit, spec.running))


def other_limits(low_mm: Decimal, high_mm: Decimal, unit: Unit) -> str:
    """Two limits in the unit that the manual does not use: `9.9–11.8 thou`, `0.08–0.127 mm`. No
    limit is rounded outwards: what lies on a figure shown here is within the spec."""
    other = Unit.THOU if unit is Unit.MM else Unit.MM
    low, high = _inwards(low_mm, other, 1), _inwards(high_mm, other, -1)
    return f"{low} {other}" if low == high else f"{low}–{high} {other}"


def _inwards(limit_mm: Decimal, unit: Unit, inwards: int) -> str:
    """With the fewest digits that do not round it out of the range, and no more than two (thou) or
    three (mm)."""
    limit = in_unit(limit_mm, unit)
    coarse, fine, _ = _STEPS[unit]
    shown = next(
        (
            rounded
            for step in (coarse, fine)
            if ((rounded := limit.quantize(step, ROUND_HALF_EVEN)) - limit) * inwards >= 0
        ),
        limit.quantize(fine, ROUND_CEILING if inwards > 0 else ROUND_FLOOR),
    )
    plain = f"{shown.normalize():f}"
    return f"{shown:.2f}" if unit is Unit.MM and shown == shown.quantize(coarse) else plain


def _thou(length_mm: Decimal) -> str:
    return f"{length_mm / MM_PER_THOU:.2f}".rstrip("0").rstrip(".")


def _side(length: Decimal, limit: Decimal) -> int:
    """-1 below the limit, 0 on it, 1 above."""
    return (length > limit) - (length < limit)


def side_of_spec(spec: Clearance, gap: Decimal) -> int:
    """-1 below the spec, 0 within it, 1 above it; gap in the spec's unit."""
    gap_mm = to_mm(gap, spec.unit)
    return -1 if gap_mm < spec.low_mm else 1 if gap_mm > spec.high_mm else 0
