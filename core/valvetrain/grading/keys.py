"""A key made of several passes: the mean of each valve, and how well it is known.

After the GUM (JCGM 100:2008, 4.2, 5.1 and G.4, from memory): what several passes of the same valve
differ by gives the spread of one pass, pooled over all valves because few passes of one valve tell
little; the mean of n passes is known to s / sqrt(n), and no better than a leaf is made and felt.
Expanded to 95 of 100 by Student's t for the degrees of freedom that there are, and never by less
than k = 2: three passes of one valve are known worse than three of twenty.

Valves whose passes lie apart are a slip, not scatter: they are left out of the pooled spread (else
one slip would make every valve's key look bad, and nearly every reading right) and told, to be
measured again.
"""

import math
from collections.abc import Mapping, Sequence
from decimal import Decimal
from typing import NamedTuple

from valvetrain.constants import COVERAGE
from valvetrain.errors import RefusedError
from valvetrain.grading.constants import APART_MM, LEAST_KEY_U_MM, MOST_PASSES
from valvetrain.units import to_record_mm


class PassesError(RefusedError):
    """Passes of which no key can be made."""


class PooledGap(NamedTuple):
    """uncertainty_mm is expanded; apart says that this valve should be measured again."""

    gap_mm: Decimal
    uncertainty_mm: Decimal
    passes: int
    range_mm: Decimal
    apart: bool


class Pooled(NamedTuple):
    """spread_mm is the standard deviation of one pass, over all valves whose passes agree; None
    where there is none with several."""

    gaps: dict[int, PooledGap]
    spread_mm: float | None

    @property
    def apart(self) -> tuple[int, ...]:
        """The valves whose passes do not agree."""
        return tuple(valve for valve, gap in self.gaps.items() if gap.apart)


def pool_passes(passes_mm: Mapping[int, Sequence[Decimal]]) -> Pooled:
    """A key from each valve's passes (one or more each). Raises RefusedError."""
    for valve, gaps in passes_mm.items():
        if not 0 < len(gaps) <= MOST_PASSES:
            raise PassesError(f"valve {valve} has {len(gaps)} passes; give 1 to {MOST_PASSES}")
    squares, degrees = 0.0, 0
    for gaps in passes_mm.values():
        if _range_mm(gaps) <= APART_MM:
            mean_mm = sum(map(float, gaps)) / len(gaps)
            squares += sum((float(gap) - mean_mm) ** 2 for gap in gaps)
            degrees += len(gaps) - 1
    spread_mm = math.sqrt(squares / degrees) if degrees else None
    return Pooled(
        {valve: _pooled(gaps, spread_mm or 0.0, degrees) for valve, gaps in passes_mm.items()},
        spread_mm,
    )


def mean_mm(gaps_mm: Sequence[Decimal]) -> Decimal:
    """What passes over one gap come to, as a key keeps it. gaps_mm: one at least."""
    return to_record_mm(sum(gaps_mm, Decimal(0)) / len(gaps_mm))


def _range_mm(gaps: Sequence[Decimal]) -> Decimal:
    return max(gaps) - min(gaps)


def _pooled(gaps: Sequence[Decimal], spread_mm: float, degrees: int) -> PooledGap:
    of_mean_mm = spread_mm / math.sqrt(len(gaps))
    u_mm = math.hypot(of_mean_mm, LEAST_KEY_U_MM)
    expanded_mm = _coverage(u_mm, of_mean_mm, degrees) * u_mm
    return PooledGap(
        mean_mm(gaps),
        to_record_mm(Decimal(str(round(expanded_mm, 6)))),
        len(gaps),
        _range_mm(gaps),
        _range_mm(gaps) > APART_MM,
    )


def _coverage(u_mm: float, of_mean_mm: float, degrees: int) -> float:
    """k for 95 of 100. The effective degrees of freedom are those of Welch and Satterthwaite (GUM,
    G.4.1): what a leaf adds is taken as known."""
    if of_mean_mm == 0:
        return float(COVERAGE)
    from scipy.special import stdtrit

    effective = degrees * (u_mm / of_mean_mm) ** 4
    return max(float(COVERAGE), float(stdtrit(effective, 0.975)))
