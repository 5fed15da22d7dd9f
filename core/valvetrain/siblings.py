"""Valves that move otherwise than their siblings: a fault to find, not wear to wait for.

Valves of one role mostly wear alike (common practice). For each valve two accounts are weighed: it
moves as its siblings do, or at a rate of its own. The siblings' rate is their median and their
spread comes from the median deviation, so that a second odd one does not hide the first. The odds
are the ratio of the two likelihoods times what is thought before anything was measured.
"""

import math
from collections.abc import Mapping, Sequence
from statistics import median
from typing import NamedTuple

from valvetrain.constants import (
    LEAST_SIBLINGS,
    MAD_TO_DEVIATION,
    NAMED_ODDS,
    ODD_BEFORE,
    ODD_RATE_UM_PER_100H,
    ODD_TIMES,
    SIBLING_SHARE,
    SIBLING_UM_PER_100H,
    UM_PER_100H,
)
from valvetrain.engine import Engine, Role, ValveTrain
from valvetrain.trend import ValveTrend


class Odd(NamedTuple):
    """odds are to one. siblings_um_per_100h is the median rate of the others."""

    valve: int
    odds: float
    rate_um_per_100h: float
    siblings_um_per_100h: float
    siblings: int
    way: str
    """tight or loose: which way it runs away from its siblings."""


def odd_ones(valves: Sequence[ValveTrend], role_of: Mapping[int, str]) -> tuple[Odd, ...]:
    """Those whose odds of moving otherwise are NAMED_ODDS to one at least, the surest first.

    A valve that role_of does not know is taken as a sibling of all such.
    """
    scatter = _scatter_mm(valves)
    if scatter is None:
        return ()
    groups: dict[str, list[ValveTrend]] = {}
    for of in valves:
        if of.rate_um_per_100h is not None:
            groups.setdefault(role_of.get(of.valve, ""), []).append(of)
    found = [
        odd
        for group in groups.values()
        for of in group
        if (odd := _weighed(of, [other for other in group if other is not of], *scatter))
    ]
    return tuple(sorted(found, key=lambda odd: -odd.odds))


def _scatter_mm(valves: Sequence[ValveTrend]) -> tuple[float, int] | None:
    """The residual deviation of all valves together, which one gauge and one hand measured, and
    its degrees of freedom."""
    known = [(of.scatter_mm, of.dof) for of in valves if of.scatter_mm is not None]
    dof = sum(one for _, one in known)
    if not dof:
        return None
    return math.sqrt(sum(s * s * d for s, d in known) / dof), dof


def _weighed(of: ValveTrend, others: list[ValveTrend], scatter_mm: float, dof: int) -> Odd | None:
    if len(others) < LEAST_SIBLINGS:
        return None
    rates = [other.rate_um_per_100h or 0.0 for other in others]
    rate = of.rate_um_per_100h or 0.0
    middle = median(rates)
    errors = [scatter_mm * UM_PER_100H / math.sqrt(one.spread_h2) for one in others]
    own_error = scatter_mm * UM_PER_100H / math.sqrt(of.spread_h2)
    floor = SIBLING_SHARE * abs(middle) + SIBLING_UM_PER_100H
    apart = max(MAD_TO_DEVIATION * median(abs(one - middle) for one in rates), floor)
    # The median of n is known to about pi/2 of the variance of their mean.
    of_middle = math.pi / 2 * (apart**2 + median(error**2 for error in errors)) / len(others)
    alike = math.sqrt(own_error**2 + apart**2 + of_middle)
    own_way = math.hypot(alike, ODD_TIMES * abs(middle) + ODD_RATE_UM_PER_100H)
    off = rate - middle
    freedom = dof + len(others)
    ratio = _log_t(off, own_way, freedom) - _log_t(off, alike, freedom)
    # Beyond a million to one nobody reads the figure.
    odds = ODD_BEFORE * math.exp(min(ratio, 20.0))
    if odds < NAMED_ODDS:
        return None
    way = "tight" if off < 0 else "loose"
    return Odd(of.valve, odds, rate, middle, len(others), way)


def _log_t(off: float, scale: float, freedom: int) -> float:
    """Logarithm of Student's t density at off, without the part that freedom alone gives."""
    return -(freedom + 1) / 2 * math.log1p((off / scale) ** 2 / freedom) - math.log(scale)


def look_for(engine: Engine, role: Role, way: str) -> str:
    """What to look for on a valve that runs away from its siblings. Common practice."""
    train = engine.train_of(role)
    if way == "tight":
        return (
            "A gap that closes faster than its siblings': the valve sinks into its seat (a "
            "receding seat or a worn face), or its stem or head stretches. Check its compression."
        )
    return (
        "A gap that opens faster than its siblings': "
        f"{_LOOSENS[train]}, or deposits that hold the valve off its seat."
    )


_NUT = "a lock nut that lets its screw turn"
_LOOSENS = {
    ValveTrain.PUSHROD: f"a bent push rod, a worn rocker pad, lobe or follower, {_NUT}",
    ValveTrain.ROCKER: f"a worn rocker pad or lobe, {_NUT}",
    ValveTrain.FINGER: "a worn finger or lobe, a pivot that gives way",
    ValveTrain.BUCKET: "a worn lobe or bucket, a shim that is worn or not the one written down",
    ValveTrain.SIDE_VALVE: f"a worn tappet or lobe, {_NUT}",
    ValveTrain.POSITIVE: "a worn opening rocker or lobe, a shim that is worn or has come loose",
}
