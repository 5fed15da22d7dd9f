"""`edrix-rota/1` in and out. Every fault of a file is told at once, each with its JSONPath."""

from collections.abc import Iterator, Mapping
from datetime import datetime
from typing import Any

from valvetrain.document import DocumentError, Node
from valvetrain.rota.constants import (
    MOST_COOL_H,
    MOST_GROUP,
    MOST_INSTRUCTORS,
    MOST_SEATS_ASKED,
    MOST_SLOTS,
    MOST_STANDS,
    MOST_STUDENTS,
    MOST_TASKS,
    STANDS_EACH,
)
from valvetrain.rota.problem import Booking, Person, Problem, Slot, Stand, Task
from valvetrain.rota.rules import broken

ROTA_FORMAT = "edrix-rota/1"
_FIELDS = ("format", "slots", "stands", "students", "instructors", "stands_each", "tasks", "fixed")


def read_rota(document: Any) -> Problem:
    """Raises DocumentError with every fault that was found; a fixed booking that breaks a rule is
    one of them."""
    root = Node(document)
    if not root.is_object("an object, as edrix-rota/1 describes it"):
        raise DocumentError(root.faults)
    root["format"].choice(ROTA_FORMAT)
    for name in root.value:
        if name not in _FIELDS and not name.startswith("x_"):
            root[name].fault(f"is nobody's; known are {', '.join(_FIELDS)}")
    slots = _slots(root["slots"])
    slot_at = _places(root["slots"], [slot.id for slot in slots])
    stands = [
        _stand(node, slot_at) for node in root["stands"].items("a list of stands", most=MOST_STANDS)
    ]
    students = _people(root["students"], MOST_STUDENTS, slot_at)
    instructors = _people(root["instructors"], MOST_INSTRUCTORS, slot_at)
    tasks = _tasks(root["tasks"], stands, _places(root["stands"], [one.id for one in stands]))
    each = root["stands_each"]
    stands_each = (
        STANDS_EACH
        if each.missing
        else each.whole("stands that one instructor looks after", low=0, high=MOST_STANDS)
    )
    seats = len(students) * len(tasks) * len(slots)
    if not root.faults and seats > MOST_SEATS_ASKED:
        root.fault(
            f"asks for {len(students)} students times {len(tasks)} tasks times {len(slots)} slots; "
            f"that is {seats}, give at most {MOST_SEATS_ASKED}: plan a week at a time"
        )
    if root.faults:
        raise DocumentError(root.faults)
    problem = Problem(
        slots=slots,
        stands=stands,
        students=students,
        instructors=instructors,
        tasks=tasks,
        stands_each=stands_each,
    )
    if not root["fixed"].missing:
        problem = _with_fixed(root["fixed"], problem)
    return problem


def write_bookings(problem: Problem, bookings: tuple[Booking, ...]) -> list[dict[str, Any]]:
    return [
        {
            "slot": problem.slots[one.slot].id,
            "stand": problem.stands[one.stand].id,
            "task": problem.tasks[one.task].id,
            "students": [problem.students[student].id for student in one.students],
        }
        for one in bookings
    ]


def read_bookings(node: Node, problem: Problem) -> list[Booking]:
    """Bookings by names; faults are noted at their paths."""
    slots, stands, tasks, students = (
        {name: at for at, name in enumerate(names)}
        for names in (
            [one.id for one in problem.slots],
            [one.id for one in problem.stands],
            [one.id for one in problem.tasks],
            [one.id for one in problem.students],
        )
    )
    found = []
    for one in node.items("a list of bookings", most=MOST_SLOTS * MOST_STANDS):
        if not one.is_object("a booking"):
            continue
        who = [
            _known(name, students, "a student")
            for name in one["students"].items("a list of students", most=MOST_GROUP)
        ]
        if len(set(who)) < len(who):
            one["students"].fault("names a student twice; give each once")
        found.append(
            Booking(
                _known(one["slot"], slots, "a slot"),
                _known(one["stand"], stands, "a stand"),
                _known(one["task"], tasks, "a task"),
                tuple(sorted(who)),
            )
        )
    return found


def _with_fixed(node: Node, problem: Problem) -> Problem:
    fixed = read_bookings(node, problem)
    if not node.faults:
        for rule in broken(problem.fixing(fixed), fixed):
            at = rule.at[-1]
            Node(None, f"{node.path}[{at}]", node.faults).fault(
                f"breaks a rule: {rule.says}; take it out, or mend what it says"
            )
        for at, student, task, before in _too_early(problem, fixed):
            Node(None, f"{node.path}[{at}]", node.faults).fault(
                f"leaves {problem.students[student].id} no slot for {problem.tasks[before].id}, "
                f"which comes before {problem.tasks[task].id}; fix it later"
            )
    if node.faults:
        raise DocumentError(node.faults)
    return problem.fixing(fixed)


def _too_early(problem: Problem, fixed: list[Booking]) -> Iterator[tuple[int, int, int, int]]:
    """Fixed bookings before which a student has no slot left for what comes first."""
    seats = {(student, one.task) for one in fixed for student in one.students}
    busy = {(student, one.slot) for one in fixed for student in one.students}
    for at, one in enumerate(fixed):
        for student in one.students:
            away = problem.students[student].away
            free = any(s not in away and (student, s) not in busy for s in range(one.slot))
            for before in problem.tasks[one.task].after:
                if not free and (student, before) not in seats:
                    yield at, student, one.task, before


def _slots(node: Node) -> list[Slot]:
    slots: list[Slot] = []
    for one in node.items("a list of slots", most=MOST_SLOTS):
        slot = Slot(_id(one, "a slot"), _time(one["start"]), _time(one["end"]))
        if slot.end <= slot.start:
            one["end"].given("a time after its start")
        if slots and slot.start < slots[-1].end:
            one["start"].given(
                f"a time not before {slots[-1].end.isoformat()}, when {slots[-1].id} ends: slots "
                "come in order of time and do not overlap"
            )
        slots.append(slot)
    if not slots and not node.faults:
        node.fault("is empty; give at least one slot")
    return slots


_NEVER = datetime.min  # noqa: DTZ901  a stand-in for a time that was refused


def _time(node: Node) -> datetime:
    wanted = "a local time like 2031-03-04T08:00"
    if not isinstance(node.value, str):
        node.given(wanted)
        return _NEVER
    try:
        time = datetime.fromisoformat(node.value)
    except ValueError:
        node.given(wanted)
        return _NEVER
    if time.tzinfo is not None:
        node.given(f"{wanted}, without a zone: a rota is kept by the school's clock")
        return _NEVER
    return time


def _stand(node: Node, slot_at: Mapping[str, int]) -> Stand:
    cool = node["cool_h"]
    return Stand(
        _id(node, "a stand"),
        "" if node["kind"].missing else node["kind"].text("the kind of stand"),
        0.0 if cool.missing else cool.number("its cool-down in hours", low=0, high=MOST_COOL_H),
        _away(node, slot_at),
    )


def _people(node: Node, most: int, slot_at: Mapping[str, int]) -> list[Person]:
    of = [*node.items("a list of people", most=most)]
    people = [Person(_id(one, "a person"), _away(one, slot_at)) for one in of]
    at = _places(node, [one.id for one in people])
    apart: list[set[int]] = [set() for _ in people]
    for place, one in enumerate(of):
        if not isinstance(one.value, dict) or one["apart"].missing:
            continue
        for name in one["apart"].items("a list of students", most=most):
            other = _known(name, at, "a student")
            apart[place].add(other)
            # Whoever is named only by the other is kept apart all the same.
            apart[other].add(place)
    return [
        one._replace(apart=frozenset(names - {place}))
        for place, (one, names) in enumerate(zip(people, apart, strict=True))
    ]


def _tasks(node: Node, stands: list[Stand], stand_at: Mapping[str, int]) -> list[Task]:
    of = [*node.items("a list of tasks", most=MOST_TASKS)]
    at = _places(node, [_id(one, "a task") for one in of])
    tasks = []
    for place, one in enumerate(of):
        if not isinstance(one.value, dict):
            continue
        least, most = _group(one["group"])
        after = frozenset(
            _known(name, at, "a task")
            for name in (
                ()
                if one["after"].missing
                else one["after"].items("a list of tasks", most=MOST_TASKS)
            )
        )
        if place in after:
            one["after"].fault("names the task itself; name those that come before it")
        tasks.append(
            Task(
                str(one["id"].value),
                _stands_of(one, stands, stand_at),
                least,
                most,
                not one["needs_cold"].missing and one["needs_cold"].yes_no(),
                not one["runs_engine"].missing and one["runs_engine"].yes_no(),
                after,
            )
        )
    if not node.faults and _goes_round(tasks):
        node.fault("go round in a circle by their `after`; no order serves them all")
    return tasks


def _goes_round(tasks: list[Task]) -> bool:
    done: set[int] = set()
    while True:
        ready = {at for at, task in enumerate(tasks) if at not in done and task.after <= done}
        if not ready:
            return len(done) < len(tasks)
        done |= ready


def _group(node: Node) -> tuple[int, int]:
    pair = [*node.items("the least and the most students, like [2, 3]", most=2)]
    if len(pair) != 2:
        if isinstance(node.value, list):
            node.given("the least and the most students, like [2, 3]")
        return 1, 1
    least, most = (one.whole("a number of students", low=1, high=MOST_GROUP) for one in pair)
    if least > most:
        node.given("the least first, like [2, 3]")
    return least, most


def _stands_of(node: Node, stands: list[Stand], stand_at: Mapping[str, int]) -> frozenset[int]:
    if not node["stands"].missing:
        return frozenset(
            _known(name, stand_at, "a stand")
            for name in node["stands"].items("a list of stands", most=MOST_STANDS)
        )
    if node["kind"].missing:
        node["kind"].given("the kind of stand that it needs, or `stands`")
        return frozenset()
    kind = node["kind"].text("the kind of stand that it needs")
    return frozenset(at for at, stand in enumerate(stands) if stand.kind == kind)


def _id(node: Node, what: str) -> str:
    if not node.is_object(f"{what} with an id"):
        return ""
    return node["id"].text(f"{what}'s id", most=80)


def _places(node: Node, names: list[str]) -> dict[str, int]:
    at = {name: place for place, name in enumerate(names)}
    if len(at) < len(names):
        twice = next(name for name in names if names.count(name) > 1)
        if twice:
            node.fault(f"has “{twice}” twice; give each an id of its own")
    return at


def _away(node: Node, slot_at: Mapping[str, int]) -> frozenset[int]:
    if not isinstance(node.value, dict) or node["away"].missing:
        return frozenset()
    return frozenset(
        _known(name, slot_at, "a slot")
        for name in node["away"].items("a list of slots", most=MOST_SLOTS)
    )


def _known(node: Node, at: Mapping[str, int], what: str) -> int:
    if isinstance(node.value, str) and node.value in at:
        return at[node.value]
    some = ", ".join([*at][:6])
    node.given(f"{what} of this rota ({some}{' …' if len(at) > 6 else ''})")
    return 0
