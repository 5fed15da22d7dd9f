"""The two shims of a valve that is pulled shut: closing first, then opening.

The closing shim decides how low the valve hangs from its closing rocker, and so moves the opening
gap as well: a thicker one lifts the valve, and both gaps become smaller by the difference. So the
opening shim is worked out from the gap that will be there then (common practice; the sums are those
of lengths that add up). Lengths are Decimal millimetres.
"""

from decimal import Decimal
from typing import NamedTuple

from valvetrain.adjusters.shim import Prefer, ShimAdvice, advise_shim, shim_sum
from valvetrain.adjusters.sizes import Sizes
from valvetrain.gauges import Spec


class MeasuredSeat(NamedTuple):
    """One of the two: the shim that is in, the gap with it, its spec, and the sizes made."""

    fitted_mm: Decimal
    measured_mm: Decimal
    spec: Spec
    sizes: Sizes


class PairAdvice(NamedTuple):
    """opening_gap_mm is the opening gap once the closing shim is right; below zero where the valve
    would then be held open by as much: the opening shim is changed before anything is turned."""

    closing: ShimAdvice
    moved_mm: Decimal
    """What the closing shim's change adds to the opening gap: negative where it closes it."""
    opening_gap_mm: Decimal
    opening: ShimAdvice
    says: tuple[str, ...]
    """The arithmetic of both, in the order in which a person does it."""


def advise_pair(
    closing: MeasuredSeat, opening: MeasuredSeat, prefer: Prefer = "middle"
) -> PairAdvice:
    """Which two shims to fit. Raises AdjusterError.

    Where no closing shim reaches its spec the closing shim stays, and the opening one is worked out
    as it is: its advice is then good only until a closing shim is found.
    """
    first = advise_shim(*closing, prefer)
    moved_mm = moved_by(closing.fitted_mm, first.choose_mm)
    gap_mm = opening.measured_mm + moved_mm
    # Below zero it is a length that is known, not a gap that nobody can measure.
    below_mm = min(Decimal(0), gap_mm)
    second = advise_shim(
        opening.fitted_mm + below_mm, gap_mm - below_mm, opening.spec, opening.sizes, prefer
    )
    if opening.measured_mm > 0:
        second = second._replace(warnings=())
    says = tuple(_steps(closing, opening, first, gap_mm))
    return PairAdvice(first, moved_mm, gap_mm, second, says)


def moved_by(fitted_mm: Decimal, chosen_mm: Decimal | None) -> Decimal:
    """What another closing shim adds to both gaps; none chosen: it stays."""
    return Decimal(0) if chosen_mm is None else fitted_mm - chosen_mm


def _steps(
    closing: MeasuredSeat, opening: MeasuredSeat, first: ShimAdvice, gap_mm: Decimal
) -> list[str]:
    said = [f"Closing first: {shim_sum(closing.fitted_mm, closing.measured_mm, closing.spec)}."]
    if first.verdict == "leave":
        said.append("It is within its spec and stays, so the opening gap stays as measured.")
    elif first.choose_mm is None:
        said.append("No size made reaches the closing spec: find one before the opening shim.")
    else:
        said.append(
            f"Fit {first.choose_mm:.3f}: the closing gap becomes {first.clearance_mm:.3f} mm, and "
            f"the opening gap {opening.measured_mm:.3f} + {closing.fitted_mm:.3f} \u2212 "
            f"{first.choose_mm:.3f} = {gap_mm:.3f} mm."
        )
    said.append(f"Then opening: {shim_sum(opening.fitted_mm, gap_mm, opening.spec)}.")
    said.append("Turn twice and measure both gaps again.")
    return said
