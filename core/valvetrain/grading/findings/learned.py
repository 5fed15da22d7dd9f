"""How a hand scatters, learned from its own sheets and its class's.

Empirical Bayes: what few figures say is shrunk to what the class's say, and that to common practice
where there is little. Each sheet is centred on its own median, so that a lean is no scatter, and
spreads are taken by the median of distances, so that a mistake widens nobody's. How often a hand
strays far is learned as well: a leaf that catches one time in twenty is that hand's way.
"""

import statistics
from collections.abc import Iterable, Sequence
from typing import NamedTuple

from valvetrain.grading.columns import SECOND
from valvetrain.grading.constants import (
    CLASS_WEIGHT,
    COARSE_STEP_MM,
    FAR_SPREADS,
    HAND_SCATTER_MM,
    HAND_WEIGHT,
    LEAST_FOR_STEP,
    MAD_TO_SIGMA,
    MOST_STRAY,
    NOT_SCATTER_MM,
    PASS_MM,
    SPREAD_BOUNDS,
    STRAY_SHARE,
    STRAY_WEIGHT,
    WRITTEN_STEP_MM,
)
from valvetrain.grading.findings.model import Case, Scatter
from valvetrain.units import MM_PER_THOU, Unit

Squares = tuple[float, float]
"""A sum of squares in mm², and of how many figures."""


class _Shown(NamedTuple):
    """What one sheet shows: distances of its readings from their own median, and of two passes of a
    valve from each other."""

    off_mm: list[float]
    passes_mm: list[float]

    @property
    def spread(self) -> Squares:
        free = len(self.off_mm) - 1
        return (free * _sigma_mm(self.off_mm) ** 2, free) if free > 0 else (0.0, 0.0)

    @property
    def repeats(self) -> Squares:
        """Of one pass: what two differ by, over the root of two."""
        count = len(self.passes_mm)
        return (count * _sigma_mm(self.passes_mm) ** 2 / 2, count) if count else (0.0, 0.0)


def _sigma_mm(off_mm: Iterable[float]) -> float:
    """By the median of distances: a mistake widens nobody's."""
    return MAD_TO_SIGMA * statistics.median(map(abs, off_mm))


def _sum(parts: Iterable[Squares]) -> Squares:
    total, count = 0.0, 0.0
    for squares, many in parts:
        total, count = total + squares, count + many
    return total, count


def _less(whole: Squares, part: Squares) -> Squares:
    return max(0.0, whole[0] - part[0]), whole[1] - part[1]


def learn(hands: Sequence[Sequence[Case]]) -> list[list[Scatter]]:
    """For each hand of a class, and each of its sheets in turn: how that hand scatters by its other
    sheets, and those of the class. The sheet itself is left out everywhere, or its mistakes would
    pass for the hand's way."""
    shown = [[_shown(case) for case in own] for own in hands]
    every = [one for own in shown for one in own]
    of_class, passes = _sum(one.spread for one in every), _sum(one.repeats for one in every)
    return [
        [
            _scatter(
                [*own[:at], *own[at + 1 :]],
                _less(of_class, own[at].spread),
                _less(passes, own[at].repeats),
                _step_mm(cases),
            )
            for at in range(len(own))
        ]
        for cases, own in zip(hands, shown, strict=True)
    ]


def _scatter(own: Sequence[_Shown], of_class: Squares, passes: Squares, step_mm: float) -> Scatter:
    """Rounded, so that hands which are alike are reckoned with once."""
    class_mm = _shrunk_mm(HAND_SCATTER_MM, CLASS_WEIGHT, of_class)
    class_passes_mm = _shrunk_mm(PASS_MM, CLASS_WEIGHT, passes)
    hand_mm = _shrunk_mm(class_mm, HAND_WEIGHT, _sum(one.spread for one in own))
    pass_mm = _shrunk_mm(class_passes_mm, HAND_WEIGHT, _sum(one.repeats for one in own))
    return Scatter(
        hand_mm=round(_bounded(hand_mm, HAND_SCATTER_MM), 3),
        step_mm=step_mm,
        near_stray=round(_near_stray(own, class_mm), 3),
        pass_mm=round(_bounded(pass_mm, PASS_MM), 3),
    )


def _shown(case: Case) -> _Shown:
    off = [
        gap - case.key[line.valve].gap_mm
        for line, gap in zip(case.lines, case.gaps_mm, strict=True)
        if gap is not None
    ]
    near = [one for one in off if abs(one) <= NOT_SCATTER_MM]
    middle = statistics.median(near) if near else 0.0
    passes = [
        second - first
        for line in case.lines
        if (second := line.mm(SECOND)) is not None and (first := line.first_mm) is not None
    ]
    return _Shown([one - middle for one in near], passes)


def _shrunk_mm(prior_mm: float, weight: float, shown: Squares) -> float:
    """The prior counts as so many figures."""
    total, count = shown
    return float(((weight * prior_mm**2 + total) / (weight + count)) ** 0.5)


def _near_stray(own: Iterable[_Shown], spread_mm: float) -> float:
    """How many of a hand's figures lie far out."""
    off = [mm for one in own for mm in one.off_mm]
    far = sum(abs(mm) > FAR_SPREADS * spread_mm for mm in off)
    return min(MOST_STRAY, (STRAY_SHARE * STRAY_WEIGHT + far) / (STRAY_WEIGHT + len(off)))


def _bounded(spread_mm: float, usual_mm: float) -> float:
    least, most = SPREAD_BOUNDS
    return min(most * usual_mm, max(least * usual_mm, spread_mm))


def _step_mm(cases: Iterable[Case]) -> float:
    """In what steps a hand's gauge lets it write: thou leaves, a box that goes by 0.05, or
    hundredths."""
    lines = [line for case in cases for line in case.lines if line.reading_mm is not None]
    if len(lines) < LEAST_FOR_STEP:
        return WRITTEN_STEP_MM
    if sum(line.unit is Unit.THOU for line in lines) > len(lines) / 2:
        return float(MM_PER_THOU)
    coarse = [
        line.reading_mm is not None and line.reading_mm % COARSE_STEP_MM == 0 for line in lines
    ]
    return float(COARSE_STEP_MM) if all(coarse) else WRITTEN_STEP_MM
