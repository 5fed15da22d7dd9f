"""Drills that come back with a class: whether they can have been."""

from edrix.drills.models import Drill
from edrix.shapes import Stored


class _Option(Stored):
    id: str
    says: str
    valve: int | None


class _Question(Stored):
    kind: str
    crank_deg: float
    asks: str
    options: list[_Option]
    several: bool
    answer: list[str]
    because: str


def prove(class_id: int) -> None:
    """Raises ValueError for questions that are none, and answers to no question."""
    drills = Drill.objects.filter(teaching_class_id=class_id).prefetch_related("answers")
    for drill in drills:
        questions = [_Question.model_validate(question) for question in drill.questions]
        for answer in drill.answers.all():
            options = {option.id for option in questions[answer.number - 1].options}
            if not isinstance(answer.given, list) or not set(answer.given) <= options:
                raise ValueError("an answer is none of its question's options")
