"""Rocking the crank: a little forward and back about a place, watching which valves it opens.

One rule for the practice engine, the Bench and everything drawn: the follower must come down by
more than the eye can miss between the place itself and the end of the swing.
"""

from typing import NamedTuple

import numpy as np

from valvetrain.angles import CYCLE_DEG
from valvetrain.constants import ROCK_DEG, ROCK_STEP_DEG, SEEN_MOVE_MM
from valvetrain.lobe import FloatArray, Lobe


class Rocked(NamedTuple):
    """Whether a valve is opened by the swing forward, and by the one back."""

    forward: bool
    back: bool


class RockArcs(NamedTuple):
    """The stretches of the cycle from which each swing opens the valve: (from, to) in cycle
    degrees, from in [0, 720), to after it (it may exceed 720)."""

    forward: tuple[tuple[float, float], ...]
    back: tuple[tuple[float, float], ...]


def rocked(lobe: Lobe, cycle_deg: float) -> Rocked:
    """What rocking about this place does to a valve with this lobe."""
    seen_mm = lobe.lift_at_mm(cycle_deg) + SEEN_MOVE_MM
    return Rocked(
        lobe.lift_at_mm(cycle_deg + ROCK_DEG) > seen_mm,
        lobe.lift_at_mm(cycle_deg - ROCK_DEG) > seen_mm,
    )


def rock_arcs(lobe: Lobe) -> RockArcs:
    """The same for the whole cycle, as data for what is drawn: edges to a hundredth of a degree."""
    lift_mm = lobe.follower_lift_mm(np.arange(0.0, CYCLE_DEG, ROCK_STEP_DEG))
    by = round(ROCK_DEG / ROCK_STEP_DEG)
    return RockArcs(
        _arcs(np.roll(lift_mm, -by) - lift_mm - SEEN_MOVE_MM),
        _arcs(np.roll(lift_mm, by) - lift_mm - SEEN_MOVE_MM),
    )


def _arcs(beyond_mm: FloatArray) -> tuple[tuple[float, float], ...]:
    """Where this is above zero round the circle, its edges by a straight line between steps.

    It never is all the way round: whatever opens a valve closes it within the cycle.
    """
    opens = beyond_mm > 0
    before = np.roll(opens, 1)
    starts, ends = np.flatnonzero(opens & ~before), np.flatnonzero(~opens & before)
    arcs = []
    for start in starts:
        end = ends[np.argmin((ends - start) % beyond_mm.size)]
        from_deg = _crossing(beyond_mm, int(start))
        arcs.append((from_deg, from_deg + (_crossing(beyond_mm, int(end)) - from_deg) % CYCLE_DEG))
    return tuple(arcs)


def _crossing(beyond_mm: FloatArray, place: int) -> float:
    """The angle between the step before a place and the place at which zero is crossed."""
    one, other = float(beyond_mm[place - 1]), float(beyond_mm[place])
    return (place - 1 + one / (one - other)) * ROCK_STEP_DEG % CYCLE_DEG
