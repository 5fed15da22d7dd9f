"""Whether anything in a class has changed since somebody looked.

Pages of a lesson ask every other second. Each answer carries a cursor; who asks with the cursor
that is still true is told so after one look at one row, and nothing is computed.

Example: Ines's phone has cursor `7.41-88~7.12-88`. Tove asks a question: class 7 has been asked 42
times, and the next time the phone looks, it is given the question, but not once more her day.
"""

from typing import Literal, NamedTuple

from django.db import transaction
from django.db.models import F
from django.utils import timezone

from edrix.accounts.models import User
from edrix.classes.models import ClassBeat
from edrix.classes.services import at_work

LOOK_AGAIN_S = 20
"""Everything is told anew after so long, whatever the beat says: times pass, and a process can be
killed between a change and its beat."""

Part = Literal["desk", "everybody", "asked"]
"""What has changed: what instructors see, what students see of their day, what is asked."""


class OwnCursor(NamedTuple):
    """asked is of the questions, day of all else that a student sees of today."""

    asked: str
    day: str


def moved(class_id: int, *parts: Part) -> None:
    """Something has changed in a class; told once it is kept."""
    # Robust: what was done is kept, whatever becomes of the beat.
    transaction.on_commit(lambda: _beat(class_id, parts), robust=True)


def _beat(class_id: int, parts: tuple[Part, ...]) -> None:
    more = {part: F(part) + 1 for part in parts}
    beat = ClassBeat.objects.filter(teaching_class_id=class_id)
    if not beat.update(**more):
        ClassBeat.objects.bulk_create(
            [ClassBeat(teaching_class_id=class_id)], ignore_conflicts=True
        )
        beat.update(**more)


def desk_cursor(class_id: int) -> str:
    """For what the instructors of a class see."""
    found = ClassBeat.objects.filter(teaching_class_id=class_id).values_list("desk", flat=True)
    return f"{class_id}.{found.first() or 0}-{_while()}"


def own_cursor(student: User) -> OwnCursor:
    """For what a student sees, of every class where they are at work."""
    beat = "teaching_class__beat__"
    rows = list(
        at_work(student).values_list("teaching_class_id", f"{beat}asked", f"{beat}everybody")
    )
    asked = "_".join(f"{class_id}.{asked or 0}" for class_id, asked, _ in rows)
    day = "_".join(f"{class_id}.{beats or 0}" for class_id, _, beats in rows)
    return OwnCursor(f"{asked}-{_while()}", f"{day}-{_while()}")


def _while() -> int:
    return int(timezone.now().timestamp() // LOOK_AGAIN_S)
