"""Who is there, what is to be done, where and when: one rota as it is asked for.

Students, stands, slots and tasks are known by their places in these lists; their names come back in
the answer. Everything that is wrong with a file is found at once, each with its JSONPath.
"""

from collections.abc import Iterable
from datetime import datetime
from functools import cached_property
from typing import Any, NamedTuple


class Slot(NamedTuple):
    id: str
    start: datetime
    end: datetime


class Stand(NamedTuple):
    """cool_h: how long it stands after it was run before a task that needs it cold."""

    id: str
    kind: str
    cool_h: float
    away: frozenset[int]


class Person(NamedTuple):
    id: str
    away: frozenset[int]
    apart: frozenset[int] = frozenset()


class Task(NamedTuple):
    """stands are places in the list of stands; least and most are the size of a group."""

    id: str
    stands: frozenset[int]
    least: int
    most: int
    needs_cold: bool
    runs_engine: bool
    after: frozenset[int]


class Booking(NamedTuple):
    """One group at one stand on one task in one slot, all by their places."""

    slot: int
    stand: int
    task: int
    students: tuple[int, ...]


class TakenSeat(NamedTuple):
    """One student's place in a booking."""

    student: int
    slot: int
    stand: int
    task: int


def seats_of(bookings: Iterable[Booking]) -> dict[tuple[int, int], TakenSeat]:
    """By student and task: each does each once."""
    return {
        (student, one.task): TakenSeat(student, one.slot, one.stand, one.task)
        for one in bookings
        for student in one.students
    }


class Problem:
    """A rota that is asked for. Immutable; `fixed` bookings stand as they are. Slots before `first`
    have begun: what is `begun` in them has been as it was, whatever is away by now and however few
    came, and nothing else is booked there."""

    def __init__(
        self,
        *,
        slots: Iterable[Slot],
        stands: Iterable[Stand],
        students: Iterable[Person],
        instructors: Iterable[Person],
        tasks: Iterable[Task],
        stands_each: int,
        fixed: Iterable[Booking] = (),
        begun: Iterable[Booking] = (),
        first: int = 0,
    ) -> None:
        self.slots = tuple(slots)
        self.stands = tuple(stands)
        self.students = tuple(students)
        self.instructors = tuple(instructors)
        self.tasks = tuple(tasks)
        self.stands_each = stands_each
        self.first = first
        self.begun = frozenset(begun)
        stand = tuple(fixed)
        self.fixed = (*stand, *(one for one in sorted(self.begun) if one not in stand))

    def fixing(
        self, fixed: Iterable[Booking], begun: Iterable[Booking] = (), first: int = 0
    ) -> "Problem":
        """The same with these bookings fixed, and no others."""
        return self.changed(fixed=tuple(fixed), begun=tuple(begun), first=first)

    def changed(self, **fields: Any) -> "Problem":
        """The same with other slots, stands, students, instructors, tasks or stands_each."""
        own: dict[str, Any] = {
            "slots": self.slots,
            "stands": self.stands,
            "students": self.students,
            "instructors": self.instructors,
            "tasks": self.tasks,
            "stands_each": self.stands_each,
            "fixed": self.fixed,
            "begun": self.begun,
            "first": self.first,
        }
        return Problem(**(own | fields))

    @cached_property
    def room(self) -> tuple[int, ...]:
        """How many stands may be in use in each slot."""
        return tuple(
            self.stands_each * sum(slot not in one.away for one in self.instructors)
            for slot in range(len(self.slots))
        )

    @cached_property
    def places(self) -> tuple[tuple[int, int, int], ...]:
        """(slot, stand, task) where that may be: the stand serves the task, is not away, and
        somebody looks after it; and where it has been."""
        been = sorted({one[:3] for one in self.begun})
        return *been, *(
            (slot, stand, task)
            for slot in range(self.first, len(self.slots))
            if self.room[slot]
            for stand, of in enumerate(self.stands)
            if slot not in of.away
            for task, what in enumerate(self.tasks)
            if stand in what.stands
        )

    @cached_property
    def hot(self) -> dict[int, tuple[tuple[int, int], ...]]:
        """For each stand, the pairs of slots (run, cold) that lie too near: a task that runs the
        engine in the first leaves it warm for one that needs it cold in the second."""
        return {
            place: tuple(
                (early, late)
                for early, first in enumerate(self.slots)
                for late in range(early + 1, len(self.slots))
                if is_warm(first.end, self.slots[late].start, stand.cool_h)
            )
            for place, stand in enumerate(self.stands)
        }

    def present(self, slot: int) -> list[int]:
        return [at for at, student in enumerate(self.students) if slot not in student.away]


def is_warm(ended: datetime, start: datetime, cool_h: float) -> bool:
    """Whether an engine that ran until then is too warm still for what begins at start, by the
    clock on the wall: both are local times."""
    return (start - ended).total_seconds() / 3600 < cool_h
