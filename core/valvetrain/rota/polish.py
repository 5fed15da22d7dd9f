"""Who shares a stand: students exchanged until as few as possible meet again.

Simulated annealing (Kirkpatrick, Gelatt and Vecchi, 1983) on exchanges of two students between two
bookings of one task, and on moves of one. Places and slots stay as they are; no exchange breaks a
rule, but for students who are to be kept apart, which weighs more than any meeting.
"""

import math
import random
from collections import defaultdict
from collections.abc import Callable, Collection, Sequence

from valvetrain.rota.constants import APART_WEIGHT, COLD, HOT, SWAPS
from valvetrain.rota.problem import Booking, Problem, TakenSeat


def polish(
    problem: Problem,
    bookings: Sequence[Booking],
    seed: int,
    stop: Callable[[], bool] = lambda: False,
    staying: Collection[TakenSeat] = (),
) -> tuple[Booking, ...]:
    """The same bookings with other students in them, of which the fewest meet again. staying are
    seats that nobody gives up."""
    return _Table(problem, bookings, staying).anneal(random.Random(seed), stop)  # noqa: S311  no secret rests on it


class _Table:
    """Groups as sets, and how often each two are together."""

    def __init__(
        self, problem: Problem, bookings: Sequence[Booking], staying: Collection[TakenSeat] = ()
    ) -> None:
        self.problem = problem
        self.staying = frozenset(staying)
        self.bookings = list(bookings)
        self.groups = [set(one.students) for one in bookings]
        fixed = {(one.slot, one.stand) for one in problem.fixed}
        self.free = [at for at, one in enumerate(bookings) if (one.slot, one.stand) not in fixed]
        self.by_task: dict[int, list[int]] = defaultdict(list)
        for at in self.free:
            self.by_task[bookings[at].task].append(at)
        self.together: dict[tuple[int, int], int] = defaultdict(int)
        for group in self.groups:
            for one in group:
                for other in group:
                    if one < other:
                        self.together[one, other] += 1
        self.slot_of: dict[tuple[int, int], int] = {}
        self.busy: set[tuple[int, int]] = set()
        for booking in bookings:
            for student in booking.students:
                self.slot_of[student, booking.task] = booking.slot
                self.busy.add((student, booking.slot))
        self.later: dict[int, list[int]] = defaultdict(list)
        for task, what in enumerate(problem.tasks):
            for before in what.after:
                self.later[before].append(task)

    def worth(self) -> int:
        meetings = sum(times - 1 for times in self.together.values() if times > 1)
        apart = sum(
            other in self.problem.students[one].apart
            for group in self.groups
            for one in group
            for other in group
            if one < other
        )
        return meetings + APART_WEIGHT * apart

    def anneal(self, chance: random.Random, stop: Callable[[], bool]) -> tuple[Booking, ...]:
        now = self.worth()
        best, best_groups = now, [set(group) for group in self.groups]
        movable = [at for at in self.free if len(self.by_task[self.bookings[at].task]) > 1]
        if not movable or not now:
            return self._bookings(best_groups)
        cooling = math.log(COLD / HOT)
        for step in range(SWAPS):
            if step % 256 == 0 and stop():
                break
            heat = HOT * math.exp(cooling * step / SWAPS)
            one = chance.choice(movable)
            other = chance.choice(self.by_task[self.bookings[one].task])
            if one == other or not self.groups[one]:
                continue
            now = self._try(one, other, now, heat, chance)
            if now < best:
                best, best_groups = now, [set(group) for group in self.groups]
                if not best:
                    break
        return self._bookings(best_groups)

    def _try(self, one: int, other: int, now: int, heat: float, chance: random.Random) -> int:
        """Exchanges two students of two bookings, or moves one, where that may be and is taken."""
        mine = chance.choice(sorted(self.groups[one]))
        task = self.problem.tasks[self.bookings[one].task]
        theirs: int | None = None
        can_move = len(self.groups[one]) > task.least and len(self.groups[other]) < task.most
        if self.groups[other] and not (can_move and chance.random() < 0.5):
            theirs = chance.choice(sorted(self.groups[other]))
        elif not can_move:
            return now
        if not self._may(mine, one, other) or (
            theirs is not None and not self._may(theirs, other, one)
        ):
            return now
        change = self._exchange(one, other, mine, theirs)
        if change > 0 and chance.random() >= math.exp(-change / heat):
            self._exchange(other, one, mine, theirs)
            return now
        return now + change

    def _may(self, student: int, here: int, there: int) -> bool:
        """Whether a student can come to another booking of the same task."""
        slot, from_slot = self.bookings[there].slot, self.bookings[here].slot
        if TakenSeat(student, *self.bookings[here][:3]) in self.staying:
            return False
        if slot == from_slot:
            return True
        task = self.bookings[here].task
        if (student, slot) in self.busy or slot in self.problem.students[student].away:
            return False
        for before in self.problem.tasks[task].after:
            if self.slot_of.get((student, before), slot) >= slot:
                return False
        return all(self.slot_of.get((student, late), slot + 1) > slot for late in self.later[task])

    def _exchange(self, one: int, other: int, mine: int, theirs: int | None) -> int:
        """Done at once; returns what it changes."""
        change = self._leave(one, mine)
        if theirs is not None:
            change += self._leave(other, theirs) + self._join(one, theirs)
        change += self._join(other, mine)
        self._sit(mine, one, other)
        if theirs is not None:
            self._sit(theirs, other, one)
        return change

    def _leave(self, at: int, student: int) -> int:
        group = self.groups[at]
        group.remove(student)
        change = 0
        for other in group:
            pair = (student, other) if student < other else (other, student)
            self.together[pair] -= 1
            change -= self.together[pair] >= 1
            change -= APART_WEIGHT * (other in self.problem.students[student].apart)
        return change

    def _join(self, at: int, student: int) -> int:
        group = self.groups[at]
        change = 0
        for other in group:
            pair = (student, other) if student < other else (other, student)
            change += self.together[pair] >= 1
            self.together[pair] += 1
            change += APART_WEIGHT * (other in self.problem.students[student].apart)
        group.add(student)
        return change

    def _sit(self, student: int, here: int, there: int) -> None:
        self.busy.discard((student, self.bookings[here].slot))
        self.busy.add((student, self.bookings[there].slot))
        self.slot_of[student, self.bookings[here].task] = self.bookings[there].slot

    def _bookings(self, groups: list[set[int]]) -> tuple[Booking, ...]:
        return tuple(
            one._replace(students=tuple(sorted(group)))
            for one, group in zip(self.bookings, groups, strict=True)
            if group
        )
