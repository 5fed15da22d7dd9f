"""The shelf of engines, and what the core computes for them.

Engines hold no secrets (clearances of real stands are keys, elsewhere), so everybody who is
signed in may look at them; only people who may teach add them.
"""

import hashlib
import json
from functools import lru_cache
from typing import Any

from django.db import transaction
from django.db.models import OuterRef, QuerySet, Subquery

from edrix.accounts.models import User
from edrix.engines.models import Engine, EngineVersion
from edrix.engines.tables import bench_table
from edrix.errors import FieldFault, InvalidError, NotAllowedError, NotFoundError
from valvetrain.document import DocumentError
from valvetrain.engine import Engine as CoreEngine
from valvetrain.engine_file import read_engine, remarks, write_engine
from valvetrain.sequences import METHODS, Plan, Route, UnknownMethodError, make_plan
from valvetrain.suspicions import suspicions


def shelf() -> QuerySet[EngineVersion]:
    """The newest version of every engine, by name."""
    newest = EngineVersion.objects.filter(engine=OuterRef("engine")).order_by("-number")
    versions = EngineVersion.objects.select_related("engine")
    return versions.filter(id=Subquery(newest.values("id")[:1])).order_by("engine__name", "id")


def get_version(engine_id: int, number: int | None = None) -> EngineVersion:
    """One version of an engine, the newest without a number. Raises NotFoundError."""
    versions = EngineVersion.objects.select_related("engine").filter(engine_id=engine_id)
    if number is not None:
        versions = versions.filter(number=number)
    version = versions.order_by("-number").first()
    if version is None:
        which = f"engine {engine_id}" + (f" in version {number}" if number is not None else "")
        raise NotFoundError(f"There is no {which}; choose one from the shelf.")
    return version


def core_engine(version: EngineVersion) -> CoreEngine:
    return _core_engine(version.content_hash, json.dumps(version.document))


@transaction.atomic
def add_engine(user: User, document: Any) -> tuple[EngineVersion, list[str]]:
    """Puts an engine file on the shelf; also gives what is suspicious about it.

    Raises InvalidError with a fault for each JSON path that is wrong.
    """
    if not user.may_teach:
        raise NotAllowedError("Only people who teach put engines on the shelf.")
    try:
        engine = read_engine(document)
    except DocumentError as refusal:
        faults = [FieldFault(fault.path, fault.problem) for fault in refusal.faults]
        raise InvalidError(f"The engine file cannot be used: {refusal}", faults) from None
    written = write_engine(engine)
    shelved = Engine.objects.create(name=engine.name, created_by=user)
    version = EngineVersion.objects.create(
        engine=shelved,
        number=1,
        document=written,
        content_hash=hashlib.sha256(json.dumps(written, sort_keys=True).encode()).hexdigest(),
        created_by=user,
    )
    return version, [*remarks(document), *suspicions(engine)]


def cycle_json(version: EngineVersion) -> tuple[bytes, str]:
    """The cycle table as JSON and a tag of its content, computed once for each engine."""
    return _cycle_json(version.content_hash, json.dumps(version.document))


def plan(
    version: EngineVersion,
    method: str,
    *,
    start_deg: float = 0.0,
    direction: str = "running",
    min_margin_deg: float = 0.0,
) -> Plan:
    """A route by one school. Raises InvalidError for an unknown school or direction."""
    if direction not in ("running", "reverse"):
        fault = FieldFault("direction", "give running or reverse")
        raise InvalidError("The direction is not known; give running or reverse.", [fault])
    route = Route(
        start_deg=start_deg,
        direction="running" if direction == "running" else "reverse",
        min_margin_deg=min_margin_deg,
    )
    try:
        return make_plan(core_engine(version), method, route)
    except UnknownMethodError as unknown:
        fault = FieldFault("method", f"give one of {', '.join(METHODS)}")
        raise InvalidError(f"The school is not known: {unknown}.", [fault]) from None


@lru_cache(maxsize=256)
def _core_engine(_content_hash: str, document: str) -> CoreEngine:
    return read_engine(json.loads(document))


@lru_cache(maxsize=256)
def _cycle_json(_content_hash: str, document: str) -> tuple[bytes, str]:
    table = bench_table(read_engine(json.loads(document)))
    body = json.dumps(table, separators=(",", ":"), ensure_ascii=False).encode()
    return body, hashlib.sha256(body).hexdigest()[:20]
