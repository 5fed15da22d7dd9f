"""What of posted rotas is one's own: a student's places, the slots that an instructor teaches."""

from collections.abc import Iterable
from datetime import datetime
from typing import NamedTuple

from edrix.accounts.models import User
from edrix.classes import services as classes
from edrix.rota.models import RotaBooking
from edrix.rota.wish import RotaWish


class OwnBooking(NamedTuple):
    """One's own place in a posted rota. others are who is there, too."""

    rota_id: int
    class_name: str
    starts_at: datetime
    ends_at: datetime
    place: str
    task: str
    kind: str
    of: int | None
    others: list[str]


def own_bookings(person: User, since: datetime | None = None) -> list[OwnBooking]:
    """Of a student in posted rotas, in order of time."""
    found = RotaBooking.objects.filter(
        seats__student=person,
        rota__posted_at__isnull=False,
        rota__put_away_at__isnull=True,
        rota__teaching_class_id__in=classes.class_ids_at_work(person),
    )
    if since is not None:
        found = found.filter(ends_at__gte=since)
    rows = found.select_related("rota__teaching_class").prefetch_related("seats__student")
    in_order = list(rows.order_by("starts_at", "id"))
    wishes = _wishes(in_order)
    return [_own(one, wishes[one.rota_id], person) for one in in_order]


def _wishes(bookings: Iterable[RotaBooking]) -> dict[int, RotaWish]:
    """What each of their rotas holds, read once."""
    rotas = {one.rota_id: one.rota for one in bookings}
    return {rota_id: RotaWish.model_validate(rota.wish) for rota_id, rota in rotas.items()}


def _own(one: RotaBooking, wish: RotaWish, person: User) -> OwnBooking:
    task = next(task for task in wish.tasks if task.key == one.task)
    others = [seat.student.display_name for seat in one.seats.all() if seat.student_id != person.id]
    return OwnBooking(
        one.rota_id,
        one.rota.teaching_class.name,
        one.starts_at,
        one.ends_at,
        next(place.name for place in wish.places if place.key == one.place),
        task.title,
        task.kind,
        task.of,
        sorted(others),
    )


def taught_slots(person: User) -> list[OwnBooking]:
    """Of an instructor: each slot of a posted rota in which somebody is booked and they are
    there. others are the places in use, with their tasks."""
    found = RotaBooking.objects.filter(
        rota__posted_at__isnull=False,
        rota__put_away_at__isnull=True,
        rota__teaching_class__put_away_at__isnull=True,
        rota__teaching_class_id__in=classes.class_ids_of(person, "instructor"),
    ).select_related("rota__teaching_class")
    by_slot: dict[tuple[int, str], list[RotaBooking]] = {}
    in_order = list(found.order_by("starts_at", "place"))
    wishes = _wishes(in_order)
    for one in in_order:
        by_slot.setdefault((one.rota_id, one.slot), []).append(one)
    slots = []
    for (rota_id, slot), rows in by_slot.items():
        rota, wish = rows[0].rota, wishes[rota_id]
        if slot in wish.away.get(f"instructor-{person.id}", ()):
            continue
        names = {place.key: place.name for place in wish.places}
        titles = {task.key: task.title for task in wish.tasks}
        used = [f"{names[row.place]}: {titles[row.task]}" for row in rows]
        slots.append(
            OwnBooking(
                rota_id, rota.teaching_class.name, rows[0].starts_at, rows[0].ends_at,
                "", rota.title, "text", None, used,
            )
        )  # fmt: skip
    return slots


class ClassBooking(NamedTuple):
    """One place of a class's posted rotas, with who is there."""

    starts_at: datetime
    ends_at: datetime
    place: str
    task: str
    kind: str
    stand_id: int | None
    students: list[int]


def class_bookings(class_id: int, since: datetime, until: datetime) -> list[ClassBooking]:
    """Of posted rotas of a class, those that touch a stretch of time, in order. The caller has
    asked who may see them."""
    found = RotaBooking.objects.filter(
        rota__teaching_class_id=class_id,
        rota__posted_at__isnull=False,
        rota__put_away_at__isnull=True,
        ends_at__gt=since,
        starts_at__lt=until,
    ).select_related("rota")
    rows = list(found.prefetch_related("seats").order_by("starts_at", "place"))
    wishes = _wishes(rows)
    return [_of_class(one, wishes[one.rota_id]) for one in rows]


def _of_class(one: RotaBooking, wish: RotaWish) -> ClassBooking:
    task = next(task for task in wish.tasks if task.key == one.task)
    place = next(place.name for place in wish.places if place.key == one.place)
    students = [seat.student_id for seat in one.seats.all()]
    return ClassBooking(
        one.starts_at, one.ends_at, place, task.title, task.kind, one.stand_id, students
    )
