"""Drills that come back with a class: whether they can have been."""

from typing import Annotated, Any, Literal

from pydantic import Field

from edrix.drills.models import Drill
from edrix.shapes import Stored
from valvetrain.drill import Misconception


class _Option(Stored):
    id: str
    says: str
    valve: int | None


class _Wrong(Stored):
    how: Literal["is", "just", "adds", "lacks"]
    ids: list[str]
    says: str
    # In JSON it is its word; a strict model would take the member alone.
    mistake: Annotated[Misconception, Field(strict=False)] | Literal[""]
    crank_deg: float | None


class _SheetLine(Stored):
    valve: int
    cylinder: int
    role: str
    at_deg: float
    leaf: str
    wrote: str
    verdict: str
    did: str


class _Question(Stored):
    kind: str
    crank_deg: float
    asks: str
    options: list[_Option]
    several: bool
    answer: list[str]
    because: str
    place: str = ""
    steps: list[str] = Field(default_factory=list)
    wrongs: list[_Wrong] = Field(default_factory=list)
    sheet: list[_SheetLine] = Field(default_factory=list)
    shown_deg: float | None = None


def forget_missed(rows: list[dict[str, Any]]) -> None:
    """What comes back to a person stays where they missed it; archives from before knew nothing of
    it."""
    for row in rows:
        row["comes_back"] = []


def checked_options(question: object) -> set[str]:
    """The options of a question as it is kept. Raises ValueError for what is none."""
    read = _Question.model_validate(question)
    return {option.id for option in read.options}


def prove(class_id: int) -> None:
    """Raises ValueError for questions that are none, and answers to no question."""
    drills = Drill.objects.filter(teaching_class_id=class_id).prefetch_related("answers")
    for drill in drills:
        questions = [checked_options(question) for question in drill.questions]
        for answer in drill.answers.all():
            options = questions[answer.number - 1]
            if not isinstance(answer.given, list) or not set(answer.given) <= options:
                raise ValueError("an answer is none of its question's options")
