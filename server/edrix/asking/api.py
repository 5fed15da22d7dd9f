"""Questions to a class over HTTP: asked and shown by its instructors, answered by its students."""

from typing import Any

from django.http import HttpRequest
from ninja import Router, Status

from edrix.accounts.signed_in import user_of
from edrix.asking import schemas, services
from edrix.problems import Problem

router = Router(tags=["asking"])
REFUSALS: dict[int, Any] = {403: Problem, 404: Problem, 409: Problem, 422: Problem}


@router.get(
    "/question-kinds", response=list[schemas.QuestionKindOut], operation_id="listQuestionKinds"
)
def question_kinds(request: HttpRequest) -> list[dict[str, Any]]:
    """What can be asked, in the order in which a class meets it."""
    return schemas.QuestionKindOut.all()


@router.post(
    "/classes/{class_id}/questions",
    response={201: schemas.WallNowOut, **REFUSALS},
    operation_id="askClass",
)
def ask(request: HttpRequest, class_id: int, body: schemas.QuestionIn) -> Status[dict[str, Any]]:
    """Puts a question on every phone of the class; what was asked before ends."""
    user = user_of(request)
    services.ask(user, class_id, services.NewQuestion(**body.model_dump()))
    return Status(201, schemas.WallNowOut.of(services.wall_now(user, class_id)))


@router.get(
    "/classes/{class_id}/questions",
    response={200: schemas.AskedInClass, **REFUSALS},
    operation_id="listAsked",
)
def list_asked(request: HttpRequest, class_id: int) -> dict[str, Any]:
    """What was asked, and which misconceptions the class makes most."""
    user = user_of(request)
    return {
        "questions": [schemas.HeardOut.of(one) for one in services.heard(user, class_id)],
        "mistakes": [
            schemas.RoomMistakeLine.line(one) for one in services.room_mistakes(user, class_id)
        ],
    }


@router.get(
    "/classes/{class_id}/question",
    response={200: schemas.WallNowOut, 304: None, **REFUSALS},
    operation_id="getWall",
)
def wall(
    request: HttpRequest, class_id: int, after: str = ""
) -> Status[dict[str, Any]] | Status[None]:
    """What is asked now, for the wall; 304 where nothing has changed since the cursor."""
    shown = services.on_the_wall(user_of(request), class_id, after)
    return Status(304, None) if shown is None else Status(200, schemas.WallNowOut.of(shown))


@router.post(
    "/questions/{question_id}/step",
    response={200: schemas.WallNowOut, **REFUSALS},
    operation_id="stepQuestion",
)
def step(request: HttpRequest, question_id: int, body: schemas.StepIn) -> dict[str, Any]:
    """Closes it, shows the spread, shows the proof, or ends it."""
    user = user_of(request)
    made = services.step(user, question_id, body.to)
    return schemas.WallNowOut.of(services.wall_now(user, made.teaching_class_id))


@router.put(
    "/questions/{question_id}/answer",
    response={200: schemas.OwnAnswerOut, **REFUSALS},
    operation_id="answerQuestion",
)
def answer(request: HttpRequest, question_id: int, body: schemas.ClassAnswerIn) -> dict[str, Any]:
    """One's own answer; another one takes its place until the question is closed."""
    _, own = services.answer(user_of(request), question_id, body.given, body.sure)
    return schemas.OwnAnswerOut.of(own)
