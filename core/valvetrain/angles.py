"""Crank, cam and cycle angles of a four-stroke engine, in crank degrees.

Zero is firing top dead centre (TDC) of the first cylinder of the firing order, and
angles grow in the running direction. One cycle is two turns of the crank and one of
the cam: 720 degrees.
"""

import math
from enum import StrEnum

from valvetrain.errors import RefusedError

CYCLE_DEG = 720.0
"""Crank degrees of one four-stroke cycle. Exact."""
TURN_DEG = 360.0
"""Crank degrees of one turn. Exact."""
STROKE_DEG = 180.0
"""Crank degrees of one stroke. Exact."""
OVERLAP_TDC_DEG = 360.0
"""Cycle angle of the dead centre between the exhaust and the intake stroke. Exact."""
SAME_ANGLE_DEG = 1e-6
"""Two angles closer than this are one place on the crank: floating-point noise. Chosen."""
MOST_TYPED_DEG = 100_000.0
"""No person turns a crank further than this (139 cycles) and means it. Limit."""


class Stroke(StrEnum):
    POWER = "power"
    EXHAUST = "exhaust"
    INTAKE = "intake"
    COMPRESSION = "compression"


_STROKES = (Stroke.POWER, Stroke.EXHAUST, Stroke.INTAKE, Stroke.COMPRESSION)


class AngleError(RefusedError):
    """A typed angle that no crank can be turned to; the message is for people."""


def normalise_deg(angle_deg: float) -> float:
    """The same place on the cycle in [0, 720)."""
    turned = angle_deg % CYCLE_DEG
    # A tiny negative angle rounds up to 720.0 itself, which is 0.
    return 0.0 if CYCLE_DEG - turned < SAME_ANGLE_DEG else turned


def typed_crank_deg(angle_deg: float, what: str = "the crank angle") -> float:
    """An angle as a person gave it, checked and brought into [0, 720).

    Raises AngleError for NaN, infinities and figures beyond MOST_TYPED_DEG.
    """
    if not math.isfinite(angle_deg) or abs(angle_deg) > MOST_TYPED_DEG:
        raise AngleError(
            f"{what} is {angle_deg:g}; give crank degrees, 0 up to 720 for one cycle "
            f"(at most {MOST_TYPED_DEG:g} either way)"
        )
    return normalise_deg(angle_deg)


def ahead_deg(from_deg: float, to_deg: float) -> float:
    """Degrees in [0, 720) to turn in the running direction from one angle to another."""
    return normalise_deg(to_deg - from_deg)


def apart_deg(one_deg: float, other_deg: float) -> float:
    """Shortest distance between two places on the cycle, 0 to 360."""
    ahead = ahead_deg(one_deg, other_deg)
    return min(ahead, CYCLE_DEG - ahead)


def stroke_at(cycle_deg: float) -> Stroke:
    """The stroke at a cycle angle: power 0-180, exhaust -360, intake -540, compression -720."""
    return _STROKES[int(normalise_deg(cycle_deg) // STROKE_DEG)]
