"""Marks, rubrics, overrides and answers that come back with a class: whether they can have been."""

from decimal import Decimal
from typing import Any

from edrix.engines import services as engines
from edrix.marking.models import Answer, Decision, Marking, Rubric
from edrix.marking.rubrics import checked
from edrix.shapes import Stored
from edrix.weights import StoredRubric
from valvetrain.grading import PARTS


class _StoredMark(Stored):
    right: bool
    student_says: str
    instructor_says: str


def prove(class_id: int) -> None:
    """Raises ValueError, or InvalidError for a rubric that could not be set."""
    for rubric in Rubric.objects.filter(sheet__teaching_class_id=class_id).select_related("sheet"):
        StoredRubric.model_validate(rubric.document)
        checked(rubric.document, rubric.sheet)
    markings = Marking.objects.filter(hand_in__sheet__teaching_class_id=class_id)
    marked = set()
    for marking in markings.select_related("hand_in__sheet__stand__engine_version"):
        marked.add(marking.hand_in_id)
        _prove_marking(marking)
    of_class = {"hand_in__sheet__teaching_class_id": class_id}
    told = ("part", "hand_in_id")
    decisions = Decision.objects.filter(**of_class).values_list(*told)
    for part, hand_in_id in decisions.union(Answer.objects.filter(**of_class).values_list(*told)):
        if part not in PARTS or hand_in_id not in marked:
            raise ValueError("an override or an answer is to no mark")


def _prove_marking(marking: Marking) -> None:
    engine = engines.core_engine(marking.hand_in.sheet.stand.engine_version)
    points = out_of = 0
    for valve in marking.valves:
        rest: dict[str, Any] = dict(valve)
        number, error_mm = rest.pop("valve"), rest.pop("error_mm")
        own_points = rest.pop("points")
        if number not in engine.valve or not (error_mm is None or Decimal(error_mm).is_finite()):
            raise ValueError(f"valve {number} has no such mark")
        if not set(rest) <= set(PARTS):
            raise ValueError(f"{set(rest)} are none of {set(PARTS)}")
        marks = [_StoredMark.model_validate(mark) for mark in rest.values()]
        if own_points != sum(mark.right for mark in marks):
            raise ValueError("the points of a valve are not the sum of its marks")
        points, out_of = points + own_points, out_of + len(marks)
    numbers = [valve["valve"] for valve in marking.valves]
    if len(set(numbers)) != len(numbers) or (points, out_of) != (marking.points, marking.out_of):
        raise ValueError("the points of a sheet are not the sum of its marks")
