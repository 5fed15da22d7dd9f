"""A rota planned anew because something has changed, with as few changes as possible.

Somebody is ill this morning, or a stand is out of order: who is not concerned should stay where
they are, and know it. So nothing but that counts here: first that as few places as possible are
missing, then that as few seats as possible change. Those who must move anyway are then exchanged
among themselves until as few as possible meet again.
"""

import time
from collections.abc import Callable, Iterable, Sequence
from typing import NamedTuple

from ortools.sat.python import cp_model

from valvetrain.rota.changes import Change, changes_between, lost
from valvetrain.rota.constants import (
    REPLAN_QUICK_WORK,
    REPLAN_SEARCHES,
    REPLAN_WORK,
    SECONDS,
    SEED,
)
from valvetrain.rota.exact import at_stands, found_bookings, hint_at
from valvetrain.rota.polish import polish
from valvetrain.rota.problem import Booking, Problem, TakenSeat, seats_of
from valvetrain.rota.rules import in_order, without_broken
from valvetrain.rota.seats import Limits, Skeleton, Students, solver_of, whole_bound


class Replan(NamedTuple):
    """bookings hold every rule. fewest is what is proven: with so few places missing, no rota
    changes fewer seats. Where the work did not suffice for anything, bookings are what was left
    of the rota before."""

    bookings: tuple[Booking, ...]
    missing: int
    changes: tuple[Change, ...]
    fewest: int

    @property
    def is_optimal(self) -> bool:
        return lost(self.changes) <= self.fewest


OnBetter = Callable[[Replan], None]


def replan(
    problem: Problem,
    before: Sequence[Booking],
    *,
    seconds: float = SECONDS,
    on_better: OnBetter = lambda better: None,
    stop: Callable[[], bool] = lambda: False,
) -> Replan:
    """before may break rules: that is why it is planned anew. What the problem fixes stays."""
    ends_at = time.monotonic() + seconds

    def over() -> bool:
        return stop() or time.monotonic() >= ends_at

    held = set(seats_of(before).values())
    found = without_broken(problem, [*problem.fixed, *_others(problem, before)])
    still = set(seats_of(found).values())
    best = _replan(problem, before, found, len(held - _possible(problem, held)), over)
    # First nobody moves but those who must; with that answer in hand, everybody may.
    for staying, work in ((still, REPLAN_QUICK_WORK), (set(), REPLAN_WORK)):
        limits = Limits(work, ends_at - time.monotonic(), SEED, over)
        answer = None if over() else _fewest(problem, held, staying, found, limits)
        if answer is not None:
            found, least = answer
            fewest = max(best.fewest, 0 if staying else least)
            best = _replan(problem, before, found, fewest, over)
            on_better(best)
    return best


def _replan(
    problem: Problem,
    before: Sequence[Booking],
    found: Sequence[Booking],
    fewest: int,
    stop: Callable[[], bool],
) -> Replan:
    # Who keeps a seat keeps it; only those who move are exchanged.
    staying = set(seats_of(before).values()) & set(seats_of(found).values())
    done = in_order(without_broken(problem, polish(problem, found, SEED, stop, staying)))
    places = len(problem.students) * len(problem.tasks)
    return Replan(done, places - len(seats_of(done)), changes_between(before, done), fewest)


def _possible(problem: Problem, seats: set[TakenSeat]) -> set[TakenSeat]:
    """Those that can stay as they are, each by itself."""
    places = set(problem.places)
    return {
        seat
        for seat in seats
        if (seat.slot, seat.stand, seat.task) in places
        and seat.slot not in problem.students[seat.student].away
    }


def _others(problem: Problem, before: Iterable[Booking]) -> list[Booking]:
    at = {(one.slot, one.stand) for one in problem.fixed}
    return [one for one in before if (one.slot, one.stand) not in at]


def _left(ends_at: float) -> float:
    return ends_at - time.monotonic()


def _fewest(
    problem: Problem,
    was: set[TakenSeat],
    staying: set[TakenSeat],
    hint: Iterable[Booking],
    limits: Limits,
) -> tuple[list[Booking], int] | None:
    """The fewest changes where these seats stay, and what is proven of them. None where the work
    did not suffice."""
    if not (problem.students and problem.tasks and problem.places):
        return None
    built = Skeleton(problem, len(problem.slots) - 1)
    students = Students(built)
    at = at_stands(built, students)
    for seat in sorted(staying):
        built.model.add(at[_key(seat)] == 1)
    kept = [at[key] for seat in sorted(was) if (key := _key(seat)) in at]
    changed = len(was) - sum(kept)
    built.model.minimize((len(was) + 1) * students.missing + changed)
    hint_at(built, at, hint)
    solver = solver_of(limits)
    solver.parameters.num_workers = REPLAN_SEARCHES
    if limits.run(solver, built.model) not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return None
    missing = solver.value(students.missing)
    fewest = whole_bound(solver) - (len(was) + 1) * missing
    return list(found_bookings(built, at, solver)), max(fewest, 0)


def _key(seat: TakenSeat) -> tuple[int, tuple[int, int, int]]:
    return seat.student, (seat.slot, seat.stand, seat.task)
