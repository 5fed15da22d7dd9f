"""Asking a class: every student answers from their own device, and the room sees what it thinks.

Example. Tove stops the Bench and asks class A which valves may be set. Ines answers 7 and 8 on her
phone, then 1 and 2: what counts is what stands when Tove closes. Until Tove shows the proof, no
phone knows the answer; how the others answered no phone ever learns. Rolf, who teaches class B, and
his students see nothing of it.
"""

import secrets
from collections import Counter
from collections.abc import Collection
from datetime import datetime, timedelta
from typing import Literal, NamedTuple

from django.db import transaction
from django.db.models import QuerySet
from django.utils import timezone

from edrix import clock
from edrix.accounts.models import User
from edrix.asking.models import ClassAnswer
from edrix.asking.models import ClassQuestion as ClassQuestion
from edrix.classes import beats
from edrix.classes import services as classes
from edrix.drills import again
from edrix.drills import services as drills
from edrix.engines import services as engines
from edrix.errors import ConflictError, FieldFault, InvalidError, NotFoundError
from valvetrain.drill import (
    SURE,
    CannotAskError,
    Question,
    Tally,
    Wrong,
    is_right,
    put,
    put_anew,
    tally,
    why_wrong,
)
from valvetrain.engine import Engine

GRACE = timedelta(seconds=2)
"""For an answer that was sent before the count-down ended and came late, over thin Wi-Fi."""
COMMONEST = 3
MOST_HEARD = 100

Step = Literal["close", "spread", "proof", "end"]
FIELD: dict[Step, str] = {
    "close": "closed_at",
    "spread": "spread_at",
    "proof": "proof_at",
    "end": "ended_at",
}
"""In the order in which they come; each brings those before it about."""


class PutQuestion(NamedTuple):
    """A question and how far it is."""

    made: ClassQuestion
    question: Question
    state: Literal["open", "closed", "spread", "proof", "ended"]


class OwnAnswer(NamedTuple):
    """wrong is None for a right one, and while nobody may know."""

    given: list[str]
    sure: int
    right: bool | None
    wrong: Wrong | None


class OnTheWall(NamedTuple):
    """What the instructor's screen shows. tally is None until the room may see it."""

    asked: PutQuestion
    answered: int
    present: int
    tally: Tally | None


class WallNow(NamedTuple):
    """shown is None while nothing is asked."""

    beat: str
    shown: OnTheWall | None


class Heard(NamedTuple):
    """One question that was asked, for the record of a class."""

    made: ClassQuestion
    question: Question
    answered: int
    right: int
    sure_and_wrong: int


class RoomMistake(NamedTuple):
    """A misconception of a class: how many answers came from it, and of how many people."""

    mistake: str
    answers: int
    students: int


class NewQuestion(NamedTuple):
    """crank_deg is where the Bench stands, None for a place by chance. seconds is the count-down,
    None to close by hand; about which cylinder or valve it is asked."""

    engine_id: int
    version: int | None
    kind: str
    crank_deg: float | None
    request_key: str
    seconds: int | None = None
    about: int | None = None


def ask(user: User, class_id: int, new: NewQuestion) -> ClassQuestion:
    """Puts a question to the class; what was asked before ends. The same press twice asks once.

    Raises InvalidError where it cannot be asked of this engine or at this place.
    """
    classes.require_instructor(user, class_id)
    known = ClassQuestion.objects.filter(teaching_class_id=class_id, request_key=new.request_key)
    if (before := known.first()) is not None:
        return before
    version = engines.get_version(new.engine_id, new.version)
    question = _put(engines.core_engine(version), new)
    now = timezone.now()
    with transaction.atomic():
        # Two windows that ask at once come one after the other.
        classes.lock(class_id)
        _end_open(class_id, now)
        made, _ = ClassQuestion.objects.get_or_create(
            teaching_class_id=class_id,
            request_key=new.request_key,
            defaults={
                "engine_version": version,
                "asked_by": user,
                "question": drills.stored(question),
                "closes_at": None if new.seconds is None else now + timedelta(seconds=new.seconds),
            },
        )
    return made


def _put(engine: Engine, new: NewQuestion) -> Question:
    seed = secrets.randbits(32)
    try:
        if new.crank_deg is not None:
            return put(engine, new.kind, new.crank_deg, seed, new.about)
        question = put_anew(engine, new.kind, seed, whole=True)
        if question is None:
            raise CannotAskError("This cannot be asked of this engine; choose another question.")
    except CannotAskError as refusal:
        raise InvalidError(str(refusal), [FieldFault("kind", str(refusal))]) from None
    return question


def _end_open(class_id: int, now: datetime) -> None:
    for made in ClassQuestion.objects.filter(teaching_class_id=class_id, ended_at__isnull=True):
        _reach(made, "end", now)


def step(user: User, question_id: int, to: Step) -> ClassQuestion:
    """Closes it, shows how the room answered, shows the proof, or ends it. Again is nothing new."""
    made = _taught(user, question_id)
    with transaction.atomic():
        made = ClassQuestion.objects.select_for_update().get(id=made.id)
        _reach(made, to, timezone.now())
    return made


def _reach(made: ClassQuestion, to: Step, now: datetime) -> None:
    changed = []
    for name, field in FIELD.items():
        # What was never shown is not said to have been; it is closed all the same.
        if getattr(made, field) is None and (to != "end" or name in ("close", "end")):
            setattr(made, field, now)
            changed.append(field)
        if name == to:
            break
    if changed:
        made.save(update_fields=changed)
    if FIELD["proof"] in changed:
        _sure_and_wrong(made)


def _sure_and_wrong(made: ClassQuestion) -> None:
    """Who was sure, and is shown now that it was wrong, gets it back as a drill."""
    wrong = made.answers.filter(sure=SURE, right=False).values_list("student_id", flat=True)
    kind, version = made.question["kind"], made.engine_version
    again.were_missed([again.OneMissed(student, version, kind) for student in wrong])


def answer(
    user: User, question_id: int, given: Collection[str], sure: int
) -> tuple[PutQuestion, OwnAnswer]:
    """Takes a student's answer, or another one in its place while the question is open.

    Raises ConflictError for one that came after the close, with what counts instead.
    """
    made = ClassQuestion.objects.filter(
        id=question_id, teaching_class_id__in=classes.class_ids_at_work(user)
    ).first()
    if made is None:
        raise NotFoundError("There is no such question for you; look at what is asked now.")
    asked = _asked(made)
    chosen = _chosen(asked.question, given)
    if not _takes_answers(made):
        before = ClassAnswer.objects.filter(question=made, student=user).exists()
        what = "Your answer from before counts." if before else "No answer of yours was counted."
        raise ConflictError(f"This question is closed. {what}")
    wrong = why_wrong(asked.question, chosen)
    kept = ClassAnswer(
        question=made,
        student=user,
        given=chosen,
        sure=sure,
        right=is_right(asked.question, chosen),
        mistake=wrong.mistake if wrong else "",
    )
    # One statement: sixty phones answer in the same second, and some of them twice.
    ClassAnswer.objects.bulk_create(
        [kept],
        update_conflicts=True,
        unique_fields=["question", "student"],
        update_fields=["given", "sure", "right", "mistake", "answered_at"],
    )
    beats.moved(made.teaching_class_id, "desk")
    return asked, OwnAnswer(chosen, sure, None, None)


def _chosen(question: Question, given: Collection[str]) -> list[str]:
    """In the order of the options. Raises InvalidError for what is none of them, or too many."""
    ids = [option.id for option in question.options]
    chosen = [one for one in ids if one in given]
    if not chosen or not set(given) <= set(ids):
        fault = FieldFault("given", f"choose of {', '.join(ids)}")
        raise InvalidError("The answer is none of the options; choose one of them.", [fault])
    if len(chosen) > 1 and not question.several:
        raise InvalidError("Only one may be chosen.", [FieldFault("given", "choose one")])
    return chosen


def _up() -> QuerySet[ClassQuestion]:
    """What is asked now, in whatever class."""
    return ClassQuestion.objects.filter(ended_at__isnull=True, asked_at__gt=clock.this_lesson())


def _takes_answers(made: ClassQuestion) -> bool:
    if made.closed_at is not None or made.asked_at <= clock.this_lesson():
        return False
    return made.closes_at is None or timezone.now() < made.closes_at + GRACE


def for_student(user: User) -> list[tuple[PutQuestion, OwnAnswer | None]]:
    """What is asked of a person now, in every class where they are at work, with their own answer.
    What is right they learn with the proof."""
    at_work = classes.class_ids_at_work(user)
    open_now = _up().filter(teaching_class_id__in=at_work)
    open_now = open_now.select_related("engine_version__engine", "teaching_class")
    # What an engine's file says is looked up once for each question, not for each phone.
    open_now = open_now.defer("engine_version__document")
    found = list(open_now.order_by("asked_at"))
    if not found:
        return []
    own = {
        one.question_id: one for one in ClassAnswer.objects.filter(question__in=found, student=user)
    }
    return [(asked, _own(asked, own.get(asked.made.id))) for asked in map(_asked, found)]


def _own(asked: PutQuestion, kept: ClassAnswer | None) -> OwnAnswer | None:
    if kept is None:
        return None
    if asked.made.proof_at is None:
        return OwnAnswer(kept.given, kept.sure, None, None)
    return OwnAnswer(kept.given, kept.sure, kept.right, why_wrong(asked.question, kept.given))


def is_asked(class_id: int) -> bool:
    """Whether a question is up in a class; the caller has asked who may see it."""
    return _up().filter(teaching_class_id=class_id).exists()


def on_the_wall(user: User, class_id: int, after: str) -> WallNow | None:
    """The same, or None where nothing has changed since the cursor after."""
    classes.require_instructor(user, class_id)
    return None if after == beats.desk_cursor(class_id) else wall_now(user, class_id)


def wall_now(user: User, class_id: int) -> WallNow:
    """What is asked in a class now, for its instructors."""
    classes.require_instructor(user, class_id)
    # The cursor first: what changes while the rest is read is told at the next look.
    cursor = beats.desk_cursor(class_id)
    up = _up().filter(teaching_class_id=class_id)
    made = up.select_related("engine_version__engine").first()
    if made is None:
        return WallNow(cursor, None)
    asked = _asked(made)
    answers = list(made.answers.values_list("given", "sure"))
    shown = tally(asked.question, answers) if made.spread_at is not None else None
    present = classes.students_of(class_id).count()
    return WallNow(cursor, OnTheWall(asked, len(answers), present, shown))


def heard(user: User, class_id: int) -> list[Heard]:
    """What was asked in a class, the newest first, with how it was answered."""
    classes.require_instructor(user, class_id)
    questions = _of_class(class_id).prefetch_related("answers")
    return [_heard(made) for made in questions.order_by("-asked_at", "-id")[:MOST_HEARD]]


def _heard(made: ClassQuestion) -> Heard:
    answers = list(made.answers.all())
    right = sum(one.right for one in answers)
    sure = sum(one.sure == SURE and not one.right for one in answers)
    return Heard(made, drills.question_of(made.question), len(answers), right, sure)


def room_mistakes(user: User, class_id: int) -> list[RoomMistake]:
    """The commonest misconceptions of a class by its last questions, those that are to be cured
    before the next lesson."""
    classes.require_instructor(user, class_id)
    newest = _of_class(class_id).order_by("-asked_at", "-id").values("id")[:MOST_HEARD]
    made = ClassAnswer.objects.filter(question__in=newest).exclude(mistake="")
    rows = list(made.values_list("mistake", "student_id"))
    answers = Counter(mistake for mistake, _ in rows)
    people = Counter(mistake for mistake, _ in set(rows))
    common = answers.most_common(COMMONEST)
    return [RoomMistake(mistake, count, people[mistake]) for mistake, count in common]


def _of_class(class_id: int) -> QuerySet[ClassQuestion]:
    found = ClassQuestion.objects.filter(teaching_class_id=class_id)
    return found.select_related("engine_version__engine")


def _taught(user: User, question_id: int) -> ClassQuestion:
    """For an instructor of its class. Raises NotFoundError, NotAllowedError."""
    missing = NotFoundError("There is no such question, or it is of a class that you are not in.")
    made = ClassQuestion.objects.filter(id=question_id).first()
    if made is None:
        raise missing
    try:
        classes.require_instructor(user, made.teaching_class_id)
    except NotFoundError:
        raise missing from None
    return made


def _asked(made: ClassQuestion) -> PutQuestion:
    return PutQuestion(made, drills.question_of(made.question), _state(made))


def _state(made: ClassQuestion) -> Literal["open", "closed", "spread", "proof", "ended"]:
    if made.ended_at is not None:
        return "ended"
    if made.proof_at is not None:
        return "proof"
    if made.spread_at is not None:
        return "spread"
    up = made.closes_at is not None and timezone.now() >= made.closes_at
    return "closed" if made.closed_at is not None or up else "open"
