"""The stands of the school, for people who teach."""

from datetime import datetime
from decimal import Decimal
from typing import Any, Literal

from django.http import HttpRequest
from ninja import Router, Schema, Status
from pydantic import Field

from edrix.accounts.signed_in import user_of
from edrix.problems import Problem
from edrix.shapes import Changes, In
from edrix.stands import hall
from edrix.stands.hall import Facts
from edrix.workshop import services

router = Router(tags=["workshop"])
REFUSALS: dict[int, Any] = {403: Problem, 404: Problem, 409: Problem, 422: Problem}


class HallStandOut(Schema):
    """state is ready, warm, worked-on or out-of-order, and why says by whom or what. mine: whether
    this person teaches with it, and so reads its logbook."""

    id: int
    name: str
    place: str
    engine_id: int
    engine_version: int
    engine_name: str
    meter_unit: str
    meter: Decimal | None
    cool_h: Decimal
    state: str
    why: str
    warm_until: datetime | None
    adjusted_at: datetime | None
    adjusted_by: str
    classes: list[str]
    mine: bool
    away: bool

    @staticmethod
    def of(one: services.HallStand) -> dict[str, Any]:
        stand = one.stand
        version = stand.engine_version
        return {
            "id": stand.id,
            "name": stand.name,
            "place": stand.place,
            "engine_id": version.engine_id,
            "engine_version": version.number,
            "engine_name": version.engine.name,
            "meter_unit": stand.meter,
            "meter": one.meter,
            "cool_h": stand.cool_h,
            "state": one.state,
            "why": one.why,
            "warm_until": one.warm_until,
            "adjusted_at": stand.adjusted_at,
            "adjusted_by": stand.adjusted_by,
            "classes": one.classes,
            "mine": one.mine,
            "away": stand.put_away_at is not None,
        }


class HallStandIn(In):
    name: str = Field(max_length=80)
    engine_id: int


class MadeOut(Schema):
    id: int


class StandChanges(Changes):
    """What is said of a stand; null stays as it is, an empty out_of_order puts it in order."""

    name: str | None = Field(None, max_length=80)
    place: str | None = Field(None, max_length=80)
    meter: Literal["h", "km"] | None = None
    cool_h: Decimal | None = Field(None, ge=0, le=240, max_digits=5, decimal_places=1)
    out_of_order: str | None = Field(None, max_length=200)


class UseChanges(In):
    away: bool


@router.get("/stands", response={200: list[HallStandOut], **REFUSALS}, operation_id="listHall")
def list_hall(request: HttpRequest) -> list[dict[str, Any]]:
    return [HallStandOut.of(one) for one in services.stands_in_hall(user_of(request))]


@router.post("/stands", response={201: MadeOut, **REFUSALS}, operation_id="createHallStand")
def create_hall_stand(request: HttpRequest, body: HallStandIn) -> Status[dict[str, int]]:
    """A stand that no class uses yet."""
    made = hall.create_in_hall(user_of(request), body.name, body.engine_id)
    return Status(201, {"id": made.id})


@router.patch("/stands/{stand_id}", response={204: None, **REFUSALS}, operation_id="changeStand")
def change_stand(request: HttpRequest, stand_id: int, body: StandChanges) -> Status[None]:
    """Renames a stand, says where and how it is, puts it away or brings it back."""
    hall.change(user_of(request), stand_id, Facts(**body.model_dump()))
    return Status(204, None)


@router.post("/stands/{stand_id}/cold", response={204: None, **REFUSALS}, operation_id="standCold")
def stand_cold(request: HttpRequest, stand_id: int) -> Status[None]:
    """Whoever knows better takes it for cold before its time."""
    hall.is_cold(user_of(request), stand_id)
    return Status(204, None)


@router.delete("/stands/{stand_id}", response={204: None, **REFUSALS}, operation_id="removeStand")
def remove_stand(request: HttpRequest, stand_id: int) -> Status[None]:
    """Where nobody has measured it, or written in its log."""
    services.remove(user_of(request), stand_id)
    return Status(204, None)


@router.put(
    "/classes/{class_id}/stands/{stand_id}",
    response={204: None, **REFUSALS},
    operation_id="useStand",
)
def use_stand(request: HttpRequest, class_id: int, stand_id: int) -> Status[None]:
    """The class begins to use a stand of the hall."""
    hall.use(user_of(request), class_id, stand_id)
    return Status(204, None)


@router.patch(
    "/classes/{class_id}/stands/{stand_id}",
    response={204: None, **REFUSALS},
    operation_id="changeUse",
)
def change_use(
    request: HttpRequest, class_id: int, stand_id: int, body: UseChanges
) -> Status[None]:
    """The class stops using it, or uses it again; the stand stays in the hall."""
    hall.put_by(user_of(request), class_id, stand_id, away=body.away)
    return Status(204, None)
