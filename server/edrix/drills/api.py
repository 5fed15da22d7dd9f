"""Drills: questions about an engine, answered alone or asked of a class."""

from typing import Any

from django.http import HttpRequest
from ninja import Router, Status

from edrix.accounts.signed_in import user_of
from edrix.drills import services
from edrix.drills.schemas import AnswerIn, DrillIn, DrillOut, ScoreIn, ScoreOut
from edrix.problems import Problem
from edrix.shapes import Changes

router = Router(tags=["drills"])
REFUSALS: dict[int, Any] = {403: Problem, 404: Problem, 409: Problem, 422: Problem}


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
