"""The step of a lesson that is held, on the phones of the class: where everybody goes now.

Example. Tove holds *Measuring and adjusting*; its fourth step is the sheet *First measuring*. Every
phone of class A says so at its foot, and one tap opens it; nobody is taken away from what they are
writing. At the next step it is gone.
"""

from typing import NamedTuple

from django.db import transaction

from edrix import clock
from edrix.accounts.models import User
from edrix.classes import services as classes
from edrix.errors import FieldFault, InvalidError
from edrix.lessons import services
from edrix.lessons.models import HeldNow
from edrix.lessons.services import HeldStep
from edrix.practice import services as practice
from edrix.sheets import services as sheets


class Opens(NamedTuple):
    """Where a held step leads: kind is drill, practice or sheet; of_id the engine of a drill, else
    the practice engine or the sheet; key changes whenever a step is held anew."""

    key: str
    class_name: str
    kind: str
    of_id: int
    title: str
    named: str


def hold(user: User, class_id: int, lesson_id: int, step: int) -> bool:
    """Puts where a step leads, counted from one, on the phones of a class, and gives whether it
    leads anywhere; one that does not takes what was there away. Raises InvalidError for a step that
    there is none of."""
    classes.require_instructor(user, class_id)
    held = services.held(user, services.get_lesson(user, lesson_id), class_id)
    if not 1 <= step <= len(held):
        problem = f"The lesson has steps 1 to {len(held)}, and no step {step}."
        raise InvalidError(problem, [FieldFault("step", problem)])
    shown = held[step - 1]
    with transaction.atomic():
        # Two windows that hold at once come one after the other.
        classes.lock(class_id)
        of_id = _leads_to(shown, class_id)
        if of_id is None:
            HeldNow.objects.filter(teaching_class_id=class_id).delete()
            return False
        HeldNow.objects.update_or_create(
            teaching_class_id=class_id,
            defaults={
                "kind": shown.step.kind,
                "of_id": of_id,
                "title": shown.step.title,
                "named": shown.step.engine or shown.step.named,
            },
        )
    return True


def end(user: User, class_id: int) -> None:
    """The lesson is over; once more is nothing new."""
    classes.require_instructor(user, class_id)
    HeldNow.objects.filter(teaching_class_id=class_id).delete()


def opens(user: User) -> list[Opens]:
    """Where the lessons lead that are held now, in every class where a person is at work."""
    found = HeldNow.objects.filter(
        teaching_class_id__in=classes.class_ids_at_work(user),
        held_at__gt=clock.this_lesson(),
    ).select_related("teaching_class")
    return [
        Opens(
            f"{one.id}.{one.held_at.timestamp()}",
            one.teaching_class.name,
            *(one.kind, one.of_id, one.title, one.named),
        )
        for one in found.order_by("held_at", "id")
    ]


def _leads_to(held: HeldStep, class_id: int) -> int | None:
    """What is opened; None where a step is told, or what it names is not open to students."""
    if held.step.kind == "drill":
        return held.engine_id
    if held.named_id is None:
        return None
    is_open = {"practice": practice.is_open_in, "sheet": sheets.is_open_in}[held.step.kind]
    return held.named_id if is_open(class_id, held.named_id) else None
