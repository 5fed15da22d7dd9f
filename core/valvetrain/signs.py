"""What tells a person which stroke a cylinder is on, when the crank mark alone does not."""

from typing import NamedTuple

from valvetrain.angles import CYCLE_DEG, Stroke, normalise_deg
from valvetrain.engine import Engine, Role, ValveTrain
from valvetrain.heel import ValveState
from valvetrain.looks import gear_of

_FOLLOWER = {
    ValveState.HEEL: "loose",
    ValveState.RAMP: "nearly taken up",
    ValveState.OPEN: "tight, pressed down",
}
_TAPPET = {
    ValveState.HEEL: "free to move",
    ValveState.RAMP: "nearly taken up",
    ValveState.OPEN: "tight, pushed up",
}
_ROD = {
    ValveState.HEEL: "spins free",
    ValveState.RAMP: "turns stiffly",
    ValveState.OPEN: "is held fast",
}
_LOBE = {
    ValveState.HEEL: "clear of its {part}",
    ValveState.RAMP: "just touching its {part}",
    ValveState.OPEN: "pressing its {part}",
}


class Signs(NamedTuple):
    """Each in words, None where the engine has not got it; the air is what a thumb feels on the
    open plug hole, turning on."""

    followers: str | None
    rods: str | None
    lobes: str | None
    air: str


class RotorStretch(NamedTuple):
    """From this crank angle on the rotor points towards the lead of this cylinder."""

    from_deg: float
    cylinder: int


def signs_of(engine: Engine, stroke: Stroke, states: dict[Role, ValveState]) -> Signs:
    """The signs of one cylinder of an engine whose valves of each role are in these states."""
    return Signs(
        followers=_followers(engine, states),
        rods=_rods(engine, states),
        lobes=_lobes(engine, states),
        air=_air(stroke, states),
    )


def rotor_of(engine: Engine) -> tuple[RotorStretch, ...]:
    """Where the rotor points as the crank turns: the lead of the cylinder that fires nearest."""
    fires = sorted((angle, cylinder) for cylinder, angle in engine.fire_deg.items())
    stretches = []
    for (before_deg, _), (angle, cylinder) in zip([fires[-1], *fires], fires, strict=False):
        gap_deg = (angle - before_deg) % CYCLE_DEG or CYCLE_DEG
        stretches.append(RotorStretch(normalise_deg(angle - gap_deg / 2), cylinder))
    return tuple(sorted(stretches))


def _followers(engine: Engine, states: dict[Role, ValveState]) -> str | None:
    """Same parts in the same state are told together."""
    told: dict[tuple[str, str], list[Role]] = {}
    for role, state in states.items():
        gear = gear_of(engine, role)
        words = _TAPPET if engine.train_of(role) is ValveTrain.SIDE_VALVE else _FOLLOWER
        if gear.wiggles:
            told.setdefault((gear.part, words[state]), []).append(role)
    return _joined(told) or None


def _rods(engine: Engine, states: dict[Role, ValveState]) -> str | None:
    told: dict[tuple[str, str], list[Role]] = {}
    for role, state in states.items():
        if engine.train_of(role) is ValveTrain.PUSHROD:
            told.setdefault(("push rod", _ROD[state]), []).append(role)
    said = _joined(told)
    for one, several in (("s spins", "s spin"), ("s turns", "s turn"), ("s is", "s are")):
        said = said.replace(f"rod{one}", f"rod{several}")
    return said or None


def _lobes(engine: Engine, states: dict[Role, ValveState]) -> str | None:
    told: dict[tuple[str, str], list[Role]] = {}
    for role, state in states.items():
        gear = gear_of(engine, role)
        if gear.cam_in_sight:
            told.setdefault(("lobe", _LOBE[state].format(part=gear.part)), []).append(role)
    said = _joined(told)
    for gear in {gear_of(engine, role) for role in states}:
        if said.startswith(("both", "all")):
            said = said.replace(f"its {gear.part}", f"their {gear.parts}")
    return said or None


def _joined(told: dict[tuple[str, str], list[Role]]) -> str:
    """`both rockers loose`, or `intake rocker loose, exhaust rocker tight, pressed down`."""
    if len(told) == 1:
        (((part, words), roles),) = told.items()
        if len(roles) > 1:
            return f"{'both' if len(roles) == 2 else 'all'} {part}s {words}"
    each = [(role, part, words) for (part, words), roles in told.items() for role in roles]
    each.sort(key=lambda one: list(Role).index(one[0]))
    return ", ".join(f"{role} {part} {words}" for role, part, words in each)


def _air(stroke: Stroke, states: dict[Role, ValveState]) -> str:
    intake_open = states.get(Role.INTAKE) is ValveState.OPEN
    exhaust_open = states.get(Role.EXHAUST) is ValveState.OPEN
    held_open = states.get(Role.BRAKE) is ValveState.OPEN or (
        exhaust_open and stroke is Stroke.COMPRESSION
    )
    if intake_open and exhaust_open:
        return "nothing to feel: both valves let the air through"
    if stroke is Stroke.COMPRESSION:
        if held_open:
            return "a weak push: a valve is held a little open"
        return (
            "nothing yet: the intake valve still lets the air back"
            if intake_open
            else "air is pushed out hard past the thumb"
        )
    if stroke is Stroke.POWER:
        return (
            "nothing to feel: a valve is open already"
            if exhaust_open or held_open
            else "the thumb is sucked on: both valves are shut and the piston goes down"
        )
    if stroke is Stroke.EXHAUST:
        return "hardly any: the air leaves by the exhaust valve"
    return "hardly any: the air comes in by the intake valve"
