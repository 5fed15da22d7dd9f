"""Rubrics and grades over HTTP, of sheets and of practice runs alike."""

from collections.abc import Callable, Iterable
from datetime import datetime
from typing import Any

from ninja import Schema
from pydantic import Field

from edrix.shapes import In
from edrix.weights import InForce, rubric_json
from valvetrain.grading.weights import Grade, Part, Template


class ItemIn(In):
    part: str = Field(max_length=20)
    weight: float = Field(allow_inf_nan=False)
    least_percent: float = Field(0, allow_inf_nan=False)


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
    """A part that can be weighed: what people call it, and what its share is."""

    part: str
    label: str
    about: str


class ItemOut(Schema):
    part: str
    weight: float
    least_percent: float


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


class WeighedOut(Schema):
    """What something is worth by its parts; number is 0 while nobody has set any weights."""

    number: int
    made_by: str | None
    made_at: datetime | None
    rubric: RubricFieldsOut
    templates: list[TemplateOut]
    parts: list[PartOut]

    @staticmethod
    def told(
        force: InForce, templates: Iterable[Template], parts: Iterable[Part]
    ) -> dict[str, Any]:
        return {
            "number": force.number,
            "made_by": force.made_by,
            "made_at": force.made_at,
            "rubric": rubric_json(force.rubric),
            "templates": [
                {**one._asdict(), "rubric": rubric_json(one.rubric)} for one in templates
            ],
            "parts": list(parts),
        }


class ItemGradeOut(Schema):
    """percent is of the whole; says is the arithmetic of the share."""

    part: str
    label: str
    weight: float
    share: float
    percent: float
    least_percent: float
    says: str


class GradeOut(Schema):
    """fails holds the labels of the parts that fell short of their own limit; waived of those that
    have one and could not be judged."""

    percent: float
    passed: bool
    pass_percent: float
    items: list[ItemGradeOut]
    fails: list[str]
    waived: list[str]

    @staticmethod
    def of(
        grade: Grade, label_of: Callable[[str], str], *, for_student: bool = False
    ) -> dict[str, Any]:
        items = [item._asdict() | {"label": label_of(item.part)} for item in grade.items]
        fails = [label_of(part) for part in grade.fails]
        waived = [label_of(part) for part in grade.waived]
        shown = grade._asdict() | {"items": items, "fails": fails, "waived": waived}
        return _rounded(shown) if for_student else shown


def _rounded(grade: dict[str, Any]) -> dict[str, Any]:
    """As a student reads it: from fifteen digits of a share the key could be solved."""
    items = [
        item | {"share": round(item["share"], 2), "percent": round(item["percent"], 1)}
        for item in grade["items"]
    ]
    return grade | {"items": items}
