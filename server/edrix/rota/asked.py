"""A rota as the core is asked for it: the wish, the class and the hall put together.

A stand is away from a rota, beside what is said there, while it is out of order, and while another
class has it; where that class runs the engine and this one needs it cold, also until it is cold.
"""

import hashlib
import json
from collections import Counter
from collections.abc import Iterable, Mapping
from datetime import datetime
from typing import Any, NamedTuple

from django.utils import timezone

from edrix import clock
from edrix.classes import services as classes
from edrix.errors import FieldFault, InvalidError
from edrix.rota.models import Rota, RotaBooking
from edrix.rota.wish import RotaWish, WishedPlace, moment
from edrix.stands import services as stands
from edrix.stands.services import Stand
from valvetrain.document import DocumentError
from valvetrain.rota.problem import Booking, Problem, is_warm
from valvetrain.rota.rota_file import ROTA_FORMAT, read_rota


class Kept(NamedTuple):
    """A booking as the database has it; at is its id, None for one that is not kept yet."""

    at: int | None
    slot: str
    place: str
    task: str
    students: tuple[int, ...]
    pinned: bool = False


class Blocked(NamedTuple):
    """A stand that cannot be used in a slot, and why."""

    place: str
    slot: str
    why: str


class AskedRota:
    """A rota with all that bears on it. document is edrix-rota/1, with names for people to read."""

    def __init__(self, rota: Rota, now: datetime | None = None) -> None:
        self.rota = rota
        self.now = now or timezone.now()
        self.wish = RotaWish.model_validate(rota.wish)
        self.students = list(classes.students_of(rota.teaching_class_id))
        self.instructors = list(classes.instructors_of(rota.teaching_class_id))
        self.stands = {one.id: one for one in stands.in_use(rota.teaching_class_id)}
        self.blocked = [*self._blocked()]

    def _blocked(self) -> Iterable[Blocked]:
        others = _bookings_of_others(self.rota, list(self.stands))
        for place in self.wish.places:
            stand = None if place.stand is None else self.stands.get(place.stand)
            if stand is None:
                continue
            cold = any(task.needs_cold and place.key in task.places for task in self.wish.tasks)
            for slot in self.wish.slots:
                start, end = moment(slot.start), moment(slot.end)
                why = _why_blocked(stand, start, end, others.get(stand.id, ()), self.now, cold=cold)
                if why:
                    yield Blocked(place.key, slot.start, why)

    @property
    def digest(self) -> str:
        """The same for the same question: who is there, what is to be done, where and when."""
        asked = json.dumps(self.document(), sort_keys=True, default=str)
        return hashlib.sha256(asked.encode()).hexdigest()

    def document(self) -> dict[str, Any]:
        """edrix-rota/1, without bookings."""
        away = self.wish.away
        blocked: dict[str, list[str]] = {}
        for one in self.blocked:
            blocked.setdefault(one.place, []).append(one.slot)
        places = _names({place.key: place.name for place in self.wish.places})
        students = _names({f"student-{one.id}": one.display_name for one in self.students})
        teachers = _names({f"instructor-{one.id}": one.display_name for one in self.instructors})
        titles = {task.key: task.title for task in self.wish.tasks}
        apart = [[f"student-{one}" for one in pair] for pair in self.wish.apart]
        return {
            "format": ROTA_FORMAT,
            "slots": [
                {"id": slot.start, "start": slot.start, "end": slot.end} for slot in self.wish.slots
            ],
            "stands": [
                {
                    "id": places[place.key],
                    "kind": "stand" if place.stand else "table",
                    "cool_h": self._cool_h(place),
                    "away": blocked.get(place.key, []),
                }
                for place in self.wish.places
            ],
            "students": [
                {
                    "id": name,
                    "away": away.get(key, []),
                    "apart": [
                        students[other]
                        for pair in apart
                        if key in pair
                        for other in pair
                        if other != key and other in students
                    ],
                }
                for key, name in students.items()
            ],
            "instructors": [
                {"id": name, "away": away.get(key, [])} for key, name in teachers.items()
            ],
            "stands_each": self.wish.stands_each,
            "tasks": [
                {
                    "id": task.title,
                    "stands": [places[key] for key in task.places],
                    "group": [task.least, task.most],
                    "needs_cold": task.needs_cold,
                    "runs_engine": task.runs_engine,
                    "after": [titles[key] for key in task.after],
                }
                for task in self.wish.tasks
            ],
        }

    def _cool_h(self, place: WishedPlace) -> float:
        stand = None if place.stand is None else self.stands.get(place.stand)
        return 0.0 if stand is None else float(stand.cool_h)

    def problem(self) -> Problem:
        """Raises InvalidError where nothing can be planned of it."""
        try:
            return read_rota(self.document())
        except DocumentError as refusal:
            faults = [FieldFault(fault.path, fault.problem) for fault in refusal.faults]
            raise InvalidError(f"This rota cannot be planned yet: {refusal}.", faults) from None

    def to_core(self, bookings: Iterable[Kept]) -> list[Booking]:
        """In the order given, without students who are of the class no more."""
        slots, places, tasks, students = self._at()
        return [
            Booking(
                slots[one.slot],
                places[one.place],
                tasks[one.task],
                tuple(sorted(students[who] for who in one.students if who in students)),
            )
            for one in bookings
            if one.slot in slots and one.place in places and one.task in tasks
        ]

    def from_core(self, bookings: Iterable[Booking]) -> list[Kept]:
        return [
            Kept(
                None,
                self.wish.slots[one.slot].start,
                self.wish.places[one.stand].key,
                self.wish.tasks[one.task].key,
                tuple(self.students[student].id for student in one.students),
            )
            for one in bookings
        ]

    def _at(self) -> tuple[Mapping[Any, int], ...]:
        return tuple(
            {key: at for at, key in enumerate(keys)}
            for keys in (
                [slot.start for slot in self.wish.slots],
                [place.key for place in self.wish.places],
                [task.key for task in self.wish.tasks],
                [student.id for student in self.students],
            )
        )

    @property
    def first(self) -> int:
        """The first slot that has not begun."""
        return sum(moment(slot.start) <= self.now for slot in self.wish.slots)


def kept_bookings(rota: Rota) -> list[Kept]:
    """In order of time and place."""
    found = RotaBooking.objects.filter(rota=rota).prefetch_related("seats")
    return [
        Kept(
            one.id,
            one.slot,
            one.place,
            one.task,
            tuple(sorted(seat.student_id for seat in one.seats.all())),
            one.pinned,
        )
        for one in found.order_by("slot", "place", "id")
    ]


def _names(of: dict[str, str]) -> dict[str, str]:
    """By key; those of the same name are told apart by a number."""
    seen: Counter[str] = Counter()
    names = {}
    for key, name in of.items():
        seen[name] += 1
        names[key] = name if seen[name] == 1 else f"{name} ({seen[name]})"
    return names


def _bookings_of_others(rota: Rota, stand_ids: list[int]) -> dict[int, list[RotaBooking]]:
    found = RotaBooking.objects.filter(stand_id__in=stand_ids, rota__put_away_at__isnull=True)
    by_stand: dict[int, list[RotaBooking]] = {}
    for one in found.exclude(rota=rota).select_related("rota__teaching_class"):
        by_stand.setdefault(one.stand_id or 0, []).append(one)
    return by_stand


def _why_blocked(
    stand: Stand,
    start: datetime,
    end: datetime,
    others: Iterable[RotaBooking],
    now: datetime,
    *,
    cold: bool,
) -> str:
    if stand.out_of_order and end > now:
        return f"out of order: {stand.out_of_order}"
    for one in others:
        name = one.rota.teaching_class.name
        if one.starts_at < end and start < one.ends_at:
            return f"{name} has it then"
        ended, begins = (clock.in_school(at).replace(tzinfo=None) for at in (one.ends_at, start))
        ran_before = cold and one.runs_engine and one.ends_at <= start
        if ran_before and is_warm(ended, begins, float(stand.cool_h)):
            return f"warm from {name}, who ran it until {ended:%H:%M}"
    return ""
