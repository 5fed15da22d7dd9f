"""A small rota solved whole: who is at which stand when, pairs and all, with its proof.

The model that says everything: a yes or no for each student at each place, and one for each two
students who share it. It grows with the pairs of students times the places, so it is for rotas of a
dozen students; larger ones are planned without it.
"""

from collections import defaultdict
from collections.abc import Iterable, Sequence
from itertools import combinations

from ortools.sat.python import cp_model

from valvetrain.rota.constants import MISSING_COST, REPEAT_COST
from valvetrain.rota.problem import Booking, Problem
from valvetrain.rota.seats import Limits, Place, Skeleton, Students, solver_of, whole_bound


def size_of(problem: Problem, last: int) -> int:
    """Questions that the model asks about pairs, up to that slot."""
    students = len(problem.students)
    return students * (students - 1) // 2 * sum(place[0] <= last for place in problem.places)


def prove(
    problem: Problem, best: Sequence[Booking], last: int, limits: Limits
) -> tuple[tuple[Booking, ...] | None, int]:
    """The cheapest rota that ends by slot `last`, starting from `best`, and what none of those is
    cheaper than. None where nothing was found."""
    built = Skeleton(problem, last)
    students = Students(built)
    model = built.model
    at = at_stands(built, students)
    repeats = _repeats(built, at)
    end = _last_used(built, last)
    model.minimize(MISSING_COST * students.missing + REPEAT_COST * sum(repeats) + end)
    hint_at(built, at, best)
    solver = solver_of(limits)
    status = limits.run(solver, model)
    bound = whole_bound(solver)
    if status not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return None, bound
    return found_bookings(built, at, solver), bound


At = dict[tuple[int, Place], cp_model.IntVar]
"""Whether a student is at a place."""


def found_bookings(built: Skeleton, at: At, solver: cp_model.CpSolver) -> tuple[Booking, ...]:
    students = range(len(built.problem.students))
    found = (
        Booking(*place, tuple(s for s in students if _yes(solver, at, s, place)))
        for place in built.places
        if solver.value(built.used[place])
    )
    return tuple(one for one in found if one.students)


def _yes(solver: cp_model.CpSolver, at: At, student: int, place: Place) -> bool:
    return (student, place) in at and bool(solver.value(at[student, place]))


def at_stands(built: Skeleton, students: "Students") -> At:
    problem, model = built.problem, built.model
    at: At = {}
    by_seat: dict[tuple[int, int, int], list[cp_model.IntVar]] = defaultdict(list)
    for place in built.places:
        slot, _, task = place
        here = [s for s in range(len(problem.students)) if (s, task, slot) in students.at]
        for student in here:
            var = at[student, place] = model.new_bool_var("")
            by_seat[student, task, slot].append(var)
        model.add(sum(at[student, place] for student in here) == built.size[place])
        for one, other in combinations(here, 2):
            if other in problem.students[one].apart:
                model.add_at_most_one(at[one, place], at[other, place])
    for key, vars_ in by_seat.items():
        model.add(sum(vars_) == students.at[key])
    for fixed in problem.fixed:
        for student in fixed.students:
            model.add(at[student, (fixed.slot, fixed.stand, fixed.task)] == 1)
    return at


def _repeats(built: Skeleton, at: At) -> list[cp_model.IntVar]:
    problem, model = built.problem, built.model
    together: dict[tuple[int, int], list[cp_model.IntVar]] = defaultdict(list)
    for place in built.places:
        if problem.tasks[place[2]].most < 2:
            continue
        here = [s for s in range(len(problem.students)) if (s, place) in at]
        for one, other in combinations(here, 2):
            both = model.new_bool_var("")
            model.add(both >= at[one, place] + at[other, place] - 1)
            together[one, other].append(both)
    repeats = []
    for vars_ in together.values():
        again = model.new_int_var(0, len(problem.tasks), "")
        model.add(again >= sum(vars_) - 1)
        repeats.append(again)
    return repeats


def _last_used(built: Skeleton, last: int) -> cp_model.IntVar:
    end = built.model.new_int_var(0, max(last, 0), "")
    for place in built.places:
        built.model.add(end >= place[0] * built.used[place])
    return end


def hint_at(built: Skeleton, at: At, best: Iterable[Booking]) -> None:
    """Where the search begins: whole, so that it has an answer from the first moment."""
    groups = {(one.slot, one.stand, one.task): one.students for one in best}
    for place in built.places:
        built.model.add_hint(built.used[place], place in groups)
        built.model.add_hint(built.size[place], len(groups.get(place, ())))
    for (student, place), var in at.items():
        built.model.add_hint(var, student in groups.get(place, ()))
