"""What findings are made of: lines against a key, ordinary scatter, and the odds of an explanation.

Ordinary scatter of one reading is normal about the key, with the hand's spread, the key's own
uncertainty and the step in which figures are written; a hand is biased a little; and one
reading in a hundred is wrong for a reason that nobody finds (a broad tail, evenly spread over the
logarithm of the reading). All of these figures are common practice and can be set from a gauge
study of the class.

An explanation is reported where it makes the figures so much likelier than ordinary scatter that it
outweighs how rare it is: `log_odds` is the natural logarithm of those odds (Bayes), and
`ODDS_NEEDED` asks for ten to one.
"""

import math
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from decimal import Decimal
from functools import cached_property
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from valvetrain.engine import Engine, Role
from valvetrain.grading.constants import (
    HAND_SCATTER_MM,
    LEAST_FIGURE_MM,
    LEAST_KEY_U_MM,
    LEAST_STRAY_MM,
    MOST_FIGURE_MM,
    MOST_PLACES,
    ODDS_NEEDED,
    PASS_MM,
    PERSON_BIAS_MM,
    STEPS_IN_INCHES,
    STRAY_SHARE,
    WRITTEN_STEP_MM,
)
from valvetrain.grading.findings.kinds import Kind
from valvetrain.grading.sheet import Entry
from valvetrain.heel import valve_margin_deg
from valvetrain.lobe import lobe_of
from valvetrain.sequences import make_plan
from valvetrain.units import MM_PER_THOU, Unit

FloatArray = NDArray[np.float64]
LOG_NEEDED = math.log(ODDS_NEEDED)
LOG_SPAN = math.log(MOST_FIGURE_MM / LEAST_STRAY_MM)


class KeyGap(NamedTuple):
    """The reference of one valve; u_mm is its standard uncertainty."""

    gap_mm: float
    u_mm: float = LEAST_KEY_U_MM

    @staticmethod
    def stated(gap_mm: Decimal, uncertainty_mm: Decimal) -> "KeyGap":
        """A gap with its expanded uncertainty (k = 2) as an instructor states it."""
        return KeyGap(float(gap_mm), max(LEAST_KEY_U_MM, float(uncertainty_mm) / 2))


class Stands(NamedTuple):
    """up_mm is how far a follower stands up; rests: whether it is on its heel."""

    up_mm: float
    rests: bool


class Scatter(NamedTuple):
    hand_mm: float = HAND_SCATTER_MM
    """One reading of one hand."""
    person_mm: float = PERSON_BIAS_MM
    """How far a hand is biased to one side."""
    step_mm: float = WRITTEN_STEP_MM
    """In what steps figures are written."""
    stray: float = STRAY_SHARE
    """How many readings are wrong for a reason that nobody finds."""
    near_stray: float = STRAY_SHARE
    """How many of them lie a leaf or two from the others: a hand that strays often is not caught
    each time."""
    pass_mm: float = PASS_MM
    """One reading, when the same hand repeats it."""

    def step_at(self, scale: float) -> float:
        """In what steps figures are written that are multiplied by scale: one in a larger unit has
        more digits behind its point."""
        return self.step_mm * min(1.0, STEPS_IN_INCHES * scale)


HONEST = Scatter()


class Finding(NamedTuple):
    """One explanation. hint is for the student and holds no figure of the key; None where the
    finding is for the instructor only. arithmetic is the evidence, line by line. rival is another
    explanation of the same figures that is nearly as likely."""

    kind: Kind
    valves: tuple[int, ...]
    log_odds: float
    says: str
    hint: str | None
    arithmetic: tuple[str, ...]
    rival: Kind | None = None

    def beside(self, other: Kind, log_odds: float) -> "Finding":
        """The same, with its rival named where that is close: less than ten times less likely."""
        if other is self.kind or self.rival is not None:
            return self
        if log_odds < LOG_NEEDED or self.log_odds - log_odds >= LOG_NEEDED:
            return self
        or_else = f" Or “{other.words.label}”, which explains them nearly as well."
        return self._replace(says=f"{self.says}{or_else}", rival=other)


@dataclass(frozen=True, eq=False)
class Reference:
    """What all sheets of one stand are laid beside: engine, key, and how honest hands scatter."""

    engine: Engine
    key: dict[int, KeyGap]
    """A gap for every valve of the engine."""
    scatter: Scatter = HONEST
    closing_mm: Mapping[int, Decimal] = field(default_factory=dict)
    """The key of the closing gaps, of valves that are pulled shut."""

    @cached_property
    def order(self) -> dict[int, int]:
        """Each valve's place on the head, from the front."""
        return {valve.number: place for place, valve in enumerate(self.engine.valves)}

    @cached_property
    def key_mm(self) -> FloatArray:
        return np.array([self.key[valve].gap_mm for valve in self.order], dtype=np.float64)

    @cached_property
    def limits_mm(self) -> dict[Role, tuple[float, float]]:
        """The spec of each role; a hair wider, so that a limit itself is within."""
        return {
            role: (float(spec.low_mm) - 1e-9, float(spec.high_mm) + 1e-9)
            for role, spec in self.engine.clearance.items()
        }

    @cached_property
    def _stands(self) -> dict[tuple[int, float], "Stands"]:
        return {}

    def stands(self, valve: int, crank_deg: float) -> "Stands":
        """How a valve stands there; the same places come up for every sheet of a class."""
        known = self._stands.get((valve, crank_deg))
        if known is None:
            there = self.engine.valve[valve]
            lobe = lobe_of(self.engine.seen_by(there), there.role)
            known = Stands(
                lobe.lift_at_mm(self.engine.cycle_deg(there.cylinder, crank_deg)),
                valve_margin_deg(self.engine, there, crank_deg) >= 0,
            )
            if len(self._stands) < MOST_PLACES:
                self._stands[valve, crank_deg] = known
        return known

    @cached_property
    def usual_stops(self) -> tuple[dict[int, float], ...]:
        """Where the two usual methods measure each valve: two stops, and each cylinder's firing."""
        fire_deg = self.engine.fire_deg
        two = make_plan(self.engine, "two-stop").stops
        return (
            {valve: stop.crank_deg for stop in two for valve in stop.valves},
            {valve.number: fire_deg[valve.cylinder] for valve in self.engine.valves},
        )

    def spread_mm(self, scatter: Scatter, scale: float = 1.0) -> FloatArray:
        """Deviation of a reading of each valve by such a hand, where all is multiplied by scale
        before it is written."""
        hand2 = scatter.hand_mm**2 + self.u_mm**2
        return np.asarray(np.sqrt(hand2 * scale**2 + scatter.step_at(scale) ** 2 / 12))

    @cached_property
    def u_mm(self) -> FloatArray:
        return np.array([self.key[valve].u_mm for valve in self.order], dtype=np.float64)


@dataclass(frozen=True, eq=False)
class Case:
    """A sheet to be explained: its lines in physical order, those with a reading as arrays."""

    reference: Reference
    lines: tuple[Entry, ...]
    learned: Scatter | None = None
    """How the hand that wrote it scatters; None where nobody knows better than the reference."""

    @staticmethod
    def of(reference: Reference, entries: Iterable[Entry]) -> "Case":
        """A sheet of which some valves may have been left out."""
        given = {entry.valve: entry for entry in entries}
        valves = reference.engine.valve
        return Case(reference, tuple(given.get(n) or Entry(n) for n in valves))

    def by(self, hand: Scatter) -> "Case":
        """The same sheet by a hand that is known."""
        return Case(self.reference, self.lines, hand)

    def without(self, valves: Collection[int]) -> "Case":
        """The same sheet with these lines left blank."""
        lines = (Entry(line.valve) if line.valve in valves else line for line in self.lines)
        return Case(self.reference, tuple(lines), self.learned)

    @property
    def engine(self) -> Engine:
        return self.reference.engine

    @property
    def key(self) -> dict[int, KeyGap]:
        return self.reference.key

    @property
    def scatter(self) -> Scatter:
        return self.learned or self.reference.scatter

    @cached_property
    def gaps_mm(self) -> tuple[float | None, ...]:
        """The figure that counts on every line: the one settled on, or the reading."""
        return tuple(entry.gap_mm for entry in self.lines)

    @cached_property
    def read(self) -> tuple[Entry, ...]:
        """The lines that have a reading which a gap can be."""
        both = zip(self.lines, self.gaps_mm, strict=True)
        return tuple(
            line
            for line, gap in both
            if gap is not None and LEAST_FIGURE_MM <= gap <= MOST_FIGURE_MM
        )

    @cached_property
    def valves(self) -> tuple[int, ...]:
        return tuple(line.valve for line in self.read)

    @cached_property
    def readings_mm(self) -> FloatArray:
        read = [
            gap
            for gap in self.gaps_mm
            if gap is not None and LEAST_FIGURE_MM <= gap <= MOST_FIGURE_MM
        ]
        return np.array(read, dtype=np.float64)

    @cached_property
    def columns(self) -> NDArray[np.intp]:
        """The places of the valves that have a reading."""
        return np.array([self.reference.order[valve] for valve in self.valves], dtype=np.intp)

    @cached_property
    def key_mm(self) -> FloatArray:
        return self.reference.key_mm[self.columns]

    @cached_property
    def log_stray(self) -> FloatArray:
        """Log density of a reading that is wrong for an unknown reason."""
        return math.log(self.scatter.stray / LOG_SPAN) - np.log(self.readings_mm)

    def role(self, valve: int) -> Role:
        return self.engine.valve[valve].role

    def shown(self, valve: int, length_mm: float) -> str:
        """A figure of a valve in the unit of its spec: `0.36 mm`, `14.2 thou`."""
        if self.engine.clearance[self.role(valve)].unit is Unit.MM:
            return f"{length_mm:.3f}".rstrip("0").rstrip(".") + " mm"
        return f"{length_mm / float(MM_PER_THOU):.2f}".rstrip("0").rstrip(".") + " thou"


class Fit(NamedTuple):
    """Each row an explanation: its log likelihood, the bias that goes with it, and for each
    reading how surely it is not a stray."""

    log_likelihood: FloatArray
    bias_mm: FloatArray
    sure: FloatArray


def fit(case: Case, predicted_mm: FloatArray, spread_mm: FloatArray, bias_mm: FloatArray) -> Fit:
    """Explanations (rows) against the readings (columns), the hand's bias taken out of each.

    bias_mm is the deviation that a bias may have under each explanation. The bias is integrated
    out by Laplace's method about its best value; strays are let go by weight.
    """
    off = case.readings_mm[None, :] - predicted_mm
    inverse2 = spread_mm**-2.0
    prior2 = 1.0 / bias_mm**2
    log_norm = math.log(1 - case.scatter.stray) - np.log(spread_mm) - 0.5 * math.log(2 * math.pi)
    # A start that strays do not move.
    bias = np.median(off, axis=1) / (1 + prior2 * spread_mm[:, 0] ** 2 / off.shape[1])
    for _ in range(2):
        log_inside = log_norm - 0.5 * (off - bias[:, None]) ** 2 * inverse2
        sure = 1.0 / (1.0 + np.exp(np.clip(case.log_stray - log_inside, -60, 60)))
        held = (sure * inverse2).sum(axis=1) + prior2
        bias = (sure * inverse2 * off).sum(axis=1) / held
    log_inside = log_norm - 0.5 * (off - bias[:, None]) ** 2 * inverse2
    log_likelihood = np.logaddexp(log_inside, case.log_stray).sum(axis=1)
    log_likelihood += 0.5 * np.log(prior2 / held) - 0.5 * bias**2 * prior2
    return Fit(log_likelihood, bias, sure)


def log_normal(x: float, middle: float, spread: float) -> float:
    return -0.5 * ((x - middle) / spread) ** 2 - math.log(spread) - 0.5 * math.log(2 * math.pi)


def times(log_odds: float) -> str:
    """The odds in words: how many times likelier than ordinary scatter, no finer than they are."""
    if log_odds > math.log(1e6):
        return "more than a million times"
    odds = math.exp(log_odds)
    digits = 10 ** (len(str(int(odds))) - 1)
    return f"{int(odds // digits * digits):,} times".replace(",", " ")


def listed(valves: Sequence[int]) -> str:
    return f"valve{'s' if len(valves) != 1 else ''} {', '.join(map(str, valves))}"


def about(words: str, valves: Sequence[int], **more: str) -> str:
    """A kind's words, said of these valves, one or several."""
    read = "read as they would" if len(valves) != 1 else "reads as it would"
    said = words.format(valves=listed(valves), read=read, **more)
    return said[:1].upper() + said[1:]
