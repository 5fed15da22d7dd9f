"""Rubrics as they are kept and read, of sheets and of practice runs alike; knows no HTTP."""

from collections.abc import Callable, Mapping
from dataclasses import asdict, dataclass
from datetime import datetime
from typing import Any

from edrix.errors import FieldFault, InvalidError
from edrix.shapes import Stored
from valvetrain.grading.weights import Item, Rubric, RubricError


@dataclass(frozen=True, slots=True)
class InForce:
    """number is 0 where nobody has weighed anything: everything counts alike."""

    number: int
    rubric: Rubric
    made_by: str | None = None
    made_at: datetime | None = None


class _StoredItem(Stored):
    part: str
    weight: float
    must_be_whole: bool


class StoredRubric(Stored):
    """As a JSON column keeps it."""

    items: list[_StoredItem]
    pass_percent: float
    zero_at_mm: float | None
    minutes: float | None


def rubric_json(rubric: Rubric) -> dict[str, Any]:
    return asdict(rubric) | {"items": [asdict(item) for item in rubric.items]}


def rubric_from_json(document: Mapping[str, Any]) -> Rubric:
    items = tuple(Item(**item) for item in document["items"])
    return Rubric(**{**document, "items": items})


def checked(document: Mapping[str, Any], check: Callable[[Rubric], Rubric]) -> Rubric:
    """A rubric that may be used. Raises InvalidError for one that cannot be."""
    try:
        return check(rubric_from_json(document))
    except RubricError as fault:
        raise InvalidError(
            f"This rubric can't be used: {fault}.", [FieldFault(fault.field, fault.problem)]
        ) from None
