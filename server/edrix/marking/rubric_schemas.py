"""Rubrics over HTTP: what comes in, and what goes out."""

from datetime import datetime
from typing import Any

from ninja import Schema
from pydantic import Field

from edrix.marking import rubrics
from edrix.marking.schemas import GradeOut
from edrix.shapes import In
from edrix.sheets.services import Sheet
from valvetrain.grading.weights import Grade


class ReleaseIn(In):
    """confirmed: although other sheets on the same key are open."""

    confirmed: bool = False


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


class PartOut(Schema):
    """A part that this sheet can be weighed by: what people call it, and what its share is."""

    part: str
    label: str
    about: str


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
    """number is 0 while no weights are set: every mark counts alike."""

    sheet_id: int
    title: str
    tolerance_mm: float
    asks: list[str]
    number: int
    made_by: str | None
    made_at: datetime | None
    rubric: RubricFieldsOut
    templates: list[TemplateOut]
    parts: list[PartOut]

    @staticmethod
    def of(sheet: Sheet) -> dict[str, Any]:
        force = rubrics.rubric_of(sheet)
        return {
            "sheet_id": sheet.id,
            "title": sheet.title,
            "tolerance_mm": float(sheet.tolerance_mm),
            "asks": sheet.asks,
            "number": force.number,
            "made_by": force.made_by,
            "made_at": force.made_at,
            "rubric": rubrics.rubric_json(force.rubric),
            "templates": [
                {**one._asdict(), "rubric": rubrics.rubric_json(one.rubric)}
                for one in rubrics.templates_of(sheet)
            ],
            "parts": rubrics.parts_of(sheet),
        }


class RegradedOut(Schema):
    hand_in_id: int
    student: str
    before_percent: float
    after_percent: float
    before_passed: bool
    after_passed: bool

    @staticmethod
    def of(one: rubrics.Regraded) -> dict[str, Any]:
        return {
            "hand_in_id": one.hand_in.id,
            "student": one.hand_in.student.display_name,
            "before_percent": one.before.percent,
            "after_percent": one.after.percent,
            "before_passed": one.before.passed,
            "after_passed": one.after.passed,
        }


class RubricLookOut(Schema):
    """sample is a made-up sheet with a few usual mistakes; rows are all hand-ins so far."""

    sample: GradeOut
    rows: list[RegradedOut]

    @staticmethod
    def of(sample: Grade, moved: list[rubrics.Regraded]) -> dict[str, Any]:
        return {"sample": GradeOut.of(sample), "rows": [RegradedOut.of(one) for one in moved]}
