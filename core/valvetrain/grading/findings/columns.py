"""Explanations from the other columns: two passes, before and after the nut, shims, verdicts."""

import math
import statistics

from valvetrain.adjusters import sizes_of
from valvetrain.engine import Role, ShimAdjuster
from valvetrain.grading.findings.model import (
    LOG_NEEDED,
    Case,
    Finding,
    Kind,
    Line,
    listed,
    log_normal,
    times,
)

PASS_MM = 0.009
"""Spread of one reading when the same hand repeats it (common practice)."""
PASSES_APART = 4.2
CREEP_MM, STEADY_MM = 0.03, 0.003
"""What nuts move a screw by when it is let happen, and when it is allowed for."""
LEAST_CREEP_MM = 0.012
LEAST_LINES = 3
LOG_PRIOR = math.log(0.02)
LOG_PRIOR_CREEP = math.log(0.5)
"""Nuts that creep are common; a hand that allows for each of them is not."""
RIGHT, WRONG_BY_CHANCE = 0.9, 0.0015
"""How often a mirrored shim is chosen by one who counts the wrong way, and by chance."""
VERDICT_RIGHT, VERDICT_SLIP = 0.9, 0.05


def explain_columns(case: Case) -> list[Finding]:
    found = (_between_passes(case), _creep(case), _wrong_way(case), _other_spec(case))
    return [finding for finding in found if finding is not None]


def _between_passes(case: Case) -> Finding | None:
    """Passes further apart than one hand's repeating, and than the step of the gauge."""
    spread = math.hypot(math.sqrt(2) * PASS_MM, case.scatter.step_mm / math.sqrt(6))
    limit_mm = max(PASSES_APART * spread, case.scatter.step_mm)
    apart = [
        (line, abs(line.reading_mm - line.second_mm))
        for line in case.lines
        if line.reading_mm is not None
        and line.second_mm is not None
        and abs(line.reading_mm - line.second_mm) > limit_mm
    ]
    if not apart:
        return None
    widest = max(gap for _, gap in apart)
    valves = tuple(line.valve for line, _ in apart)
    return Finding(
        Kind.BETWEEN_PASSES,
        valves,
        0.5 * (widest / spread) ** 2,
        f"The two passes of {listed(valves)} differ by more than one hand's repeating "
        f"({limit_mm:.3f} mm): measure a third time.",
        f"Your two passes of {listed(valves)} differ: measure a third time.",
        tuple(
            f"valve {line.valve}: {line.reading_mm:g} and {line.second_mm:g} mm, {gap:.3f} apart"
            for line, gap in apart
        ),
    )


def _creep(case: Case) -> Finding | None:
    """After the nut less before it: one amount on every valve, and not nothing."""
    moved = [
        (line.valve, line.after_mm - line.set_mm)
        for line in case.lines
        if line.after_mm is not None and line.set_mm is not None
    ]
    if len(moved) < LEAST_LINES:
        return None
    amounts = [amount for _, amount in moved]
    mean = statistics.fmean(amounts)
    spread = math.hypot(math.sqrt(2) * PASS_MM, case.scatter.step_mm / math.sqrt(6))
    of_mean = spread / math.sqrt(len(amounts))
    if abs(mean) < LEAST_CREEP_MM or statistics.stdev(amounts) > 2 * spread:
        return None
    odds = log_normal(mean, 0.0, math.hypot(CREEP_MM, of_mean))
    odds += LOG_PRIOR_CREEP - log_normal(mean, 0.0, math.hypot(STEADY_MM, of_mean))
    if odds < LOG_NEEDED:
        return None
    does = "opens" if mean > 0 else "closes"
    valves = tuple(valve for valve, _ in moved)
    return Finding(
        Kind.LOCK_NUT_CREEP,
        valves,
        odds,
        f"Tightening the nut {does} every gap by about {abs(mean):.3f} mm: "
        f"{times(odds)} as likely as chance. It was not set off beforehand.",
        f"What does the lock nut do to the gap? It {does} it here; set that much off beforehand.",
        tuple(f"valve {valve}: {amount:+.3f} mm by the nut" for valve, amount in moved),
    )


def _wrong_way(case: Case) -> Finding | None:
    """Shims chosen on the far side of the fitted one, by the amount that was needed."""
    wrong: list[tuple[Line, float, float]] = []
    odds = LOG_PRIOR
    for line in case.lines:
        sizes = _right_and_mirrored(case, line)
        if sizes is None or line.shim_chosen_mm is None:
            continue
        right, mirrored, step = sizes
        if abs(line.shim_chosen_mm - mirrored) <= step / 2 + 1e-9:
            odds += math.log(RIGHT / WRONG_BY_CHANCE)
            wrong.append((line, right, mirrored))
        elif abs(line.shim_chosen_mm - right) <= step / 2 + 1e-9:
            odds += math.log((1 - RIGHT) / RIGHT)
    if not wrong or odds < LOG_NEEDED:
        return None
    valves = tuple(line.valve for line, _, _ in wrong)
    return Finding(
        Kind.WRONG_WAY_SHIM,
        valves,
        odds,
        f"The shims of {listed(valves)} go the wrong way: {times(odds)} as likely as chance. "
        "Too small a gap wants a thinner shim.",
        f"Which way does the gap go when the shim of {listed(valves)} is thicker? "
        "Too small a gap wants a thinner one.",
        tuple(
            f"valve {line.valve}: fitted {line.shim_fitted_mm:.3f}, gap {line.reading_mm:g}; "
            f"needs {right:.3f}, chosen {line.shim_chosen_mm:.3f} mm"
            for line, right, _ in wrong
        ),
    )


def _right_and_mirrored(case: Case, line: Line) -> tuple[float, float, float] | None:
    """The size that was needed, that on the other side, and the step; None where they are one."""
    adjuster = case.engine.adjusters.get(case.role(line.valve))
    if not isinstance(adjuster, ShimAdjuster) or line.reading_mm is None:
        return None
    if line.shim_fitted_mm is None:
        return None
    step = float(sizes_of(adjuster).step_mm)
    by = line.reading_mm - float(case.engine.clearance[case.role(line.valve)].middle_mm)
    if abs(by) <= step:
        return None
    return line.shim_fitted_mm + by, line.shim_fitted_mm - by, step


_OTHER = {Role.INTAKE: Role.EXHAUST, Role.EXHAUST: Role.INTAKE}


def _other_spec(case: Case) -> Finding | None:
    """Verdicts that follow from the other role's spec where the two specs disagree."""
    told: list[tuple[Line, str, str]] = []
    odds = LOG_PRIOR
    limits = case.reference.limits_mm
    if not {Role.INTAKE, Role.EXHAUST} <= limits.keys():
        return None
    for line in case.lines:
        other = _OTHER.get(role := case.role(line.valve))
        if line.reading_mm is None or line.verdict is None or other is None:
            continue
        own_says = _verdict(limits[role], line.reading_mm)
        other_says = _verdict(limits[other], line.reading_mm)
        if own_says == other_says:
            continue
        if line.verdict == other_says:
            odds += math.log(VERDICT_RIGHT / VERDICT_SLIP)
            told.append((line, own_says, other_says))
        elif line.verdict == own_says:
            odds += math.log(VERDICT_SLIP / VERDICT_RIGHT)
    if not told or odds < LOG_NEEDED:
        return None
    valves = tuple(line.valve for line, _, _ in told)
    return Finding(
        Kind.ROLES_SWAPPED,
        valves,
        odds,
        f"The verdicts of {listed(valves)} follow the other role's spec: "
        f"{times(odds)} as likely as chance.",
        "Which spec is for intake and which for exhaust? Look at each verdict again.",
        tuple(
            f"valve {line.valve}: {line.reading_mm:g} mm is {own} by its own spec, {other} by the "
            f"other; said {line.verdict}"
            for line, own, other in told
        ),
    )


def _verdict(limits_mm: tuple[float, float], reading_mm: float) -> str:
    if reading_mm < limits_mm[0]:
        return "tight"
    return "loose" if reading_mm > limits_mm[1] else "within"
