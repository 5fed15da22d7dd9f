"""Rubrics over HTTP: what a sheet's marks are worth together, seen before it counts."""

from datetime import datetime
from typing import Any

from django.http import HttpRequest
from ninja import Router, Schema, Status
from pydantic import Field

from edrix.edge import In, user_of
from edrix.problems import Problem
from edrix.sheets import grading
from edrix.sheets.api import grade_out
from edrix.sheets.models import Sheet
from edrix.sheets.schemas import GradeOut

router = Router(tags=["sheets"])
REFUSALS: dict[int, Any] = {403: Problem, 404: Problem, 409: Problem, 422: Problem}


class ItemIn(In):
    part: str = Field(max_length=20)
    weight: float = Field(allow_inf_nan=False)
    must_be_whole: bool = False


class RubricIn(In):
    items: list[ItemIn] = Field(max_length=20)
    pass_percent: float = Field(60, allow_inf_nan=False)
    zero_at_mm: float | None = Field(None, allow_inf_nan=False)
    minutes: float | None = Field(None, allow_inf_nan=False)


class SetRubricIn(In):
    """based_on is the number of the rubric that was seen."""

    rubric: RubricIn
    based_on: int


class ItemOut(Schema):
    part: str
    weight: float
    must_be_whole: bool


class RubricFieldsOut(Schema):
    items: list[ItemOut]
    pass_percent: float
    zero_at_mm: float | None
    minutes: float | None


class TemplateOut(Schema):
    name: str
    title: str
    says: str
    rubric: RubricFieldsOut


class RubricOut(Schema):
    """number is 0 while every mark counts alike and nobody has weighed anything."""

    sheet_id: int
    title: str
    tolerance_mm: float
    asks: list[str]
    number: int
    made_by: str | None
    made_at: datetime | None
    rubric: RubricFieldsOut
    templates: list[TemplateOut]


class RegradedOut(Schema):
    hand_in_id: int
    student: str
    before_percent: float
    after_percent: float
    before_passed: bool
    after_passed: bool


class RubricLookOut(Schema):
    """sample is a made-up sheet with a few usual mistakes; rows are all hand-ins so far."""

    sample: GradeOut
    rows: list[RegradedOut]


@router.get(
    "/sheets/{sheet_id}/rubric", response={200: RubricOut, **REFUSALS}, operation_id="getRubric"
)
def get_rubric(request: HttpRequest, sheet_id: int) -> dict[str, Any]:
    return _rubric(grading.sheet_with_rubric(user_of(request), sheet_id))


@router.post(
    "/sheets/{sheet_id}/rubric/preview",
    response={200: RubricLookOut, **REFUSALS},
    operation_id="previewRubric",
)
def preview_rubric(request: HttpRequest, sheet_id: int, body: RubricIn) -> dict[str, Any]:
    """What a rubric makes of a sample sheet and of every hand-in; keeps nothing."""
    sample, moved = grading.look(user_of(request), sheet_id, body.model_dump())
    return {
        "sample": grade_out(sample),
        "rows": [
            {
                "hand_in_id": one.hand_in.id,
                "student": one.hand_in.student.display_name,
                "before_percent": one.before.percent,
                "after_percent": one.after.percent,
                "before_passed": one.before.passed,
                "after_passed": one.after.passed,
            }
            for one in moved
        ],
    }


@router.post(
    "/sheets/{sheet_id}/rubric", response={201: RubricOut, **REFUSALS}, operation_id="setRubric"
)
def set_rubric(request: HttpRequest, sheet_id: int, body: SetRubricIn) -> Status[dict[str, Any]]:
    """From now on this rubric counts; the older ones stay on record."""
    rubric = body.rubric.model_dump()
    sheet = grading.set_rubric(user_of(request), sheet_id, rubric, body.based_on)
    return Status(201, _rubric(sheet))


@router.post(
    "/sheets/{sheet_id}/give-back", response={204: None, **REFUSALS}, operation_id="giveBack"
)
def give_back(request: HttpRequest, sheet_id: int) -> Status[None]:
    """Shows students grades that tell how far off their readings are."""
    grading.give_back(user_of(request), sheet_id)
    return Status(204, None)


def _rubric(sheet: Sheet) -> dict[str, Any]:
    force = grading.rubric_of(sheet)
    return {
        "sheet_id": sheet.id,
        "title": sheet.title,
        "tolerance_mm": float(sheet.tolerance_mm),
        "asks": sheet.asks,
        "number": force.number,
        "made_by": force.made_by,
        "made_at": force.made_at,
        "rubric": grading.rubric_json(force.rubric),
        "templates": [
            {**one._asdict(), "rubric": grading.rubric_json(one.rubric)}
            for one in grading.templates_of(sheet)
        ],
    }
