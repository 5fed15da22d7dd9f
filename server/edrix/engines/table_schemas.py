"""What the Bench is given of an engine, once: its facts, and its cycle table."""

from ninja import Schema


class ArcOut(Schema):
    """A stretch of the cycle: from_deg in [0, 720), to_deg after it (it may exceed 720)."""

    from_deg: float
    to_deg: float


class RoleCycleOut(Schema):
    """Each 720 values, one for every whole degree of the cylinder's own cycle."""

    lift_mm: list[float]
    gap_mm: list[float]
    closing_gap_mm: list[float] | None = None
    """The second gap of valves that are pulled shut."""
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
    """label: what the manual calls it besides its number. cycle: its entry among the table's roles,
    its own role but where a decompressor lifts others of it only."""

    number: int
    cylinder: int
    role: str
    label: str
    cycle: str


class LimitsOut(Schema):
    """What gaps are judged by. says is the spec as the manual prints it, with what the school
    allows where the maker prints one figure; says_other is the same in the other unit."""

    low_mm: float
    high_mm: float
    says: str
    says_other: str
    written_in: str


class SpecOut(LimitsOut):
    role: str
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
    push: str
    """What a hand does before the leaf goes in, as a button says it; empty where nothing."""
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
    second_gap: str
    """What a second gap wants, where valves have one."""


class EngineFacts(Schema):
    name: str
    layout: str
    rotation: str
    measured: str
    turned_with: str
    turning_off: str
    """What is done with that when turning is over."""
    turning_is_on: str
    """How it stands while the engine is turned, within a sentence."""
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
    best_method: str
    """The one that a route begins with: the maker's chart, or the fewest stops at marks."""
    cam_mark_allow_deg: float | None
    """So far off, in crank degrees, a cam mark may stand; null where the file does not say."""
    cam_tooth_deg: float | None
    """A tooth of the cam sprocket in crank degrees; null where the file does not say."""
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


class ClosingCamOut(Schema):
    """The lobe that pulls a valve shut, on the same shaft; its hollow at -y where the valve is open
    furthest."""

    base_mm: float
    x_mm: list[float]
    y_mm: list[float]


class CamOut(Schema):
    """A lobe with its nose along +y where its valve is open furthest, as a closed curve.

    pad_mm: the radius of a round follower, 0 for a flat one; ratio: valve lift for each millimetre
    at the cam; short_mm: how far at most a flat follower stands below its lift, where no lobe of a
    usual size gives it all of that."""

    base_mm: float
    pad_mm: float
    ratio: float
    short_mm: float
    x_mm: list[float]
    y_mm: list[float]
    closing: ClosingCamOut | None = None


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
