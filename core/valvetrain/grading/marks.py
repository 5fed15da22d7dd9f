"""Marks for one reading sheet: reading, verdict and position of every valve, with reasons.

Each valve earns one point for each of three things:

- reading: within the instructor's tolerance of the key. A key is known no better than its own
  uncertainty U (expanded, k = 2): after the decision rules of ISO 14253-1 (from memory of the
  editions of 1998 and 2013) a reading is proved wrong only beyond tolerance + U; between the two
  nobody can tell, and the student gets the point;
- verdict: tight, within or loose, judged on the student's *own* figure. An error is paid
  for once: a wrong reading costs its own point, and a verdict that follows from it is
  right. Without a figure the verdict is judged on the key.
- position: the valve was on its heel at the stop that the student names.

Every mark carries two reasons. The student's says what went wrong without giving the key
away, not even as a difference from the student's own figure, because others have yet to
measure that stand. The instructor's has all figures.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from decimal import Decimal
from functools import lru_cache
from typing import NamedTuple

from valvetrain.engine import Engine
from valvetrain.grading.sheet import Entry, spec_verdict
from valvetrain.heel import ValveState, state_at, valve_margin_deg

RULES_VERSION = "edrix-marking/2"
EXACT = Decimal(0)


class Mark(NamedTuple):
    right: bool
    student_says: str
    instructor_says: str


class ValveMarks(NamedTuple):
    valve: int
    reading: Mark
    verdict: Mark
    position: Mark
    error_mm: Decimal | None
    """Reading minus key; None without a reading. For the instructor only."""

    @property
    def points(self) -> int:
        return sum(mark.right for mark in (self.reading, self.verdict, self.position))


@dataclass(frozen=True, slots=True)
class SheetMarks:
    rules_version: str
    points: int
    out_of: int
    valves: tuple[ValveMarks, ...]


def mark_sheet(
    engine: Engine,
    key_mm: Mapping[int, Decimal],
    tolerance_mm: Decimal,
    entries: Iterable[Entry],
    uncertainty_mm: Decimal = EXACT,
) -> SheetMarks:
    """Marks every valve of the engine in physical order; a valve without an entry earns nothing.

    key_mm holds the reference clearance of every valve. Raises KeyError where one is missing.
    """
    return Marker(engine, key_mm, tolerance_mm, uncertainty_mm).mark(entries)


class Marker:
    """Marks many sheets of one stand: a class stops at the same few places, judged once each."""

    def __init__(
        self,
        engine: Engine,
        key_mm: Mapping[int, Decimal],
        tolerance_mm: Decimal,
        uncertainty_mm: Decimal = EXACT,
    ):
        """uncertainty_mm is the expanded uncertainty U of every gap of the key."""
        self.engine, self.key_mm, self.tolerance_mm = engine, key_mm, tolerance_mm
        self.uncertainty_mm = uncertainty_mm
        self._positions: dict[tuple[int, float], Mark] = {}

    def mark(self, entries: Iterable[Entry]) -> SheetMarks:
        by_valve = {entry.valve: entry for entry in entries}
        valves = tuple(
            self._mark_valve(by_valve.get(valve.number, Entry(valve.number)))
            for valve in self.engine.valves
        )
        points = sum(valve.points for valve in valves)
        return SheetMarks(RULES_VERSION, points, 3 * len(valves), valves)

    def _mark_valve(self, entry: Entry) -> ValveMarks:
        key_mm = self.key_mm[entry.valve]
        error_mm = None if entry.reading_mm is None else entry.reading_mm - key_mm
        return ValveMarks(
            valve=entry.valve,
            reading=_mark_reading(entry, key_mm, error_mm, self.tolerance_mm, self.uncertainty_mm),
            verdict=_mark_verdict(self.engine, entry, key_mm),
            position=self._mark_position(entry),
            error_mm=error_mm,
        )

    def _mark_position(self, entry: Entry) -> Mark:
        if entry.crank_deg is None:
            return Mark(False, "No stop given.", "No stop given.")
        place = (entry.valve, entry.crank_deg)
        if place not in self._positions:
            self._positions[place] = _position(self.engine, *place)
        return self._positions[place]


def _mark_reading(
    entry: Entry,
    key_mm: Decimal,
    error_mm: Decimal | None,
    tolerance_mm: Decimal,
    uncertainty_mm: Decimal,
) -> Mark:
    allowed = f"±{_mm(tolerance_mm)}"
    if error_mm is None:
        return Mark(False, "No reading.", f"No reading; the key is {_mm(key_mm)}.")
    figures = f"Read {_mm(entry.reading_mm)}, key {_mm(key_mm)}: off by {_signed(error_mm)}"
    if abs(error_mm) <= tolerance_mm:
        says = f"Agrees with the reference to within {allowed}."
        return Mark(True, says, f"{figures}, within {allowed}.")
    if abs(error_mm) <= tolerance_mm + uncertainty_mm:
        says = "Agrees with the reference as far as that is known."
        doubt = f"the key is known to ±{_mm(uncertainty_mm)} only: in doubt, counted right"
        return Mark(True, says, f"{figures}, outside {allowed}; {doubt}.")
    size = "larger" if error_mm > 0 else "smaller"
    says = f"Reads {size} than the reference by more than the allowed {_mm(tolerance_mm)}."
    return Mark(False, says, f"{figures}, outside {allowed}.")


def _mark_verdict(engine: Engine, entry: Entry, key_mm: Decimal) -> Mark:
    by_key = spec_verdict(engine, entry.valve, key_mm)
    if entry.verdict is None:
        return Mark(False, "No verdict.", f"No verdict; by the key it is {by_key}.")
    if entry.reading_mm is None:
        right = entry.verdict == by_key
        says = "Right, although no figure supports it." if right else "Not right."
        return Mark(right, says, f"Said {entry.verdict}; by the key it is {by_key}.")
    low_mm, high_mm = engine.limits_mm[engine.valve[entry.valve].role]
    follows = spec_verdict(engine, entry.valve, entry.reading_mm)
    right = entry.verdict == follows
    against = f"{_mm(entry.reading_mm)} against {_mm(low_mm)} to {_mm(high_mm)}"
    says = f"{against} is {follows}" + ("." if right else f"; you wrote {entry.verdict}.")
    return Mark(right, says, f"{says} By the key it is {by_key}.")


def _position(engine: Engine, number: int, crank_deg: float) -> Mark:
    valve = engine.valve[number]
    margin = valve_margin_deg(engine, valve, crank_deg)
    if margin >= 0:
        says = f"At {crank_deg:g}° it is on its heel, {margin:.0f}° from the edge."
        return Mark(True, says, says)
    state = state_at(engine, valve.role, engine.cycle_deg(valve.cylinder, crank_deg))
    where = (
        "on its ramp, where the gap reads small"
        if state is ValveState.RAMP
        else "held open by its lobe, where there is no gap"
    )
    says = f"At {crank_deg:g}° it is {where}; turn {-margin:.0f}° or more to reach the heel."
    return Mark(False, says, says)


@lru_cache(maxsize=4096)
def _mm(length: Decimal | None) -> str:
    return "nothing" if length is None else f"{_figure(length)} mm"


def _signed(length: Decimal) -> str:
    return f"{'−' if length < 0 else '+'}{_figure(abs(length))} mm"


@lru_cache(maxsize=4096)
def _figure(length: Decimal) -> str:
    """Two decimals, as gaps are written, or as many more as the length has."""
    in_hundredths = length.quantize(Decimal("0.01")) == length
    return f"{length:.2f}" if in_hundredths else f"{length.normalize():f}"
