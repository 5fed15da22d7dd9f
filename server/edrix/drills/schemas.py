"""Drills as they go over the wire."""

from datetime import datetime
from typing import Any, Literal

from ninja import Schema
from pydantic import Field

from edrix.drills import services
from edrix.drills.models import Drill
from edrix.shapes import In
from valvetrain.drill import ABOUT, Misconception, Question, Wrong, why_wrong


class DrillIn(In):
    engine_id: int
    version: int | None = None
    held: Literal["alone", "class"] = "alone"
    class_id: int | None = None


class AnswerIn(In):
    given: list[str] = Field(max_length=20)


class ScoreIn(In):
    right: bool


class MistakeOut(Schema):
    """A misconception, what it is and how it is cured; empty words where none can be told."""

    mistake: str
    label: str
    cure: str

    @staticmethod
    def of(mistake: str) -> dict[str, str]:
        if mistake not in list(Misconception):
            return {"mistake": "", "label": "", "cure": ""}
        about = ABOUT[Misconception(mistake)]
        return {"mistake": mistake, "label": about.label, "cure": about.cure}


class WrongOut(MistakeOut):
    says: str
    crank_deg: float | None
    """Where the crank shows it."""

    @staticmethod
    def told(wrong: Wrong | None) -> dict[str, Any] | None:
        if wrong is None:
            return None
        return {
            **MistakeOut.of(wrong.mistake), "says": wrong.says, "crank_deg": wrong.crank_deg,
        }  # fmt: skip


class OptionOut(Schema):
    id: str
    says: str
    valve: int | None


class SheetLineOut(Schema):
    """A line of a colleague's sheet, as it was written."""

    valve: int
    cylinder: int
    role: str
    at_deg: float
    leaf: str
    wrote: str
    verdict: str
    did: str

    @staticmethod
    def all(question: Question) -> list[dict[str, Any]]:
        return [line._asdict() for line in question.sheet]


class AskedOut(Schema):
    """answer, because and right are null until the question is answered or revealed."""

    number: int
    kind: str
    crank_deg: float
    asks: str
    options: list[OptionOut]
    several: bool
    answered: bool
    given: list[str]
    right: bool | None
    answer: list[str] | None
    because: str | None
    place: str
    """Where the crank stands, in words; empty where it does not matter."""
    sheet: list[SheetLineOut]
    shown_deg: float | None
    """Where the crank shows the answer, if it is elsewhere; null until it is answered."""
    steps: list[str] | None
    wrong: WrongOut | None
    """Why the answer that was given is wrong."""

    @staticmethod
    def of(asked: services.Asked) -> dict[str, Any]:
        question, given = asked.question, asked.answer
        return {
            "number": asked.number,
            "kind": question.kind,
            "crank_deg": question.crank_deg,
            "asks": question.asks,
            "options": [option._asdict() for option in question.options],
            "several": question.several,
            "answered": given is not None,
            "given": given.given if given else [],
            "right": given.right if given else None,
            "answer": list(question.answer) if given else None,
            "because": question.because if given else None,
            "place": question.place,
            "sheet": SheetLineOut.all(question),
            "shown_deg": question.shown_deg if given else None,
            "steps": list(question.steps) if given else None,
            "wrong": WrongOut.told(why_wrong(question, given.given) if given else None),
        }


class DrillOut(Schema):
    id: int
    title: str
    away: bool
    engine_id: int
    engine_version: int
    engine_name: str
    held: str
    class_id: int | None
    made_at: datetime
    questions: list[AskedOut]

    @staticmethod
    def of(drill: Drill) -> dict[str, Any]:
        return {
            "id": drill.id,
            "title": drill.title,
            "away": drill.put_away_at is not None,
            "engine_id": drill.engine_version.engine_id,
            "engine_version": drill.engine_version.number,
            "engine_name": drill.engine_version.engine.name,
            "held": drill.held,
            "class_id": drill.teaching_class_id,
            "made_at": drill.made_at,
            "questions": [AskedOut.of(asked) for asked in services.asked(drill)],
        }


class ScoreOut(Schema):
    id: int
    title: str
    person: str
    engine_id: int
    engine_name: str
    held: str
    made_at: datetime
    right: int
    answered: int
    questions: int
    away: bool
    """By the person whose drill it is; a class keeps every score."""

    @staticmethod
    def of(drill: Any) -> dict[str, Any]:
        return {
            "id": drill.id,
            "title": drill.title,
            "person": drill.person.display_name,
            "engine_id": drill.engine_version.engine_id,
            "engine_name": drill.engine_version.engine.name,
            "held": drill.held,
            "made_at": drill.made_at,
            "right": drill.right,
            "answered": drill.answered,
            "questions": len(drill.questions),
            "away": drill.put_away_at is not None,
        }
