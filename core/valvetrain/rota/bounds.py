"""What no rota can be better than, by counting alone."""

from itertools import permutations

from valvetrain.rota.problem import Problem, Task


def first_end(problem: Problem) -> int:
    """No rota in which everybody has every task ends before this slot: bookings against stands in
    use, a student's tasks against slots, and what is fixed. The number of slots where none does."""
    groups = sum(-(-len(problem.students) // task.most) for task in problem.tasks)
    slots = len(problem.tasks)
    fixed = max((one.slot for one in problem.fixed), default=0)
    for slot in range(len(problem.slots)):
        stands = sum(slot not in stand.away for stand in problem.stands)
        groups -= min(stands, problem.room[slot])
        slots -= 1
        if groups <= 0 and slots <= 0 and slot >= fixed:
            return slot
    return len(problem.slots)


def least_repeats(problem: Problem) -> int:
    """How many pairs at least meet again where everybody has every task, by pigeonhole: a group of
    one task draws from the groups of another, and who come from the same one meet again. Example:
    twelve in fours, twice. Each four draws from three fours, so that one pair of it meets again."""
    students = len(problem.students)
    return max(
        (
            sum(_pairs_in(size, _most_groups(students, one)) for size in _sizes(students, other))
            for one, other in permutations(problem.tasks, 2)
        ),
        default=0,
    )


def _most_groups(students: int, task: Task) -> int:
    return max(1, students // task.least)


def _sizes(students: int, task: Task) -> list[int]:
    """As many groups as there can be, as equal as they can be: these make the fewest pairs."""
    groups = _most_groups(students, task)
    return [students // groups + (at < students % groups) for at in range(groups)]


def _pairs_in(size: int, boxes: int) -> int:
    """The fewest pairs that share a box when so many are laid into boxes."""
    full, over = divmod(size, boxes)
    return over * (full + 1) * full // 2 + (boxes - over) * full * (full - 1) // 2
