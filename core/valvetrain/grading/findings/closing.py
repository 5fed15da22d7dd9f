"""Explanations of what is written of valves that are pulled shut: two gaps and two shims each."""

import math

from valvetrain.grading.adjusted import closing_moves_mm
from valvetrain.grading.columns import CLOSING, SHIM_CHOSEN, SHIM_FITTED
from valvetrain.grading.constants import COLUMN_SHEET, RIGHT_SHIM, WRONG_BY_CHANCE
from valvetrain.grading.findings.kinds import Kind
from valvetrain.grading.findings.model import (
    LOG_NEEDED,
    Case,
    Finding,
    about,
    listed,
    log_normal,
    times,
)
from valvetrain.grading.sheet import Entry


def explain_closing(case: Case) -> list[Finding]:
    if not case.engine.closing:
        return []
    found = (_exchanged(case), _forgotten(case))
    return [finding for finding in found if finding is not None]


def _exchanged(case: Case) -> Finding | None:
    """Each of the two figures stands where the other belongs, valve by valve."""
    spread_mm = math.hypot(case.scatter.hand_mm, case.scatter.step_mm)
    told: list[tuple[int, float, float]] = []
    odds = math.log(COLUMN_SHEET)
    for line in case.lines:
        opening, closing = line.gap_mm, line.mm(CLOSING)
        key_mm = case.reference.closing_mm.get(line.valve)
        if opening is None or closing is None or key_mm is None:
            continue
        opening_key, closing_key = case.key[line.valve].gap_mm, float(key_mm)
        as_written = log_normal(opening, opening_key, spread_mm)
        as_written += log_normal(closing, closing_key, spread_mm)
        exchanged = log_normal(opening, closing_key, spread_mm)
        exchanged += log_normal(closing, opening_key, spread_mm)
        # A line that is plainly right counts against it; one that tells nothing does not count.
        step = min(exchanged - as_written, math.log(RIGHT_SHIM / WRONG_BY_CHANCE))
        if step > 0:
            odds += step
            told.append((line.valve, opening, closing))
    if not told or odds < LOG_NEEDED:
        return None
    valves = tuple(valve for valve, *_ in told)
    return Finding(
        Kind.GAPS_SWAPPED,
        valves,
        odds,
        f"Opening and closing gap of {listed(valves)} stand in each other's place: "
        f"{times(odds)} as likely as chance.",
        about(Kind.GAPS_SWAPPED.words.hint or "", valves),
        tuple(
            f"valve {valve}: opening {case.shown(valve, opening)}, closing "
            f"{case.shown(valve, closing)}"
            for valve, opening, closing in told
        ),
    )


def _forgotten(case: Case) -> Finding | None:
    """Opening shims that are right for the gap as measured, and wrong once the closing shim is."""
    told: list[tuple[int, float, float, float]] = []
    odds = math.log(COLUMN_SHEET)
    for line in case.lines:
        done = _two_sizes(case, line)
        if done is None:
            continue
        chosen, right, forgotten, step = done
        if abs(chosen - forgotten) <= step / 2 + 1e-9:
            odds += math.log(RIGHT_SHIM / WRONG_BY_CHANCE)
            told.append((line.valve, chosen, right, forgotten))
        elif abs(chosen - right) <= step / 2 + 1e-9:
            odds += math.log((1 - RIGHT_SHIM) / RIGHT_SHIM)
    if not told or odds < LOG_NEEDED:
        return None
    valves = tuple(valve for valve, *_ in told)
    return Finding(
        Kind.CLOSING_FORGOTTEN,
        valves,
        odds,
        f"The opening shims of {listed(valves)} leave out what the closing shim moves: "
        f"{times(odds)} as likely as chance.",
        about(Kind.CLOSING_FORGOTTEN.words.hint or "", valves),
        tuple(
            f"valve {valve}: needs {right:.3f}, chosen {chosen:.3f} mm, as for the gap before "
            f"({forgotten:.3f})"
            for valve, chosen, right, forgotten in told
        ),
    )


def _two_sizes(case: Case, line: Entry) -> tuple[float, float, float, float] | None:
    """The chosen opening shim, the right one, that without the closing shim's change, and the step;
    None where the two are one size."""
    adjuster = case.engine.adjuster(line.valve).shim
    gap, fitted, chosen = line.gap_mm, line.mm(SHIM_FITTED), line.mm(SHIM_CHOSEN)
    if adjuster is None or gap is None or fitted is None or chosen is None:
        return None
    step = float(adjuster.sizes.step_mm)
    moved = float(closing_moves_mm(line))
    if abs(moved) <= step:
        return None
    forgotten = fitted + gap - float(case.engine.clearance[case.role(line.valve)].middle_mm)
    return chosen, forgotten + moved, forgotten, step
