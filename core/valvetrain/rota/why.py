"""Why a place is missing from a rota, and what would make room for it.

Every slot in which the student could come is looked at, with every stand that serves the task: what
stands in the way there is counted, and told in the order of how often it does.
"""

from collections import Counter, defaultdict
from collections.abc import Sequence
from typing import NamedTuple

from valvetrain.rota.helps import Trial
from valvetrain.rota.problem import Booking, Problem
from valvetrain.rota.rules import cost_of, is_too_warm


class Missing(NamedTuple):
    """helps is what would make room, empty where nothing simple would. certain: no other plan could
    have a place for it either; else that rests on the bound of the whole rota."""

    student: int
    task: int
    why: str
    helps: str
    certain: bool = False


def why_missing(problem: Problem, bookings: Sequence[Booking]) -> list[Missing]:
    """One for each place that is missing, in the order of students and tasks."""
    look = _Look(problem, bookings)
    return [look.at(student, task) for student, task in cost_of(problem, bookings).places]


class _Look:
    def __init__(self, problem: Problem, bookings: Sequence[Booking]) -> None:
        self.problem = problem
        self.trial = Trial(problem, bookings)
        self.at_stand: dict[tuple[int, int], Booking] = {}
        self.in_slot: dict[int, list[Booking]] = defaultdict(list)
        self.slot_of: dict[tuple[int, int], int] = {}
        for one in bookings:
            self.at_stand[one.slot, one.stand] = one
            self.in_slot[one.slot].append(one)
            for student in one.students:
                self.slot_of[student, one.task] = one.slot
        self.busy = {(s, one.slot) for one in bookings for s in one.students}

    def at(self, student: int, task: int) -> Missing:
        what, who = self.problem.tasks[task], self.problem.students[student]
        if not what.stands:
            no_stand, a_stand = f"no stand serves {what.id}", f"a stand for {what.id}"
            return Missing(student, task, no_stand, a_stand, certain=True)
        first = [
            self.problem.tasks[before].id
            for before in what.after
            if (student, before) not in self.slot_of
        ]
        if first:
            why = f"{' and '.join(sorted(first))} comes before it, and has no place either"
            return Missing(student, task, why, "")
        slots = self._slots(student, task)
        if not slots:
            helps = f"one more slot when {who.id} is there"
            tried = self.trial.one_more_slot(student, task)
            certain = set(range(self.problem.first, len(self.problem.slots))) <= who.away
            return Missing(
                student, task, self._no_slot(student), helps if tried else "", certain=certain
            )
        return self._told(student, task, slots)

    def _no_slot(self, student: int) -> str:
        who, first, count = (
            self.problem.students[student],
            self.problem.first,
            len(self.problem.slots),
        )
        away = len([slot for slot in who.away if slot >= first])
        if not first and away == count:
            return f"{who.id} is away in every slot"
        ways = [f"{first} of {count} have begun"] * bool(first)
        ways += [f"{who.id} is away in {away}"] * bool(away)
        if first + away < count:
            ways.append(f"{who.id} has something else, or what comes before it, in the others")
        return f"no slot is left: {'; '.join(ways)}"

    def _slots(self, student: int, task: int) -> list[int]:
        """Those in which the student is there, free, and the tasks before it are done."""
        after = [self.slot_of[student, one] for one in self.problem.tasks[task].after]
        return [
            slot
            for slot in range(self.problem.first, len(self.problem.slots))
            if slot not in self.problem.students[student].away
            and (student, slot) not in self.busy
            and all(slot > one for one in after)
        ]

    def _told(self, student: int, task: int, slots: list[int]) -> Missing:
        what = self.problem.tasks[task]
        seen: Counter[str] = Counter()
        alone: dict[str, list[tuple[int, int]]] = defaultdict(list)
        for slot in slots:
            for stand in sorted(what.stands):
                ways = self._in_the_way(student, task, slot, stand)
                seen.update(ways)
                if len(ways) == 1:
                    alone[ways.pop()].append((slot, stand))
        counted = len(slots) * len(what.stands)
        told = "; ".join(
            f"{_SAYS[way].format(task=what.id)} ({times} of {counted})"
            for way, times in seen.most_common(3)
        )
        free = "the one slot" if len(slots) == 1 else f"the {len(slots)} slots"
        name = self.problem.students[student].id
        why = (
            f"in {free} when {name} is free for it: {told}"
            if told
            else ("the time was over before a place was found; let it work on")
        )
        return Missing(student, task, why, self._help(student, task, alone))

    def _help(self, student: int, task: int, alone: dict[str, list[tuple[int, int]]]) -> str:
        """The help for what most often stands alone in the way, of those that were tried and make
        room; empty where none does."""
        for way, places in sorted(alone.items(), key=lambda one: -len(one[1])):
            if any(self.trial.helps(way, student, task, *place) for place in places):
                return HELPS[way].format(task=self.problem.tasks[task].id)
        return ""

    def _in_the_way(self, student: int, task: int, slot: int, stand: int) -> set[str]:
        problem, what = self.problem, self.problem.tasks[task]
        there = self.at_stand.get((slot, stand))
        ways = set()
        if slot in problem.stands[stand].away:
            ways.add("stand-away")
        if there is not None and there.task != task:
            ways.add("in-use")
        elif there is not None:
            if len(there.students) >= what.most:
                ways.add("full")
            if problem.students[student].apart & set(there.students):
                ways.add("apart")
        else:
            if len(self.in_slot[slot]) >= problem.room[slot]:
                ways.add("instructors")
            if self._partners(student, task, slot) < what.least - 1:
                ways.add("partners")
        if self._is_warm(task, slot, stand):
            ways.add("warm")
        return ways

    def _partners(self, student: int, task: int, slot: int) -> int:
        """Others who still need the task and are free then."""
        return sum(
            other != student
            and (other, task) not in self.slot_of
            and (other, slot) not in self.busy
            and slot not in self.problem.students[other].away
            and other not in self.problem.students[student].apart
            for other in range(len(self.problem.students))
        )

    def _is_warm(self, task: int, slot: int, stand: int) -> bool:
        """From a run before, or for what needs it cold after."""
        return any(
            (late == slot and self._clashes(self.at_stand.get((early, stand)), None, task))
            or (early == slot and self._clashes(None, self.at_stand.get((late, stand)), task))
            for early, late in self.problem.hot[stand]
        )

    def _clashes(self, run: Booking | None, cold: Booking | None, task: int) -> bool:
        if run is not None:
            return is_too_warm(self.problem, run.task, task)
        return cold is not None and is_too_warm(self.problem, task, cold.task)


_SAYS = {
    "stand-away": "the stand is away",
    "in-use": "the stand is on another task",
    "full": "the group is full",
    "apart": "somebody to be kept apart is in the group",
    "instructors": "no instructor is free to look after one more stand",
    "partners": "too few others still need {task} to make a group",
    "warm": "the stand is warm from a run, or would be for what follows",
}
HELPS = {
    "stand-away": "a stand for {task} that is not away then",
    "in-use": "one more slot for the stands of {task}, or one more such stand",
    "full": "groups of one more for {task}, or one more slot for its stands",
    "apart": "one more group for {task}",
    "instructors": "one more instructor, or more stands for each",
    "partners": "a smaller least group for {task}",
    "warm": "a slot after the cool-down, or {task} on a stand that was not run",
}
