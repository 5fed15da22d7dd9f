"""Rubrics as they are kept and read, of sheets and of practice runs alike; knows no HTTP."""

from collections.abc import Callable, Mapping
from dataclasses import asdict, dataclass
from datetime import datetime
from typing import Any

from pydantic import model_validator

from edrix.errors import FieldFault, InvalidError
from edrix.shapes import Stored
from valvetrain.grading.constants import WHOLE_PERCENT
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
    least_percent: float

    @model_validator(mode="before")
    @classmethod
    def _of_an_older_edrix(cls, data: Any) -> Any:
        return _with_least(data) if isinstance(data, dict) else data


class StoredRubric(Stored):
    """As a JSON column keeps it."""

    items: list[_StoredItem]
    pass_percent: float
    zero_at_mm: float | None
    minutes: float | None


def _with_least(item: Mapping[str, Any]) -> dict[str, Any]:
    """An item with its limit in per cent; up to edrix-rubric/2 it said only whether all of the part
    must be right."""
    now = dict(item)
    if isinstance(now.get("must_be_whole"), bool):
        now["least_percent"] = WHOLE_PERCENT if now.pop("must_be_whole") else 0.0
    return now


def rubric_json(rubric: Rubric) -> dict[str, Any]:
    return asdict(rubric) | {"items": [asdict(item) for item in rubric.items]}


def rubric_from_json(document: Mapping[str, Any]) -> Rubric:
    items = tuple(Item(**_with_least(item)) for item in document["items"])
    return Rubric(**{**document, "items": items})


def checked(document: Mapping[str, Any], check: Callable[[Rubric], Rubric]) -> Rubric:
    """A rubric that may be used. Raises InvalidError for one that cannot be."""
    try:
        return check(rubric_from_json(document))
    except RubricError as fault:
        raise InvalidError(
            f"This rubric can't be used: {fault}.", [FieldFault(fault.field, fault.problem)]
        ) from None
