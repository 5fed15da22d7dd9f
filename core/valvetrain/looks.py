"""What may be felt and looked at on an engine, by its valve train and ignition, and its words.

Push rods and rockers are wiggled, buckets are not; lobes are seen only where the cam lies under the
cover; a rotor exists only with a distributor. Nothing here offers a look that an engine has not.
Facts of the trade.
"""

from collections.abc import Iterable
from typing import Literal, NamedTuple

from valvetrain.engine import Engine, Role, ValveTrain


class Gear(NamedTuple):
    """The part under a hand above a valve, as people call it."""

    part: str
    between: str
    """Where the leaf lies."""
    wiggles: bool = True
    """Whether there is anything to wiggle: a bucket lies in its bore."""
    cam_in_sight: bool = False
    """Whether its cam lies under the cover."""
    has_rod: bool = False
    """Whether a push rod works it, whose slack is pressed out."""
    is_lifted: bool = False
    """Whether it may hang on its lobe, and is lifted before the leaf goes in."""

    @property
    def push(self) -> str:
        """What a hand does before the leaf goes in, as a button says it; empty where nothing."""
        if self.has_rod:
            return "Press its push rod down"
        return f"Lift its {self.part}" if self.is_lifted else ""

    @property
    def parts(self) -> str:
        return f"{self.part}s"


GEAR = {
    ValveTrain.PUSHROD: Gear("rocker", "rocker and stem", has_rod=True),
    ValveTrain.ROCKER: Gear("rocker", "rocker and stem", cam_in_sight=True, is_lifted=True),
    ValveTrain.FINGER: Gear("finger", "lobe and finger", cam_in_sight=True, is_lifted=True),
    ValveTrain.BUCKET: Gear("bucket", "lobe and bucket", wiggles=False, cam_in_sight=True),
    ValveTrain.SIDE_VALVE: Gear("tappet", "tappet and stem", is_lifted=True),
    ValveTrain.POSITIVE: Gear("opening rocker", "opening rocker and its shim", cam_in_sight=True),
}

SightName = Literal["followers", "rods", "lobes", "rotor", "air", "companion"]


class Sight(NamedTuple):
    name: SightName
    does: str
    """What a hand or an eye does, as a button says it."""


def gear_of(engine: Engine, role: Role) -> Gear:
    return GEAR[engine.train_of(role)]


def looks(engine: Engine) -> tuple[Sight, ...]:
    """Those that tell a stroke on this engine, best first."""
    gears = [gear_of(engine, role) for role in engine.roles]
    wiggled = [gear for gear in gears if gear.wiggles]
    parts = _called(wiggled)
    found = []
    if wiggled:
        found.append(Sight("followers", f"Wiggle its {parts}"))
    if has_rods(engine):
        found.append(Sight("rods", "Spin its push rods"))
    if any(gear.cam_in_sight for gear in gears):
        found.append(Sight("lobes", "Look at its lobes"))
    if has_rotor(engine):
        found.append(Sight("rotor", "Look at the rotor"))
    spark = engine.ignition is None or engine.ignition.kind == "spark"
    found.append(Sight("air", f"Thumb on its {'plug' if spark else 'injector'} hole"))
    if any(engine.companion(cylinder) for cylinder in engine.firing_order):
        does = f"Wiggle its companion's {parts}" if wiggled else "Look at its companion's lobes"
        found.append(Sight("companion", does))
    return tuple(found)


def has_rotor(engine: Engine) -> bool:
    return engine.ignition is not None and engine.ignition.distributor


def has_rods(engine: Engine) -> bool:
    return any(engine.train_of(role) is ValveTrain.PUSHROD for role in engine.roles)


def lobes_hidden(engine: Engine) -> str | None:
    """Why the lobes of some valves cannot be seen; None where all are under the cover."""
    hidden = [role for role in engine.roles if not gear_of(engine, role).cam_in_sight]
    if not hidden:
        return None
    of = "" if len(hidden) == len(engine.roles) else f" of the {' and '.join(hidden)} valves"
    return f"The cam{of} lies in the block, out of sight."


def valves_called(engine: Engine) -> str:
    """What the row of valves is a row of: rockers, buckets, fingers."""
    return _called([gear_of(engine, role) for role in engine.roles])


def loose_words(engine: Engine, cylinder: int, *, with_brake: bool = False) -> str:
    """How a cylinder at its firing dead centre is known: `rockers of cylinder 1 both loose`. A
    brake rocker is pressed there, and loose only further on."""
    roles = [role for role in engine.roles if with_brake or role is not Role.BRAKE]
    gears = [gear_of(engine, role) for role in roles]
    if all(gear.wiggles for gear in gears):
        how_many = sum(_parts_of(engine, cylinder, role) for role in roles)
        return f"{_called(gears)} of cylinder {cylinder} {_all(how_many)} loose"
    how_many = len(engine.valves_of(cylinder))
    return f"lobes of cylinder {cylinder} {_all(how_many)} pointing away"


def overlap_words(engine: Engine, cylinder: int) -> str:
    """How a cylinder in overlap is known."""
    return f"cylinder {cylinder} {overlap_in_general(engine)}"


def overlap_in_general(engine: Engine | None) -> str:
    if engine is None:
        return "is in overlap"
    if all(gear_of(engine, role).wiggles for role in engine.roles):
        return "rocks in overlap"
    return "is in overlap, its lobes pressing on exhaust and intake"


def loose_in_general(engine: Engine | None) -> str:
    """What tells firing TDC from overlap; of any engine where None is given."""
    if engine is None:
        return "what is loose or points away there"
    gears = [gear_of(engine, role) for role in engine.roles]
    if all(gear.wiggles for gear in gears):
        return f"its {_called(gears)} loose"
    return "its lobes pointing away"


def _parts_of(engine: Engine, cylinder: int, role: Role) -> int:
    count = sum(valve.role is role for valve in engine.valves_of(cylinder))
    return min(count, 1) if role in engine.bridges else count


def _all(how_many: int) -> str:
    return "both" if how_many == 2 else "all"


def _called(gears: Iterable[Gear]) -> str:
    return " and ".join(dict.fromkeys(gear.parts for gear in gears))
