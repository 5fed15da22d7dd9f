"""A rota planned: the earliest end at which everybody finds a place, and the fewest who meet again.

First the seats are dealt with no pairs in mind, at the earliest end that counting allows; what is
proven to be missing there is the bound. Then students are exchanged until nobody meets again, or
as few as possible. Where that leaves a gap to the bound, other seatings and later ends are tried,
and a small rota is solved whole.
"""

import time
from collections.abc import Callable, Sequence
from typing import NamedTuple

from valvetrain.rota.constants import (
    EARLIER_TRIES,
    EXACT_WORK,
    MISSING_COST,
    MOST_EXACT,
    QUICK_WORK,
    SEATS_WORK,
    SECONDS,
    SEED,
    TRIES,
)
from valvetrain.rota.exact import prove, size_of
from valvetrain.rota.polish import polish
from valvetrain.rota.problem import Booking, Problem
from valvetrain.rota.rules import broken, cost_of, in_order
from valvetrain.rota.seats import Limits, Seating, bookings_of, seat


class Rota(NamedTuple):
    """bookings hold every rule. No rota costs less than bound; it is optimal where cost is that."""

    bookings: tuple[Booking, ...]
    cost: int
    bound: int

    @property
    def is_optimal(self) -> bool:
        return self.cost <= self.bound


OnBetter = Callable[[Rota], None]


def plan(
    problem: Problem,
    *,
    seconds: float = SECONDS,
    on_better: OnBetter = lambda rota: None,
    stop: Callable[[], bool] = lambda: False,
) -> Rota:
    """The best rota within the work, or within seconds by the clock. on_better is told each better
    one as it is found; once stop says so, the best until then is the answer."""
    return _Planner(problem, seconds, on_better, stop).plan()


class _Planner:
    def __init__(
        self, problem: Problem, seconds: float, on_better: OnBetter, stop: Callable[[], bool]
    ) -> None:
        self.problem = problem
        self.ends_at = time.monotonic() + seconds
        self.on_better = on_better
        self.stopped = stop
        fixed = in_order(problem.fixed)
        self.best = Rota(fixed, cost_of(problem, fixed).total, 0)
        self.proven = 0
        """What the model of everything has proven."""
        self.least_missing: dict[int, int] = {}
        """What is proven: with no later slot in use, at least so many places are missing."""

    def plan(self) -> Rota:
        end = self._earliest_end()
        if end is not None:
            self._spread(end)
            self._prove()
        return self.best._replace(bound=min(self.bound(), self.best.cost))

    def stop(self) -> bool:
        return self.stopped() or time.monotonic() >= self.ends_at

    def limits(self, work: float, seed: int = SEED) -> Limits:
        return Limits(work, self.ends_at - time.monotonic(), seed, self.stop)

    def bound(self) -> int:
        slots = range(len(self.problem.slots))
        by_end = min(MISSING_COST * self._missing_by(last) + last for last in slots)
        return max(by_end, min(_first_end(self.problem), slots[-1]), self.proven)

    def _earliest_end(self) -> int | None:
        """The earliest end at which no more is missing than with all slots; None where there is
        nothing to plan, or the time was over before anything was found."""
        if not self.problem.students or not self.problem.tasks or not self.problem.places:
            return None
        full = len(self.problem.slots) - 1
        low, step = min(_first_end(self.problem), full), 0
        found = self._seat(low, QUICK_WORK)
        while (found is None or found.missing) and low < full and not self.stop():
            # Twice as far each time: what is missing at the very end is missing for good.
            step = max(1, 2 * step)
            high = min(low + step, full)
            found = self._seat(high, QUICK_WORK)
            if found is not None and not found.missing:
                return self._between(low + 1, high, 0)
            low = high
        if found is None or not found.missing:
            return None if found is None else low
        return self._between(min(_first_end(self.problem), full), full, found.missing)

    def _between(self, low: int, high: int, missing: int) -> int:
        """The earliest end from low to high with no more missing, so far as quick work can tell."""
        while low < high and not self.stop():
            middle = (low + high) // 2
            found = self._seat(middle, QUICK_WORK)
            if found is not None and found.missing <= missing:
                high = middle
            else:
                low = middle + 1
        return high

    def _seat(
        self, last: int, work: float, seed: int = SEED, *, apart: bool = False
    ) -> Seating | None:
        found = seat(self.problem, last, self.limits(work, seed), apart=apart)
        if found is None:
            return None
        if not apart:
            self.least_missing[last] = max(self.least_missing.get(last, 0), found.least_missing)
        self._take(polish(self.problem, bookings_of(found), seed, self.stop))
        return found

    def _spread(self, end: int) -> None:
        """Other seatings, a little earlier and later, while one of them could be cheaper."""
        full = len(self.problem.slots) - 1
        first = max(end - 1, min(_first_end(self.problem), full))
        for attempt in range(1, TRIES + 1):
            for last in range(first, min(end + TRIES, full) + 1):
                if self.best.cost <= self.bound() or self.stop():
                    return
                could_be = MISSING_COST * self._missing_by(last) + last < self.best.cost
                if could_be and (last >= end or attempt <= EARLIER_TRIES):
                    apart = attempt % 2 == 1 and self._keeps_apart()
                    self._seat(last, SEATS_WORK, SEED + attempt, apart=apart)

    def _missing_by(self, last: int) -> int:
        """What is proven to be missing where no later slot is in use."""
        return max((n for at, n in self.least_missing.items() if at >= last), default=0)

    def _keeps_apart(self) -> bool:
        return any(student.apart for student in self.problem.students)

    def _prove(self) -> None:
        if self.best.cost <= self.bound() or self.stop():
            return
        # Whatever ends later than this costs more, unless fewer are missing.
        last = min(len(self.problem.slots) - 1, self.best.cost)
        if size_of(self.problem, last) > MOST_EXACT:
            return
        found, bound = prove(self.problem, self.best.bookings, last, self.limits(EXACT_WORK))
        if found is not None:
            self._take(found)
        self.proven = min(bound, self.best.cost)

    def _take(self, bookings: Sequence[Booking]) -> None:
        whole = in_order(_without_broken(self.problem, bookings))
        cost = cost_of(self.problem, whole).total
        if cost < self.best.cost or not self.best.bookings:
            self.best = Rota(whole, cost, 0)
            self.on_better(self.best._replace(bound=min(self.bound(), cost)))


def _without_broken(problem: Problem, bookings: Sequence[Booking]) -> list[Booking]:
    """Students who could not be kept apart go without their place, and so does a group that is then
    too small, and whatever comes after a task that is not done."""
    whole = list(bookings)
    while faults := broken(problem, whole):
        fault = faults[0]
        at = fault.at[-1]
        one = whole[at]
        if fault.students and len(one.students) > problem.tasks[one.task].least:
            whole[at] = one._replace(
                students=tuple(s for s in one.students if s != fault.students[-1])
            )
        else:
            del whole[at]
    return whole


def _first_end(problem: Problem) -> int:
    """No rota in which everybody has every task ends before this slot, by counting alone: bookings
    against stands in use, and a student's tasks against slots."""
    groups = sum(-(-len(problem.students) // task.most) for task in problem.tasks)
    slots = len(problem.tasks)
    for slot in range(len(problem.slots)):
        stands = sum(slot not in stand.away for stand in problem.stands)
        groups -= min(stands, problem.room[slot])
        slots -= 1
        if groups <= 0 and slots <= 0:
            return slot
    return len(problem.slots)
