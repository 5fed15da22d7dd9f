"""Asking the class: dealing questions, taking answers once, scores for the instructor.

The right answer of a question leaves the server only after that question is answered (or, in
front of a class, revealed). A second try of the same question changes nothing.
"""

import secrets
from dataclasses import dataclass
from datetime import datetime
from typing import Any, NamedTuple

from django.db import transaction
from django.db.models import Count, Max, Q, QuerySet

from edrix import life
from edrix.accounts.models import User
from edrix.classes import services as classes
from edrix.drills import again
from edrix.drills.models import Drill, DrillAnswer
from edrix.engines import services as engines
from edrix.errors import ConflictError, FieldFault, InvalidError, NotAllowedError, NotFoundError
from valvetrain.drill import Option, Question, SheetLine, Wrong, deal, is_right

QUESTIONS = 10
MOST_SCORES = 200


@dataclass(frozen=True, slots=True)
class Asked:
    """A question as its person may see it: answer and because only once it is answered."""

    number: int
    question: Question
    answer: DrillAnswer | None


class AnsweredDrill(NamedTuple):
    """A drill as far as it was answered; at is when its last answer was given."""

    at: datetime
    right: int
    answered: int


def start(
    user: User,
    engine_id: int,
    version: int | None,
    held: str,
    class_id: int | None = None,
) -> Drill:
    """Deals ten questions about an engine; before a class only by people who teach.

    class_id: which class it belongs to, where its instructors see the score. Left out, a student's
    is that of the class they came to last; an instructor's belongs to none.
    """
    if held == Drill.CLASS and not user.may_teach:
        raise NotAllowedError("Only people who teach ask a whole class; drill alone instead.")
    if class_id is None:
        class_id = None if user.may_teach else classes.class_ids_at_work(user).last()
    elif held == Drill.CLASS:
        classes.require_instructor(user, class_id)
    else:
        classes.require_at_work(user, class_id)
    shelved = engines.get_version(engine_id, version)
    back = again.due(user, shelved) if held == Drill.ALONE else []
    fresh = deal(engines.core_engine(shelved), secrets.randbits(32), QUESTIONS - len(back))
    questions = [*(question for _, question in back), *fresh]
    return Drill.objects.create(
        person=user,
        teaching_class_id=class_id,
        engine_version=shelved,
        held=held,
        comes_back=[number for number, _ in back],
        questions=[stored(question) for question in questions],
    )


def own_drill(user: User, drill_id: int) -> Drill:
    """Raises NotFoundError for anybody else's."""
    found = Drill.objects.select_related("engine_version__engine").prefetch_related("answers")
    drill = found.filter(id=drill_id, person=user).first()
    if drill is None:
        raise NotFoundError(f"There is no drill {drill_id} of yours; start a new one.")
    return drill


def asked(drill: Drill) -> list[Asked]:
    answers = {answer.number: answer for answer in drill.answers.all()}
    return [
        Asked(number, question_of(stored), answers.get(number))
        for number, stored in enumerate(drill.questions, start=1)
    ]


def answer(user: User, drill_id: int, number: int, given: list[str]) -> Drill:
    """Takes one answer of a person who drills alone. The first answer stands."""
    drill = own_drill(user, drill_id)
    if drill.held != Drill.ALONE:
        raise ConflictError("This drill is asked of a class: reveal the answer, then score it.")
    question = _numbered(drill, number)
    known = {option.id for option in question.options}
    if not given or not set(given) <= known:
        fault = FieldFault("given", f"choose of {', '.join(sorted(known))}")
        raise InvalidError("The answer is none of the options; choose one of them.", [fault])
    right = is_right(question, given)
    _, is_new = DrillAnswer.objects.get_or_create(
        drill=drill, number=number, defaults={"given": sorted(set(given)), "right": right}
    )
    if is_new:
        _looked_at(user, drill, number, question, right=right)
    return own_drill(user, drill_id)


def _looked_at(user: User, drill: Drill, number: int, question: Question, *, right: bool) -> None:
    """What was missed comes back; what came back is over once it was right twice."""
    one = again.OneMissed(user.id, drill.engine_version, question.kind)
    if number <= len(drill.comes_back):
        again.was_answered(drill.comes_back[number - 1], one, right=right)
    elif not right:
        again.were_missed([one])


def reveal(user: User, drill_id: int, number: int) -> Drill:
    """Shows the answer of one question to a class."""
    drill = _class_drill(user, drill_id)
    _numbered(drill, number)
    DrillAnswer.objects.get_or_create(drill=drill, number=number)
    return own_drill(user, drill_id)


def score(user: User, drill_id: int, number: int, *, right: bool) -> Drill:
    """Writes down whether the class had a revealed question right; may be put right later."""
    drill = _class_drill(user, drill_id)
    _numbered(drill, number)
    with transaction.atomic():
        if not DrillAnswer.objects.filter(drill=drill, number=number).update(right=right):
            raise ConflictError("Reveal the answer first, then score it.")
    return own_drill(user, drill_id)


def own_drills(user: User) -> QuerySet[Drill]:
    return _counted(Drill.objects.filter(person=user))[:MOST_SCORES]


def scores_of_class(user: User, class_id: int) -> QuerySet[Drill]:
    """For instructors: what was drilled in a class, alone or together, newest first. What its
    students drill in other classes is not theirs to see."""
    classes.require_instructor(user, class_id)
    return _counted(Drill.objects.filter(teaching_class_id=class_id))[:MOST_SCORES]


def answered_alone(class_id: int, person_id: int) -> list[AnsweredDrill]:
    """What a student drilled alone in a class, oldest first; the caller has asked who may see."""
    own = Drill.objects.filter(
        teaching_class_id=class_id, person_id=person_id, held=Drill.ALONE, answers__isnull=False
    )
    counted = own.annotate(
        right=Count("answers", filter=Q(answers__right=True)),
        answered=Count("answers"),
        at=Max("answers__answered_at"),
    ).order_by("at", "id")
    return [AnsweredDrill(*one) for one in counted.values_list("at", "right", "answered")]


def has_drilled(class_id: int, person_id: int) -> bool:
    return Drill.objects.filter(teaching_class_id=class_id, person_id=person_id).exists()


@transaction.atomic
def change(
    user: User, drill_id: int, *, name: str | None = None, away: bool | None = None
) -> Drill:
    """Names one's own drill (blank: by its engine again), puts it away or brings it back."""
    drill = own_drill(user, drill_id)
    if name is not None:
        drill.title = " ".join(name.split())
        drill.save(update_fields=["title"])
    life.put_away(drill, away=away)
    return drill


def remove(user: User, drill_id: int) -> None:
    """One's own, while no question of it is answered."""
    drill = own_drill(user, drill_id)
    life.remove(drill, "This drill")


def _counted(drills: QuerySet[Drill]) -> QuerySet[Drill]:
    right = Count("answers", filter=Q(answers__right=True))
    drills = drills.select_related("person", "engine_version__engine")
    drills = drills.annotate(right=right, answered=Count("answers"))
    return drills.order_by("-made_at", "-id")


def _class_drill(user: User, drill_id: int) -> Drill:
    drill = own_drill(user, drill_id)
    if drill.held != Drill.CLASS:
        raise ConflictError("This drill is answered alone; give an answer to see the right one.")
    return drill


def _numbered(drill: Drill, number: int) -> Question:
    if not 1 <= number <= len(drill.questions):
        raise NotFoundError(
            f"There is no question {number}; this drill has {len(drill.questions)}."
        )
    return question_of(drill.questions[number - 1])


def stored(question: Question) -> dict[str, Any]:
    """As a JSON column keeps it; `question_of` reads it back."""
    return question._asdict() | {
        "options": [option._asdict() for option in question.options],
        "wrongs": [wrong._asdict() for wrong in question.wrongs],
        "sheet": [line._asdict() for line in question.sheet],
    }


def question_of(stored: dict[str, Any]) -> Question:
    """Also one that was kept before questions knew their steps and what is wrong about answers."""
    inside = {
        "options": tuple(Option(**option) for option in stored["options"]),
        "answer": tuple(stored["answer"]),
        "steps": tuple(stored.get("steps", ())),
        "wrongs": tuple(
            Wrong(**{**wrong, "ids": tuple(wrong["ids"])}) for wrong in stored.get("wrongs", ())
        ),
        "sheet": tuple(SheetLine(**line) for line in stored.get("sheet", ())),
    }
    return Question(**{**stored, **inside})
