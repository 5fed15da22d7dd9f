"""Where a valve may be measured: its heel, and how far from the edge of it.

A valve is on its heel outside the open period widened by the ramp on each side, and
outside a decompressor's bump. Its margin is the number of degrees to the nearer edge,
negative off the heel; it may be set where the margin is zero or more.
"""

import math
from enum import StrEnum
from functools import lru_cache
from typing import NamedTuple

import numpy as np
from numpy.typing import ArrayLike

from valvetrain.angles import CYCLE_DEG, SAME_ANGLE_DEG
from valvetrain.constants import SAME_LENGTH_MM
from valvetrain.engine import Decompressor, Engine, Events, Role, Valve
from valvetrain.lobe import FloatArray, lobe_of


class ValveState(StrEnum):
    HEEL = "heel"
    RAMP = "ramp"
    OPEN = "open"


class Arc(NamedTuple):
    """A stretch of the cycle: from_deg in [0, 720), to_deg after it (it may exceed 720)."""

    from_deg: float
    to_deg: float


def reaches(margin_deg: float, wanted_deg: float) -> bool:
    """Whether a margin is as large as the one asked for, to floating-point noise."""
    return margin_deg >= wanted_deg - SAME_ANGLE_DEG


def off_heel_arcs(engine: Engine, role: Role) -> tuple[Arc, ...]:
    """The stretches of the cycle in which a valve of this role may not be measured; one that the
    decompressor lifts, where it lifts but some of them (`Engine.seen_by`)."""
    bump = engine.decompressor
    own = bump if bump is not None and bump.role == role else None
    return _off_heel_arcs(engine.events[role], engine.ramp_deg, own)


@lru_cache(maxsize=256)
def _off_heel_arcs(events: Events, ramp_deg: float, bump: Decompressor | None) -> tuple[Arc, ...]:
    arcs = [_arc(events.opens_cycle_deg - ramp_deg, events.closes_cycle_deg + ramp_deg)]
    if bump is not None:
        length = (bump.closes_cycle_deg - bump.opens_cycle_deg) % CYCLE_DEG
        arcs.append(_arc(bump.opens_cycle_deg, bump.opens_cycle_deg + length))
    return _merged(arcs)


def margin_deg(engine: Engine, role: Role, cycle_deg: ArrayLike) -> FloatArray:
    """Degrees to the nearer edge of the heel, negative off it; shape of cycle_deg. Where lobe and
    decompressor leave no heel at all it is half a cycle off it everywhere."""
    angles = np.asarray(cycle_deg, dtype=np.float64)
    margin = np.full(angles.shape, np.inf)
    for arc in off_heel_arcs(engine, role):
        half = (arc.to_deg - arc.from_deg) / 2
        if 2 * half >= CYCLE_DEG:
            return np.full(angles.shape, -half)
        middle = arc.from_deg + half
        away = np.abs((angles - middle + CYCLE_DEG / 2) % CYCLE_DEG - CYCLE_DEG / 2)
        margin = np.minimum(margin, away - half)
    # On the very edge, arithmetic noise must not tip a valve off its heel.
    return np.where(np.abs(margin) < SAME_ANGLE_DEG, 0.0, margin)


def heel_is_left(engine: Engine, valve: Valve) -> bool:
    """Whether there is any place at which this valve may be measured."""
    arcs = off_heel_arcs(engine.seen_by(valve), valve.role)
    return all(arc.to_deg - arc.from_deg < CYCLE_DEG for arc in arcs)


def valve_margin_deg(engine: Engine, valve: Valve, crank_deg: float) -> float:
    """The same as margin_deg for one angle; plans ask it thousands of times."""
    cycle_deg = engine.cycle_deg(valve.cylinder, crank_deg)
    margin = math.inf
    for arc in off_heel_arcs(engine.seen_by(valve), valve.role):
        half = (arc.to_deg - arc.from_deg) / 2
        if 2 * half >= CYCLE_DEG:
            return -half
        away = abs((cycle_deg - arc.from_deg - half + CYCLE_DEG / 2) % CYCLE_DEG - CYCLE_DEG / 2)
        margin = min(margin, away - half)
    return 0.0 if abs(margin) < SAME_ANGLE_DEG else margin


def states_at(engine: Engine, role: Role, cycle_deg: ArrayLike) -> list[ValveState]:
    """heel, ramp (gap closing or opening) or open, at nominal clearance, for each angle."""
    angles = np.atleast_1d(np.asarray(cycle_deg, dtype=np.float64))
    on_heel = margin_deg(engine, role, angles) >= 0
    lobe = lobe_of(engine, role)
    is_open = lobe.follower_lift_mm(angles) > lobe.clearance_mm + SAME_LENGTH_MM
    return [
        ValveState.HEEL if heel else ValveState.OPEN if opened else ValveState.RAMP
        for heel, opened in zip(on_heel.tolist(), is_open.tolist(), strict=True)
    ]


def state_at(engine: Engine, role: Role, cycle_deg: float) -> ValveState:
    return states_at(engine, role, cycle_deg)[0]


def _arc(from_deg: float, to_deg: float) -> Arc:
    start = from_deg % CYCLE_DEG
    return Arc(start, start + to_deg - from_deg)


def _merged(arcs: list[Arc]) -> tuple[Arc, ...]:
    """Joins two stretches that touch on the circle; at most a lobe and one bump come here."""
    if len(arcs) == 1:
        return tuple(arcs)
    one, other = arcs
    for first, second in ((one, other), (other, one)):
        lead = (second.from_deg - first.from_deg) % CYCLE_DEG
        length = first.to_deg - first.from_deg
        if lead <= length:
            reach = max(length, lead + second.to_deg - second.from_deg)
            return (Arc(first.from_deg, first.from_deg + min(reach, CYCLE_DEG)),)
    return (one, other)
