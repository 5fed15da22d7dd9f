"""Whether a help makes room for a place that is missing: it is applied, the group is booked, and
the one judge of all rotas looks at the result. A help that breaks a rule elsewhere is not named."""

from collections.abc import Sequence
from datetime import timedelta
from typing import Any

from valvetrain.rota.problem import Booking, Person, Problem, Slot
from valvetrain.rota.rules import broken


class Trial:
    """Of one rota: what stands where, and what it would be with a change."""

    def __init__(self, problem: Problem, bookings: Sequence[Booking]) -> None:
        self.problem = problem
        self.bookings = tuple(bookings)
        self.done = {(student, one.task) for one in bookings for student in one.students}
        self.busy = {(student, one.slot) for one in bookings for student in one.students}
        self.faults = len(broken(problem, self.bookings))

    def helps(self, way: str, student: int, task: int, slot: int, stand: int) -> bool:
        """Whether what stands in the way there is gone once its help is given. way is a key of
        `why.HELPS`."""
        problem = self.problem
        if way == "stand-away":
            stands = list(problem.stands)
            stands[stand] = stands[stand]._replace(away=stands[stand].away - {slot})
            return self._new_group(problem.changed(stands=stands), student, task, slot, stand)
        if way == "full":
            return self._joins(
                self._task(task, most=problem.tasks[task].most + 1), student, slot, stand
            )
        if way == "instructors":
            more = Person("one more", frozenset())
            return self._new_group(
                problem.changed(instructors=(*problem.instructors, more)),
                student, task, slot, stand,
            )  # fmt: skip
        if way == "partners":
            least = 1 + len(self._partners(problem, student, task, slot))
            return self._new_group(self._task(task, least=least), student, task, slot, stand)
        # In use, warm, or somebody to be kept apart: one more stand of the kind.
        return self._new_group(
            self._one_more_stand(task, stand), student, task, slot, len(problem.stands)
        )

    def one_more_slot(self, student: int, task: int) -> bool:
        """Whether a slot after the last, with everybody there, makes room."""
        last = max(self.problem.slots, key=lambda one: one.end)
        day = timedelta(days=1)
        more = Slot("one more", last.start + day, last.end + day)
        longer = self.problem.changed(slots=(*self.problem.slots, more))
        slot = len(self.problem.slots)
        return any(
            self._new_group(longer, student, task, slot, stand)
            for stand in sorted(self.problem.tasks[task].stands)
        )

    def _task(self, task: int, **fields: Any) -> Problem:
        tasks = list(self.problem.tasks)
        tasks[task] = tasks[task]._replace(**fields)
        return self.problem.changed(tasks=tasks)

    def _one_more_stand(self, task: int, stand: int) -> Problem:
        like = self.problem.stands[stand]
        tasks = list(self.problem.tasks)
        new = len(self.problem.stands)
        tasks[task] = tasks[task]._replace(stands=tasks[task].stands | {new})
        more = like._replace(id=f"one more {like.kind}", away=frozenset())
        return self.problem.changed(stands=(*self.problem.stands, more), tasks=tasks)

    def _partners(self, problem: Problem, student: int, task: int, slot: int) -> list[int]:
        """Others who still need the task, are free then, and need not be kept apart."""
        found: list[int] = []
        for other, who in enumerate(problem.students):
            if other == student or slot in who.away or (other, slot) in self.busy:
                continue
            if (other, task) in self.done or who.apart & {student, *found}:
                continue
            before = [one for one in self.bookings if one.slot < slot and other in one.students]
            if problem.tasks[task].after <= {one.task for one in before}:
                found.append(other)
        return found

    def _new_group(self, problem: Problem, student: int, task: int, slot: int, stand: int) -> bool:
        least = problem.tasks[task].least
        others = self._partners(problem, student, task, slot)[: least - 1]
        if len(others) < least - 1:
            return False
        new = Booking(slot, stand, task, tuple(sorted((student, *others))))
        return self._holds(problem, (*self.bookings, new))

    def _joins(self, problem: Problem, student: int, slot: int, stand: int) -> bool:
        """The student in the group that is there."""
        return self._holds(
            problem,
            tuple(
                one._replace(students=(*one.students, student))
                if (one.slot, one.stand) == (slot, stand)
                else one
                for one in self.bookings
            ),
        )

    def _holds(self, problem: Problem, bookings: tuple[Booking, ...]) -> bool:
        return len(broken(problem, bookings)) <= self.faults
