"""Cautions: the lists before and after turning an engine by hand, ticked and kept."""

from datetime import datetime
from typing import Any, Literal

from django.http import HttpRequest
from ninja import Router, Schema, Status
from pydantic import Field

from edrix.accounts.signed_in import user_of
from edrix.problems import Problem
from edrix.safety import own, services
from edrix.safety.models import Opening, OwnLine
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
    closing: list[CautionOut]
    """What is ticked when it is closed up: the other half of every line, and the work."""


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
    defers: str
    current: WorkOpeningOut | None


class OpeningIn(In):
    engine_id: int
    version: int | None = None
    stand_id: int | None = None
    start: str = Field(max_length=20)
    ticked: list[str] = Field(max_length=60)


class ClosingIn(In):
    ticked: list[str] = Field(max_length=60)


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


class OwnLineOut(Schema):
    """everywhere: on the lists of every engine."""

    id: int
    on: Literal["opening", "closing"]
    says: str
    everywhere: bool

    @staticmethod
    def of(line: OwnLine) -> dict[str, Any]:
        return {
            "id": line.id,
            "on": line.on,
            "says": line.says,
            "everywhere": line.engine_id is None,
        }


class OwnLineIn(In):
    on: Literal["opening", "closing"]
    says: str = Field(max_length=200)
    all_engines: bool = False


@router.get(
    "/engines/{engine_id}/own-lines",
    response={200: list[OwnLineOut], **REFUSALS},
    operation_id="listOwnLines",
)
def list_own_lines(request: HttpRequest, engine_id: int) -> list[dict[str, Any]]:
    """The school's own lines on an engine's lists, for instructors."""
    return [OwnLineOut.of(line) for line in own.listed(user_of(request), engine_id)]


@router.post(
    "/engines/{engine_id}/own-lines",
    response={201: OwnLineOut, **REFUSALS},
    operation_id="addOwnLine",
)
def add_own_line(request: HttpRequest, engine_id: int, body: OwnLineIn) -> Status[dict[str, Any]]:
    line = own.add(user_of(request), engine_id, **body.model_dump())
    return Status(201, OwnLineOut.of(line))


@router.delete(
    "/own-lines/{line_id}", response={204: None, **REFUSALS}, operation_id="removeOwnLine"
)
def remove_own_line(request: HttpRequest, line_id: int) -> Status[None]:
    own.take_off(user_of(request), line_id)
    return Status(204, None)


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
