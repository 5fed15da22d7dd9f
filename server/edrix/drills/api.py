"""Drills: questions about an engine, answered alone or asked of a class."""

from datetime import datetime
from typing import Any, Literal

from django.http import HttpRequest
from ninja import Router, Schema, Status
from pydantic import Field

from edrix.accounts.signed_in import user_of
from edrix.drills import services
from edrix.drills.models import Drill
from edrix.problems import Problem
from edrix.shapes import Changes, In

router = Router(tags=["drills"])
REFUSALS: dict[int, Any] = {403: Problem, 404: Problem, 409: Problem, 422: Problem}


class DrillIn(In):
    engine_id: int
    version: int | None = None
    held: Literal["alone", "class"] = "alone"
    class_id: int | None = None


class AnswerIn(In):
    given: list[str] = Field(max_length=20)


class ScoreIn(In):
    right: bool


class OptionOut(Schema):
    id: str
    says: str
    valve: int | None


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


@router.post("/drills", response={201: DrillOut, **REFUSALS}, operation_id="startDrill")
def start(request: HttpRequest, body: DrillIn) -> Status[dict[str, Any]]:
    """Deals ten questions about an engine."""
    drill = services.start(user_of(request), **body.model_dump())
    return Status(201, DrillOut.of(drill))


@router.get("/drills", response=list[ScoreOut], operation_id="ownDrills")
def own_drills(request: HttpRequest) -> list[dict[str, Any]]:
    return [ScoreOut.of(drill) for drill in services.own_drills(user_of(request))]


@router.get("/drills/{drill_id}", response={200: DrillOut, **REFUSALS}, operation_id="getDrill")
def get_drill(request: HttpRequest, drill_id: int) -> dict[str, Any]:
    return DrillOut.of(services.own_drill(user_of(request), drill_id))


@router.patch(
    "/drills/{drill_id}", response={200: DrillOut, **REFUSALS}, operation_id="changeDrill"
)
def change_drill(request: HttpRequest, drill_id: int, body: Changes) -> dict[str, Any]:
    """Names one's own drill, puts it away or brings it back."""
    drill = services.change(user_of(request), drill_id, name=body.name, away=body.away)
    return DrillOut.of(drill)


@router.delete("/drills/{drill_id}", response={204: None, **REFUSALS}, operation_id="removeDrill")
def remove_drill(request: HttpRequest, drill_id: int) -> Status[None]:
    """One's own, while nothing in it is answered."""
    services.remove(user_of(request), drill_id)
    return Status(204, None)


@router.post(
    "/drills/{drill_id}/answers/{number}",
    response={200: DrillOut, **REFUSALS},
    operation_id="answerDrill",
)
def answer(request: HttpRequest, drill_id: int, number: int, body: AnswerIn) -> dict[str, Any]:
    """Answers one question, once: the first answer stands."""
    return DrillOut.of(services.answer(user_of(request), drill_id, number, body.given))


@router.post(
    "/drills/{drill_id}/reveal/{number}",
    response={200: DrillOut, **REFUSALS},
    operation_id="revealDrill",
)
def reveal(request: HttpRequest, drill_id: int, number: int) -> dict[str, Any]:
    """Shows the answer of one question to a class."""
    return DrillOut.of(services.reveal(user_of(request), drill_id, number))


@router.put(
    "/drills/{drill_id}/score/{number}",
    response={200: DrillOut, **REFUSALS},
    operation_id="scoreDrill",
)
def score(request: HttpRequest, drill_id: int, number: int, body: ScoreIn) -> dict[str, Any]:
    """Writes down whether the class had a revealed question right."""
    drill = services.score(user_of(request), drill_id, number, right=body.right)
    return DrillOut.of(drill)


@router.get(
    "/classes/{class_id}/drills",
    response={200: list[ScoreOut], **REFUSALS},
    operation_id="classDrills",
)
def class_drills(request: HttpRequest, class_id: int) -> list[dict[str, Any]]:
    """What the students of a class drilled alone, newest first."""
    return [ScoreOut.of(d) for d in services.scores_of_class(user_of(request), class_id)]
