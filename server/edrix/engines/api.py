"""Engines: the shelf, engine files in and out, cycle tables and route cards."""

import json
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.views.decorators.gzip import gzip_page
from ninja import Query, Router, Status
from ninja.decorators import decorate_view

from edrix.accounts.signed_in import user_of
from edrix.edge import CarefulParser, as_file
from edrix.engines import services
from edrix.engines.schemas import (
    ComparedOut,
    EffectOut,
    EngineAdded,
    EngineRow,
    GapQuery,
    HowTurned,
    MethodOut,
    PatternOut,
    PlanOut,
    PreviewOut,
    RouteQuery,
    SetHereOut,
    SetHereQuery,
    ShimsIn,
    ShimsOut,
    ShimTableOut,
)
from edrix.engines.shims import TypedShim
from edrix.engines.table_schemas import CycleTableOut
from edrix.problems import Problem
from edrix.shapes import Changes
from valvetrain.effect import SetHere
from valvetrain.engine_file import engine_schema
from valvetrain.sequences import About, Compared, Plan

router = Router(tags=["engines"])


@router.get("/engines", response=list[EngineRow], operation_id="listEngines")
def list_engines(request: HttpRequest) -> list[dict[str, Any]]:
    return [EngineRow.of(version) for version in services.shelf()]


@router.patch(
    "/engines/{engine_id}",
    response={204: None, 403: Problem, 404: Problem, 409: Problem, 422: Problem},
    operation_id="changeEngine",
)
def change_engine(request: HttpRequest, engine_id: int, body: Changes) -> Status[None]:
    """Renames an engine, puts it away or brings it back."""
    services.change(user_of(request), engine_id, **body.model_dump())
    return Status(204, None)


@router.delete(
    "/engines/{engine_id}",
    response={204: None, 403: Problem, 404: Problem, 409: Problem},
    operation_id="removeEngine",
)
def remove_engine(request: HttpRequest, engine_id: int) -> Status[None]:
    """Where nothing was made with it."""
    services.remove(user_of(request), engine_id)
    return Status(204, None)


ENGINE_FILE_BODY = {
    "requestBody": {
        "required": True,
        "description": "An edrix-engine/1 file; its JSON Schema is at /api/engine-schema.",
        "content": {"application/json": {"schema": {"type": "object"}}},
    }
}


@router.post(
    "/engines",
    response={201: EngineAdded, 403: Problem, 422: Problem},
    operation_id="addEngine",
    openapi_extra=ENGINE_FILE_BODY,
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
    name = f"engine-{engine_id}-v{found.number}.json"
    return as_file(text.encode(), "application/json", name)


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
    """A route card: stops and valves by one method of sequence."""
    version = services.get_version(engine_id, query.version)
    return services.plan(version, query.method, _how_turned(query))


@router.get("/methods", response=list[MethodOut], operation_id="listMethods")
def list_methods(request: HttpRequest) -> tuple[About, ...]:
    """The methods of sequence in words, in the order in which they are taught."""
    return services.methods()


@router.get(
    "/engines/{engine_id}/methods",
    response={200: list[ComparedOut], 404: Problem, 422: Problem},
    operation_id="compareMethods",
)
def methods(request: HttpRequest, engine_id: int, query: Query[HowTurned]) -> tuple[Compared, ...]:
    """All methods on one engine: what each costs, asks for, and where it fails."""
    version = services.get_version(engine_id, query.version)
    return services.compare(version, _how_turned(query))


def _how_turned(query: HowTurned) -> services.TurnWish:
    return services.TurnWish(
        start_deg=query.start_deg,
        direction=query.direction,
        min_margin_deg=query.min_margin_deg,
        stops=query.stops,
    )


@router.get(
    "/engines/{engine_id}/effect",
    response={200: EffectOut, 404: Problem, 422: Problem},
    operation_id="clearanceEffect",
)
def effect(request: HttpRequest, engine_id: int, query: Query[GapQuery]) -> dict[str, Any]:
    """What one valve does at this clearance, beside what it does at nominal clearance."""
    version = services.get_version(engine_id, query.version)
    return services.clearance_effect(version, query.valve, query.gap, query.unit)


@router.get(
    "/engines/{engine_id}/set-here",
    response={200: SetHereOut, 404: Problem, 422: Problem},
    operation_id="setHere",
)
def set_here(request: HttpRequest, engine_id: int, query: Query[SetHereQuery]) -> SetHere:
    """Sets one valve at this crank angle, and tells its true clearance once on the heel."""
    version = services.get_version(engine_id, query.version)
    return services.set_in_place(version, query.valve, query.gap, query.unit, query.crank_deg)


@router.get(
    "/engines/{engine_id}/shim-tables",
    response={200: list[ShimTableOut], 404: Problem},
    operation_id="shimTables",
)
def shim_tables(
    request: HttpRequest, engine_id: int, version: int | None = None
) -> list[dict[str, Any]]:
    """Measured gap against fitted shim, made for this engine and its spec."""
    return services.shim_tables(services.get_version(engine_id, version))


@router.post(
    "/engines/{engine_id}/shims",
    response={200: ShimsOut, 404: Problem, 422: Problem},
    operation_id="planShims",
)
def plan_shims(
    request: HttpRequest, engine_id: int, body: ShimsIn, version: int | None = None
) -> dict[str, Any]:
    """Which shim each measured valve wants, and how few are bought when shims are moved."""
    typed = [TypedShim(**line.model_dump()) for line in body.valves]
    found = services.get_version(engine_id, version)
    return services.plan_shims(found, typed, body.stock, body.unit, body.prefer)


@router.get("/engine-patterns", response=list[PatternOut], operation_id="enginePatterns")
def engine_patterns(request: HttpRequest) -> list[dict[str, Any]]:
    """Whole engine files to begin a new engine from."""
    return services.engine_patterns()


@router.post(
    "/engine-preview",
    response={200: PreviewOut, 403: Problem},
    operation_id="previewEngine",
    openapi_extra=ENGINE_FILE_BODY,
)
@decorate_view(gzip_page)
def preview(request: HttpRequest) -> HttpResponse:
    """An engine file that is being written: its faults, or what is suspicious and its table."""
    found = services.preview(user_of(request), CarefulParser().parse_body(request))
    return HttpResponse(services.as_json(found), content_type="application/json")


@router.post(
    "/engines/{engine_id}/versions",
    response={201: EngineAdded, 403: Problem, 404: Problem, 409: Problem, 422: Problem},
    operation_id="addEngineVersion",
    openapi_extra=ENGINE_FILE_BODY,
)
def add_version(request: HttpRequest, engine_id: int, based_on: int) -> Status[dict[str, Any]]:
    """A new version of an engine, made from version based_on; what was made with that keeps it."""
    document = CarefulParser().parse_body(request)
    version, warnings = services.add_version(user_of(request), engine_id, document, based_on)
    return Status(201, {"engine": EngineRow.of(version), "warnings": warnings})
