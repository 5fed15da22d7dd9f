"""A key made of several passes: the mean of each valve, and how well it is known.

After the GUM (JCGM 100:2008, 4.2 and 5.1, from memory): what several passes of the same valve
differ by gives the spread of one pass, pooled over all valves because few passes of one valve tell
little; the mean of n passes is known to s / sqrt(n), and no better than a leaf is made and felt.
Expanded with k = 2, which is about 95 of 100.
"""

import math
from collections.abc import Mapping, Sequence
from decimal import Decimal
from typing import NamedTuple

from valvetrain.errors import RefusedError
from valvetrain.grading.constants import APART_MM, LEAST_KEY_U_MM, MOST_PASSES
from valvetrain.units import to_record_mm


class PassesError(RefusedError):
    """Passes of which no key can be made."""


class PooledGap(NamedTuple):
    """uncertainty_mm is expanded (k = 2); apart says that this valve should be measured again."""

    gap_mm: Decimal
    uncertainty_mm: Decimal
    passes: int
    range_mm: Decimal
    apart: bool


class Pooled(NamedTuple):
    """spread_mm is the standard deviation of one pass, over all valves; None of single passes."""

    gaps: dict[int, PooledGap]
    spread_mm: float | None


def pool_passes(passes_mm: Mapping[int, Sequence[Decimal]]) -> Pooled:
    """A key from each valve's passes (one or more each). Raises RefusedError."""
    for valve, gaps in passes_mm.items():
        if not 0 < len(gaps) <= MOST_PASSES:
            raise PassesError(f"valve {valve} has {len(gaps)} passes; give 1 to {MOST_PASSES}")
    squares, degrees = 0.0, 0
    for gaps in passes_mm.values():
        mean_mm = sum(map(float, gaps)) / len(gaps)
        squares += sum((float(gap) - mean_mm) ** 2 for gap in gaps)
        degrees += len(gaps) - 1
    spread_mm = math.sqrt(squares / degrees) if degrees else None
    return Pooled(
        {valve: _pooled(gaps, spread_mm or 0.0) for valve, gaps in passes_mm.items()}, spread_mm
    )


def _pooled(gaps: Sequence[Decimal], spread_mm: float) -> PooledGap:
    u_mm = math.hypot(spread_mm / math.sqrt(len(gaps)), LEAST_KEY_U_MM)
    range_mm = max(gaps) - min(gaps)
    return PooledGap(
        to_record_mm(sum(gaps, Decimal(0)) / len(gaps)),
        to_record_mm(Decimal(str(round(2 * u_mm, 6)))),
        len(gaps),
        range_mm,
        range_mm > APART_MM,
    )
