"""Stands and keys, for instructors."""

from datetime import datetime
from decimal import Decimal
from typing import Any

from django.http import HttpRequest
from ninja import Router, Schema, Status
from pydantic import Field

from edrix.accounts.signed_in import user_of
from edrix.engines.services import core_engine
from edrix.problems import Problem
from edrix.shapes import In
from edrix.stands import passes as several
from edrix.stands import services
from edrix.stands.models import Stand
from valvetrain.grading import askable, spec_verdict

router = Router(tags=["stands"])
REFUSALS: dict[int, Any] = {403: Problem, 404: Problem, 409: Problem, 422: Problem}


class StandValve(Schema):
    number: int
    cylinder: int
    role: str
    low_mm: float
    high_mm: float
    closing: bool
    """Whether it is pulled shut, and has a second gap."""


class KeyGapOut(Schema):
    valve: int
    typed: str
    unit: str
    gap_mm: Decimal
    closing_typed: str
    closing_mm: Decimal | None
    uncertainty_mm: Decimal | None
    """Expanded, of this gap; null where the key's own counts."""
    passes: list[str]
    verdict: str
    """tight, within or loose, by the engine's spec."""


class KeyOut(Schema):
    """origin is measured, passes or adjusted; note says by whom."""

    number: int
    made_at: datetime
    made_by: str
    origin: str
    note: str
    uncertainty_mm: Decimal
    gaps: list[KeyGapOut]


class StandOut(Schema):
    id: int
    name: str
    engine_id: int
    engine_version: int
    engine_name: str
    place: str
    away: bool
    """Put away in the hall, or by this class."""
    shared: bool
    """Whether another class uses it, too."""
    stale: bool
    """Whether it was adjusted since its newest key was measured: measure again."""
    adjusted_at: datetime | None
    adjusted_by: str
    asks: list[str]
    """What a sheet of it can ask for besides reading, stop and verdict."""
    valves: list[StandValve]
    key: KeyOut | None

    @staticmethod
    def of(stand: Stand) -> dict[str, Any]:
        engine = core_engine(stand.engine_version)
        newest = next(iter(stand.keys.all()), None)
        return {
            "id": stand.id,
            "name": stand.name,
            "engine_id": stand.engine_version.engine_id,
            "engine_version": stand.engine_version.number,
            "engine_name": stand.engine_version.engine.name,
            "place": stand.place,
            "away": stand.put_away_at is not None or getattr(stand, "unused", None) is not None,
            "shared": len(stand.uses.all()) > 1,
            "stale": newest is not None and services.is_stale(stand, newest),
            "adjusted_at": stand.adjusted_at,
            "adjusted_by": stand.adjusted_by,
            "asks": askable(engine),
            "valves": [
                {
                    "number": valve.number,
                    "cylinder": valve.cylinder,
                    "role": valve.role.value,
                    "low_mm": engine.clearance[valve.role].low_mm,
                    "high_mm": engine.clearance[valve.role].high_mm,
                    "closing": valve.role in engine.closing,
                }
                for valve in engine.valves
            ],
            "key": newest
            and {
                "number": newest.number,
                "made_at": newest.made_at,
                "made_by": newest.made_by.display_name,
                "origin": newest.origin,
                "note": newest.note,
                "uncertainty_mm": newest.uncertainty_mm,
                "gaps": [
                    {
                        "valve": gap.valve,
                        "typed": gap.typed,
                        "unit": gap.unit,
                        "gap_mm": gap.gap_mm,
                        "closing_typed": gap.closing_typed,
                        "closing_mm": gap.closing_mm,
                        "uncertainty_mm": gap.uncertainty_mm,
                        "passes": gap.passes,
                        "verdict": spec_verdict(engine, gap.valve, gap.gap_mm).value,
                    }
                    for gap in newest.gaps.all()
                ],
            },
        }


class NewStand(In):
    name: str = Field(max_length=80)
    engine_id: int


class GapIn(In):
    valve: int
    gap: str = Field(max_length=40)
    unit: str = Field(max_length=10)
    closing: str = Field("", max_length=40)
    """Of a valve that is pulled shut."""

    def typed(self) -> services.TypedGap:
        return services.TypedGap(self.valve, self.gap, self.unit, self.closing)


class KeyIn(In):
    """uncertainty: how far any gap may be off, 95 per cent; blank takes the key as exact.
    confirmed: keep it although some gaps look like slips."""

    gaps: list[GapIn] = Field(max_length=200)
    uncertainty: str = Field("", max_length=20)
    uncertainty_unit: str = Field("mm", max_length=10)
    meter: str = Field("", max_length=20)
    """What the stand's meter read, as typed; blank where nobody looked."""
    confirmed: bool = False

    def typed(self) -> dict[str, Any]:
        """For services.enter_key."""
        return {
            "gaps": [gap.typed() for gap in self.gaps],
            "uncertainty": self.uncertainty,
            "unit": self.uncertainty_unit,
            "meter": self.meter,
            "confirmed": self.confirmed,
        }


class KeySaved(Schema):
    number: int


class PassIn(In):
    """by is who measured; blank is the person who enters it."""

    by: str = Field("", max_length=80)
    gaps: list[GapIn] = Field(max_length=200)


class PassesIn(In):
    """confirmed: keep it although passes of some valves lie apart, or a
    mean looks like a slip."""

    passes: list[PassIn] = Field(max_length=12)
    confirmed: bool = False
    meter: str = Field("", max_length=20)

    def typed(self) -> list[several.TypedPass]:
        return [several.TypedPass(one.by, [gap.typed() for gap in one.gaps]) for one in self.passes]


class PooledGapOut(Schema):
    """uncertainty_mm is expanded; apart: the passes differ by more than scatter."""

    valve: int
    gap_mm: Decimal
    uncertainty_mm: Decimal
    range_mm: Decimal
    apart: bool


class PooledOut(Schema):
    """spread_mm is the deviation of one pass, pooled over all valves; null of a single pass."""

    spread_mm: float | None
    gaps: list[PooledGapOut]


@router.get(
    "/classes/{class_id}/stands",
    response={200: list[StandOut], **REFUSALS},
    operation_id="listStands",
)
def list_stands(request: HttpRequest, class_id: int) -> list[dict[str, Any]]:
    return [StandOut.of(stand) for stand in services.stands_of(user_of(request), class_id)]


@router.post(
    "/classes/{class_id}/stands",
    response={201: StandOut, **REFUSALS},
    operation_id="createStand",
)
def create_stand(request: HttpRequest, class_id: int, body: NewStand) -> Status[dict[str, Any]]:
    made = services.create_stand(user_of(request), class_id, body.name, body.engine_id)
    return Status(201, StandOut.of(made))


@router.post(
    "/stands/{stand_id}/keys", response={201: KeySaved, **REFUSALS}, operation_id="enterKey"
)
def enter_key(request: HttpRequest, stand_id: int, body: KeyIn) -> Status[dict[str, int]]:
    """A new key; older ones stay for the sheets that were set with them. A 409 with `confirm`
    names gaps that look like slips."""
    key = services.enter_key(user_of(request), stand_id, **body.typed())
    return Status(201, {"number": key.number})


@router.post(
    "/stands/{stand_id}/passes/preview",
    response={200: PooledOut, **REFUSALS},
    operation_id="previewPasses",
)
def preview_passes(request: HttpRequest, stand_id: int, body: PassesIn) -> dict[str, Any]:
    """What a key of these passes would be: means, how well each is known, what is far apart."""
    pooled, _ = several.pool(user_of(request), stand_id, body.typed())
    return {
        "spread_mm": pooled.spread_mm,
        "gaps": [{"valve": valve, **gap._asdict()} for valve, gap in pooled.gaps.items()],
    }


@router.post(
    "/stands/{stand_id}/passes", response={201: KeySaved, **REFUSALS}, operation_id="enterPasses"
)
def enter_passes(request: HttpRequest, stand_id: int, body: PassesIn) -> Status[dict[str, int]]:
    """A new key from several passes; older keys stay. A 409 with `confirm` names valves whose
    passes lie apart."""
    key = several.enter_passes(
        user_of(request), stand_id, body.typed(), confirmed=body.confirmed, meter=body.meter
    )
    return Status(201, {"number": key.number})
