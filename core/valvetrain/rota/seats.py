"""Which stand does which task when, and who comes when: all of a rota but who shares a stand.

A model on OR-Tools' CP-SAT. It does not yet know with whom each student works: a student has a task
and a slot, and the seats of a task in a slot are filled. Without the pairs of students, which make
most of a plain model, it stays small; and since it leaves out rules but adds none, what it proves
to be missing is missing in every rota.
"""

import math
from collections import defaultdict
from collections.abc import Callable
from typing import NamedTuple

from ortools.sat.python import cp_model

from valvetrain.rota.constants import SEED
from valvetrain.rota.problem import Booking, Problem

Place = tuple[int, int, int]
Model = cp_model.CpModel


class Limits(NamedTuple):
    """work is CP-SAT's deterministic time; seconds by the clock are only a last resort. seed makes
    another answer of the same quality."""

    work: float
    seconds: float
    seed: int = SEED
    stop: Callable[[], bool] = lambda: False

    def run(self, solver: cp_model.CpSolver, model: Model) -> cp_model.CpSolverStatus:
        """Ends at the next answer, or the next better bound, once somebody has asked to stop."""
        stopper = _Stopper(self.stop)

        def looked(bound: float) -> None:
            if self.stop():
                solver.stop_search()

        solver.best_bound_callback = looked
        return solver.solve(model, stopper)


class Seating(NamedTuple):
    """groups gives for each booking its place and size, and who[slot, task] the students who are to
    be shared among that task's bookings in that slot. No rota that ends so early has fewer missing
    than least_missing."""

    groups: dict[Place, int]
    who: dict[tuple[int, int], list[int]]
    missing: int
    least_missing: int


class Skeleton:
    """Variables of the bookings: `used` whether, `size` how many students."""

    def __init__(self, problem: Problem, last: int) -> None:
        self.problem = problem
        self.model = Model()
        self.places = [place for place in problem.places if place[0] <= last]
        self.begun = {(one.slot, one.stand, one.task) for one in problem.begun}
        self.used = {p: self.model.new_bool_var("") for p in self.places}
        self.size = {p: self._size(p) for p in self.places}
        self._stands()
        self._warm()
        self._fixed()

    def _size(self, place: Place) -> cp_model.IntVar:
        task = self.problem.tasks[place[2]]
        most = min(task.most, len(self.problem.present(place[0])))
        size = self.model.new_int_var(0, max(most, 0), "")
        least = 0 if place in self.begun else task.least
        self.model.add(size >= least * self.used[place])
        self.model.add(size <= task.most * self.used[place])
        return size

    def _stands(self) -> None:
        by_stand, by_slot = defaultdict(list), defaultdict(list)
        for slot, stand, task in self.places:
            by_stand[slot, stand].append(self.used[slot, stand, task])
            by_slot[slot].append(self.used[slot, stand, task])
        for used in by_stand.values():
            self.model.add_at_most_one(used)
        for slot, used in by_slot.items():
            if slot >= self.problem.first:
                self.model.add(sum(used) <= self.problem.room[slot])

    def _warm(self) -> None:
        tasks = self.problem.tasks
        runs, cold = defaultdict(list), defaultdict(list)
        for slot, stand, task in self.places:
            if tasks[task].runs_engine:
                runs[stand, slot].append(self.used[slot, stand, task])
            if tasks[task].needs_cold:
                cold[stand, slot].append(self.used[slot, stand, task])
        for stand, pairs in self.problem.hot.items():
            for early, late in pairs:
                if runs[stand, early] and cold[stand, late]:
                    self.model.add_at_most_one([*runs[stand, early], *cold[stand, late]])

    def _fixed(self) -> None:
        for one in self.problem.fixed:
            place = (one.slot, one.stand, one.task)
            self.model.add(self.used[place] == 1)
            self.model.add(self.size[place] == len(one.students))

    def seats(self) -> dict[tuple[int, int], list[cp_model.IntVar]]:
        by = defaultdict(list)
        for slot, stand, task in self.places:
            by[slot, task].append(self.size[slot, stand, task])
        return by

    def together(self) -> list[cp_model.IntVar]:
        """Whether each task is done in each slot."""
        by_seat = defaultdict(list)
        for slot, stand, task in self.places:
            by_seat[slot, task].append(self.used[slot, stand, task])
        done = []
        for used in by_seat.values():
            here = self.model.new_bool_var("")
            for one in used:
                self.model.add_implication(one, here)
            done.append(here)
        return done

    def pairs(self) -> list[cp_model.IntVar]:
        """How many pairs each booking makes at least: few pairs repeat seldom."""
        made = []
        for place in self.places:
            task = self.problem.tasks[place[2]]
            if task.most < 2 or task.least == task.most:
                continue
            pairs = self.model.new_int_var(0, task.most * (task.most - 1) // 2, "")
            for k in range(1, task.most):
                self.model.add(pairs >= k * self.size[place] - k * (k + 1) // 2)
            made.append(pairs)
        return made


def seat(
    problem: Problem, last: int, limits: Limits, *, apart: bool = False, gather: bool = False
) -> Seating | None:
    """The fewest missing with no slot after `last` in use. None where the work did not suffice.

    apart keeps those who must not share a stand out of the same slot; what is proven then is of no
    other rota. gather makes as few pairs as it can, and brings a task's groups together in few
    slots, so that many can be exchanged.
    """
    built = Skeleton(problem, last)
    students = Students(built)
    if apart:
        students.keep_apart()
    built.model.minimize(students.missing)
    solver = solver_of(limits)
    if limits.run(solver, built.model) not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return None
    found = _seating(built, students, solver)._replace(least_missing=whole_bound(solver))
    return _gathered(built, students, solver, found, limits) if gather else found


def _gathered(
    built: Skeleton, students: "Students", solver: cp_model.CpSolver, found: Seating, limits: Limits
) -> Seating:
    model = built.model
    for var in (*built.used.values(), *built.size.values(), *students.at.values()):
        model.add_hint(var, solver.value(var))
    model.add(students.missing <= found.missing)
    together = built.together()
    model.minimize((len(together) + 1) * sum(built.pairs()) + sum(together))
    again = solver_of(limits)
    if limits.run(again, model) not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return found
    return _seating(built, students, again)._replace(least_missing=found.least_missing)


def _seating(built: Skeleton, students: "Students", solver: cp_model.CpSolver) -> Seating:
    groups = {p: solver.value(built.size[p]) for p in built.places if solver.value(built.used[p])}
    who: dict[tuple[int, int], list[int]] = defaultdict(list)
    for (student, task, slot), var in students.at.items():
        if solver.value(var):
            who[slot, task].append(student)
    places = len(built.problem.students) * len(built.problem.tasks)
    return Seating(groups, dict(who), places - sum(len(some) for some in who.values()), 0)


class Students:
    """Whether (student, task, slot): each task once at most, one place at a time, in order."""

    def __init__(self, built: Skeleton) -> None:
        self.built = built
        self.problem, self.model = built.problem, built.model
        seats = built.seats()
        students = range(len(self.problem.students))
        self.at = {
            (student, task, slot): self.model.new_bool_var("")
            for slot, task in seats
            for student in students
            if slot not in self.problem.students[student].away
        }
        self.missing = len(students) * len(self.problem.tasks) - sum(self.at.values())
        by_task, by_slot, by_seat = defaultdict(list), defaultdict(list), defaultdict(list)
        for (student, task, slot), var in self.at.items():
            by_task[student, task].append(var)
            by_slot[student, slot].append(var)
            by_seat[slot, task].append(var)
        for some in (*by_task.values(), *by_slot.values()):
            self.model.add_at_most_one(some)
        for key, sizes in seats.items():
            self.model.add(sum(by_seat[key]) == sum(sizes))
        self._in_order()

    def _in_order(self) -> None:
        fixed = {(s, one.task): one.slot for one in self.problem.fixed for s in one.students}
        for (student, task), slot in fixed.items():
            self.model.add(self.at[student, task, slot] == 1)
        for task, what in enumerate(self.problem.tasks):
            for before in what.after:
                for student in range(len(self.problem.students)):
                    self._one_in_order(student, before, task, fixed.get((student, task)))

    def _one_in_order(self, student: int, before: int, task: int, fixed: int | None) -> None:
        """A task that is fixed stands even where what comes before it finds no place any more."""
        first: list[cp_model.IntVar] = []
        for slot in range(len(self.problem.slots)):
            then = self.at.get((student, task, slot))
            if then is not None and fixed is None:
                self.model.add(then <= sum(first))
            early = self.at.get((student, before, slot))
            if early is not None:
                first.append(early)
                if fixed is not None and slot >= fixed:
                    self.model.add(early == 0)

    def keep_apart(self) -> None:
        """Who must not share a stand does not come to a task in the same slot at all: more than
        the rule asks, for when sharing them out has failed."""
        for (student, task, slot), var in self.at.items():
            for other in self.problem.students[student].apart:
                if student < other and (other, task, slot) in self.at:
                    self.model.add_at_most_one(var, self.at[other, task, slot])


class _Stopper(cp_model.CpSolverSolutionCallback):
    """Ends the search at the next answer where somebody has asked to stop."""

    def __init__(self, stop: Callable[[], bool]) -> None:
        super().__init__()
        self._stop = stop

    def on_solution_callback(self) -> None:
        if self._stop():
            self.stop_search()


def solver_of(limits: Limits) -> cp_model.CpSolver:
    solver = cp_model.CpSolver()
    parameters = solver.parameters
    parameters.random_seed = limits.seed
    # Two workers that take turns by their work, not by the clock: the same answer twice.
    parameters.num_workers = 2
    parameters.interleave_search = True
    parameters.max_deterministic_time = limits.work
    parameters.max_time_in_seconds = max(0.1, limits.seconds)
    return solver


def whole_bound(solver: cp_model.CpSolver) -> int:
    """Places are whole: a bound of 7.2 means 8."""
    bound = solver.best_objective_bound
    return math.ceil(bound - 1e-6) if math.isfinite(bound) else 0


def bookings_of(seating: Seating) -> list[Booking]:
    """Students shared among the bookings of their slot and task as they come."""
    left = {key: list(students) for key, students in seating.who.items()}
    bookings = []
    for (slot, stand, task), size in sorted(seating.groups.items()):
        group = left[slot, task][:size]
        left[slot, task] = left[slot, task][size:]
        bookings.append(Booking(slot, stand, task, tuple(sorted(group))))
    return bookings
