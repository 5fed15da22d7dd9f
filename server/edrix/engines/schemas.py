"""What the engines API takes in and gives out."""

import json
from typing import Any, Literal

from ninja import Schema
from pydantic import Field

from edrix.engines.models import EngineVersion
from edrix.engines.table_schemas import CycleTableOut
from edrix.shapes import In
from valvetrain.angles import MOST_TYPED_DEG


class EngineRow(Schema):
    id: int
    version: int
    name: str
    cylinders: int
    valves: int
    firing_order: list[int]
    layout: str
    shims: bool
    """Whether any of its valves are set by shims."""
    away: bool

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
            "shims": '"kind": "shim"' in json.dumps(document.get("adjuster")),
            "away": version.engine.put_away_at is not None,
        }


class EngineAdded(Schema):
    engine: EngineRow
    warnings: list[str]


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
    if_overshot: str


class HowTurned(Schema):
    version: int | None = None
    start_deg: float = Field(0.0, ge=-MOST_TYPED_DEG, le=MOST_TYPED_DEG, allow_inf_nan=False)
    direction: str = Field("running", max_length=20)
    min_margin_deg: float = Field(0.0, ge=0, le=360, allow_inf_nan=False)
    stops: str = Field("any", max_length=10)


class RouteQuery(HowTurned):
    method: str = Field(max_length=40)


class NeedOut(Schema):
    what: str
    met: bool | None


class OffHeelOut(Schema):
    valve: int
    crank_deg: float
    margin_deg: float


class MethodOut(Schema):
    """A method in words: title is what people call it, recognise what they must be able to tell."""

    name: str
    title: str
    about: str
    recognise: str


class ComparedOut(Schema):
    plan: PlanOut
    recognise: str
    needs: list[NeedOut]
    worst: OffHeelOut | None
    says: str
    offered: bool
    """Whether the sign that it goes by exists on this engine."""


class GapQuery(Schema):
    """A valve and a gap for it, as typed."""

    valve: int
    gap: str = Field(max_length=40)
    unit: Literal["mm", "thou"] = "mm"
    version: int | None = None


class SetHereQuery(GapQuery):
    crank_deg: float = Field(ge=-MOST_TYPED_DEG, le=MOST_TYPED_DEG, allow_inf_nan=False)


class OpeningOut(Schema):
    clearance_mm: float
    opens_cycle_deg: float
    closes_cycle_deg: float
    duration_deg: float
    lift_mm: float


class CurveOut(Schema):
    """Arrays of one length over a stretch of the valve's own cycle, which may exceed 720."""

    cycle_deg: list[float]
    gap_mm: list[float]
    lift_mm: list[float]


class EffectOut(Schema):
    nominal: OpeningOut
    changed: OpeningOut | None
    nominal_curve: CurveOut
    changed_curve: CurveOut
    says: list[str]


class SetHereOut(Schema):
    crank_deg: float
    margin_deg: float
    set_mm: float
    true_mm: float
    says: str


class PatternOut(Schema):
    id: str
    says: str
    document: dict[str, Any]


class FaultOut(Schema):
    path: str
    problem: str


class PreviewOut(Schema):
    """The table is null while there are faults."""

    faults: list[FaultOut]
    warnings: list[str]
    table: CycleTableOut | None


class BandOut(Schema):
    """Measured gaps that ask for the same shims; both ends belong to it."""

    from_mm: float
    to_mm: float
    says: str
    """The figures of a gauge that lie in it, in the unit of the table."""


class ShimTableOut(Schema):
    """new_mm has a row for each band and a column for each fitted size; null: none reaches.
    gap is opening, or closing of valves that are pulled shut."""

    role: str
    gap: str
    unit: str
    """Of the gaps down the side: that of the spec."""
    says: str
    """The spec as it is printed."""
    says_other: str
    """The same in the other unit."""
    low_mm: float
    high_mm: float
    bands: list[BandOut]
    fitted_mm: list[float]
    new_mm: list[list[float | None]]


class TypedShimIn(In):
    valve: int
    fitted: str = Field(max_length=20)
    measured: str = Field(max_length=20)
    closing_fitted: str = Field("", max_length=20)
    closing_measured: str = Field("", max_length=20)


class ShimsIn(In):
    """Fitted and stock are millimetres, as shims are made, or what is stamped on them where the
    engine's shims have codes; measured is in unit. A valve with a blank figure is left out."""

    valves: list[TypedShimIn] = Field(max_length=200)
    stock: list[str] = Field(default_factory=list, max_length=1000)
    unit: Literal["mm", "thou"] = "mm"
    prefer: Literal["middle", "loose", "tight"] = "middle"


class ShimChoiceOut(Schema):
    size_mm: float
    clearance_mm: float
    within: bool


class ShimAdviceOut(Schema):
    valve: int
    sum: str
    wanted_mm: float
    choose_mm: float | None
    clearance_mm: float | None
    choices: list[ShimChoiceOut]
    verdict: str
    warnings: list[str]
    closing: "ShimAdviceOut | None"
    """Of a valve that is pulled shut: the shim that is changed first."""
    opening_gap_mm: float | None
    """What the opening gap then is; null where no closing shim was given."""
    says: list[str]
    """The arithmetic of both, step by step."""


class UnplannedOut(Schema):
    valve: int
    why: str


class ShimMoveOut(Schema):
    valve: int
    size_mm: float
    source: str
    clearance_mm: float
    within: bool


class SwapOut(Schema):
    moves: list[ShimMoveOut]
    buy_mm: list[float]
    left_over_mm: list[float]
    warnings: list[str]


class ShimsOut(Schema):
    valves: list[ShimAdviceOut]
    swap: SwapOut
    closing_swap: SwapOut | None
    left_out: list[UnplannedOut]
