"""What tells a person which stroke a cylinder is on, when the crank mark alone does not."""

from typing import NamedTuple

from valvetrain.angles import Stroke
from valvetrain.engine import Role
from valvetrain.heel import ValveState

_ROCKER = {
    ValveState.HEEL: "loose",
    ValveState.RAMP: "nearly taken up",
    ValveState.OPEN: "tight, pressed down",
}
_LOBE = {
    ValveState.HEEL: "clear of its follower",
    ValveState.RAMP: "just touching its follower",
    ValveState.OPEN: "pressing its follower",
}


class Signs(NamedTuple):
    """Each in words; the air is what a thumb feels on the open plug hole, turning on."""

    rockers: str
    lobes: str
    air: str


def signs_of(stroke: Stroke, states: dict[Role, ValveState]) -> Signs:
    """The signs of one cylinder whose valves of each role are in these states."""
    return Signs(
        rockers=_each(_ROCKER, states, "rocker"),
        lobes=_each(_LOBE, states, "lobe"),
        air=_air(stroke, states),
    )


def _each(words: dict[ValveState, str], states: dict[Role, ValveState], part: str) -> str:
    said = {words[state] for state in states.values()}
    if len(states) > 1 and len(said) == 1:
        number = "both" if len(states) == 2 else "all"
        return f"{number} {part}s {said.pop().replace('its follower', 'their followers')}"
    return ", ".join(f"{role} {part} {words[state]}" for role, state in states.items())


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
