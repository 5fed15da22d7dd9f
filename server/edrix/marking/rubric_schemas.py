"""Rubrics over HTTP: what comes in, and what goes out."""

from typing import Any

from ninja import Schema

from edrix.marking import rubrics
from edrix.shapes import In
from edrix.sheets.services import Sheet
from edrix.weights_schemas import GradeOut, WeighedOut
from valvetrain.grading.rubric import part_label
from valvetrain.grading.weights import Grade


class ReleaseIn(In):
    """confirmed: although other sheets on the same key are open."""

    confirmed: bool = False


class RubricOut(WeighedOut):
    sheet_id: int
    title: str
    tolerance_mm: float
    asks: list[str]

    @staticmethod
    def of(sheet: Sheet) -> dict[str, Any]:
        told = WeighedOut.told(
            rubrics.rubric_of(sheet), rubrics.templates_of(sheet), rubrics.parts_of(sheet)
        )
        return {
            "sheet_id": sheet.id,
            "title": sheet.title,
            "tolerance_mm": float(sheet.tolerance_mm),
            "asks": sheet.asks,
            **told,
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
