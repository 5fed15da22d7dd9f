"""Lessons: on the school's shelf, changed by who made them, held by everybody who teaches.

Example. Tove writes *Which valves may be set now?*. Rolf holds it with his class; to change it he
takes a copy, which is his. Steps name engines, practice engines and sheets by what they are called,
so a lesson can be held with a class that has others, and told what it misses there.
"""

from typing import Any, NamedTuple

from django.db import transaction
from django.db.models import QuerySet

from edrix import life
from edrix.accounts.models import User
from edrix.classes import services as classes
from edrix.engines import services as engines
from edrix.errors import ConflictError, FieldFault, InvalidError, NotAllowedError, NotFoundError
from edrix.lessons.models import Lesson as Lesson
from edrix.practice import services as practice
from edrix.sheets import services as sheets
from valvetrain.document import DocumentError
from valvetrain.lesson import Lesson as CoreLesson
from valvetrain.lesson import LessonStep, read_lesson, write_lesson


class HeldStep(NamedTuple):
    """A step with what it names here: the engine of the shelf, the practice engine or the sheet of
    the class. missing says what is not there; empty where nothing is."""

    step: LessonStep
    engine_id: int | None
    named_id: int | None
    missing: str


def lessons(user: User) -> QuerySet[Lesson]:
    """The school's, for people who teach, by title."""
    _require_teacher(user)
    return Lesson.objects.select_related("made_by").order_by("title", "id")


def get_lesson(user: User, lesson_id: int) -> Lesson:
    _require_teacher(user)
    found = Lesson.objects.select_related("made_by").filter(id=lesson_id).first()
    if found is None:
        raise NotFoundError(f"There is no lesson {lesson_id}; choose one of the list.")
    return found


def is_own(user: User, lesson: Lesson) -> bool:
    """Whether this person may change it; everybody else takes a copy."""
    return lesson.made_by_id == user.id or user.is_head


def create(user: User, document: Any) -> Lesson:
    """A new one, written, copied or read from a file. Raises InvalidError with a fault by path."""
    _require_teacher(user)
    written = _checked(document)
    return Lesson.objects.create(title=written["title"], document=written, made_by=user)


@transaction.atomic
def save(user: User, lesson_id: int, document: Any, revision: int) -> Lesson:
    """Raises ConflictError where somebody else has changed it meanwhile."""
    lesson = _own(user, lesson_id)
    written = _checked(document)
    if lesson.revision != revision:
        raise ConflictError(
            f"{lesson.title} was changed by somebody else meanwhile. Take a copy of yours, or open "
            "it anew and put your changes in."
        )
    lesson.title, lesson.document = written["title"], written
    lesson.revision += 1
    lesson.save(update_fields=["title", "document", "revision", "changed_at"])
    return lesson


@transaction.atomic
def put_away(user: User, lesson_id: int, *, away: bool) -> None:
    life.put_away(_own(user, lesson_id), away=away)


def remove(user: User, lesson_id: int) -> None:
    """For good; nothing hangs on a lesson."""
    with transaction.atomic():
        lesson = _own(user, lesson_id)
        life.remove(lesson, lesson.title)


def core_lesson(lesson: Lesson) -> CoreLesson:
    return read_lesson(lesson.document)


def held(user: User, lesson: Lesson, class_id: int | None) -> list[HeldStep]:
    """Its steps with what they name on this shelf and in this class, if one is given."""
    known_engines = engines.ids_by_name()
    runs: dict[str, int] = {}
    work: dict[str, int] = {}
    if class_id is not None:
        classes.require_instructor(user, class_id)
        runs = {one.title: one.id for one in practice.engines_of(class_id)}
        work = {one.title: one.id for one in reversed(sheets.sheets_of_class(user, class_id))}
    return [
        _held(step, known_engines, {"practice": runs, "sheet": work}.get(step.kind), class_id)
        for step in core_lesson(lesson).steps
    ]


def _held(
    step: LessonStep,
    known_engines: dict[str, int],
    named: dict[str, int] | None,
    class_id: int | None,
) -> HeldStep:
    engine_id = known_engines.get(step.engine) if step.engine else None
    named_id = None if named is None else named.get(step.named)
    missing = ""
    if step.engine and engine_id is None:
        missing = f"There is no engine “{step.engine}” on the shelf."
    elif named is not None and named_id is None and class_id is not None:
        what = "practice engine" if step.kind == "practice" else "sheet"
        missing = f"This class has no {what} “{step.named}”."
    return HeldStep(step, engine_id, named_id, missing)


def _checked(document: Any) -> dict[str, Any]:
    try:
        return write_lesson(read_lesson(document))
    except DocumentError as refusal:
        faults = [FieldFault(fault.path, fault.problem) for fault in refusal.faults]
        raise InvalidError(f"The lesson is not kept: {refusal}.", faults) from None


def _own(user: User, lesson_id: int) -> Lesson:
    get_lesson(user, lesson_id)
    lesson = Lesson.objects.select_for_update().get(id=lesson_id)
    if not is_own(user, lesson):
        raise NotAllowedError(f"{lesson.title} is somebody else's; take a copy, and change that.")
    return lesson


def _require_teacher(user: User) -> None:
    if not user.may_teach:
        raise NotAllowedError("Lessons are for people who teach.")
