"""The table that makers print: measured gap against fitted shim, in bands.

A band is a run of gaps that ask for the same shims, with both ends to 0.0001 mm: a whole number of
those makes a hundredth as well as a thou, so that every figure that a gauge can give lies in one
band, with exactly its own answer.
"""

from bisect import bisect_left, bisect_right
from decimal import ROUND_CEILING, ROUND_FLOOR, Decimal
from functools import lru_cache
from typing import NamedTuple

from valvetrain.adjusters.constants import TABLE_BEYOND_MM, TABLE_STEP_MM
from valvetrain.adjusters.sizes import Sizes
from valvetrain.constants import PRINTED_STEP_MM, RECORD_STEP_MM
from valvetrain.gauges import Spec
from valvetrain.units import MM_PER_THOU, Unit


class Band(NamedTuple):
    """Both ends belong to it."""

    from_mm: Decimal
    to_mm: Decimal

    def words(self, unit: Unit) -> str:
        """The figures of a gauge that lie in it, by hundredths of a millimetre or by half a thou:
        `0.08–0.14`, `0.07`, `5.5–7`. Empty where none does."""
        step_mm = PRINTED_STEP_MM if unit is Unit.MM else MM_PER_THOU / 2
        first = (self.from_mm / step_mm).to_integral_value(ROUND_CEILING)
        last = (self.to_mm / step_mm).to_integral_value(ROUND_FLOOR)
        if first > last:
            return ""
        ends = (first, last) if first < last else (first,)
        if unit is Unit.MM:
            return "–".join(f"{end * step_mm:.2f}" for end in ends)
        return "–".join(f"{(end / 2).normalize():f}" for end in ends)

    def holds(self, gap_mm: Decimal) -> bool:
        """Whether a measured gap lies in it."""
        return self.from_mm <= gap_mm <= self.to_mm


class ShimTable(NamedTuple):
    """`new_mm[band][fitted]` is the shim to fit (the fitted one: leave it), None where no size
    reaches the spec."""

    bands: tuple[Band, ...]
    fitted_mm: tuple[Decimal, ...]
    new_mm: tuple[tuple[Decimal | None, ...], ...]


@lru_cache(maxsize=64)
def shim_table(spec: Spec, sizes: Sizes) -> ShimTable:
    """From no gap to well beyond the spec. Raises AdjusterError for sizes that cannot be."""
    fitted = tuple(sizes.all())
    most_mm = spec.max_mm + TABLE_BEYOND_MM
    best: dict[Decimal, Decimal | None] = {}

    def cell(size_mm: Decimal, gap_mm: Decimal) -> Decimal | None:
        if spec.min_mm <= gap_mm <= spec.max_mm:
            return size_mm
        together_mm = size_mm + gap_mm
        if together_mm not in best:
            best[together_mm] = _nearest(together_mm, spec, fitted)
        return best[together_mm]

    def row_at(gap_mm: Decimal) -> tuple[Decimal | None, ...]:
        return tuple(cell(size_mm, gap_mm) for size_mm in fitted)

    bands: list[Band] = [Band(Decimal(0), Decimal(0))]
    rows = [row_at(Decimal(0))]
    gap_mm = Decimal(0)
    while gap_mm < most_mm:
        gap_mm = min(gap_mm + TABLE_STEP_MM, most_mm)
        if row_at(gap_mm) != rows[-1]:
            # Where between the two it changes, as finely as figures are kept.
            gap_mm = bands[-1].to_mm + RECORD_STEP_MM
            if row_at(gap_mm) != rows[-1]:
                bands.append(Band(gap_mm, gap_mm))
                rows.append(row_at(gap_mm))
        bands[-1] = bands[-1]._replace(to_mm=gap_mm)
    return ShimTable(tuple(bands), fitted, tuple(rows))


def _nearest(together_mm: Decimal, spec: Spec, made_mm: tuple[Decimal, ...]) -> Decimal | None:
    """The size within reach whose gap is nearest the middle of the spec; of two, the looser one."""
    first = bisect_left(made_mm, together_mm - spec.max_mm)
    last = bisect_right(made_mm, together_mm - spec.min_mm)
    return min(
        made_mm[first:last],
        key=lambda size_mm: (abs(together_mm - size_mm - spec.middle_mm), size_mm),
        default=None,
    )
