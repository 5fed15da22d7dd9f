"""The rules of a rota, and what one costs: the one judge of every plan, whoever made it."""

from collections import Counter, defaultdict
from collections.abc import Iterable, Iterator, Sequence
from itertools import combinations
from typing import NamedTuple

from valvetrain.rota.constants import MISSING_COST, REPEAT_COST
from valvetrain.rota.problem import Booking, Problem


class Broken(NamedTuple):
    """One rule that bookings break; at are their places in the list that was judged, students those
    whom it is about, where it is about some only."""

    rule: str
    at: tuple[int, ...]
    says: str
    students: tuple[int, ...] = ()


class Cost(NamedTuple):
    """places are (student, task) without a slot, repeats how often two were together again,
    last the index of the last slot used; -1 where none is."""

    places: tuple[tuple[int, int], ...]
    repeats: int
    last: int

    @property
    def total(self) -> int:
        return MISSING_COST * len(self.places) + REPEAT_COST * self.repeats + max(self.last, 0)


def cost_of(problem: Problem, bookings: Sequence[Booking]) -> Cost:
    done = {(student, one.task) for one in bookings for student in one.students}
    places = tuple(
        (student, task)
        for student in range(len(problem.students))
        for task in range(len(problem.tasks))
        if (student, task) not in done
    )
    together = Counter(pair for one in bookings for pair in combinations(sorted(one.students), 2))
    repeats = sum(times - 1 for times in together.values())
    return Cost(places, repeats, max((one.slot for one in bookings), default=-1))


def broken(problem: Problem, bookings: Sequence[Booking]) -> list[Broken]:
    """Every rule that is broken, in words; empty where the rota holds."""
    return [
        *_by_booking(problem, bookings),
        *_by_student(problem, bookings),
        *_by_stand(problem, bookings),
        *_by_slot(problem, bookings),
    ]


def _by_booking(problem: Problem, bookings: Sequence[Booking]) -> Iterator[Broken]:
    for at, one in enumerate(bookings):
        task, stand = problem.tasks[one.task], problem.stands[one.stand]
        slot = problem.slots[one.slot].id
        if one.stand not in task.stands:
            yield Broken("stand", (at,), f"{stand.id} is no stand for {task.id}")
        if one.slot in stand.away and one not in problem.begun:
            yield Broken("stand-away", (at,), f"{stand.id} is away in slot {slot}")
        least = 0 if one in problem.begun else task.least
        if not least <= len(one.students) <= task.most:
            yield Broken(
                "group",
                (at,),
                f"{task.id} at {stand.id} in slot {slot} has a group of {len(one.students)}; "
                f"it takes {_span(task.least, task.most)}",
            )
        for student, other in combinations(sorted(set(one.students)), 2):
            if other in problem.students[student].apart:
                names = f"{problem.students[student].id} and {problem.students[other].id}"
                yield Broken(
                    "apart",
                    (at,),
                    f"{names} are kept apart, and share {stand.id}",
                    (student, other),
                )


def _span(least: int, most: int) -> str:
    return str(least) if least == most else f"{least} to {most}"


def _by_student(problem: Problem, bookings: Sequence[Booking]) -> Iterator[Broken]:
    seats: dict[int, list[int]] = defaultdict(list)
    for at, one in enumerate(bookings):
        for student in one.students:
            seats[student].append(at)
    for student, of in sorted(seats.items()):
        yield from _of_student(problem, bookings, student, of)


def _of_student(
    problem: Problem, bookings: Sequence[Booking], student: int, of: list[int]
) -> Iterator[Broken]:
    who = problem.students[student]
    by_task: dict[int, list[int]] = defaultdict(list)
    by_slot: dict[int, list[int]] = defaultdict(list)
    for at in of:
        by_task[bookings[at].task].append(at)
        by_slot[bookings[at].slot].append(at)
    for task, ats in by_task.items():
        if len(ats) > 1:
            yield Broken(
                "twice", tuple(ats), f"{who.id} does {problem.tasks[task].id} twice", (student,)
            )
    for slot, ats in by_slot.items():
        if len(ats) > 1:
            where = " and ".join(problem.stands[bookings[at].stand].id for at in ats)
            yield Broken(
                "two-places",
                tuple(ats),
                f"{who.id} is at {where} in slot {problem.slots[slot].id}",
                (student,),
            )
        if slot in who.away:
            yield Broken(
                "away", tuple(ats), f"{who.id} is away in slot {problem.slots[slot].id}", (student,)
            )
    for task, ats in by_task.items():
        for before in problem.tasks[task].after:
            if before not in by_task and bookings[ats[0]] in problem.fixed:
                # What is fixed stands, even where what comes before it found no place.
                continue
            first = by_task.get(before)
            if first is None or bookings[first[0]].slot >= bookings[ats[0]].slot:
                yield Broken(
                    "after",
                    (*(first or ()), ats[0]),
                    f"{who.id} does {problem.tasks[task].id} before {problem.tasks[before].id}",
                    (student,),
                )


def _by_stand(problem: Problem, bookings: Sequence[Booking]) -> Iterator[Broken]:
    of_stand: dict[int, dict[int, list[int]]] = defaultdict(lambda: defaultdict(list))
    for at, one in enumerate(bookings):
        of_stand[one.stand][one.slot].append(at)
    for stand, by_slot in sorted(of_stand.items()):
        name = problem.stands[stand].id
        for slot, ats in by_slot.items():
            if len(ats) > 1:
                yield Broken(
                    "two-groups",
                    tuple(ats),
                    f"{name} has {len(ats)} groups in slot {problem.slots[slot].id}",
                )
        for early, late in problem.hot[stand]:
            for run in by_slot.get(early, ()):
                for cold in by_slot.get(late, ()):
                    if is_too_warm(problem, bookings[run].task, bookings[cold].task):
                        yield Broken(
                            "warm",
                            (run, cold),
                            f"{name} is still warm in slot {problem.slots[late].id}: it ran in "
                            f"{problem.slots[early].id} and cools for "
                            f"{problem.stands[stand].cool_h:g} h",
                        )


def is_too_warm(problem: Problem, first: int, then: int) -> bool:
    """Whether the first task leaves an engine that the second cannot begin on."""
    return problem.tasks[first].runs_engine and problem.tasks[then].needs_cold


def _by_slot(problem: Problem, bookings: Sequence[Booking]) -> Iterator[Broken]:
    used: dict[int, list[int]] = defaultdict(list)
    for at, one in enumerate(bookings):
        used[one.slot].append(at)
    for slot, ats in sorted(used.items()):
        stands = len({bookings[at].stand for at in ats})
        if stands > problem.room[slot] and slot >= problem.first:
            yield Broken(
                "instructors",
                tuple(ats),
                f"{stands} stands are in use in slot {problem.slots[slot].id}; the instructors "
                f"who are there look after {problem.room[slot]}",
            )


def in_order(bookings: Iterable[Booking]) -> tuple[Booking, ...]:
    return tuple(sorted(one._replace(students=tuple(sorted(one.students))) for one in bookings))


def without_broken(problem: Problem, bookings: Sequence[Booking]) -> list[Booking]:
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
