"""Rubrics over HTTP: what comes in, and what goes out."""

from datetime import datetime
from typing import Any

from ninja import Schema

from edrix.marking import rubrics
from edrix.shapes import In
from edrix.sheets.services import Sheet
from edrix.weights import rubric_json
from edrix.weights_schemas import GradeOut, PartOut, RubricFieldsOut, TemplateOut
from valvetrain.grading.rubric import part_label
from valvetrain.grading.weights import Grade


class ReleaseIn(In):
    """confirmed: although other sheets on the same key are open."""

    confirmed: bool = False


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
            "rubric": rubric_json(force.rubric),
            "templates": [
                {**one._asdict(), "rubric": rubric_json(one.rubric)}
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
        return {
            "sample": GradeOut.of(sample, part_label),
            "rows": [RegradedOut.of(one) for one in moved],
        }
