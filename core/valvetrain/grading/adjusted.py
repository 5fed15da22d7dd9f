"""Marks for what was adjusted: the gap with the nut tight, and the shim that was chosen.

Judged on the student's own figures only, because an error is paid for once; so the reasons are the
same for everybody.
"""

from valvetrain.engine import Engine
from valvetrain.grading.columns import AFTER, SHIM_CHOSEN, SHIM_FITTED
from valvetrain.grading.mark import Mark, in_mm, same_for_all
from valvetrain.grading.sheet import Entry, SpecVerdict, spec_verdict


def mark_adjusted(engine: Engine, entry: Entry) -> Mark | None:
    """None where this valve has a shim: there is no nut to tighten."""
    if engine.adjuster(entry.valve).has_shims:
        return None
    after_mm = entry.length_mm(AFTER)
    if after_mm is not None:
        became = spec_verdict(engine, entry.valve, after_mm)
        says = f"{in_mm(after_mm)} with the nut tight, against {_spec(engine, entry)}: {became}."
        return same_for_all(became is SpecVerdict.WITHIN, says)
    if entry.reading_mm is None:
        return same_for_all(False, "Neither a reading nor a figure with the nut tight.")
    was = spec_verdict(engine, entry.valve, entry.reading_mm)
    if was is SpecVerdict.WITHIN:
        return same_for_all(True, "Within the spec as it was: nothing to adjust.")
    says = f"{in_mm(entry.reading_mm)} is {was}, and no figure with the nut tight is written."
    return same_for_all(False, says)


def mark_shim(engine: Engine, entry: Entry) -> Mark | None:
    """None where this valve has no shim."""
    adjuster = engine.adjuster(entry.valve).shim
    if adjuster is None:
        return None
    fitted_mm, chosen_mm = entry.length_mm(SHIM_FITTED), entry.length_mm(SHIM_CHOSEN)
    if entry.reading_mm is None:
        return same_for_all(False, "No reading, so no shim can be worked out.")
    was = spec_verdict(engine, entry.valve, entry.reading_mm)
    if chosen_mm is None:
        if was is SpecVerdict.WITHIN:
            return same_for_all(True, "Within the spec as it was: the shim stays.")
        return same_for_all(False, f"{in_mm(entry.reading_mm)} is {was}, and no shim is chosen.")
    if fitted_mm is None:
        return same_for_all(False, "The fitted shim is not written, so the sum cannot be followed.")
    sizes = adjuster.sizes
    if chosen_mm not in sizes.all():
        made = f"{in_mm(sizes.from_mm)} to {in_mm(sizes.to_mm)} by {in_mm(sizes.step_mm)}"
        return same_for_all(False, f"No shim is made in {in_mm(chosen_mm)}; they come in {made}.")
    gap_mm = fitted_mm + entry.reading_mm - chosen_mm
    becomes = spec_verdict(engine, entry.valve, gap_mm)
    figures = f"{in_mm(fitted_mm)} + {in_mm(entry.reading_mm)} − {in_mm(chosen_mm)}"
    says = f"{figures} = {in_mm(gap_mm)}, against {_spec(engine, entry)}: {becomes}."
    return same_for_all(becomes is SpecVerdict.WITHIN, says)


def _spec(engine: Engine, entry: Entry) -> str:
    low_mm, high_mm = engine.limits_mm[engine.valve[entry.valve].role]
    return f"{in_mm(low_mm)} to {in_mm(high_mm)}"
