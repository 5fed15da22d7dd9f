"""Cautions: the lists before and after turning an engine by hand, ticked and kept."""

from datetime import datetime
from typing import Any

from django.http import HttpRequest
from ninja import Router, Schema, Status
from pydantic import Field

from edrix.accounts.signed_in import user_of
from edrix.problems import Problem
from edrix.safety import services
from edrix.safety.models import Opening
from edrix.shapes import In

router = Router(tags=["safety"])
REFUSALS: dict[int, Any] = {403: Problem, 404: Problem, 422: Problem}


class CautionOut(Schema):
    id: str
    says: str


class StartOut(Schema):
    start: str
    says: str
    lines: list[CautionOut]


class WorkOpeningOut(Schema):
    id: int
    start: str
    opened: list[CautionOut]
    opened_at: datetime
    closed: list[CautionOut] | None
    closed_at: datetime | None


class CautionsOut(Schema):
    """starts has the likeliest way of starting first; the person chooses."""

    starts: list[StartOut]
    closing: list[CautionOut]
    defers: str
    current: WorkOpeningOut | None


class OpeningIn(In):
    engine_id: int
    version: int | None = None
    stand_id: int | None = None
    start: str = Field(max_length=20)
    ticked: list[str] = Field(max_length=30)


class ClosingIn(In):
    ticked: list[str] = Field(max_length=30)


@router.get(
    "/engines/{engine_id}/cautions",
    response={200: CautionsOut, **REFUSALS},
    operation_id="getCautions",
)
def cautions(
    request: HttpRequest, engine_id: int, version: int | None = None, stand_id: int | None = None
) -> dict[str, Any]:
    """The lists for an engine, and this person's opening of it if there is one today."""
    lists = services.lists_for(engine_id, version)
    now = services.current(user_of(request), engine_id=engine_id, stand_id=stand_id)
    return {**lists, "current": now}


@router.post("/openings", response={201: WorkOpeningOut, **REFUSALS}, operation_id="openForWork")
def open_for_work(request: HttpRequest, body: OpeningIn) -> Status[Opening]:
    """Keeps that the isolation list was ticked."""
    return Status(201, services.open_for_work(user_of(request), **body.model_dump()))


@router.post(
    "/openings/{opening_id}/close",
    response={200: WorkOpeningOut, **REFUSALS},
    operation_id="closeAfterWork",
)
def close_after_work(request: HttpRequest, opening_id: int, body: ClosingIn) -> Opening:
    """Keeps that the closing list was ticked."""
    return services.close_after_work(user_of(request), opening_id, body.ticked)
