"""One mark, what sheets are marked by, and how reasons write lengths."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from decimal import Decimal
from typing import NamedTuple

EXACT = Decimal(0)


class Mark(NamedTuple):
    """Right or not, with two reasons: the student's gives nothing of the key away, not even as a
    difference from the student's own figure; the instructor's has all figures."""

    right: bool
    student_says: str
    instructor_says: str


def same_for_all(right: bool, says: str) -> Mark:
    """A mark whose reason may be read by everybody, because it is judged without the key."""
    return Mark(right, says, says)


@dataclass(frozen=True, slots=True)
class Terms:
    """What sheets of a stand are marked by, besides its key.

    uncertainty_mm is the expanded uncertainty U of every gap of the key, of_valve_mm that of those
    valves where it is another; gauge_mm is that of a student's gauge: how near a limit nobody can
    tell. asks is what is asked for besides reading, stop and verdict; not_asked names the columns
    of those three that this work leaves out, as a list of figures does: they are neither marked nor
    missing.
    """

    tolerance_mm: Decimal
    uncertainty_mm: Decimal = EXACT
    gauge_mm: Decimal = EXACT
    asks: frozenset[str] = frozenset()
    of_valve_mm: Mapping[int, Decimal] = field(default_factory=dict)
    not_asked: frozenset[str] = frozenset()
    closing_mm: Mapping[int, Decimal] = field(default_factory=dict)
    """The key of the closing gaps, of those valves that have one."""

    def key_u_mm(self, valve: int) -> Decimal:
        """How far the key of this valve may be off: expanded."""
        return self.of_valve_mm.get(valve, self.uncertainty_mm)

    def allowed_mm(self, valve: int) -> Decimal:
        """How far a reading of this valve may be from the key before it is proved wrong."""
        return self.tolerance_mm + self.key_u_mm(valve)
