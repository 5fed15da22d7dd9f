"""What moves the beat of a class: rows of which a page of today shows something.

Rooms below know nothing of it: Django tells when a row of theirs is kept. What they keep in bulk
(hand-ins, answers) they tell themselves.
"""

from collections.abc import Callable, Iterable
from functools import partial
from typing import Any, NamedTuple

from django.db.models import Model
from django.db.models.signals import post_delete, post_save

from edrix.classes import beats


class Watched(NamedTuple):
    """classes_of gives the classes that a row belongs to; parts are what changes with it."""

    label: str
    classes_of: Callable[[Any], Iterable[int]]
    parts: tuple[beats.Part, ...]


DESK: tuple[beats.Part, ...] = ("desk",)
ALL: tuple[beats.Part, ...] = ("desk", "everybody")


def _of_stand(stand: Any) -> list[int]:
    return list(
        stand.uses.filter(put_away_at__isnull=True).values_list("teaching_class_id", flat=True)
    )


def _of_event(event: Any) -> list[int]:
    """A run never changes its class: it is looked up for its first event only."""
    found = _class_of_run.get(event.run_id)
    if found is None:
        found = int(event.run.practice.teaching_class_id)
        if len(_class_of_run) >= MOST_KNOWN:
            _class_of_run.clear()
        _class_of_run[event.run_id] = found
    return [found]


MOST_KNOWN = 4096
_class_of_run: dict[int, int] = {}


WATCHED = (
    Watched("asking.ClassQuestion", lambda one: [one.teaching_class_id], ("desk", "asked")),
    Watched("lessons.HeldNow", lambda one: [one.teaching_class_id], ("asked",)),
    Watched("today.Hand", lambda one: [one.teaching_class_id], DESK),
    Watched("sheets.Sheet", lambda one: [one.teaching_class_id], ALL),
    Watched("sheets.Draft", lambda one: [one.sheet.teaching_class_id], DESK),
    Watched("practice.PracticeEngine", lambda one: [one.teaching_class_id], ALL),
    Watched("practice.PracticeRun", lambda one: [one.practice.teaching_class_id], DESK),
    Watched("practice.PracticeEvent", _of_event, DESK),
    Watched("stands.Stand", _of_stand, ALL),
    Watched("safety.Opening", lambda one: _of_stand(one.stand) if one.stand else [], DESK),
    Watched("rota.Rota", lambda one: [one.teaching_class_id], ALL),
    Watched("rota.RotaBooking", lambda one: [one.rota.teaching_class_id], ALL),
    Watched(
        "classes.Membership", lambda one: [one.teaching_class_id], ("desk", "everybody", "asked")
    ),
)


def listen() -> None:
    for watched in WATCHED:
        for signal in (post_save, post_delete):
            heard = partial(_moved, watched)
            signal.connect(
                heard, sender=watched.label, weak=False, dispatch_uid=f"beat of {watched.label}"
            )


def _moved(watched: Watched, instance: Model, **_signal: Any) -> None:
    for class_id in watched.classes_of(instance):
        beats.moved(class_id, *watched.parts)
