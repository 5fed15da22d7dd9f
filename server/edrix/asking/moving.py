"""Questions to a class that come back with it: whether they can have been."""

from typing import Any

from django.utils import timezone

from edrix.asking.models import ClassQuestion
from edrix.drills import moving as drills
from valvetrain.drill import Misconception


def end_open(questions: list[dict[str, Any]]) -> None:
    """What was open when the class was packed is over where it is read back: nobody stands before
    that wall, and no phone of the copy is to be asked."""
    for question in questions:
        if question["ended_at"] is None:
            question["ended_at"] = timezone.now().isoformat()


def prove(class_id: int) -> None:
    """Raises ValueError for questions that are none, and answers to no question."""
    asked = ClassQuestion.objects.filter(teaching_class_id=class_id).prefetch_related("answers")
    for made in asked:
        options = drills.checked_options(made.question)
        for answer in made.answers.all():
            if not isinstance(answer.given, list) or not set(answer.given) <= options:
                raise ValueError("an answer is none of its question's options")
            if answer.mistake and answer.mistake not in set(Misconception):
                raise ValueError("an answer has a misconception that there is none of")
