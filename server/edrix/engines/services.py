"""The shelf of engines, and what the core computes for them.

Engines hold no secrets (clearances of real stands are keys, elsewhere), so everybody who is
signed in may look at them; only people who may teach add them.
"""

import hashlib
import json
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from django.db import transaction
from django.db.models import OuterRef, QuerySet, Subquery

from edrix import life
from edrix.accounts.models import User
from edrix.engines import shims
from edrix.engines.models import Engine
from edrix.engines.models import EngineVersion as EngineVersion
from edrix.engines.tables import bench_table, plain_curve
from edrix.errors import (
    ConflictError,
    FieldFault,
    InvalidError,
    NotAllowedError,
    NotFoundError,
)
from edrix.names import tidy
from edrix.shop import services as shop
from valvetrain.adjusters import Prefer
from valvetrain.angles import normalise_deg
from valvetrain.document import DocumentError
from valvetrain.effect import SetHere, effect_of, set_here
from valvetrain.engine import Engine as CoreEngine
from valvetrain.engine import ShopTolerance, Valve
from valvetrain.engine_file import read_engine, remarks, write_engine
from valvetrain.patterns import patterns
from valvetrain.sequences import (
    METHODS,
    About,
    Compared,
    Plan,
    Route,
    UnknownMethodError,
    about_methods,
    compare_methods,
    make_plan,
)
from valvetrain.suspicions import suspicions
from valvetrain.units import LengthError, Unit, parse_figure, to_mm

MOST_GAP_MM = 20


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


def ids_by_name() -> dict[str, int]:
    """Engines on the shelf by name, the newest where two are called alike."""
    shelved = Engine.objects.filter(put_away_at__isnull=True).order_by("id")
    return dict(shelved.values_list("name", "id"))


def core_engine(version: EngineVersion, allowed: ShopTolerance | None = None) -> CoreEngine:
    """The engine, its specs of one figure judged by the school's shop tolerance as it is now, or as
    allowed says it was."""
    engine = _core_engine(version.content_hash, json.dumps(version.document))
    if not engine.has_single_figures:
        return engine
    return engine.in_a_shop(shop.tolerance() if allowed is None else allowed)


def add_engine(user: User, document: Any) -> tuple[EngineVersion, list[str]]:
    """Puts an engine file on the shelf; also gives what is suspicious about it.

    Raises InvalidError with a fault for each JSON path that is wrong.
    """
    if not user.may_teach:
        raise NotAllowedError("Only people who teach put engines on the shelf.")
    engine = readable(document)
    with transaction.atomic():
        shelved = Engine.objects.create(name=engine.name, created_by=user)
        version = _new_version(user, shelved, 1, write_engine(engine))
    return version, [*remarks(document), *suspicions(engine)]


def add_version(
    user: User, engine_id: int, document: Any, based_on: int
) -> tuple[EngineVersion, list[str]]:
    """A new version of an engine. Sheets, stands and drills keep the version they were made with.

    Raises ConflictError when version based_on is no longer the newest: somebody else has
    changed the engine meanwhile, and theirs would be lost. The same file again makes no new
    version.
    """
    _may_change(user)
    engine = readable(document)
    written = write_engine(engine)
    with transaction.atomic():
        shelved = Engine.objects.select_for_update().filter(id=engine_id).first()
        newest = get_version(engine_id)
        if shelved is None or newest.content_hash == content_hash(written):
            return newest, [*remarks(document), *suspicions(engine)]
        if newest.number != based_on:
            raise ConflictError(
                f"{newest.engine.name} is in version {newest.number} by now; you began from "
                f"version {based_on}. Open the newest and put your changes into it."
            )
        version = _new_version(user, shelved, newest.number + 1, written)
        shelved.name = engine.name
        shelved.save(update_fields=["name"])
    return version, [*remarks(document), *suspicions(engine)]


@transaction.atomic
def change(
    user: User, engine_id: int, *, name: str | None = None, away: bool | None = None
) -> None:
    """Renames it, puts it away or brings it back; None stays as it is. The name is a line of the
    engine's file, so this makes a new version of it. Whatever was made with what is put away goes
    on."""
    _may_change(user)
    newest = get_version(engine_id)
    if name is not None:
        written = newest.document | {"name": tidy(name, "The engine has no name.")}
        add_version(user, engine_id, written, newest.number)
    life.put_away(newest.engine, away=away)


def remove(user: User, engine_id: int) -> None:
    """Takes an engine off the shelf for good. Raises ConflictError where it is in use."""
    _may_change(user)
    engine = get_version(engine_id).engine
    life.remove(engine, engine.name, EngineVersion.objects.filter(engine=engine))


def _may_change(user: User) -> None:
    if not user.may_teach:
        raise NotAllowedError("Only people who teach change engines.")


def preview(user: User, document: Any) -> dict[str, Any]:
    """An engine file while it is written; see `schemas.PreviewOut` for the keys."""
    if not user.may_teach:
        raise NotAllowedError("Only people who teach write engines.")
    try:
        engine = read_engine(document)
    except DocumentError as refusal:
        return {"faults": [f._asdict() for f in refusal.faults], "warnings": [], "table": None}
    engine = engine.in_a_shop(shop.tolerance())
    warnings = [*remarks(document), *suspicions(engine)]
    return {"faults": [], "warnings": warnings, "table": bench_table(engine)}


def engine_patterns() -> list[dict[str, Any]]:
    return [pattern._asdict() for pattern in patterns()]


def cycle_json(version: EngineVersion) -> tuple[bytes, str]:
    """The cycle table as JSON and a tag of its content, computed once for each engine."""
    written = json.dumps(version.document)
    has_single = _core_engine(version.content_hash, written).has_single_figures
    allowed = shop.tolerance() if has_single else ShopTolerance()
    return _cycle_json(version.content_hash, written, allowed)


@dataclass(frozen=True, slots=True)
class TurnWish:
    """A route as asked for, in the words of the request."""

    start_deg: float = 0.0
    direction: str = "running"
    min_margin_deg: float = 0.0
    stops: str = "any"


def plan(version: EngineVersion, method: str, turned: TurnWish | None = None) -> Plan:
    """A route by one method. Raises InvalidError for an unknown method, direction or stops."""
    route = _route(turned or TurnWish())
    try:
        return make_plan(core_engine(version), method, route)
    except UnknownMethodError as unknown:
        fault = FieldFault("method", f"give one of {', '.join(METHODS)}")
        raise InvalidError(f"The method is not known: {unknown}.", [fault]) from None


def methods() -> tuple[About, ...]:
    """Every method of sequence in words, in the order in which they are taught."""
    return about_methods()


def compare(version: EngineVersion, turned: TurnWish) -> tuple[Compared, ...]:
    return compare_methods(core_engine(version), _route(turned))


def clearance_effect(version: EngineVersion, number: int, gap: str, unit: str) -> dict[str, Any]:
    """See `schemas.EffectOut` for the keys."""
    engine = core_engine(version)
    valve, gap_mm = _valve_of(engine, number), _gap_mm(gap, unit)
    effect = effect_of(engine, valve, gap_mm)
    return {
        "nominal": effect.nominal._asdict(),
        "changed": effect.changed and effect.changed._asdict(),
        "nominal_curve": plain_curve(effect.nominal_curve),
        "changed_curve": plain_curve(effect.changed_curve),
        "says": list(effect.says),
    }


def set_in_place(
    version: EngineVersion, number: int, gap: str, unit: str, crank_deg: float
) -> SetHere:
    engine = core_engine(version)
    return set_here(engine, _valve_of(engine, number), normalise_deg(crank_deg), _gap_mm(gap, unit))


def shim_tables(version: EngineVersion) -> list[dict[str, Any]]:
    """Raises NotFoundError for an engine without shims."""
    engine = core_engine(version)
    if not shims.shim_roles(engine):
        raise NotFoundError(f"{engine.name} has no shims; its valves are set by a screw.")
    return shims.tables(engine)


def plan_shims(
    version: EngineVersion,
    typed: list[shims.TypedShim],
    stock: list[str],
    unit: str,
    prefer: Prefer,
) -> dict[str, Any]:
    """See `shims.plan`."""
    return shims.plan(core_engine(version), typed, stock, unit, prefer)


def as_json(table: dict[str, Any]) -> bytes:
    # A fault may show half of a character that was given; it cannot be written as UTF-8.
    text = json.dumps(table, separators=(",", ":"), ensure_ascii=False)
    return text.encode(errors="replace")


def _route(turned: TurnWish) -> Route:
    if turned.direction not in ("running", "reverse"):
        fault = FieldFault("direction", "give running or reverse")
        raise InvalidError("The direction is not known; give running or reverse.", [fault])
    if turned.stops not in ("any", "marks"):
        fault = FieldFault("stops", "give any or marks")
        raise InvalidError("The kind of stops is not known; give any or marks.", [fault])
    return Route(
        start_deg=turned.start_deg,
        direction="running" if turned.direction == "running" else "reverse",
        min_margin_deg=turned.min_margin_deg,
        marks_only=turned.stops == "marks",
    )


def _valve_of(engine: CoreEngine, number: int) -> Valve:
    if number not in engine.valve:
        known = ", ".join(str(n) for n in list(engine.valve)[:12])
        raise InvalidError(
            f"This engine has no valve {number}; it has {known}.",
            [FieldFault("valve", "choose a valve of this engine")],
        )
    return engine.valve[number]


def _gap_mm(gap: str, unit: str) -> float:
    try:
        gap_mm = to_mm(parse_figure(gap), Unit(unit))
    except LengthError as fault:
        raise InvalidError(
            f"The gap cannot be read: {fault}.", [FieldFault("gap", str(fault))]
        ) from None
    if not 0 <= gap_mm <= MOST_GAP_MM:
        raise InvalidError(
            f"The gap is {gap} {unit}; give one from 0 to {MOST_GAP_MM} mm.",
            [FieldFault("gap", f"give 0 to {MOST_GAP_MM} mm")],
        )
    return float(gap_mm)


def readable(document: Any) -> CoreEngine:
    try:
        return read_engine(document)
    except DocumentError as refusal:
        faults = [FieldFault(fault.path, fault.problem) for fault in refusal.faults]
        raise InvalidError(f"The engine file cannot be used: {refusal}", faults) from None


def _new_version(
    user: User, shelved: Engine, number: int, written: dict[str, Any]
) -> EngineVersion:
    return EngineVersion.objects.create(
        engine=shelved,
        number=number,
        document=written,
        content_hash=content_hash(written),
        created_by=user,
    )


def content_hash(written: dict[str, Any]) -> str:
    return hashlib.sha256(json.dumps(written, sort_keys=True).encode()).hexdigest()


@lru_cache(maxsize=256)
def _core_engine(_content_hash: str, document: str) -> CoreEngine:
    return read_engine(json.loads(document))


@lru_cache(maxsize=256)
def _cycle_json(_content_hash: str, document: str, allowed: ShopTolerance) -> tuple[bytes, str]:
    table = bench_table(read_engine(json.loads(document)).in_a_shop(allowed))
    body = as_json(table)
    return body, hashlib.sha256(body).hexdigest()[:20]
