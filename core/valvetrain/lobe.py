"""The lift that a cam lobe gives, and the gap that is left, over the cycle.

The follower's lift at the valve with no clearance is zero on the heel, rises over the ramp to
exactly the nominal clearance where the valve opens, goes to full valve lift plus nominal clearance
at the middle of the open period, and comes back the same way. Its speed and acceleration are
continuous: the ramp is a polynomial of the fifth degree, the open half an even one about the middle
(1 + C2 u² + Cp u^p + Cq u^q, a polydyne curve). Of all such curves that rise without turning back
the one with the smallest deceleration is taken, so that a follower of usual size can run on it.
(R. L. Norton, Cam Design and Manufacturing Handbook, chapters on polynomial and polydyne cams, from
memory. The shape of a real cam is the maker's; events, lift and ramp are what a manual gives, and
all that the clearance job needs.)
"""

from dataclasses import dataclass
from functools import cached_property, lru_cache
from typing import NamedTuple, TypeVar

import numpy as np
from numpy.typing import ArrayLike, NDArray

from valvetrain.angles import CYCLE_DEG
from valvetrain.constants import (
    FLAT_ENOUGH,
    NOSE_POWER,
    NOSE_POWERS_APART,
    RAMP_BENDS,
    RAMP_SLOPES,
    SHAPE_POINTS,
)
from valvetrain.engine import Decompressor, Engine, Events, Role

FloatArray = NDArray[np.float64]
N = TypeVar("N", float, FloatArray)


class Shape(NamedTuple):
    """Half of a lobe. ramp are the coefficients of t³, t⁴ and t⁵, t from 0 on the heel to 1 where
    the valve opens, of the nominal clearance; nose those of u², u^p and u^q, u from 0 at the middle
    to 1 where the valve opens, of the valve's lift."""

    ramp: tuple[float, float, float]
    nose: tuple[float, float, float]
    powers: tuple[float, float]

    def on_ramp(self, t: N) -> N:
        """The share of the nominal clearance."""
        cubic, quartic, quintic = self.ramp
        return t * t * t * (cubic + t * (quartic + t * quintic))

    def above(self, u: N) -> N:
        """The share of the valve's lift."""
        square, c_p, c_q = self.nose
        p, q = self.powers
        share: N = 1 + square * u * u + c_p * u**p + c_q * u**q
        return share


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
    def _shape(self) -> tuple[float, float, Shape]:
        """Middle and half length of the open period, and the shape of half of it."""
        half_deg = self.events.duration_deg / 2
        shape = shape_of(self.clearance_mm, self.ramp_deg, self.lift_mm, half_deg)
        return self.events.middle_cycle_deg, half_deg, shape

    def lift_at_mm(self, cycle_deg: float) -> float:
        """The same for one angle, without arrays: the practice engine asks it at every touch."""
        middle_deg, half_deg, shape = self._shape
        outside_deg = abs((cycle_deg - middle_deg + 360.0) % CYCLE_DEG - 360.0) - half_deg
        lift = 0.0
        if outside_deg < 0:
            lift = self.clearance_mm + self.lift_mm * shape.above(1 + outside_deg / half_deg)
        elif outside_deg < self.ramp_deg:
            lift = self.clearance_mm * shape.on_ramp(1 - outside_deg / self.ramp_deg)
        if self.bump is not None:
            lift = max(lift, float(self._bump_lift_mm(self.bump, np.float64(cycle_deg))))
        return lift

    def _main_lift_mm(self, angles: FloatArray) -> FloatArray:
        middle_deg, half_deg, shape = self._shape
        # Degrees outside (positive) or inside (negative) the nearer end of the open period.
        outside_deg = _from_middle_deg(angles, middle_deg) - half_deg
        on_ramp = shape.on_ramp(np.clip(1 - outside_deg / self.ramp_deg, 0, 1))
        above = shape.above(np.clip(1 + outside_deg / half_deg, 0, 1))
        return np.where(
            outside_deg >= 0,
            self.clearance_mm * on_ramp,
            self.clearance_mm + self.lift_mm * above,
        )

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


@lru_cache(maxsize=512)
def shape_of(clearance_mm: float, ramp_deg: float, lift_mm: float, half_deg: float) -> Shape:
    """The half lobe of the smallest deceleration that rises all the way: over ramp_deg to the
    clearance, over half_deg to the lift above it. All but the clearance must be more than 0."""
    slope, bend = (axis.ravel() for axis in np.meshgrid(RAMP_SLOPES, RAMP_BENDS))
    ramp = np.array([10 - 4 * slope + bend / 2, -15 + 7 * slope - bend, 6 - 3 * slope + bend / 2])
    # The same speed and acceleration, counted in lifts and half lengths on the nose's side.
    ratio = half_deg / ramp_deg
    scale = clearance_mm / lift_mm * ratio
    powers = np.maximum(NOSE_POWER, slope * scale) + np.array([[0.0], [NOSE_POWERS_APART]])
    nose = _nose(slope * scale, bend * scale * ratio, powers)
    along = np.linspace(0.0, 1.0, SHAPE_POINTS)[:, None, None]
    all_powers = np.vstack([np.full_like(slope, 2.0), powers])
    ramp_powers = np.array([[3.0], [4.0], [5.0]])
    climbs = (_derived(ramp, ramp_powers, along, 1) >= -FLAT_ENOUGH).all(axis=0)
    climbs &= (_derived(nose, all_powers, along, 1) <= FLAT_ENOUGH).all(axis=0)
    slows = np.maximum(
        -(clearance_mm / ramp_deg**2) * _derived(ramp, ramp_powers, along, 2).min(axis=0),
        -(lift_mm / half_deg**2) * _derived(nose, all_powers, along, 2).min(axis=0),
    )
    best = int(np.where(climbs, slows, np.inf).argmin())
    cubic, quartic, quintic = ramp[:, best].tolist()
    square, c_p, c_q = nose[:, best].tolist()
    p, q = powers[:, best].tolist()
    return Shape((cubic, quartic, quintic), (square, c_p, c_q), (p, q))


def _nose(slope: FloatArray, bend: FloatArray, powers: FloatArray) -> FloatArray:
    """C2, Cp and Cq of curves that end (u = 1) at 0, falling by slope, with this acceleration."""
    p, q = powers
    of_q = (bend + 2 - (p + 1) * (2 - slope)) / (q - p)
    c_p, c_q = (2 - slope - of_q) / (p - 2), of_q / (q - 2)
    return np.array([-1 - c_p - c_q, c_p, c_q])


def _derived(
    coefficients: FloatArray, powers: FloatArray, along: FloatArray, times: int
) -> FloatArray:
    """First or second derivative of sums of powers, (points, curves)."""
    factor = powers if times == 1 else powers * (powers - 1)
    return np.asarray((coefficients * factor * along ** (powers - times)).sum(axis=1))


def closing_gap_mm(closing_mm: float, clearance_mm: float, gap: FloatArray) -> FloatArray:
    """The gap of the rocker that pulls a valve shut, where its opening gap is gap.

    The two lobes are twins: what one rises the other falls, so that the play of both together stays
    the same. On the heel each side has its own; as the opening rocker takes its gap up, all of the
    play comes to lie on the closing side (derived from that, and from lengths adding up).
    """
    return closing_mm + (clearance_mm - gap)
