"""One four-stroke engine as the valve-clearance job sees it: frozen, and valid once built.

Build engines with `engine_file.read_engine`, which checks every field and every relation
between fields. Angles are crank degrees, lengths are millimetres unless the name says
otherwise. A clearance keeps the figures and the unit that the file was written in.

Small records are named tuples: a dataclass takes 1.5 ms to make at every start, and
`edrix calc` is called by scripts.
"""

from dataclasses import dataclass, field, replace
from decimal import Decimal
from enum import StrEnum
from functools import cached_property
from typing import Any, Literal, NamedTuple

from valvetrain.adjusters import UNSTATED, Adjuster
from valvetrain.angles import CYCLE_DEG, TURN_DEG, apart_deg, normalise_deg
from valvetrain.constants import COMPANION_DEG, SHOP_TOLERANCE_MM, SHOP_TOLERANCE_THOU
from valvetrain.manual import CamDrive, Ignition, Interval, Torque
from valvetrain.units import Unit, to_mm, to_record_mm


class Role(StrEnum):
    INTAKE = "intake"
    EXHAUST = "exhaust"
    BRAKE = "brake"


class Events(NamedTuple):
    """When a valve is open at nominal clearance, on its cylinder's cycle.

    opens_cycle_deg lies in [0, 720); closes_cycle_deg is the next closing after it, so it
    may exceed 720. written_as keeps the way the file gave it: relative to the dead
    centres, or as cycle angles.
    """

    opens_cycle_deg: float
    closes_cycle_deg: float
    written_as: Literal["dead-centres", "cycle"]

    @property
    def duration_deg(self) -> float:
        return self.closes_cycle_deg - self.opens_cycle_deg

    @property
    def middle_cycle_deg(self) -> float:
        return normalise_deg((self.opens_cycle_deg + self.closes_cycle_deg) / 2)


class ValveTrain(StrEnum):
    """What lies between a cam and its valve, as an engine file names it."""

    PUSHROD = "pushrod-rocker"
    ROCKER = "overhead-rocker"
    FINGER = "finger"
    BUCKET = "bucket"
    SIDE_VALVE = "side-valve"
    POSITIVE = "positive-closing"


class Spread(NamedTuple):
    """An allowed range, in the unit of the spec it belongs to, as it is printed."""

    low: Decimal
    high: Decimal
    nominal: Decimal | None = None
    """Set where the maker gives a nominal figure with tolerances instead of two limits."""
    stated: bool = True
    """Whether the maker gives limits; a bare nominal figure has none."""

    @property
    def is_single(self) -> bool:
        """One figure, and nothing said of how far off it may be."""
        return self.low == self.high and not (self.nominal is not None and self.stated)


class ShopTolerance(NamedTuple):
    """How far a school lets a gap lie from a spec of one figure, by the unit that it is in.

    No such figure is exact to the micrometre; makers that give no tolerance leave it to the shop.
    Common practice, and told beside every verdict that rests on it.
    """

    mm: Decimal = SHOP_TOLERANCE_MM
    thou: Decimal = SHOP_TOLERANCE_THOU

    def of(self, unit: Unit) -> Decimal:
        """In that unit."""
        return self.mm if unit is Unit.MM else self.thou


class Clearance(NamedTuple):
    """The spec of one role: the allowed gap, and for a brake rocker its running range, which is
    another gap, measured as running_measured says.

    spread is as printed; low_mm and high_mm are the limits that gaps are judged by.
    """

    unit: Unit
    spread: Spread
    running: Spread | None = None
    running_measured: str = ""
    shop: ShopTolerance = ShopTolerance()

    @property
    def shop_tolerance(self) -> Decimal:
        """What the shop adds on either side, in the spec's unit: 0 where the maker gives limits."""
        if not self.spread.is_single:
            return Decimal(0)
        return min(self.shop.of(self.unit), self.spread.low)

    @property
    def nominal_mm(self) -> Decimal | None:
        """The one figure that is printed; None where limits are."""
        return to_mm(self.spread.low, self.unit) if self.spread.is_single else None

    @property
    def low_mm(self) -> Decimal:
        return to_mm(self.spread.low - self.shop_tolerance, self.unit)

    @property
    def high_mm(self) -> Decimal:
        return to_mm(self.spread.high + self.shop_tolerance, self.unit)

    @property
    def printed(self) -> str:
        """As the manual has it: `0.20–0.30 mm`, `6 thou`."""
        low, high = _printed(self.spread.low, self.unit), _printed(self.spread.high, self.unit)
        return f"{low} {self.unit}" if low == high else f"{low}–{high} {self.unit}"

    @property
    def limits(self) -> str:
        """What gaps are judged by, in the spec's unit: `0.20–0.30 mm`, `5–7 thou`."""
        allowed = self.shop_tolerance
        low = _printed(self.spread.low - allowed, self.unit)
        high = _printed(self.spread.high + allowed, self.unit)
        return f"{low} {self.unit}" if low == high else f"{low}–{high} {self.unit}"

    @property
    def shop_words(self) -> str:
        """What a verdict on a single figure rests on; empty where the maker gives limits."""
        if not self.spread.is_single:
            return ""
        tolerance = f"±{self.shop_tolerance.normalize():f} {self.unit}"
        return (
            f"the maker prints {self.printed} without a tolerance; {tolerance} is this "
            "school's shop tolerance (common practice)"
        )

    @property
    def running_mm(self) -> tuple[Decimal, Decimal] | None:
        """The running range, None where the file gives none."""
        if self.running is None:
            return None
        return to_mm(self.running.low, self.unit), to_mm(self.running.high, self.unit)

    @property
    def middle_mm(self) -> Decimal:
        """The nominal clearance that events and lobes are given for."""
        return (self.low_mm + self.high_mm) / 2


def _printed(figure: Decimal, unit: Unit) -> str:
    """Millimetres with two decimals at least, thou with none that say nothing."""
    plain = f"{figure.normalize():f}"
    hundredths = f"{figure:.2f}"
    return hundredths if unit is Unit.MM and Decimal(hundredths) == figure else plain


class Valve(NamedTuple):
    number: int
    cylinder: int
    role: Role
    label: str = ""
    """What the manual calls it besides its number: left, centre."""


class Geometry(NamedTuple):
    stroke_mm: float
    rod_mm: float
    bore_mm: float | None = None


class Turning(NamedTuple):
    reverse_allowed: bool = True
    backlash_deg: float = 0.0
    turned_with: str = "crank nut"
    why: str = ""
    """Why one way only."""


class TimingMark(NamedTuple):
    """A line, letter or hole on the crank or a cam that lines up at one place."""

    on: Literal["crank", "cam"]
    label: str
    deg: float
    means: Literal["tdc", "ignition", "pair", "pin", "stop", "other"]
    pointer: str = ""
    """What it lines up with."""
    cylinders: tuple[int, ...] = ()
    """Those that it serves; none where the file does not say."""
    clock: int | None = None
    """Where a cam notch stands then, as the hour hand of a clock, seen from its end."""

    @property
    def lines_up(self) -> str:
        """In words: `crank mark “A” lines up with the notch`, `cam mark “•” lines up with the head
        face, at 12 o'clock`."""
        at = f" with the {self.pointer}" if self.pointer else ""
        clock = f", at {self.clock} o'clock" if self.clock is not None else ""
        return f"{self.on} mark “{self.label}” lines up{at}{clock}"

    def crank_degs(self) -> tuple[float, ...]:
        """Where in the cycle it lines up: a crank mark twice, a cam mark once."""
        if self.on == "cam":
            return (normalise_deg(self.deg),)
        return (self.deg % TURN_DEG, self.deg % TURN_DEG + TURN_DEG)


class Decompressor(NamedTuple):
    role: Role
    opens_cycle_deg: float
    closes_cycle_deg: float
    lift_mm: float
    valves: tuple[int, ...] = ()
    """Those that it lifts; all of its role where the file names none."""


class ChartStop(NamedTuple):
    crank_deg: float
    valves: tuple[int, ...]


class Extra(NamedTuple):
    """A field that is none of ours: where it stands (names and list places), and what it holds."""

    place: tuple[str | int, ...]
    value: Any


Layout = Literal["single", "inline", "parallel-twin", "vee", "flat", "other"]


_ASSUMED_TRAINS = {
    "under-bucket": ValveTrain.BUCKET,
    "over-bucket": ValveTrain.BUCKET,
    "under-follower": ValveTrain.FINGER,
    "pushrod": ValveTrain.PUSHROD,
}
"""By where its screw or shim sits."""


@dataclass(frozen=True)
class Engine:
    """A whole engine; `valves` are in physical order from the front (the free end)."""

    name: str
    cylinders: int
    layout: Layout
    banks: tuple[tuple[int, ...], ...]
    firing_order: tuple[int, ...]
    firing_intervals_deg: tuple[float, ...]
    events: dict[Role, Events]
    lift_mm: dict[Role, float]
    clearance: dict[Role, Clearance]
    valves: tuple[Valve, ...]
    ramp_deg: float = 15.0
    rotation: Literal["clockwise", "counterclockwise"] = "clockwise"
    measured: Literal["cold", "hot"] = "cold"
    turning: Turning = field(default_factory=Turning)
    geometry: Geometry | None = None
    adjusters: dict[Role, Adjuster] = field(default_factory=dict)
    one_adjuster: bool = True
    """Whether the file gave one adjuster for all valves rather than one for each role."""
    decompressor: Decompressor | None = None
    marks: tuple[TimingMark, ...] = ()
    maker_chart: tuple[ChartStop, ...] = ()
    notes: str = ""
    trains: dict[Role, ValveTrain] = field(default_factory=dict)
    """As the file gives them; `train_of` tells what is assumed of the others."""
    one_train: bool = True
    """Whether the file gave one valve train for all valves rather than one for each role."""
    bridges: tuple[Role, ...] = ()
    """Roles whose rockers each work two stems through a bridge."""
    ignition: Ignition | None = None
    closing: dict[Role, Clearance] = field(default_factory=dict)
    """The second clearance of valves that are pulled shut."""
    closing_adjusters: dict[Role, Adjuster] = field(default_factory=dict)
    one_closing_adjuster: bool = True
    cam_drive: CamDrive | None = None
    torques: tuple[Torque, ...] = ()
    parts: tuple[str, ...] = ()
    tools: tuple[str, ...] = ()
    interval: Interval | None = None
    closing_items: tuple[str, ...] = ()
    """Items of the closing list that are this engine's own: O-rings, sealant, cover order."""
    extras: tuple[Extra, ...] = ()
    """Fields of others, whose names begin with x_: kept as they came."""

    @cached_property
    def roles(self) -> tuple[Role, ...]:
        """The roles that its valves use, in the order of the enumeration."""
        used = {valve.role for valve in self.valves}
        return tuple(role for role in Role if role in used)

    @cached_property
    def fire_deg(self) -> dict[int, float]:
        """Crank angle of each cylinder's firing TDC."""
        angles: dict[int, float] = {}
        at_deg = 0.0
        for cylinder, interval_deg in zip(
            self.firing_order, self.firing_intervals_deg, strict=True
        ):
            angles[cylinder] = normalise_deg(at_deg)
            at_deg += interval_deg
        return angles

    @cached_property
    def valve(self) -> dict[int, Valve]:
        return {valve.number: valve for valve in self.valves}

    @cached_property
    def limits_mm(self) -> dict[Role, tuple[Decimal, Decimal]]:
        """The spec of each role as lengths are kept on record."""
        return {
            role: (to_record_mm(spec.low_mm), to_record_mm(spec.high_mm))
            for role, spec in self.clearance.items()
        }

    @cached_property
    def has_single_figures(self) -> bool:
        """Whether any of its specs rests on the shop's tolerance."""
        specs = (*self.clearance.values(), *self.closing.values())
        return any(spec.spread.is_single for spec in specs)

    def in_a_shop(self, shop: ShopTolerance) -> "Engine":
        """The same engine, where gaps are judged by this school's shop tolerance."""
        return replace(
            self,
            clearance={role: spec._replace(shop=shop) for role, spec in self.clearance.items()},
            closing={role: spec._replace(shop=shop) for role, spec in self.closing.items()},
        )

    @cached_property
    def unlifted(self) -> "Engine":
        """The same engine without its decompressor: as the valves have it that it does not lift."""
        return replace(self, decompressor=None)

    def lifts(self, valve: Valve) -> bool:
        """Whether the decompressor acts on this valve."""
        bump = self.decompressor
        if bump is None or bump.role is not valve.role:
            return False
        return not bump.valves or valve.number in bump.valves

    def seen_by(self, valve: Valve) -> "Engine":
        """The engine as one valve has it: without the decompressor where that lifts others only."""
        bump = self.decompressor
        if bump is None or bump.role is not valve.role or self.lifts(valve):
            return self
        return self.unlifted

    def cycle_key(self, valve: Valve) -> str:
        """What its lift over the cycle is known by: valves of one role share it, but for those that
        a decompressor lifts, or leaves alone."""
        return valve.role.value if self.seen_by(valve) is self else f"{valve.role.value} unlifted"

    def train_of(self, role: Role) -> ValveTrain:
        """What works valves of a role: as the file says, else as their adjuster lets expect."""
        return self.trains.get(role) or _ASSUMED_TRAINS.get(
            self.adjuster_of(role).seat, ValveTrain.ROCKER
        )

    def train(self, number: int) -> ValveTrain:
        """The same of one valve."""
        return self.train_of(self.valve[number].role)

    def is_train_assumed(self, role: Role) -> bool:
        return role not in self.trains

    def adjuster_of(self, role: Role) -> Adjuster:
        """How valves of a role are adjusted; UNSTATED where the file does not say."""
        return self.adjusters.get(role, UNSTATED)

    def closing_adjuster_of(self, role: Role) -> Adjuster:
        """How the closing gap of valves that are pulled shut is adjusted."""
        return self.closing_adjusters.get(role, UNSTATED)

    def adjuster(self, number: int) -> Adjuster:
        """The same of one valve."""
        return self.adjuster_of(self.valve[number].role)

    def valves_of(self, cylinder: int) -> tuple[Valve, ...]:
        return tuple(valve for valve in self.valves if valve.cylinder == cylinder)

    def cycle_deg(self, cylinder: int, crank_deg: float) -> float:
        """Where this cylinder stands in its own cycle when the crank is at crank_deg."""
        return normalise_deg(crank_deg - self.fire_deg[cylinder])

    def full_lift_deg(self, valve: Valve) -> float:
        """Crank angle at which a valve is open furthest."""
        middle_deg = self.events[valve.role].middle_cycle_deg
        return normalise_deg(middle_deg + self.fire_deg[valve.cylinder])

    def companion(self, cylinder: int) -> int | None:
        """The cylinder that fires 360 degrees apart, or None where there is none."""
        opposite_deg = self.fire_deg[cylinder] + CYCLE_DEG / 2
        for other in self.firing_order:
            if other != cylinder and apart_deg(self.fire_deg[other], opposite_deg) <= COMPANION_DEG:
                return other
        return None
