"""A rota planned: the earliest end at which everybody finds a place, and the fewest who meet again.

First the seats are dealt with no pairs in mind, at the earliest end that counting allows; what is
proven to be missing there is the bound. Then students are exchanged until nobody meets again, or
as few as possible. Where that leaves a gap to the bound, other seatings and later ends are tried,
and a small rota is solved whole.
"""

import time
from collections.abc import Callable, Sequence
from typing import NamedTuple

from valvetrain.rota.bounds import first_end, least_repeats
from valvetrain.rota.constants import (
    EARLIER_TRIES,
    EXACT_WORK,
    MISSING_COST,
    MOST_EXACT,
    QUICK_WORK,
    REPEAT_COST,
    SEATS_WORK,
    SECONDS,
    SEED,
    TRIES,
)
from valvetrain.rota.exact import prove, size_of
from valvetrain.rota.polish import polish
from valvetrain.rota.problem import Booking, Problem
from valvetrain.rota.rules import cost_of, in_order, without_broken
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
        self.first_end = first_end(problem)
        self.least_repeats = least_repeats(problem)
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
        return max(min(map(self._cheapest_by, range(len(self.problem.slots)))), self.proven)

    def _cheapest_by(self, last: int) -> int:
        """What no rota that ends just there is cheaper than."""
        missing = self._missing_by(last)
        if not missing and last < self.first_end:
            missing = 1
        return MISSING_COST * missing + last + (0 if missing else REPEAT_COST * self.least_repeats)

    def _earliest_end(self) -> int | None:
        """The earliest end at which no more is missing than with all slots; None where there is
        nothing to plan, or the time was over before anything was found."""
        if not self.problem.students or not self.problem.tasks or not self.problem.places:
            self.proven = self.best.cost
            return None
        full = len(self.problem.slots) - 1
        low = min(self.first_end, full)
        found = self._seat(low, QUICK_WORK)
        if low == full or (found is not None and not found.missing):
            return None if found is None else low
        # With all slots it is easy, and what is missing then is missing for good.
        whole = self._seat(full, QUICK_WORK)
        return None if whole is None else self._between(low + 1, full, whole.missing)

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
        self,
        last: int,
        work: float,
        seed: int = SEED,
        *,
        apart: bool = False,
        gather: bool = False,
    ) -> Seating | None:
        limits = self.limits(work, seed)
        found = seat(self.problem, last, limits, apart=apart, gather=gather)
        if found is None:
            return None
        if not apart:
            self.least_missing[last] = max(self.least_missing.get(last, 0), found.least_missing)
        self._take(polish(self.problem, bookings_of(found), seed, self.stop))
        return found

    def _spread(self, end: int) -> None:
        """Other seatings, a little earlier and later, while one of them could be cheaper."""
        full = len(self.problem.slots) - 1
        first = max(end - 1, min(self.first_end, full))
        for attempt in range(1, TRIES + 1):
            for last in range(first, min(end + TRIES, full) + 1):
                if self.best.cost <= self.bound() or self.stop():
                    return
                could_be = self._cheapest_by(last) < self.best.cost
                if could_be and (last >= end or attempt <= EARLIER_TRIES):
                    apart = attempt % 2 == 1 and self._keeps_apart()
                    self._seat(last, SEATS_WORK, SEED + attempt, apart=apart, gather=True)

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
        whole = in_order(without_broken(self.problem, bookings))
        cost = cost_of(self.problem, whole).total
        if cost < self.best.cost or not self.best.bookings:
            self.best = Rota(whole, cost, 0)
            self.on_better(self.best._replace(bound=min(self.bound(), cost)))
