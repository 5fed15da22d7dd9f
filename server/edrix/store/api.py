"""The shim store over HTTP, for people who teach."""

from datetime import datetime
from decimal import Decimal
from typing import Any

from django.http import HttpRequest
from ninja import Router, Schema, Status
from pydantic import Field

from edrix.accounts.signed_in import user_of
from edrix.problems import Problem
from edrix.shapes import In
from edrix.store import services, swaps
from edrix.store.models import Held, ShimMove

router = Router(tags=["store"])
REFUSALS: dict[int, Any] = {403: Problem, 404: Problem, 409: Problem, 422: Problem}
MOST_COUNT = 10_000


class StockOut(Schema):
    """free is what nobody holds back; short is how many are missing to the least stock."""

    id: int
    diameter_mm: Decimal
    size_mm: Decimal
    place: str
    count: int
    held: int
    free: int
    least: int
    short: int

    @staticmethod
    def of(stock: services.Stock) -> dict[str, Any]:
        shim = stock.shim
        return {
            name: getattr(shim, name)
            for name in ("id", "diameter_mm", "size_mm", "place", "count", "least")
        } | {"held": stock.held, "free": stock.free, "short": stock.short}


class StoreMoveOut(Schema):
    """why is in, out, counted, fitted or back."""

    id: int
    size_mm: Decimal
    diameter_mm: Decimal
    why: str
    change: int
    count_after: int
    stand: str | None
    valve: int | None
    note: str
    made_by: str
    made_at: datetime

    @staticmethod
    def of(move: ShimMove) -> dict[str, Any]:
        plain = ("id", "why", "change", "count_after", "valve", "note", "made_at")
        return {name: getattr(move, name) for name in plain} | {
            "size_mm": move.shim.size_mm,
            "diameter_mm": move.shim.diameter_mm,
            "stand": move.stand and move.stand.name,
            "made_by": move.made_by.display_name,
        }


class HeldOut(Schema):
    id: int
    size_mm: Decimal
    stand: str
    valve: int
    returns_mm: Decimal | None
    made_by: str

    @staticmethod
    def of(held: Held) -> dict[str, Any]:
        return {
            "id": held.id,
            "size_mm": held.shim.size_mm,
            "stand": held.stand.name,
            "valve": held.valve,
            "returns_mm": held.returns_mm,
            "made_by": held.made_by.display_name,
        }


class StoreOut(Schema):
    """held is what plans hold back, moves the newest."""

    sizes: list[StockOut]
    held: list[HeldOut]
    moves: list[StoreMoveOut]


class NewSizeIn(In):
    diameter: str = Field(max_length=20)
    size: str = Field(max_length=20)
    count: int = Field(0, ge=0, le=services.MOST_AT_ONCE)
    least: int = Field(0, ge=0, le=MOST_COUNT)
    place: str = Field("", max_length=80)


class SizeChanges(In):
    least: int | None = Field(None, ge=0, le=MOST_COUNT)
    place: str | None = Field(None, max_length=80)


class BookIn(In):
    """Positive is in, negative is out."""

    change: int
    note: str = Field("", max_length=200)


class CountedIn(In):
    """seen is how many the page showed."""

    id: int
    count: int = Field(ge=0, le=MOST_COUNT)
    seen: int = Field(ge=0, le=MOST_COUNT)


class CountIn(In):
    sizes: list[CountedIn] = Field(max_length=2000)


class CountOut(Schema):
    changed: int


class FittedIn(In):
    """took_out: what came out, by micrometer, as typed; blank where nothing did."""

    took_out: str = Field("", max_length=20)


class SeatIn(In):
    stand_id: int
    valve: int
    fitted: str = Field(max_length=20)
    measured: str = Field(max_length=20)
    unit: str = Field("mm", max_length=10)


class StorePlanIn(In):
    diameter: str = Field(max_length=20)
    valves: list[SeatIn] = Field(max_length=400)

    def typed(self) -> list[swaps.TypedSeat]:
        return [swaps.TypedSeat(**seat.model_dump()) for seat in self.valves]


class StandMoveOut(Schema):
    """source is keep, moved (from from_stand's from_valve), store or buy."""

    stand_id: int
    stand: str
    valve: int
    fitted_mm: Decimal
    size_mm: Decimal
    source: str
    clearance_mm: Decimal
    within: bool
    from_stand: str
    from_valve: int | None
    returns_mm: Decimal | None
    """What is left over in the end, and comes back to the store."""


class StorePlanOut(Schema):
    moves: list[StandMoveOut]
    buy_mm: list[Decimal]
    warnings: list[str]

    @staticmethod
    def of(made: swaps.StorePlan) -> dict[str, Any]:
        return {
            "moves": [
                move._asdict() | {"stand_id": move.stand.id, "stand": move.stand.name}
                for move in made.moves
            ],
            "buy_mm": made.buy_mm,
            "warnings": made.warnings,
        }


@router.get("/store", response={200: StoreOut, **REFUSALS}, operation_id="readStore")
def read_store(request: HttpRequest) -> dict[str, Any]:
    user = user_of(request)
    return {
        "sizes": [StockOut.of(stock) for stock in services.store(user)],
        "held": [HeldOut.of(held) for held in services.held_now(user)],
        "moves": [StoreMoveOut.of(move) for move in services.newest_moves(user)],
    }


@router.post("/store/sizes", response={201: StockOut, **REFUSALS}, operation_id="addShimSize")
def add_shim_size(request: HttpRequest, body: NewSizeIn) -> Status[dict[str, Any]]:
    shim = services.add_size(user_of(request), services.TypedSize(**body.model_dump()))
    shim.refresh_from_db()
    return Status(201, StockOut.of(services.Stock(shim, 0)))


@router.patch(
    "/store/sizes/{shim_id}", response={204: None, **REFUSALS}, operation_id="changeShimSize"
)
def change_shim_size(request: HttpRequest, shim_id: int, body: SizeChanges) -> Status[None]:
    services.change_size(user_of(request), shim_id, **body.model_dump())
    return Status(204, None)


@router.post(
    "/store/sizes/{shim_id}/moves",
    response={201: StoreMoveOut, **REFUSALS},
    operation_id="bookShims",
)
def book_shims(request: HttpRequest, shim_id: int, body: BookIn) -> Status[dict[str, Any]]:
    """In or out. A 409 where so many are not free any more."""
    move = services.book(user_of(request), shim_id, body.change, note=body.note)
    return Status(201, StoreMoveOut.of(move))


@router.post("/store/count", response={200: CountOut, **REFUSALS}, operation_id="countShims")
def count_shims(request: HttpRequest, body: CountIn) -> dict[str, int]:
    """What was counted by hand: all of it, or nothing."""
    counted = [services.Counted(one.id, one.count, one.seen) for one in body.sizes]
    return {"changed": services.take_count(user_of(request), counted)}


@router.post("/store/plan", response={200: StorePlanOut, **REFUSALS}, operation_id="planStore")
def plan_shims(request: HttpRequest, body: StorePlanIn) -> dict[str, Any]:
    """Shims for several engines at once; keeps nothing."""
    return StorePlanOut.of(swaps.plan(user_of(request), body.diameter, body.typed()))


@router.post("/store/hold", response={201: StorePlanOut, **REFUSALS}, operation_id="holdStore")
def hold_shims(request: HttpRequest, body: StorePlanIn) -> Status[dict[str, Any]]:
    """Holds back what the plan takes from the store, all of it or nothing."""
    return Status(201, StorePlanOut.of(swaps.hold(user_of(request), body.diameter, body.typed())))


@router.post(
    "/store/held/{held_id}/fitted",
    response={201: StoreMoveOut, **REFUSALS},
    operation_id="fittedShim",
)
def fitted_shim(request: HttpRequest, held_id: int, body: FittedIn) -> Status[dict[str, Any]]:
    """It went into its valve; what came out goes into the box of its measured size."""
    move = services.fitted(user_of(request), held_id, body.took_out)
    return Status(201, StoreMoveOut.of(move))


@router.delete("/store/held/{held_id}", response={204: None, **REFUSALS}, operation_id="letShimGo")
def let_shim_go(request: HttpRequest, held_id: int) -> Status[None]:
    services.let_go(user_of(request), held_id)
    return Status(204, None)
