"""Marks for one reading sheet: reading, verdict and position of every valve, with reasons.

Each valve earns one point for each thing that the sheet asks:

- reading: within the instructor's tolerance of the key. A key is known no better than its own
  uncertainty U (expanded, k = 2): after the decision rules of ISO 14253-1 (from memory of the
  editions of 1998 and 2013) a reading is proved wrong only beyond tolerance + U; between the two
  nobody can tell, and the student gets the point;
- verdict: tight, within or loose, judged on the student's *own* figure. An error is paid
  for once: a wrong reading costs its own point, and a verdict that follows from it is
  right. Without a figure the verdict is judged on the key.
  "Cannot be told" is right too where the figure lies within the gauge's own uncertainty of a
  limit (the zone in which ISO 14253-1 lets nobody prove either side);
- position: the valve was on its heel at the stop that the student names;
- adjusted, where the sheet asks for it: by the student's own figures the valve is within spec
  with the nut tight, or needed nothing;
- shim, where the sheet asks for it: the shim chosen brings the student's own gap within spec, and
  is made. Both are judged on own figures, because an error is paid for once.

Every mark carries two reasons. The student's says what went wrong without giving the key
away, not even as a difference from the student's own figure, because others have yet to
measure that stand. The instructor's has all figures.
"""

from collections.abc import Hashable, Iterable, Mapping
from dataclasses import dataclass, field
from decimal import Decimal
from enum import StrEnum
from typing import NamedTuple

from valvetrain.engine import Engine
from valvetrain.grading.adjusted import mark_adjusted, mark_shim
from valvetrain.grading.mark import Mark, figure, in_mm
from valvetrain.grading.sheet import Entry, SpecVerdict, spec_verdict
from valvetrain.heel import ValveState, state_at, valve_margin_deg

RULES_VERSION = "edrix-marking/3"
EXACT = Decimal(0)
PARTS = ("reading", "verdict", "position", "adjusted", "shim")
"""Everything that can be marked at a valve, in the order in which it is done."""


class Asks(StrEnum):
    """What a sheet asks for besides reading, stop and verdict."""

    SECOND = "second"
    NUT = "nut"
    SHIMS = "shims"


@dataclass(frozen=True, slots=True)
class Terms:
    """What sheets of a stand are marked by, besides its key.

    uncertainty_mm is the expanded uncertainty U of every gap of the key, of_valve_mm that of those
    valves where it is another; gauge_mm is that of a student's gauge: how near a limit nobody can
    tell.
    """

    tolerance_mm: Decimal
    uncertainty_mm: Decimal = EXACT
    gauge_mm: Decimal = EXACT
    asks: frozenset[str] = frozenset()
    of_valve_mm: Mapping[int, Decimal] = field(default_factory=dict)


class ValveMarks(NamedTuple):
    valve: int
    reading: Mark
    verdict: Mark
    position: Mark
    error_mm: Decimal | None
    """Reading minus key; None without a reading. For the instructor only."""
    adjusted: Mark | None = None
    shim: Mark | None = None

    @property
    def parts(self) -> dict[str, Mark]:
        """What was asked, by name, in the order of PARTS."""
        marks = (self.reading, self.verdict, self.position, self.adjusted, self.shim)
        return {part: mark for part, mark in zip(PARTS, marks, strict=True) if mark is not None}

    @property
    def points(self) -> int:
        return sum(mark.right for mark in self.parts.values())


@dataclass(frozen=True, slots=True)
class SheetMarks:
    rules_version: str
    points: int
    out_of: int
    valves: tuple[ValveMarks, ...]


def mark_sheet(
    engine: Engine, key_mm: Mapping[int, Decimal], terms: Terms, entries: Iterable[Entry]
) -> SheetMarks:
    """Marks every valve of the engine in physical order; a valve without an entry earns nothing.

    key_mm holds the reference clearance of every valve. Raises KeyError where one is missing.
    """
    return Marker(engine, key_mm, terms).mark(entries)


class Marker:
    """Marks many sheets of one stand: a class reads the same few figures at the same few places,
    and each is judged once."""

    def __init__(self, engine: Engine, key_mm: Mapping[int, Decimal], terms: Terms):
        self.engine, self.key_mm, self.terms = engine, key_mm, terms
        self._positions: dict[tuple[int, float], Mark] = {}
        self._marked: dict[tuple[Hashable, ...], tuple[ValveMarks, int, int]] = {}

    def mark(self, entries: Iterable[Entry]) -> SheetMarks:
        by_valve = {entry.valve: entry for entry in entries}
        marked = [self._marks_of(by_valve.get(n) or Entry(n)) for n in self.engine.valve]
        valves, points, out_of = zip(*marked, strict=True)
        return SheetMarks(RULES_VERSION, sum(points), sum(out_of), valves)

    def _marks_of(self, entry: Entry) -> tuple[ValveMarks, int, int]:
        """The marks of a line, its points and of how many."""
        # Everything of an entry that a mark depends on.
        figures = (entry.valve, entry.reading_mm, entry.crank_deg, entry.verdict)
        further = entry.further and tuple((n, written.mm) for n, written in entry.further.items())
        key = (*figures, further or None)
        known = self._marked.get(key)
        if known is None:
            marks = self._mark_valve(entry)
            known = self._marked[key] = (marks, marks.points, len(marks.parts))
        return known

    def _mark_valve(self, entry: Entry) -> ValveMarks:
        key_mm, asks = self.key_mm[entry.valve], self.terms.asks
        error_mm = None if entry.reading_mm is None else entry.reading_mm - key_mm
        return ValveMarks(
            valve=entry.valve,
            reading=_mark_reading(entry, key_mm, error_mm, self.terms),
            verdict=_mark_verdict(self.engine, entry, key_mm, self.terms),
            position=self._mark_position(entry),
            error_mm=error_mm,
            adjusted=mark_adjusted(self.engine, entry) if Asks.NUT in asks else None,
            shim=mark_shim(self.engine, entry) if Asks.SHIMS in asks else None,
        )

    def _mark_position(self, entry: Entry) -> Mark:
        if entry.crank_deg is None:
            return Mark(False, "No stop given.", "No stop given.")
        place = (entry.valve, entry.crank_deg)
        if place not in self._positions:
            self._positions[place] = _position(self.engine, *place)
        return self._positions[place]


def _mark_reading(entry: Entry, key_mm: Decimal, error_mm: Decimal | None, terms: Terms) -> Mark:
    tolerance_mm = terms.tolerance_mm
    uncertainty_mm = terms.of_valve_mm.get(entry.valve, terms.uncertainty_mm)
    allowed = f"±{in_mm(tolerance_mm)}"
    if error_mm is None:
        return Mark(False, "No reading.", f"No reading; the key is {in_mm(key_mm)}.")
    figures = f"Read {in_mm(entry.reading_mm)}, key {in_mm(key_mm)}: off by {_signed(error_mm)}"
    if abs(error_mm) <= tolerance_mm:
        says = f"Agrees with the reference to within {allowed}."
        return Mark(True, says, f"{figures}, within {allowed}.")
    if abs(error_mm) <= tolerance_mm + uncertainty_mm:
        says = "Agrees with the reference as far as that is known."
        doubt = f"the key is known to ±{in_mm(uncertainty_mm)} only: in doubt, counted right"
        return Mark(True, says, f"{figures}, outside {allowed}; {doubt}.")
    size = "larger" if error_mm > 0 else "smaller"
    says = f"Reads {size} than the reference by more than the allowed {in_mm(tolerance_mm)}."
    return Mark(False, says, f"{figures}, outside {allowed}.")


def _mark_verdict(engine: Engine, entry: Entry, key_mm: Decimal, terms: Terms) -> Mark:
    by_key = spec_verdict(engine, entry.valve, key_mm)
    if entry.verdict is None:
        return Mark(False, "No verdict.", f"No verdict; by the key it is {by_key}.")
    if entry.verdict is SpecVerdict.CANNOT_TELL:
        return _mark_doubt(engine, entry, key_mm, terms)
    if entry.reading_mm is None:
        right = entry.verdict == by_key
        says = "Right, although no figure supports it." if right else "Not right."
        return Mark(right, says, f"Said {entry.verdict}; by the key it is {by_key}.")
    low_mm, high_mm = engine.limits_mm[engine.valve[entry.valve].role]
    follows = spec_verdict(engine, entry.valve, entry.reading_mm)
    right = entry.verdict == follows
    against = f"{in_mm(entry.reading_mm)} against {in_mm(low_mm)} to {in_mm(high_mm)}"
    says = f"{against} is {follows}" + ("." if right else f"; you wrote {entry.verdict}.")
    return Mark(right, says, f"{says} By the key it is {by_key}.")


def _mark_doubt(engine: Engine, entry: Entry, key_mm: Decimal, terms: Terms) -> Mark:
    """Whether it is true that this gauge cannot tell: the figure lies within U of a limit."""
    if entry.reading_mm is None:
        return Mark(False, "No figure shows that it cannot be told.", "No figure supports it.")
    limits_mm = engine.limits_mm[engine.valve[entry.valve].role]
    limit_mm = min(limits_mm, key=lambda limit: abs(entry.reading_mm - limit))  # type: ignore[operator]
    off_mm = abs(entry.reading_mm - limit_mm)
    right = off_mm <= terms.gauge_mm
    figures = f"{in_mm(entry.reading_mm)} is {in_mm(off_mm)} from the limit of {in_mm(limit_mm)}"
    if right:
        says = f"{figures}, and the gauge tells no better than ±{in_mm(terms.gauge_mm)}."
    else:
        says = f"{figures}: that can be told; the gauge tells to ±{in_mm(terms.gauge_mm)}."
    by_key = spec_verdict(engine, entry.valve, key_mm)
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


def _signed(length: Decimal) -> str:
    return f"{'−' if length < 0 else '+'}{figure(abs(length))} mm"
