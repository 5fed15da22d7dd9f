"""Marks for reading sheets: every valve by every kind of mark that the sheet asks for.

Which kinds there are stands in `parts`, how each is judged in `measured` and `adjusted`.
"""

from collections.abc import Hashable, Iterable, Mapping
from dataclasses import dataclass
from decimal import Decimal
from typing import NamedTuple

from valvetrain.engine import Engine
from valvetrain.grading.mark import Mark, Terms
from valvetrain.grading.parts import PARTS
from valvetrain.grading.sheet import Entry

MARKS_VERSION = "edrix-marking/6"


class ValveMarks(NamedTuple):
    """parts: what was asked and could be marked, by name, in the order of PARTS."""

    valve: int
    error_mm: Decimal | None
    """The figure that counts minus key; None without one. For the instructor only."""
    parts: Mapping[str, Mark]

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
        self._marked: dict[tuple[Hashable, ...], tuple[ValveMarks, int, int]] = {}

    def mark(self, entries: Iterable[Entry]) -> SheetMarks:
        by_valve = {entry.valve: entry for entry in entries}
        marked = [self._marks_of(by_valve.get(n) or Entry(n)) for n in self.engine.valve]
        valves, points, out_of = zip(*marked, strict=True)
        return SheetMarks(MARKS_VERSION, sum(points), sum(out_of), valves)

    def _marks_of(self, entry: Entry) -> tuple[ValveMarks, int, int]:
        """The marks of a line, its points and of how many."""
        # Everything of an entry that a mark depends on.
        figures = (entry.valve, entry.reading_mm, entry.crank_deg, entry.verdict)
        further = entry.further and tuple((n, *written) for n, written in entry.further.items())
        key = (*figures, further or None)
        known = self._marked.get(key)
        if known is None:
            marks = self._mark_valve(entry)
            known = self._marked[key] = (marks, marks.points, len(marks.parts))
        return known

    def _mark_valve(self, entry: Entry) -> ValveMarks:
        key_mm = self.key_mm[entry.valve]
        marks = {
            name: mark
            for name, kind in PARTS.items()
            if (mark := kind.mark(self.engine, entry, key_mm, self.terms)) is not None
        }
        settled_mm = entry.settled_mm
        error_mm = None if settled_mm is None else settled_mm - key_mm
        return ValveMarks(entry.valve, error_mm, marks)
