"""Whether a valve that is just outside its spec may be left as it is, and why.

Just outside the range, by less than one shim step, is a judgement: keep it and note it, or change
it (common practice). Two reasons are known. Which of them counts is the instructor's rule, given by
what the sheet asks for; whether it holds is arithmetic on the student's own figures.
"""

from collections.abc import Collection
from decimal import Decimal
from typing import NamedTuple

from valvetrain.adjusters import Sizes, gap_with_shim
from valvetrain.grading.constants import JUST_OVER_MM
from valvetrain.grading.mark import Mark, same_for_all
from valvetrain.grading.sheet import SpecVerdict, verdict_between
from valvetrain.spec_words import exact
from valvetrain.units import Unit

ACCEPTED_BY = {"no-better": "leave", "just-over": "leave-over"}
"""By reason: the `Ask` with which a sheet accepts it."""


class Left(NamedTuple):
    """A valve that was left: the gap it is left at, and the sizes of its shim, None of a screw."""

    gap_mm: Decimal
    limits_mm: tuple[Decimal, Decimal]
    sizes: Sizes | None = None
    fitted_mm: Decimal | None = None
    unit: Unit = Unit.MM
    """That of its spec."""

    @property
    def outside_mm(self) -> Decimal:
        return _outside_mm(self.gap_mm, self.limits_mm)


def mark_left(left: Left, reason: str, asks: Collection[str]) -> Mark:
    """Judged without the key, so that everybody may read why. Below the minimum no reason counts
    (common practice)."""
    was, gap = verdict_between(left.gap_mm, left.limits_mm), exact(left.gap_mm, left.unit)
    if was is SpecVerdict.WITHIN:
        return same_for_all(True, f"{gap} is within the spec: it stays as it is.")
    if ACCEPTED_BY[reason] not in asks:
        return same_for_all(False, f"{gap} is {was}, and this sheet does not accept that reason.")
    return _no_better(left, was) if reason == "no-better" else _just_over(left, was)


def _just_over(left: Left, was: SpecVerdict) -> Mark:
    figures = f"{exact(left.gap_mm, left.unit)} is {was} by {exact(left.outside_mm, left.unit)}"
    if was is SpecVerdict.TIGHT:
        return same_for_all(False, f"{figures}: a little tight does damage, so it is changed.")
    if left.outside_mm > JUST_OVER_MM:
        return same_for_all(
            False, f"{figures}; no more than {exact(JUST_OVER_MM, left.unit)} is left."
        )
    return same_for_all(True, f"{figures}: left until it is measured again, and noted.")


def _no_better(left: Left, was: SpecVerdict) -> Mark:
    figures = f"{exact(left.gap_mm, left.unit)} is {was} by {exact(left.outside_mm, left.unit)}"
    if left.sizes is None:
        return same_for_all(False, f"{figures}. A screw has no sizes: it can be set into the spec.")
    if left.fitted_mm is None:
        return same_for_all(
            False, "The fitted shim is not written, so nobody sees what the next size brings."
        )
    if left.outside_mm >= left.sizes.step_mm:
        step = exact(left.sizes.step_mm)
        return same_for_all(False, f"{figures}: a whole step of {step} or more is changed.")
    if was is SpecVerdict.TIGHT:
        return same_for_all(False, f"{figures}: {_thinner(left, left.sizes, left.fitted_mm)}")
    thicker = [size for size in left.sizes.all() if size > left.fitted_mm]
    if not thicker:
        return same_for_all(True, f"{figures}, and no thicker shim is made: left, and noted.")
    size_mm = min(thicker)
    lands_mm = gap_with_shim(left.gap_mm, left.fitted_mm, size_mm)
    lands = f"a shim of {exact(size_mm)} lands at {exact(lands_mm, left.unit)}"
    if lands_mm >= left.limits_mm[0]:
        return same_for_all(False, f"{figures}, and {lands}: changing it brings it nearer.")
    return same_for_all(True, f"{figures}; {lands}, below the minimum: left, and noted.")


def _thinner(left: Left, sizes: Sizes, fitted_mm: Decimal) -> str:
    """Below the minimum a valve is never left, wherever the next thinner shim lands."""
    thinner = [size for size in sizes.all() if size < fitted_mm]
    never = "below the minimum a valve is never left. A tight valve burns, a loose one ticks"
    if not thinner:
        return f"{never}: no thinner shim is made, so ask before the engine runs."
    size_mm = max(thinner)
    lands_mm = gap_with_shim(left.gap_mm, fitted_mm, size_mm)
    return (
        f"{never}: the next thinner shim, {exact(size_mm)}, lands at {exact(lands_mm, left.unit)}."
    )


def _outside_mm(gap_mm: Decimal, limits_mm: tuple[Decimal, Decimal]) -> Decimal:
    """How far beyond the nearer limit; 0 within. Below nothing no gap can be: that valve would not
    close, and lies as far outside as the whole sum says."""
    low_mm, high_mm = limits_mm
    return max(low_mm - gap_mm, gap_mm - high_mm, Decimal(0))
