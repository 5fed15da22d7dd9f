"""Adjusting by arithmetic: screws, the zero-and-back-off method, and one shim.

New shim = fitted shim + measured gap - wanted gap: where the gap is too small the new shim is
thinner. Lengths are Decimal millimetres; a positive turn is clockwise and closes the gap.
"""

from collections.abc import Sequence
from decimal import ROUND_FLOOR, Decimal
from typing import Literal, NamedTuple

from valvetrain.engine import ScrewAdjuster, ShimAdjuster
from valvetrain.errors import RefusedError
from valvetrain.gauges import Spec

DIVISIONS = 60
"""A turn in the minutes of a clock face, 6 degrees each: what a person can aim at by eye."""
MOST_SIZES = 2000
SHOWN_EACH_SIDE = 2


class AdjusterError(RefusedError):
    """Figures that no adjuster can have; says which, and what would be right."""


class ScrewTurn(NamedTuple):
    turn_deg: float
    direction: Literal["clockwise", "counterclockwise", "none"]
    divisions: float


def screw_turn(pitch_mm: float, ratio: float, from_mm: Decimal, to_mm: Decimal) -> ScrewTurn:
    """How far to turn a screw from one gap to another.

    ratio is the rocker's: valve movement for each millimetre at the push rod, for a screw on
    that side; 1 for a screw above the valve. Raises AdjusterError.
    """
    for name, value in (("the pitch", pitch_mm), ("the rocker ratio", ratio)):
        if not 0 < value <= 100:
            raise AdjusterError(f"{name} is {value:g}; give a number above 0, like 1.0")
    for name, gap in (("--from", from_mm), ("--to", to_mm)):
        if gap < 0:
            raise AdjusterError(f"{name} is {gap:f}; a gap is zero or more")
    turn_deg = float(from_mm - to_mm) / (pitch_mm * ratio) * 360
    direction: Literal["clockwise", "counterclockwise", "none"] = "none"
    if turn_deg:
        direction = "clockwise" if turn_deg > 0 else "counterclockwise"
    return ScrewTurn(turn_deg, direction, abs(turn_deg) / 360 * DIVISIONS)


def gap_per_turn_mm(adjuster: ScrewAdjuster) -> float:
    """How much one whole turn of the screw changes the gap at the valve."""
    at_pushrod = adjuster.screw_at == "pushrod"
    return adjuster.pitch_mm * ((adjuster.rocker_ratio or 1.0) if at_pushrod else 1.0)


class Sizes(NamedTuple):
    """The sizes that shims are made in."""

    from_mm: Decimal
    to_mm: Decimal
    step_mm: Decimal

    def all(self) -> list[Decimal]:
        """Every size from the thinnest. Raises AdjusterError where there can be none."""
        if not (0 < self.from_mm <= self.to_mm and self.step_mm > 0):
            raise AdjusterError(
                f"the sizes are {self.from_mm:f} to {self.to_mm:f} by {self.step_mm:f} mm; give "
                "the thinnest, the thickest and a step above zero"
            )
        count = int(((self.to_mm - self.from_mm) / self.step_mm).to_integral_value(ROUND_FLOOR)) + 1
        if count > MOST_SIZES:
            raise AdjusterError(f"that makes {count} sizes; give at most {MOST_SIZES}")
        return [self.from_mm + index * self.step_mm for index in range(count)]


def sizes_of(adjuster: ShimAdjuster) -> Sizes:
    return Sizes(adjuster.size_from_mm, adjuster.size_to_mm, adjuster.size_step_mm)


class ShimChoice(NamedTuple):
    size_mm: Decimal
    clearance_mm: Decimal
    within: bool


class ShimAdvice(NamedTuple):
    """choose_mm and clearance_mm are None when no size reaches the spec."""

    wanted_mm: Decimal
    choose_mm: Decimal | None
    clearance_mm: Decimal | None
    choices: tuple[ShimChoice, ...]
    verdict: Literal["leave", "thinner", "thicker", "out-of-reach"]
    warnings: tuple[str, ...]


Prefer = Literal["middle", "loose", "tight"]


def advise_shim(
    fitted_mm: Decimal, measured_mm: Decimal, spec: Spec, sizes: Sizes, prefer: Prefer = "middle"
) -> ShimAdvice:
    """Which shim to fit. Raises AdjusterError.

    Of the sizes that bring the gap within the spec, prefer picks the one nearest its middle, the
    loosest, or the tightest. A gap that is within the spec is left alone. choices are the sizes
    that reach the spec and two on either side of them.
    """
    if fitted_mm <= 0:
        raise AdjusterError(f"the fitted shim is {fitted_mm:f} mm; give its thickness above zero")
    if measured_mm < 0:
        raise AdjusterError(f"the measured gap is {measured_mm:f} mm; a gap is zero or more")
    if not 0 < spec.min_mm <= spec.max_mm:
        raise AdjusterError(
            f"the spec is {spec.min_mm:f} to {spec.max_mm:f} mm; give two lengths above zero, "
            "the smaller first"
        )
    together_mm = fitted_mm + measured_mm
    choices = [_choice(together_mm, size, spec) for size in sizes.all()]
    wanted_mm = together_mm - spec.middle_mm
    warnings = _no_gap_warning(measured_mm)
    shown = _around(choices, wanted_mm)
    if spec.min_mm <= measured_mm <= spec.max_mm:
        return ShimAdvice(wanted_mm, fitted_mm, measured_mm, shown, "leave", warnings)
    reach = [choice for choice in choices if choice.within]
    if not reach:
        return ShimAdvice(wanted_mm, None, None, shown, "out-of-reach", warnings)
    best = min(reach, key=lambda choice: _rank(choice, spec, prefer))
    verdict: Literal["thinner", "thicker"] = "thinner" if best.size_mm < fitted_mm else "thicker"
    return ShimAdvice(wanted_mm, best.size_mm, best.clearance_mm, shown, verdict, warnings)


def gap_with_shim(gap_mm: Decimal, fitted_mm: Decimal, chosen_mm: Decimal) -> Decimal:
    """The gap that another shim leaves; a thicker one than there is room for leaves none."""
    return max(Decimal(0), fitted_mm + gap_mm - chosen_mm)


def _choice(together_mm: Decimal, size_mm: Decimal, spec: Spec) -> ShimChoice:
    clearance = together_mm - size_mm
    return ShimChoice(size_mm, clearance, spec.min_mm <= clearance <= spec.max_mm)


def _rank(choice: ShimChoice, spec: Spec, prefer: Prefer) -> tuple[Decimal, Decimal]:
    """Smallest is best; a tie about the middle goes to the looser (a tight valve burns)."""
    if prefer == "loose":
        return (-choice.clearance_mm, choice.size_mm)
    if prefer == "tight":
        return (choice.clearance_mm, choice.size_mm)
    return (abs(choice.clearance_mm - spec.middle_mm), choice.size_mm)


def _around(choices: list[ShimChoice], wanted_mm: Decimal) -> tuple[ShimChoice, ...]:
    """Those within the spec and two beyond on each side; the nearest few where none is within."""
    within = [index for index, choice in enumerate(choices) if choice.within]
    if not within:
        within = [min(range(len(choices)), key=lambda i: abs(choices[i].size_mm - wanted_mm))]
    first = max(0, within[0] - SHOWN_EACH_SIDE)
    return tuple(choices[first : within[-1] + SHOWN_EACH_SIDE + 1])


def _no_gap_warning(measured_mm: Decimal) -> tuple[str, ...]:
    if measured_mm > 0:
        return ()
    return (
        "With no gap at all the valve may be held open, and by how much cannot be measured: fit a "
        "shim that leaves a gap for certain, measure, and work it out again.",
    )


def shim_sum(fitted_mm: Decimal, measured_mm: Decimal, spec: Spec) -> str:
    """The arithmetic in the order in which a person does it."""
    middle_mm = spec.middle_mm
    return (
        f"{fitted_mm:.3f} fitted + {measured_mm:.3f} measured \u2212 {middle_mm:.3f} wanted "
        f"= {fitted_mm + measured_mm - middle_mm:.3f} mm"
    )


class ShimTable(NamedTuple):
    """The maker's kind of table: `new_mm[gap][fitted]`, None where no size reaches the spec."""

    gaps_mm: tuple[Decimal, ...]
    fitted_mm: tuple[Decimal, ...]
    new_mm: tuple[tuple[Decimal | None, ...], ...]


def shim_table(spec: Spec, sizes: Sizes, gaps_mm: Sequence[Decimal]) -> ShimTable:
    """Measured gap against fitted shim, each cell the shim to fit (the fitted one: leave it)."""
    fitted = tuple(sizes.all())
    rows = tuple(
        tuple(advise_shim(size, gap, spec, sizes).choose_mm for size in fitted) for gap in gaps_mm
    )
    return ShimTable(tuple(gaps_mm), fitted, rows)
