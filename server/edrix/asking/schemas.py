"""What is asked of a class, on the wall and on a phone, as it goes over the wire."""

from datetime import datetime
from typing import Any, Literal

from django.utils import timezone
from ninja import Schema
from pydantic import Field

from edrix.asking import services
from edrix.drills.schemas import MistakeOut, SheetLineOut, WrongOut
from edrix.engines import services as engines
from edrix.engines.table_schemas import TrainOut
from edrix.engines.tables import train_of
from edrix.shapes import In
from valvetrain.angles import MOST_TYPED_DEG
from valvetrain.bare import bare_view
from valvetrain.constants import LEAST_COUNTDOWN_S, MOST_COUNTDOWN_S
from valvetrain.drill import ABOUT, KINDS, Misconception, Question
from valvetrain.engine import Engine


class QuestionIn(In):
    engine_id: int
    version: int | None = None
    kind: str = Field(max_length=40)
    crank_deg: float | None = Field(None, ge=-MOST_TYPED_DEG, le=MOST_TYPED_DEG)
    about: int | None = None
    seconds: int | None = Field(None, ge=LEAST_COUNTDOWN_S, le=MOST_COUNTDOWN_S)
    request_key: str = Field(min_length=8, max_length=64)


class StepIn(In):
    to: Literal["close", "spread", "proof", "end"]


class ClassAnswerIn(In):
    given: list[str] = Field(max_length=200)
    sure: int = Field(0, ge=0, le=3)


class QuestionKindOut(Schema):
    """about is what of the engine it may be asked of: a cylinder, a valve, or nothing."""

    id: str
    title: str
    drawn: bool
    about: str

    @staticmethod
    def all() -> list[dict[str, Any]]:
        return [
            {"id": kind.id, "title": kind.title, "drawn": kind.drawn, "about": kind.about}
            for kind in KINDS
        ]


class ChoiceOut(Schema):
    id: str
    says: str
    valve: int | None


class BareMarkOut(Schema):
    label: str
    deg: float


class BareValveOut(Schema):
    number: int
    cylinder: int
    role: str
    label: str
    down: float
    lobe_deg: float | None


class BareOut(Schema):
    """What anybody sees of the engine: nothing that tells."""

    wheel_deg: float
    clockwise: bool
    marks: list[BareMarkOut]
    valves: list[BareValveOut]
    trains: dict[str, TrainOut]

    @staticmethod
    def of(engine: Engine, crank_deg: float) -> dict[str, Any]:
        seen = bare_view(engine, crank_deg)
        return {
            **seen._asdict(),
            "marks": [mark._asdict() for mark in seen.marks],
            "valves": [valve._asdict() for valve in seen.valves],
            "trains": {role.value: train_of(engine, role) for role in engine.roles},
        }


class OwnAnswerOut(Schema):
    """right and wrong are null until the proof is shown."""

    given: list[str]
    sure: int
    right: bool | None
    wrong: WrongOut | None

    @staticmethod
    def of(own: services.OwnAnswer) -> dict[str, Any]:
        return {**own._asdict(), "wrong": WrongOut.told(own.wrong)}


class PhoneQuestion(Schema):
    """A question on a student's phone. answer, because and steps are null until it is proved."""

    id: int
    class_name: str
    engine_name: str
    kind: str
    asks: str
    several: bool
    options: list[ChoiceOut]
    sheet: list[SheetLineOut]
    drawing: BareOut | None
    state: str
    seconds_left: float | None
    own: OwnAnswerOut | None
    answer: list[str] | None
    because: str | None
    steps: list[str] | None

    @staticmethod
    def of(asked: services.PutQuestion, own: services.OwnAnswer | None) -> dict[str, Any]:
        made, question = asked.made, asked.question
        is_proved = asked.state == "proof"
        return {
            "id": made.id,
            "class_name": made.teaching_class.name,
            "engine_name": made.engine_version.engine.name,
            **_shown(question),
            "drawing": _drawing(asked) if _is_drawn(question) else None,
            "state": asked.state,
            "seconds_left": seconds_left(asked),
            "own": None if own is None else OwnAnswerOut.of(own),
            "answer": list(question.answer) if is_proved else None,
            "because": question.because if is_proved else None,
            "steps": list(question.steps) if is_proved else None,
        }


class RoomMistakeOut(MistakeOut):
    answers: int
    sure: int

    @staticmethod
    def made(mistake: str, answers: int, sure: int) -> dict[str, Any]:
        return {**MistakeOut.of(mistake), "answers": answers, "sure": sure}


class SpreadOut(Schema):
    """How the room answered; shows is the commonest way to be wrong, and where it is seen."""

    right: int
    votes: dict[str, int]


class ProofOut(Schema):
    answer: list[str]
    because: str
    steps: list[str]
    mistakes: list[RoomMistakeOut]
    shows: WrongOut | None


class WallOut(Schema):
    """The same on the wall. spread and proof are null until they are shown."""

    id: int
    engine_id: int
    version: int
    engine_name: str
    kind: str
    asks: str
    several: bool
    options: list[ChoiceOut]
    sheet: list[SheetLineOut]
    crank_deg: float
    drawn: bool
    state: str
    seconds_left: float | None
    answered: int
    present: int
    spread: SpreadOut | None
    proof: ProofOut | None

    @staticmethod
    def of(shown: services.OnTheWall) -> dict[str, Any]:
        asked, told = shown.asked, shown.tally
        made, question = asked.made, asked.question
        return {
            "id": made.id,
            "engine_id": made.engine_version.engine_id,
            "version": made.engine_version.number,
            "engine_name": made.engine_version.engine.name,
            **_shown(question),
            "crank_deg": question.crank_deg,
            "drawn": _is_drawn(question),
            "state": asked.state,
            "seconds_left": seconds_left(asked),
            "answered": shown.answered,
            "present": shown.present,
            "spread": told and {"right": told.right, "votes": told.votes},
            "proof": None if told is None or asked.state != "proof" else {
                "answer": list(question.answer),
                "because": question.because,
                "steps": list(question.steps),
                "mistakes": [RoomMistakeOut.made(*one) for one in told.mistakes],
                "shows": WrongOut.told(told.shows),
            },
        }  # fmt: skip


class WallNowOut(Schema):
    """question is null while nothing is asked."""

    cursor: str
    question: WallOut | None

    @staticmethod
    def of(now: services.WallNow) -> dict[str, Any]:
        return {"cursor": now.beat, "question": now.shown and WallOut.of(now.shown)}


class HeardOut(Schema):
    id: int
    kind: str
    asks: str
    engine_name: str
    asked_at: datetime
    answered: int
    right: int
    sure_and_wrong: int

    @staticmethod
    def of(heard: services.Heard) -> dict[str, Any]:
        made, question = heard.made, heard.question
        return {
            "id": made.id,
            "kind": question.kind,
            "asks": question.asks,
            "engine_name": made.engine_version.engine.name,
            "asked_at": made.asked_at,
            "answered": heard.answered,
            "right": heard.right,
            "sure_and_wrong": heard.sure_and_wrong,
        }


class RoomMistakeLine(MistakeOut):
    """Of the last questions: how many answers came of it, and of how many people."""

    says: str
    answers: int
    students: int
    asked: str
    """The question that asks it, to be put again."""
    shown: str
    """Where it is shown, for `{engine}`."""

    @staticmethod
    def line(found: services.RoomMistake) -> dict[str, Any]:
        about = ABOUT[Misconception(found.mistake)]
        return {
            **MistakeOut.of(found.mistake),
            "says": about.says,
            "answers": found.answers,
            "students": found.students,
            "asked": about.asked,
            "shown": about.shown,
        }


class AskedInClass(Schema):
    """mistakes are the commonest of the last questions, to be cured before the next lesson."""

    questions: list[HeardOut]
    mistakes: list[RoomMistakeLine]


MOST_DRAWN = 64
_drawn: dict[int, dict[str, Any]] = {}
"""By question, which never changes: sixty phones ask for it in the same second."""


def _drawing(asked: services.PutQuestion) -> dict[str, Any]:
    made = asked.made
    if made.id not in _drawn:
        if len(_drawn) >= MOST_DRAWN:
            _drawn.clear()
        engine = engines.core_engine(made.engine_version)
        _drawn[made.id] = BareOut.of(engine, asked.question.crank_deg)
    return _drawn[made.id]


def _shown(question: Question) -> dict[str, Any]:
    return {
        "kind": question.kind,
        "asks": question.asks,
        "several": question.several,
        "options": [option._asdict() for option in question.options],
        "sheet": SheetLineOut.all(question),
    }


def _is_drawn(question: Question) -> bool:
    return next((kind.drawn for kind in KINDS if kind.id == question.kind), True)


def seconds_left(asked: services.PutQuestion) -> float | None:
    """Of the count-down; null where it is closed by hand or is over."""
    at = asked.made.closes_at
    if at is None or asked.state != "open":
        return None
    return round((at - timezone.now()).total_seconds(), 1)
