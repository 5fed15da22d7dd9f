"""What a practice engine hides: true clearances, each rocker's ways, planted faults.

A setup is dealt once from a seed and never changes; nothing of it may reach a student before
the end. Clearances here are as they stand with the lock nut tight, on a cold engine.
"""

import random
from collections.abc import Iterable
from dataclasses import dataclass, replace
from decimal import Decimal
from enum import StrEnum
from functools import cached_property
from typing import Literal, NamedTuple

from valvetrain.adjusters import Adjuster
from valvetrain.angles import TURN_DEG
from valvetrain.constants import UM_PER_MM
from valvetrain.engine import Clearance, Engine, Role, TimingMark, Valve
from valvetrain.errors import RefusedError
from valvetrain.lobe import Lobe, lobe_of
from valvetrain.looks import GEAR
from valvetrain.practice.boxes import BOXES, StepLeaf, angled_leaves, blocks_um
from valvetrain.practice.constants import (
    BENT_ROD_THREAD_MM,
    BOX_OF_EACH,
    CLEAR_MM,
    CREEP_MM,
    FALSE_MARK_DEG,
    HALF_TOOTH_DEG,
    HOLLOW_MM,
    LEAST_OVER_PAD_MM,
    PLANTED_BUMP,
    RECEDED_MM,
    SHIMS_FROM,
    SHIMS_SPAN,
    SLACK_MM,
    STRAY_MM,
    THREAD_MM,
)


class SetupError(RefusedError):
    """A practice engine that cannot be: says why, and what would do."""


class FaultKind(StrEnum):
    WRONG_SETTING = "wrong-setting"
    WRONG_CLOSING = "wrong-closing"
    WORN_BRAKE = "worn-brake"
    BENT_PUSH_ROD = "bent-push-rod"
    WORN_STAMP = "worn-stamp"
    SEIZED_NUT = "seized-nut"
    RECEDING = "receding-valve"
    WORN_PAD = "worn-pad"
    HALF_TOOTH = "half-tooth"
    WARM = "warm-engine"
    FALSE_MARK = "false-mark"
    ROD_SLACK = "rod-slack"
    HANGING_FOLLOWER = "hanging-follower"
    HARD_REACH = "hard-reach"
    DECOMPRESSOR = "decompressor"


ON_A_VALVE = frozenset(FaultKind) - {
    FaultKind.HALF_TOOTH,
    FaultKind.WARM,
    FaultKind.FALSE_MARK,
    FaultKind.DECOMPRESSOR,
}
ON_A_SCREW = frozenset({FaultKind.BENT_PUSH_ROD, FaultKind.SEIZED_NUT, FaultKind.WORN_PAD})


class PlantedFault(NamedTuple):
    kind: FaultKind
    valve: int | None = None


Level = Literal["shown", "prompted", "alone", "test"]


class Hidden(NamedTuple):
    """One valve as it is dealt. shim_um is None where it has a screw.

    closing_mm and closing_um are the gap and the shim of a rocker that pulls it shut, None where
    there is none. A brake's running gap is running_mm while its lash is clearance_mm, and moves
    with it: one rocker's proves nothing of another's.
    """

    clearance_mm: float
    creep_mm: float
    thread_mm: float
    hollow_mm: float = 0.0
    seized: bool = False
    shim_um: int | None = None
    stamp_worn: bool = False
    running_mm: float | None = None
    closing_mm: float | None = None
    closing_um: int | None = None
    slack_mm: float = 0.0
    """What its push rod or follower takes of the gap until it is pressed down or lifted."""
    hard_reach: bool = False
    """Whether no straight leaf gets in."""


@dataclass(frozen=True)
class Setup:
    """One practice engine as an instructor made it."""

    engine: Engine
    seed: int
    faults: tuple[PlantedFault, ...]
    hidden: tuple[Hidden, ...]
    """In the order of engine.valves."""
    leaves_um: tuple[int, ...]
    """The leaves in the box, each once; with thickness blocks where the engine needs them."""
    level: Level = "alone"
    stack_help: bool = False
    bridged: bool | None = None
    """Whether rockers work their valves through bridges; None: as the engine file says."""
    steps_um: tuple[StepLeaf, ...] = ()
    """Step leaves in the box."""
    angled_um: tuple[int, ...] = ()
    """Leaves that are bent to 45 degrees."""
    start_deg: float | None = None
    """Where the crank stands at first; None: dealt by the seed."""
    box: str = "metric"
    """The name of the box, in `BOXES`."""

    @cached_property
    def kinds(self) -> frozenset[FaultKind]:
        return frozenset(fault.kind for fault in self.faults)

    @cached_property
    def place(self) -> dict[int, int]:
        """Each valve number's place in `engine.valves`, and so in `hidden` and the seats."""
        return {valve.number: index for index, valve in enumerate(self.engine.valves)}

    @cached_property
    def bridged_roles(self) -> frozenset[Role]:
        """Roles whose rockers work two stems through a bridge, which tips under a leaf that lies on
        one side of it only. A brake rocker presses on its own."""
        if self.bridged is None or (self.bridged and self.engine.bridges):
            return frozenset(self.engine.bridges)
        return frozenset({Role.INTAKE, Role.EXHAUST} if self.bridged else ())

    def leaves_at(self, valve: int) -> tuple[int, ...]:
        """The leaves of the box that reach the gap of this valve."""
        hard = self.hidden[self.place[valve]].hard_reach and self.angled_um
        return self.angled_um if hard else self.leaves_um

    def is_bridged(self, valve: int) -> bool:
        return self.engine.valve[valve].role in self.bridged_roles

    @cached_property
    def lobes(self) -> dict[int, Lobe]:
        """By valve number: a decompressor may lift but some of a role."""
        turned = self.as_turned
        made = {
            turned.cycle_key(valve): lobe_of(turned.seen_by(valve), valve.role)
            for valve in turned.valves
        }
        return {valve.number: made[turned.cycle_key(valve)] for valve in turned.valves}

    @cached_property
    def as_turned(self) -> Engine:
        """The engine as it behaves when it is turned by hand."""
        if FaultKind.DECOMPRESSOR not in self.kinds:
            return self.engine
        return replace(self.engine, decompressor=PLANTED_BUMP)

    @cached_property
    def marks(self) -> tuple[TimingMark, ...]:
        """The marks as they are found: a false one says dead centre where the spark comes."""
        if FaultKind.FALSE_MARK not in self.kinds:
            return self.engine.marks
        return tuple(
            mark._replace(deg=(mark.deg - FALSE_MARK_DEG) % TURN_DEG) if _is_false(mark) else mark
            for mark in self.engine.marks
        )

    @cached_property
    def cam_late_deg(self) -> float:
        return self.half_tooth_deg if FaultKind.HALF_TOOTH in self.kinds else 0.0

    @property
    def half_tooth_deg(self) -> float:
        """Half a tooth of this engine's cam sprocket at the crank; of a usual one where its file
        does not say how many teeth it has."""
        drive = self.engine.cam_drive
        return HALF_TOOTH_DEG if drive is None else drive.tooth_crank_deg / 2

    @property
    def is_coached(self) -> bool:
        """Whether questions are asked before a mistake becomes costly."""
        return self.level in ("shown", "prompted")

    @cached_property
    def warm(self) -> bool:
        return FaultKind.WARM in self.kinds

    @cached_property
    def box_um(self) -> tuple[int, ...]:
        """The shims in the box at the start, sorted; empty for an engine without shims."""
        return _box_of(self.engine.adjusters.values())

    @cached_property
    def closing_box_um(self) -> tuple[int, ...]:
        """The same of closing shims, which are other parts."""
        return _box_of(self.engine.closing_adjusters.values())


def _box_of(adjusters: Iterable[Adjuster]) -> tuple[int, ...]:
    sizes: list[int] = []
    for adjuster in dict.fromkeys(adjusters):
        if adjuster.shim is not None:
            made = adjuster.shim.sizes.all()
            sizes += [int(size * UM_PER_MM) for size in made] * BOX_OF_EACH
    return tuple(sorted(sizes))


def _is_false(mark: TimingMark) -> bool:
    return mark.on == "crank" and mark.means in ("tdc", "pair")


def deal_setup(
    engine: Engine,
    seed: int,
    faults: Iterable[PlantedFault] = (),
    *,
    box: str = "metric",
    level: Level = "alone",
    stack_help: bool = False,
    bridged: bool | None = None,
) -> Setup:
    """A practice engine from a seed; the same seed deals the same engine.

    Valves without a fault stand within their spec. Raises SetupError for a fault that this
    engine cannot have, or a box that is not known.
    """
    planted = tuple(faults)
    for fault in planted:
        _check_fault(engine, fault)
        if planted.count(fault) > 1:
            where = "" if fault.valve is None else f" on valve {fault.valve}"
            raise SetupError(f"{fault.kind} is planted twice{where}; once is enough")
    if box not in BOXES:
        raise SetupError(f"the box “{box}” is not known; give one of {', '.join(BOXES)}")
    chance = random.Random(f"setup {seed}")  # noqa: S311 (dealt to be dealt again)
    hidden = tuple(_deal_valve(engine, valve, planted, chance) for valve in engine.valves)
    hidden = tuple(
        _deal_access(one, valve, planted, seed)
        for one, valve in zip(hidden, engine.valves, strict=True)
    )
    leaves_um, steps_um, angled_um = BOXES[box]()
    leaves_um = tuple(sorted({*leaves_um, *blocks_um(box, _thickest_mm(engine))}))
    if any(one.hard_reach for one in hidden):
        angled_um = angled_um or angled_leaves()
    return Setup(
        engine,
        seed,
        planted,
        hidden,
        leaves_um,
        level,
        stack_help,
        bridged,
        steps_um,
        angled_um,
        box=box,
    )


def _thickest_mm(engine: Engine) -> Decimal:
    """The thickest gap that is measured on this engine, its brakes' running gap with it."""
    gaps: list[Decimal] = []
    for role in engine.roles:
        spec = engine.clearance[role]
        gaps += (spec.high_mm, *(spec.running_mm or ()))
    return max(gaps)


def _deal_access(
    hidden: Hidden, valve: Valve, faults: tuple[PlantedFault, ...], seed: int
) -> Hidden:
    """How its gap is got at. By a chance of its own: what else is dealt must not move with it."""
    own = {fault.kind for fault in faults if fault.valve == valve.number}
    if not own & {FaultKind.ROD_SLACK, FaultKind.HANGING_FOLLOWER, FaultKind.HARD_REACH}:
        return hidden
    chance = random.Random(f"access {seed} {valve.number}")  # noqa: S311 (dealt to be dealt again)
    slack_mm = chance.uniform(*SLACK_MM)
    held = own & {FaultKind.ROD_SLACK, FaultKind.HANGING_FOLLOWER}
    return hidden._replace(
        slack_mm=slack_mm if held else 0.0, hard_reach=FaultKind.HARD_REACH in own
    )


def move_faults(
    engine: Engine, faults: Iterable[PlantedFault], seed: int
) -> tuple[PlantedFault, ...]:
    """The same faults on other valves, those of one valve together; the same seed moves them alike.

    Valves change places among those that can have the faults: no fault stays where it was, as long
    as there is another valve for it. Faults of the whole engine stay.
    """
    planted = tuple(faults)
    chance = random.Random(f"faults {seed}")  # noqa: S311 (dealt to be dealt again)
    by_valve: dict[int, list[PlantedFault]] = {}
    for fault in planted:
        if fault.valve is not None:
            by_valve.setdefault(fault.valve, []).append(fault)
    moved_to: dict[int, int] = {}
    for valve, own in by_valve.items():
        free = [
            number
            for number in engine.valve
            if number not in moved_to.values() and _can_have(engine, own, number)
        ]
        others = [number for number in free if number not in by_valve] or [
            number for number in free if number != valve
        ]
        moved_to[valve] = chance.choice(others or free or [valve])
    return tuple(
        fault if fault.valve is None else fault._replace(valve=moved_to[fault.valve])
        for fault in planted
    )


def _can_have(engine: Engine, faults: Iterable[PlantedFault], valve: int) -> bool:
    try:
        for fault in faults:
            _check_fault(engine, fault._replace(valve=valve))
    except SetupError:
        return False
    return True


def _check_fault(engine: Engine, fault: PlantedFault) -> None:
    if fault.kind not in ON_A_VALVE:
        if fault.valve is not None:
            raise SetupError(f"{fault.kind} concerns the whole engine; give it no valve")
        _check_whole(engine, fault.kind)
        return
    valve = engine.valve.get(fault.valve or 0)
    if valve is None:
        raise SetupError(f"{fault.kind} needs a valve of this engine; it has none {fault.valve}")
    adjuster = engine.adjuster(valve.number)
    if fault.kind in ON_A_SCREW and not adjuster.has_nut:
        raise SetupError(f"{fault.kind}: valve {valve.number} has no adjusting screw")
    if fault.kind is FaultKind.BENT_PUSH_ROD and not adjuster.has_push_rod:
        raise SetupError(f"{fault.kind}: valve {valve.number} has no push rod")
    if fault.kind is FaultKind.WORN_STAMP and not adjuster.has_shims:
        raise SetupError(f"{fault.kind}: valve {valve.number} has no shim")
    has_running = engine.clearance[valve.role].running is not None
    if fault.kind is FaultKind.WORN_BRAKE and not has_running:
        raise SetupError(f"{fault.kind}: valve {valve.number} has no running gap")
    if fault.kind is FaultKind.WRONG_CLOSING and valve.role not in engine.closing:
        raise SetupError(f"{fault.kind}: valve {valve.number} has no closing gap")
    if adjuster.adjusts_itself:
        raise SetupError(f"{fault.kind}: valve {valve.number} adjusts itself (hydraulic)")
    _check_access(engine, fault.kind, valve)


def _check_access(engine: Engine, kind: FaultKind, valve: Valve) -> None:
    gear = GEAR[engine.train(valve.number)]
    if (
        kind is FaultKind.WORN_PAD
        and float(engine.clearance[valve.role].low_mm) < LEAST_OVER_PAD_MM
    ):
        raise SetupError(f"{kind}: a hollow pad would hide the whole gap of valve {valve.number}")
    if kind is FaultKind.ROD_SLACK and not gear.has_rod:
        raise SetupError(f"{kind}: valve {valve.number} has no push rod")
    if kind is FaultKind.HANGING_FOLLOWER and not gear.is_lifted:
        raise SetupError(f"{kind}: valve {valve.number} has no follower that hangs")
    thickest_mm = max(angled_leaves()) / UM_PER_MM
    if kind is FaultKind.HARD_REACH and float(engine.clearance[valve.role].high_mm) > thickest_mm:
        raise SetupError(f"{kind}: no angled leaf is as thick as the gap of valve {valve.number}")


def _check_whole(engine: Engine, kind: FaultKind) -> None:
    if kind is FaultKind.FALSE_MARK and not any(_is_false(mark) for mark in engine.marks):
        raise SetupError(f"{kind}: this engine has no mark of a dead centre on its crank")
    if kind is FaultKind.WARM and engine.measured == "hot":
        raise SetupError(f"{kind}: this engine is measured hot")
    if kind is FaultKind.DECOMPRESSOR:
        if engine.decompressor is not None:
            raise SetupError(f"{kind}: this engine has one of its own, which acts in every run")
        if PLANTED_BUMP.role not in engine.roles:
            raise SetupError(f"{kind}: this engine has no exhaust valve to hold off")


def _deal_valve(
    engine: Engine, valve: Valve, faults: tuple[PlantedFault, ...], chance: random.Random
) -> Hidden:
    own = {fault.kind for fault in faults if fault.valve == valve.number}
    spec = engine.clearance[valve.role]
    low, high = float(spec.low_mm), float(spec.high_mm)
    inside = min(CLEAR_MM, (high - low) / 4)
    sound = clearance = chance.uniform(low + inside, high - inside)
    creep = chance.uniform(*CREEP_MM) * chance.choice((-1, 1))
    thread = chance.uniform(*THREAD_MM)
    stray = chance.uniform(*STRAY_MM)
    tight = chance.random() < 0.5 and low - stray >= 0
    receded = chance.uniform(*RECEDED_MM)
    hollow = chance.uniform(*HOLLOW_MM)
    if FaultKind.WRONG_SETTING in own:
        clearance = low - stray if tight else high + stray
    if FaultKind.RECEDING in own:
        clearance = max(0.0, low - receded)
    shim_um = _deal_shim_um(engine.adjuster(valve.number), chance)
    clearance = _solvable(clearance, shim_um, engine.adjuster(valve.number), spec)
    closing_mm, closing_um = _deal_closing(
        engine, valve, chance, wrong=FaultKind.WRONG_CLOSING in own
    )
    return Hidden(
        clearance_mm=clearance,
        creep_mm=creep,
        thread_mm=thread + (BENT_ROD_THREAD_MM if FaultKind.BENT_PUSH_ROD in own else 0.0),
        hollow_mm=hollow if FaultKind.WORN_PAD in own else 0.0,
        seized=FaultKind.SEIZED_NUT in own,
        shim_um=shim_um,
        stamp_worn=FaultKind.WORN_STAMP in own,
        running_mm=_deal_running_mm(
            spec, sound, clearance, chance, worn=FaultKind.WORN_BRAKE in own
        ),
        closing_mm=closing_mm,
        closing_um=closing_um,
    )


def _deal_running_mm(
    spec: Clearance, lash_mm: float, found_mm: float, chance: random.Random, *, worn: bool
) -> float | None:
    """A brake's running gap where its lash is found_mm; None where there is no such gap.

    That of a sound rocker (dealt at a lash of lash_mm) is within its range wherever the lash is
    within its own, as far as the ranges allow it; that of a worn one is above it.
    """
    if spec.running_mm is None:
        return None
    low_mm, high_mm = map(float, spec.running_mm)
    off_mm = lash_mm - float(spec.middle_mm)
    room_mm = (high_mm - low_mm - float(spec.high_mm - spec.low_mm)) / 2
    if room_mm > 0:
        running_mm = (low_mm + high_mm) / 2 + off_mm + chance.uniform(-room_mm, room_mm)
    else:
        running_mm = chance.uniform(low_mm, high_mm)
    stray_mm = chance.uniform(*STRAY_MM)
    if worn:
        running_mm = high_mm + float(spec.high_mm - spec.low_mm) + stray_mm
    return running_mm + found_mm - lash_mm


def _deal_closing(
    engine: Engine, valve: Valve, chance: random.Random, *, wrong: bool
) -> tuple[float | None, int | None]:
    """The closing gap and its shim; None for what a valve has not got."""
    spec = engine.closing.get(valve.role)
    if spec is None:
        return None, None
    low, high = float(spec.low_mm), float(spec.high_mm)
    inside = min(CLEAR_MM, (high - low) / 4)
    gap = chance.uniform(low + inside, high - inside)
    stray = chance.uniform(*STRAY_MM)
    tight = chance.random() < 0.5 and low - stray >= 0
    if wrong:
        gap = low - stray if tight else high + stray
    adjuster = engine.closing_adjuster_of(valve.role)
    shim_um = _deal_shim_um(adjuster, chance)
    return _solvable(gap, shim_um, adjuster, spec), shim_um


def _solvable(gap_mm: float, shim_um: int | None, adjuster: Adjuster, spec: Clearance) -> float:
    """The gap, moved as little as it takes for one of the shims that are made to bring it well
    inside its spec; on the same side of the spec as before wherever that can be."""
    if adjuster.shim is None or shim_um is None:
        return gap_mm
    low, high = float(spec.low_mm), float(spec.high_mm)
    inside = min(CLEAR_MM, (high - low) / 2)
    reached = [gap_mm + (shim_um - int(s * UM_PER_MM)) / float(UM_PER_MM)
               for s in adjuster.shim.sizes.all()]  # fmt: skip
    moves = [max(low + inside - gap, 0.0) or min(high - inside - gap, 0.0) for gap in reached]
    if 0.0 in moves:
        return gap_mm
    was = _side(gap_mm, low, high)
    kept = [by for by in moves if _side(gap_mm + by, low, high) == was and gap_mm + by >= 0]
    return gap_mm + min(kept or moves, key=abs)


def _side(gap_mm: float, low: float, high: float) -> int:
    return -1 if gap_mm < low else 1 if gap_mm > high else 0


def _deal_shim_um(given: Adjuster, chance: random.Random) -> int | None:
    """A size from the middle half of what is made, so that a change has room both ways."""
    adjuster = given.shim
    place = chance.random()
    if adjuster is None:
        return None
    sizes = adjuster.sizes.all()
    return int(sizes[int(len(sizes) * (SHIMS_FROM + place * SHIMS_SPAN))] * UM_PER_MM)
