"""The lift that a cam lobe gives, and the gap that is left, over the cycle.

The follower's lift at the valve with no clearance is zero on the heel, rises over the
ramp to exactly the nominal clearance where the valve opens, goes to full valve lift plus
nominal clearance at the middle of the open period, and comes back the same way. Both
pieces are cubic Hermite curves with a common slope where they meet, so lift and speed
are continuous. (The shape of a real cam is the maker's; events, lift and ramp are what a
manual gives, and all that the clearance job needs.)
"""

from dataclasses import dataclass
from functools import cached_property
from typing import TypeVar

import numpy as np
from numpy.typing import ArrayLike, NDArray

from valvetrain.angles import CYCLE_DEG
from valvetrain.engine import Decompressor, Engine, Events, Role

FloatArray = NDArray[np.float64]
N = TypeVar("N", float, FloatArray)


@dataclass(frozen=True)
class Lobe:
    """One role's lobe; clearance_mm is the nominal clearance its events are given for."""

    events: Events
    ramp_deg: float
    lift_mm: float
    clearance_mm: float
    bump: Decompressor | None = None

    def follower_lift_mm(self, cycle_deg: ArrayLike) -> FloatArray:
        """Lift at the valve with no clearance; cycle angles of any shape, lift of the same."""
        angles = np.asarray(cycle_deg, dtype=np.float64)
        lift = self._main_lift_mm(angles)
        if self.bump is not None:
            lift = np.maximum(lift, self._bump_lift_mm(self.bump, angles))
        return lift

    @cached_property
    def _shape(self) -> tuple[float, float, float]:
        """Middle and half length of the open period, and the slope where it opens."""
        half_deg = self.events.duration_deg / 2
        return self.events.middle_cycle_deg, half_deg, self._slope_where_it_opens(half_deg)

    def lift_at_mm(self, cycle_deg: float) -> float:
        """The same for one angle, without arrays: the practice engine asks it at every touch."""
        middle_deg, half_deg, slope = self._shape
        outside_deg = abs((cycle_deg - middle_deg + 360.0) % CYCLE_DEG - 360.0) - half_deg
        lift = 0.0
        if outside_deg < 0:
            opened = min(-outside_deg / half_deg, 1.0)
            lift = self.clearance_mm + _hermite(opened, self.lift_mm, slope * half_deg, 0.0)
        elif outside_deg < self.ramp_deg:
            rise = 1 - outside_deg / self.ramp_deg
            lift = _hermite(rise, self.clearance_mm, 0.0, slope * self.ramp_deg)
        elif outside_deg == 0:
            lift = self.clearance_mm
        if self.bump is not None:
            lift = max(lift, float(self._bump_lift_mm(self.bump, np.float64(cycle_deg))))
        return lift

    def _main_lift_mm(self, angles: FloatArray) -> FloatArray:
        half_deg = self.events.duration_deg / 2
        # Degrees outside (positive) or inside (negative) the nearer end of the open period.
        outside_deg = _from_middle_deg(angles, self.events.middle_cycle_deg) - half_deg
        slope = self._slope_where_it_opens(half_deg)
        if self.ramp_deg > 0:
            rise = np.clip(1 - outside_deg / self.ramp_deg, 0, 1)
            on_ramp = _hermite(rise, self.clearance_mm, 0.0, slope * self.ramp_deg)
        else:
            on_ramp = np.where(outside_deg <= 0, self.clearance_mm, 0.0)
        opened = np.clip(-outside_deg / half_deg, 0, 1)
        above = _hermite(opened, self.lift_mm, slope * half_deg, 0.0)
        return np.where(outside_deg >= 0, on_ramp, self.clearance_mm + above)

    def _slope_where_it_opens(self, half_deg: float) -> float:
        """mm per degree; a Hermite piece is monotone while its end slope is at most 3 rise/run."""
        on_lobe = 2 * self.lift_mm / half_deg
        if self.ramp_deg <= 0:
            return on_lobe
        return min(2 * self.clearance_mm / self.ramp_deg, on_lobe)

    def _bump_lift_mm(self, bump: Decompressor, angles: FloatArray | np.float64) -> FloatArray:
        length_deg = (bump.closes_cycle_deg - bump.opens_cycle_deg) % CYCLE_DEG
        along = ((angles - bump.opens_cycle_deg) % CYCLE_DEG) / length_deg
        height_mm = bump.lift_mm + self.clearance_mm
        raised = height_mm * (1 - np.cos(2 * np.pi * along)) / 2
        return np.where(along < 1, raised, 0.0)


def lobe_of(engine: Engine, role: Role) -> Lobe:
    bump = engine.decompressor
    return Lobe(
        events=engine.events[role],
        ramp_deg=engine.ramp_deg,
        lift_mm=engine.lift_mm[role],
        clearance_mm=float(engine.clearance[role].middle_mm),
        bump=bump if bump is not None and bump.role == role else None,
    )


def gap_mm(follower_lift_mm: ArrayLike, clearance_mm: float) -> FloatArray:
    """What a leaf would find: max(0, c - l)."""
    return np.maximum(0.0, clearance_mm - np.asarray(follower_lift_mm, dtype=np.float64))


def valve_lift_mm(follower_lift_mm: ArrayLike, clearance_mm: float) -> FloatArray:
    """How far the valve is off its seat: max(0, l - c)."""
    return np.maximum(0.0, np.asarray(follower_lift_mm, dtype=np.float64) - clearance_mm)


def _from_middle_deg(angles: FloatArray, middle_deg: float) -> FloatArray:
    """Distance to the middle of the event the short way round, 0 to 360."""
    half = CYCLE_DEG / 2
    return np.abs((angles - middle_deg + half) % CYCLE_DEG - half)


def _hermite(t: N, rise: float, slope0: float, slope1: float) -> N:
    """Cubic from (0, 0) to (1, rise) with the given end slopes (standard Hermite basis)."""
    return t * (slope0 * (1 - t) ** 2 + t * (rise * (3 - 2 * t) + slope1 * (t - 1)))


def closing_gap_mm(closing_mm: float, clearance_mm: float, gap: FloatArray) -> FloatArray:
    """The gap of the rocker that pulls a valve shut, where its opening gap is gap.

    The two lobes are twins: what one rises the other falls, so that the play of both together stays
    the same. On the heel each side has its own; as the opening rocker takes its gap up, all of the
    play comes to lie on the closing side (derived from that, and from lengths adding up).
    """
    return closing_mm + (clearance_mm - gap)
