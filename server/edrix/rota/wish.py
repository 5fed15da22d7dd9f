"""What a rota is to hold, as an instructor says it, and as a JSON column keeps it.

Slots are known by their start by the school's clock (`2026-11-30T08:00`), places and tasks by keys
of their own, people by `student-12` and `instructor-3`.
"""

from collections.abc import Iterator
from datetime import datetime, timedelta
from typing import Annotated, Literal
from zoneinfo import ZoneInfo

from django.conf import settings
from pydantic import Field

from edrix import clock
from edrix.errors import FieldFault, InvalidError
from edrix.shapes import Stored
from valvetrain.rota.constants import MOST_GROUP, MOST_SLOTS, MOST_STANDS, MOST_TASKS

Key = str
Pair = Annotated[list[int], Field(min_length=2, max_length=2)]
LOCAL = "%Y-%m-%dT%H:%M"


class WishedSlot(Stored):
    """start and end by the school's clock, without a zone."""

    start: str = Field(pattern=r"^\d{4}-\d\d-\d\dT\d\d:\d\d$")
    end: str = Field(pattern=r"^\d{4}-\d\d-\d\dT\d\d:\d\d$")


class WishedPlace(Stored):
    """A stand of the school, or a table where stand is null."""

    key: Key = Field(min_length=1, max_length=40)
    name: str = Field(min_length=1, max_length=80)
    stand: int | None = None


class WishedTask(Stored):
    """kind says what is done there; of is the sheet or practice engine. after are keys of tasks."""

    key: Key = Field(min_length=1, max_length=40)
    title: str = Field(min_length=1, max_length=120)
    kind: Literal["sheet", "practice", "drill", "text"] = "text"
    of: int | None = None
    places: list[Key] = Field(default_factory=list, max_length=MOST_STANDS)
    least: int = Field(1, ge=1, le=MOST_GROUP)
    most: int = Field(2, ge=1, le=MOST_GROUP)
    needs_cold: bool = False
    runs_engine: bool = False
    after: list[Key] = Field(default_factory=list, max_length=MOST_TASKS)


class RotaWish(Stored):
    """away: slots by person; apart: pairs of students who never share a place."""

    slots: list[WishedSlot] = Field(default_factory=list, max_length=MOST_SLOTS)
    places: list[WishedPlace] = Field(default_factory=list, max_length=MOST_STANDS)
    tasks: list[WishedTask] = Field(default_factory=list, max_length=MOST_TASKS)
    stands_each: int = Field(4, ge=0, le=MOST_STANDS)
    away: dict[str, list[str]] = Field(default_factory=dict)
    apart: list[Pair] = Field(default_factory=list, max_length=200)


def checked(wish: RotaWish) -> RotaWish:
    """In order of time, and nothing named that is not there. Raises InvalidError."""
    wish.slots.sort(key=lambda slot: slot.start)
    faults = [*_slot_faults(wish), *_task_faults(wish)]
    if faults:
        raise InvalidError(f"{faults[0].path} {faults[0].problem}", faults)
    known = {slot.start for slot in wish.slots}
    # A slot that was taken out takes absences in it along.
    wish.away = {
        who: left for who, slots in wish.away.items() if (left := sorted(set(slots) & known))
    }
    return wish


def _slot_faults(wish: RotaWish) -> Iterator[FieldFault]:
    end_before = ""
    for slot in wish.slots:
        path = f"The slot {slot.start.replace('T', ' ')}"
        try:
            start, end = local(slot.start), local(slot.end)
        except ValueError:
            yield FieldFault(path, "has a day or an hour that no clock shows; give a real one")
            continue
        if end <= start:
            yield FieldFault(path, "ends before it begins; give a later end")
        elif end - start > timedelta(hours=12):
            yield FieldFault(path, "is longer than 12 hours; make several of it")
        elif slot.start < end_before:
            yield FieldFault(path, f"begins before the one before it ends, {end_before[-5:]}")
        elif problem := _clock_problem(start, end):
            yield FieldFault(path, problem)
        else:
            clock.given(start, path)
        end_before = slot.end


def _clock_problem(start: datetime, end: datetime) -> str:
    """Where the clocks change inside a slot it has an hour that is there twice, or not at all."""
    zone = ZoneInfo(settings.TIME_ZONE)
    offsets = {
        at.replace(tzinfo=zone, fold=fold).utcoffset() for at in (start, end) for fold in (0, 1)
    }
    if len(offsets) == 1:
        return ""
    return (
        f"has the change of the clocks in it ({settings.TIME_ZONE}): nobody would know how long it "
        "is; let it end before, or begin after"
    )


def _task_faults(wish: RotaWish) -> Iterator[FieldFault]:
    places = {place.key for place in wish.places}
    tasks = {task.key for task in wish.tasks}
    if len(places) < len(wish.places) or len(tasks) < len(wish.tasks):
        yield FieldFault("The list", "has a place or a task twice; give each once")
    titles = [task.title.casefold() for task in wish.tasks]
    for task in wish.tasks:
        if titles.count(task.title.casefold()) > 1:
            yield FieldFault(f"“{task.title}”", "is there twice; give each task a title of its own")
        if task.most < task.least:
            yield FieldFault(
                f"“{task.title}”", f"has groups of {task.least} to {task.most}; turn them round"
            )
        if not set(task.places) <= places:
            yield FieldFault(f"“{task.title}”", "names a place that is not in this rota")
        if not set(task.after) <= tasks - {task.key}:
            yield FieldFault(f"“{task.title}”", "comes after a task that is not in this rota")


def local(text: str) -> datetime:
    """By the school's clock, without a zone. Raises ValueError."""
    return datetime.strptime(text, LOCAL)  # noqa: DTZ007  (rotas are kept by the school's clock)


def moment(text: str) -> datetime:
    """The moment that a slot's time is."""
    return local(text).replace(tzinfo=ZoneInfo(settings.TIME_ZONE))
