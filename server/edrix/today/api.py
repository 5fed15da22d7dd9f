"""Today over HTTP: asked every other second, answered 304 while nothing has changed."""

from typing import Any

from django.http import HttpRequest
from ninja import Router, Status

from edrix.accounts.signed_in import user_of
from edrix.problems import Problem
from edrix.today import schemas, services

router = Router(tags=["today"])
REFUSALS: dict[int, Any] = {403: Problem, 404: Problem, 409: Problem, 422: Problem}


@router.get("/my/now", response={200: schemas.OwnNowOut, 304: None}, operation_id="getMyNow")
def my_now(
    request: HttpRequest, after: str = "", day: bool = True
) -> Status[dict[str, Any]] | Status[None]:
    """What is asked of one, and one's day where day is true; 304 where nothing has changed since
    the cursor."""
    seen = services.own_now(user_of(request), after, with_day=day)
    return Status(304, None) if seen is None else Status(200, schemas.OwnNowOut.of(seen))


@router.get(
    "/classes/{class_id}/now",
    response={200: schemas.ClassNowOut, 304: None, **REFUSALS},
    operation_id="getClassNow",
)
def class_now(
    request: HttpRequest, class_id: int, after: str = ""
) -> Status[dict[str, Any]] | Status[None]:
    """Who is where and how far, whose hand is up; 304 where nothing has changed since."""
    seen = services.class_now(user_of(request), class_id, after)
    return Status(304, None) if seen is None else Status(200, schemas.ClassNowOut.of(seen))


@router.put("/classes/{class_id}/hand", response={204: None, **REFUSALS}, operation_id="raiseHand")
def raise_hand(request: HttpRequest, class_id: int, body: schemas.HandIsUp) -> Status[None]:
    """One's own, up or down."""
    services.raise_hand(user_of(request), class_id, up=body.up)
    return Status(204, None)


@router.delete(
    "/classes/{class_id}/hands/{student_id}",
    response={204: None, **REFUSALS},
    operation_id="lowerHand",
)
def lower_hand(request: HttpRequest, class_id: int, student_id: int) -> Status[None]:
    """Taken down by an instructor who has been there."""
    services.lower_hand(user_of(request), class_id, student_id)
    return Status(204, None)
