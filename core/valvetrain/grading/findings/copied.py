"""Sheets whose figures are equal beyond chance. For the instructor only.

Two honest sheets of one stand agree in many figures, since both are near the key. What counts is
how unlikely each shared figure is for an honest hand: a shared odd one weighs most.
"""

import math
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from valvetrain.grading.constants import COPIED_SHEET, LEAST_SHARED, SAME_FIGURE
from valvetrain.grading.findings.kinds import Kind
from valvetrain.grading.findings.model import LOG_NEEDED, Case, Finding, times

NOT_WRITTEN = -1.0
"""Stands in an array of figures where there is none: no gap is negative."""


class Pair(NamedTuple):
    one: int
    other: int
    finding: Finding


def copied_pairs(cases: Sequence[Case]) -> list[Pair]:
    """Places in cases of sheets that agree beyond chance, likeliest first.

    All cases are of one engine and key. The prior is shared among all pairs, so that a large
    class is not accused by its size.
    """
    if len(cases) < 2:
        return []
    valves = [valve.number for valve in cases[0].engine.valves]
    figures, weights = _block(cases, valves)
    written = figures != NOT_WRITTEN
    log_prior = math.log(COPIED_SHEET) - math.log(max(1, len(cases) - 1))
    found = []
    for one in range(len(cases) - 1):
        both = written[one] & written[one + 1 :]
        same = both & (np.abs(figures[one] - figures[one + 1 :]) < 1e-9)
        # The rarer of the two honest chances: each sheet has its own bias.
        gain = math.log(SAME_FIGURE) - np.minimum(weights[one], weights[one + 1 :])
        odds = np.where(same, gain, np.where(both, math.log(1 - SAME_FIGURE), 0.0)).sum(axis=1)
        odds += log_prior
        for ahead in np.flatnonzero((odds > LOG_NEEDED) & (same.sum(axis=1) >= LEAST_SHARED)):
            other = one + 1 + int(ahead)
            shared = [valve for valve, is_same in zip(valves, same[ahead], strict=True) if is_same]
            count = int(both[ahead].sum())
            found.append(Pair(one, other, _finding(shared, count, float(odds[ahead]))))
    return sorted(found, key=lambda pair: -pair.finding.log_odds)


def _block(cases: Sequence[Case], valves: list[int]) -> tuple[np.ndarray, np.ndarray]:
    """Figures, and the log chance of each for an honest hand as biased as this sheet."""
    figures = np.full((len(cases), len(valves)), NOT_WRITTEN)
    for row, case in enumerate(cases):
        for column, gap_mm in enumerate(case.gaps_mm):
            if gap_mm is not None:
                figures[row, column] = gap_mm
    scatter = cases[0].scatter
    key = np.array([cases[0].key[valve].gap_mm for valve in valves])
    u = np.array([cases[0].key[valve].u_mm for valve in valves])
    spread = np.sqrt(scatter.hand_mm**2 + u**2)
    off = np.where(figures == NOT_WRITTEN, np.nan, figures - key)
    off[np.isnan(off).all(axis=1)] = 0.0  # a sheet without a reading has no bias
    bias = np.nanmedian(off, axis=1)
    z = (np.nan_to_num(off) - bias[:, None]) / spread
    chance = scatter.step_mm * np.exp(-0.5 * z**2) / (spread * math.sqrt(2 * math.pi))
    return figures, np.log(np.clip(chance, scatter.stray * scatter.step_mm, 0.9))


def _finding(shared: list[int], count: int, log_odds: float) -> Finding:
    return Finding(
        Kind.COPIED,
        tuple(shared),
        log_odds,
        f"{len(shared)} of {count} figures are equal to the last digit: {times(log_odds)} as "
        "likely as chance. They may have measured together; ask before you conclude.",
        None,
        (f"equal at valves {', '.join(map(str, shared))}",),
    )
