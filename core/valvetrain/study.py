"""Gauge study: a class as a measuring instrument. Crossed random effects, by analysis of variance.

Several students measure the same valves several times. What spreads the readings: the valves
themselves (parts), the hand of one student (repeatability), the difference between students
(reproducibility, which is the student and how the student's hand differs from valve to valve)?

Method: two-way crossed random-effects ANOVA with equal cells, expected mean squares solved for the
components, negative ones taken as zero; shares as in the handbooks of measurement systems analysis
(standard deviations against the total; categories = 1.41 x parts / gauge, cut to a whole number).
The interaction is pooled into repeatability where it is not significant at `pool_above`: 0.25 is
common practice, and what was done is said.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from valvetrain.constants import (
    CATEGORIES,
    CONFIDENCE,
    MOST_NAMED,
    NOISE_MM2,
    POOL_ABOVE,
    UM2_PER_MM2,
)
from valvetrain.errors import RefusedError

FloatArray = NDArray[np.float64]


class StudyError(RefusedError):
    """Readings that no study can be made of: says which, and the way out."""


class Measured(NamedTuple):
    student: str
    valve: int
    trial: int
    reading_mm: float


class Row(NamedTuple):
    """One line of the analysis of variance. f and p are None where there is no test."""

    source: str
    df: int
    ss: float
    ms: float
    f: float | None
    p: float | None


class Component(NamedTuple):
    """variance in mm²; share_variance and share_study in per cent (the latter of deviations)."""

    source: str
    variance: float
    deviation_mm: float
    share_variance: float
    share_study: float


class Hand(NamedTuple):
    """One student: bias against the mean of all (or the key), and spread when repeating."""

    student: str
    bias_mm: float
    bias_low_mm: float
    bias_high_mm: float
    spread_mm: float
    spread_low_mm: float
    spread_high_mm: float


class HardValve(NamedTuple):
    valve: int
    spread_mm: float
    """Deviation of all readings of this valve, each student's own bias taken out."""


@dataclass(frozen=True, slots=True)
class Study:
    students: int
    valves: int
    trials: int
    table: tuple[Row, ...]
    pooled: bool
    interaction_p: float
    components: tuple[Component, ...]
    categories: int | None
    """None where readings repeat to the last digit: no gauge is that good, and nothing is told
    apart by it."""
    hands: tuple[Hand, ...]
    hardest: tuple[HardValve, ...]
    bias_against: str
    says: tuple[str, ...]


class Cells(NamedTuple):
    """Readings in mm with shape (valves, students, trials)."""

    valves: tuple[int, ...]
    students: tuple[str, ...]
    readings_mm: FloatArray


def cells_of(rows: Iterable[Measured]) -> Cells:
    """The readings as a full block. Raises StudyError for one that is missing or given twice."""
    by_place: dict[tuple[int, str, int], float] = {}
    for row in rows:
        place = (row.valve, row.student, row.trial)
        if place in by_place:
            raise StudyError(
                f"{row.student} has trial {row.trial} of valve {row.valve} twice; keep one"
            )
        if not np.isfinite(row.reading_mm):
            raise StudyError(f"{row.student}, valve {row.valve}: the reading is no number")
        by_place[place] = row.reading_mm
    valves = tuple(sorted({valve for valve, _, _ in by_place}))
    students = tuple(sorted({student for _, student, _ in by_place}))
    trials = sorted({trial for _, _, trial in by_place})
    if len(valves) < 2 or len(students) < 2 or len(trials) < 2:
        raise StudyError(
            f"there are {len(students)} students, {len(valves)} valves and {len(trials)} trials; "
            "a study needs two of each, so that what spreads can be told apart"
        )
    missing = [
        f"{student} has no trial {trial} of valve {valve}"
        for student in students
        for valve in valves
        for trial in trials
        if (valve, student, trial) not in by_place
    ]
    if missing:
        more = f", and {len(missing) - MOST_NAMED} more" if len(missing) > MOST_NAMED else ""
        raise StudyError(
            f"the block has gaps: {'; '.join(missing[:MOST_NAMED])}{more}. Measure them, or leave "
            "out that student or that valve"
        )
    block = [[[by_place[v, s, t] for t in trials] for s in students] for v in valves]
    return Cells(valves, students, np.array(block))


def study(
    cells: Cells, key_mm: Sequence[float] | None = None, pool_above: float = POOL_ABOVE
) -> Study:
    """The whole study; key_mm, in the order of the valves, makes each bias one against the key."""
    parts, hands, trials = cells.readings_mm.shape
    split = _split(cells.readings_mm, pool_above)
    part, hand, both, repeat = split.part, split.hand, split.both, split.repeat
    gauge = repeat + hand + both
    components = tuple(
        _component(source, variance, gauge + part)
        for source, variance in (
            ("gauge", gauge),
            ("repeatability", repeat),
            ("reproducibility", hand + both),
            ("students", hand),
            ("students x valves", both),
            ("valves", part),
            ("total", gauge + part),
        )
    )
    categories = _categories(part, gauge)
    return Study(
        students=hands,
        valves=parts,
        trials=trials,
        table=split.table,
        pooled=split.pooled,
        interaction_p=split.interaction_p,
        components=components,
        categories=categories,
        hands=_hands(cells, None if key_mm is None else np.asarray(key_mm, dtype=np.float64)),
        hardest=_hardest(cells),
        bias_against="mean" if key_mm is None else "key",
        says=_says(split.pooled, split.interaction_p, pool_above, components, categories),
    )


class _Split(NamedTuple):
    """The analysis and the variance components solved from it, in mm²."""

    table: tuple[Row, ...]
    pooled: bool
    interaction_p: float
    part: float
    hand: float
    both: float
    repeat: float


def _split(readings: FloatArray, pool_above: float) -> _Split:
    parts, hands, trials = readings.shape
    ss = [total if total > NOISE_MM2 else 0.0 for total in _sums(readings)]
    df = (parts - 1, hands - 1, (parts - 1) * (hands - 1), parts * hands * (trials - 1))
    both_ms, repeat_ms = ss[2] / df[2], ss[3] / df[3]
    interaction_p = _p_of(both_ms, repeat_ms, df[2], df[3])
    pooled = interaction_p > pool_above
    rest: tuple[Row, ...]
    if pooled:
        # Valves and students are tested against, and freed of, the pooled repeatability.
        against_df, repeat_ss = df[2] + df[3], ss[2] + ss[3]
        against_ms = repeat = repeat_ss / against_df
        both = 0.0
        rest = (Row("repeatability", against_df, repeat_ss, against_ms, None, None),)
    else:
        against_df, against_ms, repeat = df[2], both_ms, repeat_ms
        both = max(0.0, (both_ms - repeat_ms) / trials)
        rest = (
            _row("students x valves", df[2], ss[2], repeat_ms, df[3]),
            Row("repeatability", df[3], ss[3], repeat_ms, None, None),
        )
    return _Split(
        table=(
            _row("valves", df[0], ss[0], against_ms, against_df),
            _row("students", df[1], ss[1], against_ms, against_df),
            *rest,
        ),
        pooled=pooled,
        interaction_p=interaction_p,
        part=max(0.0, (ss[0] / df[0] - against_ms) / (hands * trials)),
        hand=max(0.0, (ss[1] / df[1] - against_ms) / (parts * trials)),
        both=both,
        repeat=repeat,
    )


def _sums(readings: FloatArray) -> tuple[float, float, float, float]:
    """Sums of squares: valves, students, their interaction, repeatability."""
    parts, hands, trials = readings.shape
    mean = readings.mean()
    cell = readings.mean(axis=2)
    of_part, of_hand = cell.mean(axis=1), cell.mean(axis=0)
    part = hands * trials * float(((of_part - mean) ** 2).sum())
    hand = parts * trials * float(((of_hand - mean) ** 2).sum())
    both = trials * float(((cell - of_part[:, None] - of_hand[None, :] + mean) ** 2).sum())
    repeat = float(((readings - cell[:, :, None]) ** 2).sum())
    return part, hand, both, repeat


def _row(source: str, df: int, ss: float, against_ms: float, against_df: int) -> Row:
    ms = ss / df
    f = ms / against_ms if against_ms > 0 else None
    return Row(source, df, ss, ms, f, _p_of(ms, against_ms, df, against_df))


def _p_of(ms: float, against_ms: float, df: int, against_df: int) -> float:
    """How often chance alone gives a ratio as large."""
    from scipy.special import fdtrc

    if against_ms <= 0:
        return 0.0 if ms > 0 else 1.0
    return float(fdtrc(df, against_df, ms / against_ms))


def _component(source: str, variance: float, total: float) -> Component:
    share = variance / total if total > 0 else 0.0
    return Component(source, variance, variance**0.5, 100 * share, 100 * share**0.5)


def _categories(part: float, gauge: float) -> int | None:
    if gauge <= 0:
        return 0 if part <= 0 else None
    return int(CATEGORIES * (part / gauge) ** 0.5)


def _hands(cells: Cells, key_mm: FloatArray | None) -> tuple[Hand, ...]:
    """Bias with Student's t, spread with chi squared, both at 95 per cent."""
    from scipy.special import chdtri, stdtrit

    readings = cells.readings_mm
    parts, _, trials = readings.shape
    against = readings.mean(axis=(1, 2)) if key_mm is None else key_mm
    cell = readings.mean(axis=2)
    off = cell - against[:, None]
    bias = off.mean(axis=0)
    df = parts * (trials - 1)
    spread = np.sqrt(((readings - cell[:, :, None]) ** 2).sum(axis=(0, 2)) / df)
    # The valves differ in how they are misread: the bias is uncertain by their spread.
    half = stdtrit(parts - 1, (1 + CONFIDENCE) / 2) * off.std(axis=0, ddof=1) / np.sqrt(parts)
    low = spread * np.sqrt(df / chdtri(df, (1 - CONFIDENCE) / 2))
    high = spread * np.sqrt(df / chdtri(df, (1 + CONFIDENCE) / 2))
    return tuple(
        Hand(student, *(float(figure[place]) for figure in (bias, bias - half, bias + half)),
             *(float(figure[place]) for figure in (spread, low, high)))
        for place, student in enumerate(cells.students)
    )  # fmt: skip


def _hardest(cells: Cells) -> tuple[HardValve, ...]:
    readings = cells.readings_mm
    bias = readings.mean(axis=(0, 2)) - readings.mean()
    spread = (readings - bias[None, :, None]).std(axis=(1, 2), ddof=1)
    order = np.argsort(-spread, kind="stable")
    return tuple(HardValve(cells.valves[at], float(spread[at])) for at in order)


def _says(
    pooled: bool,
    p: float,
    pool_above: float,
    components: Sequence[Component],
    categories: int | None,
) -> tuple[str, ...]:
    share = {one.source: one for one in components}
    largest = max(
        ("repeatability", "students", "students x valves"), key=lambda s: share[s].variance
    )
    what = {
        "repeatability": "one hand repeating itself: practise the feel, one leaf at a time",
        "students": "the difference between hands: feel one shown gap together",
        "students x valves": "hands differing from valve to valve: look at reach and access",
    }
    pooling = (
        f"Students do not differ from valve to valve beyond chance (p = {p:.2f}, above "
        f"{pool_above:g}): that is pooled into repeatability."
        if pooled
        else f"Students may differ from valve to valve (p = {p:.3f}, not above "
        f"{pool_above:g}): that is kept apart."
    )
    if categories is None:
        return (
            pooling,
            "Every reading of a valve is the same to the last digit: there is no spread of the "
            "gauge to judge, and no categories to count. Were the readings copied, or rounded?",
        )
    verdict = (
        "tells the valves apart well"
        if categories >= 5
        else "tells only coarse differences"
        if categories >= 2
        else "cannot tell these valves apart"
    )
    gauge = share["gauge"]
    said = [
        pooling,
        f"The class is {gauge.share_study:.0f} % of the study's standard deviation "
        f"({gauge.share_variance:.0f} % of its variance) and {verdict} "
        f"({categories} categories; five or more is common practice).",
    ]
    if gauge.variance > 0:
        of_it = 100 * share[largest].variance / gauge.variance
        most = "Most of that" if of_it > 50 else "The largest part of that"
        said.append(f"{most} ({of_it:.0f} % of the class's variance) is {what[largest]}.")
    return tuple(said)


def kappa(first: Sequence[str], second: Sequence[str]) -> float:
    """Cohen's kappa of two raters' verdicts: agreement beyond chance, 1 is perfect.

    Raises StudyError for lists that are empty or of different length.
    """
    if len(first) != len(second) or not first:
        raise StudyError("two raters need the same valves, and at least one")
    kinds = sorted({*first, *second})
    counts = np.zeros((len(kinds), len(kinds)))
    for one, other in zip(first, second, strict=True):
        counts[kinds.index(one), kinds.index(other)] += 1
    counts /= len(first)
    agreed = float(np.trace(counts))
    by_chance = float(counts.sum(axis=0) @ counts.sum(axis=1))
    return 1.0 if by_chance == 1 else (agreed - by_chance) / (1 - by_chance)


def fleiss_kappa(counts: Sequence[Sequence[int]]) -> float:
    """Fleiss' kappa: rows are valves, columns kinds of verdict, cells how many raters said so.

    Raises StudyError where rows differ in how many rated.
    """
    table = np.asarray(counts, dtype=np.float64)
    if table.ndim != 2 or table.size == 0:
        raise StudyError("there are no verdicts to compare")
    raters = table.sum(axis=1)
    if raters[0] < 2 or (raters != raters[0]).any():
        raise StudyError("every valve needs a verdict of the same two raters or more")
    n = raters[0]
    agreed = float(((table**2).sum(axis=1) - n).mean() / (n * (n - 1)))
    by_chance = float(((table.sum(axis=0) / table.sum()) ** 2).sum())
    return 1.0 if by_chance == 1 else (agreed - by_chance) / (1 - by_chance)


def write_study(found: Study) -> dict[str, Any]:
    """JSON values. Squares are in square micrometres, shares in per cent."""
    return {
        "students": found.students,
        "valves": found.valves,
        "trials": found.trials,
        "anova": [
            {
                "source": row.source,
                "df": row.df,
                "ss_um2": row.ss * UM2_PER_MM2,
                "ms_um2": row.ms * UM2_PER_MM2,
                "f": row.f,
                "p": row.p,
            }
            for row in found.table
        ],
        "interaction_p": found.interaction_p,
        "pooled": found.pooled,
        "components": [
            {
                "source": one.source,
                "variance_um2": one.variance * UM2_PER_MM2,
                "deviation_mm": one.deviation_mm,
                "share_variance": one.share_variance,
                "share_study": one.share_study,
            }
            for one in found.components
        ],
        "categories": found.categories,
        "hands": [hand._asdict() for hand in found.hands],
        "hardest": [valve._asdict() for valve in found.hardest],
        "says": list(found.says),
    }
