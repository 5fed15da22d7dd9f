"""Marks for what was adjusted: the gap with the nut tight, the shim that was chosen, what was left.

Judged on the student's own figures only, because an error is paid for once; so the reasons are the
same for everybody.
"""

from collections.abc import Collection
from decimal import Decimal
from typing import NamedTuple

from valvetrain.adjusters import Sizes, moved_by
from valvetrain.engine import Engine
from valvetrain.grading.columns import (
    AFTER,
    CLOSING,
    CLOSING_CHOSEN,
    CLOSING_FITTED,
    LEAVE,
    RUNNING,
    SHIM_CHOSEN,
    SHIM_FITTED,
)
from valvetrain.grading.leaving import Left, mark_left
from valvetrain.grading.mark import Mark, same_for_all
from valvetrain.grading.sheet import Entry, SpecVerdict, spec_verdict, verdict_between
from valvetrain.spec_words import exact, limits_words
from valvetrain.units import Unit, to_record_mm


def mark_adjusted(engine: Engine, entry: Entry, asks: Collection[str] = ()) -> Mark | None:
    """None where this valve has a shim: there is no nut to tighten."""
    if engine.adjuster(entry.valve).has_shims:
        return None
    after_mm = entry.length_mm(AFTER)
    if after_mm is not None:
        became = spec_verdict(engine, entry.valve, after_mm)
        spec = engine.clearance[engine.valve[entry.valve].role]
        against = limits_words(*engine.limits_mm[engine.valve[entry.valve].role], spec.unit)
        says = f"{exact(after_mm, spec.unit)} with the nut tight, against {against}: {became}."
        return same_for_all(became is SpecVerdict.WITHIN, says)
    if entry.settled_mm is None:
        return same_for_all(False, "Neither a reading nor a figure with the nut tight.")
    unit = engine.clearance[engine.valve[entry.valve].role].unit
    if (reason := entry.choice(LEAVE)) is not None:
        limits_mm = engine.limits_mm[engine.valve[entry.valve].role]
        return mark_left(Left(entry.settled_mm, limits_mm, unit=unit), reason, asks)
    was = spec_verdict(engine, entry.valve, entry.settled_mm)
    if was is SpecVerdict.WITHIN:
        return same_for_all(True, "Within the spec as it was: nothing to adjust.")
    says = f"{exact(entry.settled_mm, unit)} is {was}, and no figure with the nut tight is written."
    return same_for_all(False, says)


def mark_running(engine: Engine, entry: Entry, _asks: Collection[str] = ()) -> Mark | None:
    """None where this valve has no running range. It is another gap than the lash, so the lash
    proves nothing of it, and one rocker nothing of the next."""
    spec = engine.clearance[engine.valve[entry.valve].role]
    if spec.running_mm is None:
        return None
    low_mm, high_mm = (to_record_mm(mm) for mm in spec.running_mm)
    found = entry.choice(RUNNING)
    if found is None:
        return same_for_all(False, "No check of the running range is written.")
    stacks = (
        f"a stack of {exact(low_mm, spec.unit)} must go and one of {exact(high_mm, spec.unit)} "
        "must not"
    )
    if found == "within":
        return same_for_all(True, f"Proved by its own two stacks: {stacks}.")
    return same_for_all(False, f"Left {found} in its running range: {stacks}. Set it again.")


class _ShimSum(NamedTuple):
    """What a shim is worked out from: the gap, its two columns, and how the gap is judged."""

    gap_mm: Decimal | None
    fitted_mm: Decimal | None
    chosen_mm: Decimal | None
    sizes: Sizes
    limits_mm: tuple[Decimal, Decimal]
    moved_mm: Decimal = Decimal(0)
    """What the closing shim's change adds to the gap first."""
    unit: Unit = Unit.MM
    """That of the spec."""
    leave: str | None = None
    """The reason for leaving it as it is."""


def mark_shim(engine: Engine, entry: Entry, asks: Collection[str] = ()) -> Mark | None:
    """None where this valve has no shim. Of a valve that is pulled shut the closing shim's change
    counts in: it moves the opening gap."""
    adjuster = engine.adjuster(entry.valve).shim
    if adjuster is None:
        return None
    return _mark_sum(
        _ShimSum(
            entry.settled_mm,
            entry.length_mm(SHIM_FITTED),
            entry.length_mm(SHIM_CHOSEN),
            adjuster.sizes,
            engine.limits_mm[engine.valve[entry.valve].role],
            closing_moves_mm(entry),
            engine.clearance[engine.valve[entry.valve].role].unit,
            entry.choice(LEAVE),
        ),
        asks,
    )


def mark_closing_shim(engine: Engine, entry: Entry, _asks: Collection[str] = ()) -> Mark | None:
    """None where no closing rocker pulls this valve shut."""
    role = engine.valve[entry.valve].role
    adjuster, spec = engine.closing_adjuster_of(role).shim, engine.closing.get(role)
    if adjuster is None or spec is None:
        return None
    return _mark_sum(
        _ShimSum(
            entry.length_mm(CLOSING),
            entry.length_mm(CLOSING_FITTED),
            entry.length_mm(CLOSING_CHOSEN),
            adjuster.sizes,
            (to_record_mm(spec.low_mm), to_record_mm(spec.high_mm)),
            unit=spec.unit,
        )
    )


def closing_moves_mm(entry: Entry) -> Decimal:
    """What another closing shim adds to the opening gap; 0 where none is written down."""
    fitted_mm, chosen_mm = entry.length_mm(CLOSING_FITTED), entry.length_mm(CLOSING_CHOSEN)
    return Decimal(0) if fitted_mm is None else moved_by(fitted_mm, chosen_mm)


def _mark_sum(done: _ShimSum, asks: Collection[str] = ()) -> Mark:
    if done.gap_mm is None:
        return same_for_all(False, "No reading, so no shim can be worked out.")
    comes_to_mm = done.gap_mm + done.moved_mm
    moved = ""
    if done.moved_mm:
        moved = f" The closing shim moves it to {exact(comes_to_mm, done.unit)} first."
    was = verdict_between(comes_to_mm, done.limits_mm)
    if done.leave is not None and done.chosen_mm in (None, done.fitted_mm):
        left = Left(comes_to_mm, done.limits_mm, done.sizes, done.fitted_mm, done.unit)
        return mark_left(left, done.leave, asks)
    if done.chosen_mm is None:
        if was is SpecVerdict.WITHIN:
            return same_for_all(True, f"Within the spec as it was: the shim stays.{moved}")
        return same_for_all(
            False, f"{exact(comes_to_mm, done.unit)} is {was}, and no shim is chosen.{moved}"
        )
    if done.fitted_mm is None:
        return same_for_all(False, "The fitted shim is not written, so the sum cannot be followed.")
    sizes = done.sizes
    if done.chosen_mm not in sizes.all():
        made = f"{exact(sizes.from_mm)} to {exact(sizes.to_mm)} by {exact(sizes.step_mm)}"
        chosen = exact(done.chosen_mm)
        return same_for_all(False, f"No shim is made in {chosen}; they come in {made}.")
    gap_mm = done.fitted_mm + comes_to_mm - done.chosen_mm
    becomes = verdict_between(gap_mm, done.limits_mm)
    figures = f"{exact(done.fitted_mm)} + {exact(comes_to_mm)} − {exact(done.chosen_mm)}"
    low_mm, high_mm = done.limits_mm
    against = limits_words(low_mm, high_mm, done.unit)
    says = f"{figures} = {exact(gap_mm, done.unit)}, against {against}: {becomes}.{moved}"
    return same_for_all(becomes is SpecVerdict.WITHIN, says)
