"""What the engines API takes in and gives out."""

import json
from typing import Any, Literal

from ninja import Schema
from pydantic import Field

from edrix.engines.models import EngineVersion
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


class ArcOut(Schema):
    """A stretch of the cycle: from_deg in [0, 720), to_deg after it (it may exceed 720)."""

    from_deg: float
    to_deg: float


class RoleCycleOut(Schema):
    """Each 720 values, one for every whole degree of the cylinder's own cycle."""

    lift_mm: list[float]
    gap_mm: list[float]
    margin_deg: list[float]
    rocks_forward: list[ArcOut]
    rocks_back: list[ArcOut]


class RoleSays(Schema):
    state: str
    settable: bool
    says: str


class SignsOut(Schema):
    """What followers, push rods, lobes and the thumb on the plug hole tell of the stroke; null
    where this engine has not got it."""

    followers: str | None
    rods: str | None
    lobes: str | None
    air: str


class SegmentOut(Schema):
    """A stretch of the cylinder's cycle within which nothing that is said changes."""

    from_deg: float
    to_deg: float
    stroke: str
    overlap: bool
    roles: dict[str, RoleSays]
    signs: SignsOut


class CylinderOut(Schema):
    cylinder: int
    fire_deg: float
    companion: int | None


class ValveOut(Schema):
    """label: what the manual calls it besides its number."""

    number: int
    cylinder: int
    role: str
    label: str


class LimitsOut(Schema):
    low_mm: float
    high_mm: float
    low_thou: float
    high_thou: float


class SpecOut(LimitsOut):
    role: str
    written_in: str
    lift_mm: float
    running: LimitsOut | None = None
    """The running range of a brake rocker."""
    closing: LimitsOut | None = None
    """The second clearance of a valve that is pulled shut."""


class MarkOut(Schema):
    on: str
    label: str
    deg: float
    means: str
    crank_degs: list[float]
    """Where in the cycle it lines up: a crank mark twice, a cam mark once."""
    pointer: str
    cylinders: list[int]
    clock: int | None


class LookOut(Schema):
    """Something that may be felt or looked at on this engine."""

    name: str
    does: str


class TrainOut(Schema):
    """What works the valves of a role. part is what people call the piece under their hand."""

    kind: str
    part: str
    wiggles: bool
    cam_in_sight: bool
    assumed: bool
    """Whether the file does not say it."""
    bridged: bool
    seat: str
    """Where its screw or shim sits; empty where the file does not say."""


class RotorOut(Schema):
    from_deg: float
    cylinder: int


class TorqueOut(Schema):
    what: str
    written_in: str
    nm: float
    lb_ft: float
    lb_in: float


class ManualOut(Schema):
    """What the manual's page says besides: for whoever stands at the engine."""

    torques: list[TorqueOut]
    parts: list[str]
    tools: list[str]
    interval: str
    turned_one_way: str
    shims: list[str]


class EngineFacts(Schema):
    name: str
    layout: str
    rotation: str
    measured: str
    turned_with: str
    reverse_allowed: bool
    backlash_deg: float
    banks: list[list[int]]
    firing_order: list[int]
    stroke_mm: float | None
    cylinders: list[CylinderOut]
    valves: list[ValveOut]
    specs: list[SpecOut]
    adjusters: dict[str, str]
    """screw, shim or hydraulic for each role; empty where the file says nothing."""
    marks: list[MarkOut]
    notes: str
    valves_called: str
    """What the row of valves is a row of: rockers, buckets, fingers."""
    trains: dict[str, TrainOut]
    looks: list[LookOut]
    rotor: list[RotorOut]
    """Where the rotor points from which crank angle on; empty without a distributor."""
    methods_hidden: dict[str, str]
    """Methods whose sign this engine does not show, with the reason."""
    cam_mark_allow_deg: float | None
    """So far off, in crank degrees, a cam mark may stand; null where the file does not say."""
    manual: ManualOut


class OverlapOut(Schema):
    cylinder: int
    overlap_deg: float | None
    starts_deg: float | None
    centre_deg: float | None
    ends_deg: float | None
    centre_past_tdc_deg: float | None


class EventOut(Schema):
    crank_deg: float
    says: str


class CamOut(Schema):
    """A lobe with its nose along +y where its valve is open furthest, as a closed curve.

    pad_mm: the radius of a round follower, 0 for a flat one; ratio: valve lift for each millimetre
    at the cam."""

    base_mm: float
    pad_mm: float
    ratio: float
    x_mm: list[float]
    y_mm: list[float]


class SectionOut(Schema):
    """One cylinder cut open. to_scale is false where usual proportions stand in for sizes that the
    file does not give."""

    bore_mm: float
    stroke_mm: float
    rod_mm: float
    to_scale: bool
    piston_mm: list[float]
    """How far the piston is below its top at every crank degree."""
    cams: dict[str, CamOut]


class CycleTableOut(Schema):
    engine: EngineFacts
    roles: dict[str, RoleCycleOut]
    segments: list[SegmentOut]
    piston_mm: list[float] | None
    overlaps: list[OverlapOut]
    events: list[EventOut]
    section: SectionOut
    rock_deg: float
    """How far a hand rocks the crank each way."""


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


class ShimTableOut(Schema):
    """new_mm has a row for each gap and a column for each fitted size; null: none reaches."""

    role: str
    low_mm: float
    high_mm: float
    gaps_mm: list[float]
    fitted_mm: list[float]
    new_mm: list[list[float | None]]


class TypedShimIn(In):
    valve: int
    fitted: str = Field(max_length=20)
    measured: str = Field(max_length=20)


class ShimsIn(In):
    """Fitted and stock are millimetres, as shims are made; measured is in unit."""

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
