"""Weights of runs over HTTP: what goes out."""

from typing import Any

from ninja import Schema

from edrix.practice import weighing
from edrix.practice.models import PracticeEngine
from edrix.practice.weighing import RegradedRun
from edrix.weights_schemas import GradeOut, WeighedOut
from valvetrain.grading.weights import Grade
from valvetrain.practice.weighing import RUN_PARTS, RUN_TEMPLATES, run_part_label


class RunWeightsOut(WeighedOut):
    practice_id: int
    class_id: int
    title: str

    @staticmethod
    def of(practice: PracticeEngine) -> dict[str, Any]:
        return {
            "practice_id": practice.id,
            "class_id": practice.teaching_class_id,
            "title": practice.title,
            **WeighedOut.told(weighing.weights_of(practice), RUN_TEMPLATES, RUN_PARTS.values()),
        }


class RegradedRunOut(Schema):
    run_id: int
    student: str
    attempt: int
    before_percent: float
    after_percent: float
    before_passed: bool
    after_passed: bool


class RunWeightsLookOut(Schema):
    """sample is a made-up run with a few usual mistakes; rows are all runs that have ended."""

    sample: GradeOut
    rows: list[RegradedRunOut]

    @staticmethod
    def of(sample: Grade, moved: list[RegradedRun]) -> dict[str, Any]:
        rows = [
            {
                "run_id": one.run.id,
                "student": one.run.student.display_name,
                "attempt": one.run.attempt,
                "before_percent": one.before.percent,
                "after_percent": one.after.percent,
                "before_passed": one.before.passed,
                "after_passed": one.after.passed,
            }
            for one in moved
        ]
        return {"sample": GradeOut.of(sample, run_part_label), "rows": rows}
