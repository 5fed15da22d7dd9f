"""Engines: the shelf, engine files in and out, cycle tables and route cards."""

import json
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.views.decorators.gzip import gzip_page
from ninja import Query, Router, Schema, Status
from ninja.decorators import decorate_view
from pydantic import Field

from edrix.edge import CarefulParser, user_of
from edrix.engines import services
from edrix.engines.models import EngineVersion
from edrix.problems import Problem
from valvetrain.angles import MOST_TYPED_DEG
from valvetrain.engine_file import engine_schema
from valvetrain.sequences import Plan

router = Router(tags=["engines"])


class EngineRow(Schema):
    id: int
    version: int
    name: str
    cylinders: int
    valves: int
    firing_order: list[int]
    layout: str

    @staticmethod
    def of(version: EngineVersion) -> dict[str, Any]:
        document = version.document
        return {
            "id": version.engine_id,
            "version": version.number,
            "name": version.engine.name,
            "cylinders": document["cylinders"],
            "valves": len(document["valves"]),
            "firing_order": document["firing_order"],
            "layout": document["layout"],
        }


class EngineAdded(Schema):
    engine: EngineRow
    warnings: list[str]


class RoleCycleOut(Schema):
    """Each 720 values, one for every whole degree of the cylinder's own cycle."""

    lift_mm: list[float]
    gap_mm: list[float]
    margin_deg: list[float]


class RoleSays(Schema):
    state: str
    settable: bool
    says: str


class SegmentOut(Schema):
    """A stretch of the cylinder's cycle within which nothing that is said changes."""

    from_deg: float
    to_deg: float
    stroke: str
    overlap: bool
    roles: dict[str, RoleSays]


class CylinderOut(Schema):
    cylinder: int
    fire_deg: float
    companion: int | None


class ValveOut(Schema):
    number: int
    cylinder: int
    role: str


class SpecOut(Schema):
    role: str
    low_mm: float
    high_mm: float
    low_thou: float
    high_thou: float
    written_in: str
    lift_mm: float


class MarkOut(Schema):
    on: str
    label: str
    deg: float
    means: str


class EngineFacts(Schema):
    name: str
    layout: str
    rotation: str
    measured: str
    turned_with: str
    reverse_allowed: bool
    firing_order: list[int]
    stroke_mm: float | None
    cylinders: list[CylinderOut]
    valves: list[ValveOut]
    specs: list[SpecOut]
    marks: list[MarkOut]
    notes: str


class OverlapOut(Schema):
    cylinder: int
    overlap_deg: float | None
    starts_deg: float | None
    centre_deg: float | None
    ends_deg: float | None


class CycleTableOut(Schema):
    engine: EngineFacts
    roles: dict[str, RoleCycleOut]
    segments: list[SegmentOut]
    piston_mm: list[float] | None
    overlaps: list[OverlapOut]


class StopOut(Schema):
    stop: int
    crank_deg: float
    turn_deg: float
    cylinders: list[int]
    valves: list[int]
    margin_deg: float | None
    find_by: str


class PlanOut(Schema):
    method: str
    complete: bool
    stops: list[StopOut]
    unset: list[int]
    total_turn_deg: float
    least_margin_deg: float | None
    warnings: list[str]


class RouteQuery(Schema):
    method: str = Field(max_length=40)
    version: int | None = None
    start_deg: float = Field(0.0, ge=-MOST_TYPED_DEG, le=MOST_TYPED_DEG, allow_inf_nan=False)
    direction: str = Field("running", max_length=20)
    min_margin_deg: float = Field(0.0, ge=0, le=360, allow_inf_nan=False)


@router.get("/engines", response=list[EngineRow], operation_id="listEngines")
def list_engines(request: HttpRequest) -> list[dict[str, Any]]:
    return [EngineRow.of(version) for version in services.shelf()]


@router.post(
    "/engines",
    response={201: EngineAdded, 403: Problem, 422: Problem},
    operation_id="addEngine",
    openapi_extra={
        "requestBody": {
            "required": True,
            "description": "An edrix-engine/1 file; its JSON Schema is at /api/engine-schema.",
            "content": {"application/json": {"schema": {"type": "object"}}},
        }
    },
)
def add_engine(request: HttpRequest) -> Status[dict[str, Any]]:
    """Puts an engine file (edrix-engine/1) on the shelf."""
    document = CarefulParser().parse_body(request)
    version, warnings = services.add_engine(user_of(request), document)
    return Status(201, {"engine": EngineRow.of(version), "warnings": warnings})


@router.get("/engine-schema", auth=None, operation_id="engineSchema", response=dict[str, Any])
def schema(request: HttpRequest) -> dict[str, Any]:
    """The JSON Schema of the engine file."""
    return engine_schema()


@router.get(
    "/engines/{engine_id}/file",
    response={200: dict[str, Any], 404: Problem},
    operation_id="getEngineFile",
)
def engine_file(request: HttpRequest, engine_id: int, version: int | None = None) -> HttpResponse:
    """The engine file, to keep or to carry elsewhere."""
    found = services.get_version(engine_id, version)
    text = json.dumps(found.document, indent=2, ensure_ascii=False)
    response = HttpResponse(text, content_type="application/json")
    name = f"engine-{engine_id}-v{found.number}.json"
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


@router.get(
    "/engines/{engine_id}/cycle",
    response={200: CycleTableOut, 404: Problem},
    operation_id="getCycleTable",
)
@decorate_view(gzip_page)
def cycle_table(request: HttpRequest, engine_id: int, version: int | None = None) -> HttpResponse:
    """What the Bench shows at any angle, so that turning the crank needs no further request."""
    found = services.get_version(engine_id, version)
    body, tag = services.cycle_json(found)
    return HttpResponse(body, content_type="application/json", headers={"ETag": f'"{tag}"'})


@router.get(
    "/engines/{engine_id}/route",
    response={200: PlanOut, 404: Problem, 422: Problem},
    operation_id="getRoute",
)
def route(request: HttpRequest, engine_id: int, query: Query[RouteQuery]) -> Plan:
    """A route card: stops and valves by one school of sequence."""
    return services.plan(
        services.get_version(engine_id, query.version),
        query.method,
        start_deg=query.start_deg,
        direction=query.direction,
        min_margin_deg=query.min_margin_deg,
    )
