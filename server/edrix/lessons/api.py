"""Lessons over HTTP, for people who teach."""

from datetime import datetime
from typing import Any

from django.http import HttpRequest
from ninja import Router, Schema, Status

from edrix.accounts.signed_in import user_of
from edrix.lessons import holding, services
from edrix.lessons.services import HeldStep, Lesson
from edrix.problems import Problem
from edrix.shapes import In
from valvetrain.lesson import LessonStep

router = Router(tags=["lessons"])
REFUSALS: dict[int, Any] = {403: Problem, 404: Problem, 409: Problem, 422: Problem}


class LessonIn(In):
    document: dict[str, Any]


class LessonChange(In):
    document: dict[str, Any]
    revision: int


class LessonAway(In):
    away: bool


class StepHeldIn(In):
    """step is counted from one."""

    lesson_id: int
    step: int


class StepHeldOut(Schema):
    """leads: whether the step is on the phones; not where it is told, or closed to students."""

    leads: bool


class LessonRow(Schema):
    """mine: whether one may change it, rather than take a copy."""

    id: int
    title: str
    about: str
    steps: int
    minutes: int
    made_by: str
    changed_at: datetime
    mine: bool
    away: bool

    @staticmethod
    def of(lesson: Lesson, *, mine: bool) -> dict[str, Any]:
        core = services.core_lesson(lesson)
        return {
            "id": lesson.id,
            "title": lesson.title,
            "about": core.about,
            "steps": len(core.steps),
            "minutes": core.minutes,
            "made_by": lesson.made_by.display_name,
            "changed_at": lesson.changed_at,
            "mine": mine,
            "away": lesson.put_away_at is not None,
        }


class LessonStepOut(Schema):
    """A step, all fields of all kinds; engine_id and named_id are what it names here."""

    kind: str
    title: str
    text: str
    notes: str
    minutes: int
    engine: str
    at_deg: float | None
    view: str
    cover: bool
    question: str
    seconds: int | None
    named: str
    engine_id: int | None
    named_id: int | None
    missing: str

    @staticmethod
    def of(held: HeldStep) -> dict[str, Any]:
        step: LessonStep = held.step
        return {
            **step._asdict(),
            "engine_id": held.engine_id,
            "named_id": held.named_id,
            "missing": held.missing,
        }


class LessonOut(LessonRow):
    revision: int
    document: dict[str, Any]
    held: list[LessonStepOut]

    @staticmethod
    def whole(lesson: Lesson, held: list[HeldStep], *, mine: bool) -> dict[str, Any]:
        return {
            **LessonRow.of(lesson, mine=mine),
            "revision": lesson.revision,
            "document": lesson.document,
            "held": [LessonStepOut.of(one) for one in held],
        }


@router.get("/lessons", response={200: list[LessonRow], **REFUSALS}, operation_id="listLessons")
def list_lessons(request: HttpRequest) -> list[dict[str, Any]]:
    user = user_of(request)
    return [LessonRow.of(one, mine=services.is_own(user, one)) for one in services.lessons(user)]


@router.post("/lessons", response={201: LessonOut, **REFUSALS}, operation_id="createLesson")
def create_lesson(request: HttpRequest, body: LessonIn) -> Status[dict[str, Any]]:
    """A new one: written, copied, or an edrix-lesson/1 file that was read."""
    user = user_of(request)
    made = services.create(user, body.document)
    return Status(201, LessonOut.whole(made, services.held(user, made, None), mine=True))


@router.get("/lessons/{lesson_id}", response={200: LessonOut, **REFUSALS}, operation_id="getLesson")
def get_lesson(request: HttpRequest, lesson_id: int, class_id: int | None = None) -> dict[str, Any]:
    """With what its steps name on the shelf, and in a class that it is held with."""
    user = user_of(request)
    lesson = services.get_lesson(user, lesson_id)
    mine = services.is_own(user, lesson)
    return LessonOut.whole(lesson, services.held(user, lesson, class_id), mine=mine)


@router.put(
    "/lessons/{lesson_id}", response={200: LessonOut, **REFUSALS}, operation_id="saveLesson"
)
def save_lesson(request: HttpRequest, lesson_id: int, body: LessonChange) -> dict[str, Any]:
    user = user_of(request)
    lesson = services.save(user, lesson_id, body.document, body.revision)
    return LessonOut.whole(lesson, services.held(user, lesson, None), mine=True)


@router.patch(
    "/lessons/{lesson_id}", response={204: None, **REFUSALS}, operation_id="putLessonAway"
)
def put_lesson_away(request: HttpRequest, lesson_id: int, body: LessonAway) -> Status[None]:
    services.put_away(user_of(request), lesson_id, away=body.away)
    return Status(204, None)


@router.delete(
    "/lessons/{lesson_id}", response={204: None, **REFUSALS}, operation_id="removeLesson"
)
def remove_lesson(request: HttpRequest, lesson_id: int) -> Status[None]:
    services.remove(user_of(request), lesson_id)
    return Status(204, None)


@router.put(
    "/classes/{class_id}/held", response={200: StepHeldOut, **REFUSALS}, operation_id="holdStep"
)
def hold_step(request: HttpRequest, class_id: int, body: StepHeldIn) -> dict[str, Any]:
    """A step is held before the class: where it leads is on every phone."""
    leads = holding.hold(user_of(request), class_id, body.lesson_id, body.step)
    return {"leads": leads}


@router.delete(
    "/classes/{class_id}/held", response={204: None, **REFUSALS}, operation_id="endLesson"
)
def end_lesson(request: HttpRequest, class_id: int) -> Status[None]:
    holding.end(user_of(request), class_id)
    return Status(204, None)
