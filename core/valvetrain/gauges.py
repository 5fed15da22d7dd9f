"""Feeler leaves: what tries prove about a gap, the leaf to try next, and stacks of leaves.

A leaf that goes in freely or with drag says that the gap is at least the leaf; one that must be
forced, or does not go, that it is at most the leaf. Lengths are Decimal millimetres, so that a
leaf of 0.30 meets a limit of 0.30 exactly.
"""

import math
from collections.abc import Callable, Iterable, Sequence
from decimal import Decimal
from enum import StrEnum
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from valvetrain.constants import (
    COVERAGE,
    DRAG_BAND_MM,
    FINEST_LEAF_MM,
    FORCED_BAND_MM,
    MOST_LEAVES,
    MOST_TARGET_MM,
)
from valvetrain.errors import RefusedError
from valvetrain.units import MM_PER_THOU

UNREACHED = 255


class GaugeError(RefusedError):
    """Tries or leaves that cannot be used; says which, and what would be right."""


class Feel(StrEnum):
    FREE = "free"
    DRAG = "drag"
    TIGHT = "tight"
    NO = "no"

    @property
    def goes(self) -> bool:
        return self in (Feel.FREE, Feel.DRAG)


class LeafTry(NamedTuple):
    leaf_mm: Decimal
    feel: Feel


class Spec(NamedTuple):
    """nominal_mm is set where a maker prints one figure; the limits are then the shop's."""

    min_mm: Decimal
    max_mm: Decimal
    nominal_mm: Decimal | None = None

    @property
    def middle_mm(self) -> Decimal:
        return (self.min_mm + self.max_mm) / 2


class Reading(NamedTuple):
    """What tries prove. high_mm is None while no leaf has refused; estimate_mm is None while
    nothing but a bound is known; next_leaf_mm is None when decided or when no leaf is left."""

    low_mm: Decimal
    high_mm: Decimal | None
    estimate_mm: Decimal | None
    verdict: str
    next_leaf_mm: Decimal | None
    says: str


def fine_leaves() -> tuple[Decimal, ...]:
    """A well-stocked metric set: 0.03 to 0.60 by hundredths, then to 1.00 by 0.05."""
    hundredths = [Decimal(n) / 100 for n in range(3, 61)]
    return (*hundredths, *(Decimal(n) / 100 for n in range(65, 101, 5)))


def thou_leaves() -> tuple[Decimal, ...]:
    """A set in thousandths of an inch: 1 to 40 thou, each one."""
    return tuple(n * MM_PER_THOU for n in range(1, 41))


Uncertainty = Callable[[Decimal], Decimal]
"""The expanded uncertainty U of a try, in mm, by the leaf that was tried."""


def certain(_leaf_mm: Decimal) -> Decimal:
    """Of leaves that are taken as marked."""
    return Decimal(0)


def read_gap(
    tries: Iterable[LeafTry],
    spec: Spec,
    leaves: Sequence[Decimal] | None = None,
    uncertainty: Uncertainty = certain,
) -> Reading:
    """The strongest bounds, the verdict against the spec, and the leaf that settles most.

    After the decision rules of ISO 14253-1 (guard bands of U, as in the editions of 1998 and 2013;
    rule from memory) the spec is narrowed by U to prove that a gap is within it, and widened by U
    to prove that it is not; between the two nothing can be told. U is that of the leaf that gives
    the bound: what else was tried changes no proof. Two leaves contradict each other only where
    their uncertainties leave no gap that both allow.
    A spec of one figure may be proved as shops do it, too: its leaf drags, and the next leaf in
    the box does not go (common practice), however far apart the leaves of the box are. Where an
    uncertainty is given the guard bands alone decide: that proof knows of none.
    Raises GaugeError for a spec, leaf or uncertainty that cannot be.
    """
    tried = list(tries)
    _check(tried, spec, uncertainty)
    box = sorted(set(fine_leaves() if leaves is None else leaves))
    low, high, limp_low = _bounds(tried)
    verdict = _verdict(low, high, limp_low, spec, uncertainty)
    is_certain = not any(uncertainty(one.leaf_mm) for one in tried)
    if verdict == "undecided" and is_certain and _is_proved_by_nominal(tried, spec, box):
        says = f"{low:f} mm drags and {high:f} mm, the next leaf in the box, does not go: within."
        return Reading(low, high, _estimate(tried, low, high), "within", None, says)
    next_leaf = None
    if verdict == "undecided":
        next_leaf = _next_leaf(box, tried, spec, uncertainty)
    return Reading(
        low_mm=low,
        high_mm=high,
        estimate_mm=_estimate(tried, low, high) if verdict != "contradictory" else None,
        verdict=verdict,
        next_leaf_mm=next_leaf,
        says=_says(verdict, low, high, next_leaf),
    )


def _check(tries: list[LeafTry], spec: Spec, uncertainty: Uncertainty) -> None:
    # A rocker that pulls its valve shut may stand with no gap at all.
    if not 0 <= spec.min_mm <= spec.max_mm or spec.max_mm == 0:
        raise GaugeError(
            f"the spec is {spec.min_mm:f} to {spec.max_mm:f} mm; give two lengths, the smaller "
            "first and the larger above zero"
        )
    for leaf_mm, _ in tries:
        if leaf_mm <= 0:
            raise GaugeError(f"a leaf is {leaf_mm:f} mm thick; give a thickness above zero")
    for leaf_mm in (spec.max_mm, *(tried.leaf_mm for tried in tries)):
        if (u_mm := uncertainty(leaf_mm)) < 0:
            raise GaugeError(f"the uncertainty is {u_mm:f} mm; give zero or more")


def _bounds(tries: list[LeafTry]) -> tuple[Decimal, Decimal | None, bool]:
    """low, high, and whether the leaf that gives low went in freely."""
    went = [t for t in tries if t.feel.goes]
    refused = [t.leaf_mm for t in tries if not t.feel.goes]
    low = max((t.leaf_mm for t in went), default=Decimal(0))
    limp = any(t.leaf_mm == low and t.feel is Feel.FREE for t in went)
    return low, min(refused, default=None), limp


def _verdict(
    low: Decimal, high: Decimal | None, limp_low: bool, spec: Spec, uncertainty: Uncertainty
) -> str:
    u_low = uncertainty(low) if low else Decimal(0)
    if high is not None:
        u_high = uncertainty(high)
        if low - u_low > high + u_high:
            return "contradictory"
        if low >= spec.min_mm + u_low and high <= spec.max_mm - u_high:
            return "within"
        if high <= spec.min_mm - u_high:
            return "tight"
    if low > spec.max_mm + u_low or (low == spec.max_mm + u_low and limp_low):
        return "loose"
    return "undecided"


def _is_proved_by_nominal(tries: list[LeafTry], spec: Spec, box: list[Decimal]) -> bool:
    """Whether the nominal leaf drags, and the next one that there is does not go."""
    dragged = {t.leaf_mm for t in tries if t.feel is Feel.DRAG}
    if spec.nominal_mm is None or spec.nominal_mm not in dragged:
        return False
    beyond = _next_beyond(box, spec.nominal_mm)
    return any(t.leaf_mm == beyond and not t.feel.goes for t in tries)


def _next_beyond(box: list[Decimal], leaf_mm: Decimal) -> Decimal | None:
    return min((leaf for leaf in box if leaf > leaf_mm), default=None)


def _next_leaf(
    box: list[Decimal], tries: list[LeafTry], spec: Spec, uncertainty: Uncertainty
) -> Decimal | None:
    """Of the leaves between the bounds: a limit first, then the one whose outcomes decide most,
    then the one nearest the middle of what is still open."""
    low, high, _ = _bounds(tries)
    between = [leaf for leaf in box if leaf > low and (high is None or leaf < high)]
    limits = {
        leaf
        for leaf in between
        for limit in (spec.min_mm, spec.max_mm)
        if abs(leaf - limit) == uncertainty(leaf)
    }
    # A single figure is felt first, and then the leaf beyond it: that is how shops prove it.
    if spec.nominal_mm in between:
        return spec.nominal_mm
    if spec.nominal_mm is not None and low == spec.nominal_mm:
        limits.add(_next_beyond(box, low) or low)
    middle = (low + high) / 2 if high is not None else max(low, spec.middle_mm)

    def worth(leaf: Decimal) -> tuple[bool, int, Decimal, Decimal]:
        decided = sum(
            _verdict(*_bounds([*tries, LeafTry(leaf, feel)]), spec, uncertainty) != "undecided"
            for feel in Feel
        )
        return (leaf not in limits, -decided, abs(leaf - middle), leaf)

    return min(between, key=worth, default=None)


def _estimate(tries: list[LeafTry], low: Decimal, high: Decimal | None) -> Decimal | None:
    """Where the gap most likely lies: a leaf that drags is just below it, one that can be
    forced just above it; without either, the middle of what is proved."""
    drags = any(t.leaf_mm == low and t.feel is Feel.DRAG for t in tries)
    forced = high is not None and any(t.leaf_mm == high and t.feel is Feel.TIGHT for t in tries)
    below = low + DRAG_BAND_MM / 2 if drags else None
    above = high - FORCED_BAND_MM / 2 if forced and high is not None else None
    if high is None:
        return below
    middle = (low + high) / 2
    if below is not None and above is not None:
        return middle
    if below is not None:
        return min(below, middle)
    return max(above, middle) if above is not None else middle


def _says(verdict: str, low: Decimal, high: Decimal | None, next_leaf: Decimal | None) -> str:
    if verdict == "contradictory":
        return (
            f"A leaf of {low:f} mm went and one of {high:f} mm did not: one of the two was felt "
            "wrongly. Is the valve on its heel, the leaf straight, the rocker wiped? "
            "Try both again."
        )
    if low == 0 and high is None:
        return "Nothing is known of the gap yet" + (
            f"; begin with the leaf of {next_leaf:f} mm." if next_leaf else "."
        )
    between = f"at least {low:f} mm" if high is None else f"between {low:f} and {high:f} mm"
    if high is not None and low > high:
        between = f"near {high:f} to {low:f} mm, as nearly as the two leaves are known"
    if verdict != "undecided":
        return f"The gap is {between}: {verdict}."
    if next_leaf is None:
        return f"The gap is {between}, and no leaf in the box lies between: nobody can tell which."
    return f"The gap is {between}; the leaf of {next_leaf:f} mm settles most."


class LeafTolerance(NamedTuple):
    """How far a leaf may be from the size marked on it: fixed_mm + share of its thickness."""

    name: str
    fixed_mm: Decimal
    share: Decimal
    source: str

    def of_mm(self, leaf_mm: Decimal) -> Decimal:
        return self.fixed_mm + self.share * leaf_mm


TOLERANCES = {
    tolerance.name: tolerance
    for tolerance in (
        LeafTolerance("none", Decimal(0), Decimal(0), "leaves taken as marked"),
        LeafTolerance("shop", Decimal("0.004"), Decimal("0.015"), "common practice, from memory"),
        LeafTolerance("worn", Decimal("0.008"), Decimal("0.03"), "common practice, from memory"),
    )
}
"""No published standard's table is given, because none could be quoted with certainty here."""


def leaves_uncertainty_mm(leaves_mm: Iterable[Decimal], tolerance: LeafTolerance) -> float:
    """Expanded uncertainty U of a stack: each leaf a rectangle of its tolerance (JCGM 100:2008,
    4.3.7: u = a/√3), independent of the others (5.1.2), times the coverage factor; but no more
    than all tolerances together, beyond which no error can lie (a single leaf: 2a/√3 is more than
    its a). Of the leaves alone: the scatter of the hand that feels them is no part of it."""
    widest = [float(tolerance.of_mm(leaf)) for leaf in leaves_mm]
    return min(COVERAGE * math.sqrt(sum(a**2 / 3 for a in widest)), sum(widest))


class Stack(NamedTuple):
    leaves_mm: tuple[Decimal, ...]
    total_mm: Decimal
    error_mm: Decimal
    """Total less target: positive where the stack is thicker."""


def best_stack(leaves_mm: Sequence[Decimal], target_mm: Decimal, most: int | None = None) -> Stack:
    """The leaves whose sum comes closest to the target; ties go to fewer leaves, then thinner.

    Each entry of leaves_mm is one leaf of the box. Exact: the fewest leaves for every sum that
    can be reached, in whole units of the leaves' common measure. Raises GaugeError.
    """
    if not leaves_mm:
        raise GaugeError("no leaves are given; give their thicknesses, like 0.05,0.10,0.20")
    if len(leaves_mm) > MOST_LEAVES:
        raise GaugeError(f"{len(leaves_mm)} leaves are given; give at most {MOST_LEAVES}")
    if most is not None and most < 1:
        raise GaugeError(f"--most is {most}; a stack has at least one leaf")
    for leaf_mm in leaves_mm:
        if 0 < leaf_mm < FINEST_LEAF_MM:
            raise GaugeError(
                f"a leaf is {leaf_mm:f} mm; the finest that is counted is {FINEST_LEAF_MM:f} mm"
            )
    for length_mm in (*leaves_mm, target_mm):
        if not 0 < length_mm <= MOST_TARGET_MM:
            raise GaugeError(
                f"a length is {length_mm:f} mm; give more than 0 and at most {MOST_TARGET_MM} mm"
            )
    units = [int((leaf / FINEST_LEAF_MM).to_integral_value()) for leaf in leaves_mm]
    measure = math.gcd(*units)
    units = [unit // measure for unit in units]
    target = target_mm / FINEST_LEAF_MM / measure
    most_units = min(sum(units), int(target) + 1 + max(units))
    fewest, took = _fewest_leaves(units, most_units, len(units) if most is None else most)
    totals = np.flatnonzero(fewest[1:] != UNREACHED) + 1
    best = min(totals.tolist(), key=lambda total: (abs(total - target), fewest[total], total))
    chosen = _trace(units, took, best)
    total_mm = sum((leaves_mm[index] for index in chosen), Decimal(0))
    stack = tuple(sorted((leaves_mm[index] for index in chosen), reverse=True))
    return Stack(stack, total_mm, total_mm - target_mm)


def _fewest_leaves(
    units: list[int], most_units: int, most: int
) -> tuple[NDArray[np.uint8], list[NDArray[np.bool_]]]:
    """The fewest leaves for each sum from 0 to most_units, and where each leaf made it fewer."""
    fewest = np.full(most_units + 1, UNREACHED, dtype=np.uint8)
    fewest[0] = 0
    took = []
    for unit in units:
        with_it = np.full_like(fewest, UNREACHED)
        if unit <= most_units:
            before = fewest[: most_units + 1 - unit]
            with_it[unit:] = np.where(before < most, before + 1, UNREACHED)
        took.append(with_it < fewest)
        fewest = np.minimum(fewest, with_it)
    return fewest, took


def _trace(units: list[int], took: list[NDArray[np.bool_]], total: int) -> list[int]:
    """Which leaves make the sum, from the last to the first."""
    chosen = []
    for index in range(len(units) - 1, -1, -1):
        if took[index][total]:
            chosen.append(index)
            total -= units[index]
    return chosen
