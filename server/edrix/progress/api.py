"""Progress and sign-offs over HTTP."""

from datetime import datetime
from typing import Any

from django.http import HttpRequest
from ninja import Router, Schema, Status
from pydantic import Field

from edrix.accounts.signed_in import user_of
from edrix.practice.blind_api import ThresholdOut
from edrix.problems import Problem
from edrix.progress import services
from edrix.progress.services import StudentProgress
from edrix.shapes import In

router = Router(tags=["progress"])
REFUSALS: dict[int, Any] = {403: Problem, 404: Problem, 409: Problem, 422: Problem}


class HandOnSheetOut(Schema):
    """ref is the hand-in that it was worked out from. bias and repeatability are null of too few
    readings, and for students: they tell the key."""

    ref: int
    title: str
    at: datetime
    bias_mm: float | None
    repeatability_mm: float | None
    slips: int


class SignedOut(Schema):
    by: str
    at: datetime
    note: str


class WayOut(Schema):
    title: str
    path: str


class SkillOut(Schema):
    """state is shown, nearly, not-yet or unseen; train is where it is practised next."""

    skill: str
    label: str
    state: str
    shares: list[float]
    says: str
    signed: SignedOut | None
    train: WayOut | None


class ProgressOut(Schema):
    class_id: int
    class_name: str
    student_id: int
    student: str
    hands: list[HandOnSheetOut]
    feel: ThresholdOut | None
    """What their hand tells apart, felt blind; null while they have felt too few."""
    skills: list[SkillOut]


class SignOffIn(In):
    skill: str = Field(max_length=20)
    signed: bool = True
    note: str = Field("", max_length=200)


@router.get(
    "/classes/{class_id}/progress",
    response={200: ProgressOut, **REFUSALS},
    operation_id="ownProgress",
)
def own_progress(request: HttpRequest, class_id: int) -> dict[str, Any]:
    """A student's own way: skills, sign-offs, slips, and what to practise next."""
    told = _progress(services.own(user_of(request), class_id))
    hidden = {"bias_mm": None, "repeatability_mm": None}
    return told | {"hands": [hand | hidden for hand in told["hands"]]}


@router.get(
    "/classes/{class_id}/students/{student_id}/progress",
    response={200: ProgressOut, **REFUSALS},
    operation_id="studentProgress",
)
def student_progress(request: HttpRequest, class_id: int, student_id: int) -> dict[str, Any]:
    return _progress(services.of_student(user_of(request), class_id, student_id))


@router.post(
    "/classes/{class_id}/students/{student_id}/sign-offs",
    response={200: ProgressOut, **REFUSALS},
    operation_id="signOff",
)
def sign_off(
    request: HttpRequest, class_id: int, student_id: int, body: SignOffIn
) -> dict[str, Any]:
    """Signs a skill off, or takes it back."""
    user = user_of(request)
    return _progress(services.sign_off(user, class_id, student_id, **body.model_dump()))


@router.delete(
    "/classes/{class_id}/students/{student_id}/membership",
    response={204: None, **REFUSALS},
    operation_id="removeStudent",
)
def remove_student(request: HttpRequest, class_id: int, student_id: int) -> Status[None]:
    """Takes out who was added by mistake, where nothing of theirs is in the class."""
    services.remove_student(user_of(request), class_id, student_id)
    return Status(204, None)


def _progress(told: StudentProgress) -> dict[str, Any]:
    return {
        "class_id": told.class_id,
        "class_name": told.class_name,
        "student_id": told.student.id,
        "student": told.student.display_name,
        "hands": [hand._asdict() for hand in told.found.hands],
        "feel": told.feel and told.feel._asdict(),
        "skills": [
            {
                "skill": one.skill.value,
                "label": one.skill.label,
                "state": one.state.value,
                "shares": list(one.shares),
                "says": one.says,
                "signed": _signed(told, one.skill.value),
                "train": (way := told.ways[one.skill.value])
                and {"title": way.title, "path": way.path},
            }
            for one in told.found.skills
        ],
    }


def _signed(told: StudentProgress, skill: str) -> dict[str, Any] | None:
    record = told.signed.get(skill)
    if record is None or not record.signed:
        return None
    return {"by": record.made_by.display_name, "at": record.made_at, "note": record.note}
