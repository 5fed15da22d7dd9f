"""Explanations from the other columns: two passes, before and after the nut, shims, verdicts."""

import math
import statistics
from collections.abc import Iterator, Sequence
from typing import NamedTuple

from valvetrain.engine import Role
from valvetrain.grading.adjusted import closing_moves_mm
from valvetrain.grading.columns import AFTER, FINAL, SECOND, SET, SHIM_CHOSEN, SHIM_FITTED
from valvetrain.grading.constants import (
    COARSE_STEP_MM,
    COLUMN_SHEET,
    LEAST_LINES,
    LEAST_NUT_MM,
    LEAST_PASSES,
    MAD_TO_SIGMA,
    NUT_ALLOWED_MM,
    NUT_MOVES_MM,
    NUT_SHEET,
    ONE_STRAYS_MM,
    PASSES_APART,
    REVERSED_BY_CHANCE,
    RIGHT_SHIM,
    RIGHT_VERDICT,
    SAME_GAP_MM,
    TWO_STRAY_MM,
    VERDICT_SLIP,
    WRITTEN_STEP_MM,
    WRONG_BY_CHANCE,
)
from valvetrain.grading.findings.closing import explain_closing
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


def explain_columns(case: Case) -> list[Finding]:
    found = (
        _between_passes(case),
        _creep(case),
        _wrong_way(case),
        _verdicts(case),
        *explain_closing(case),
    )
    return [finding for finding in found if finding is not None]


def _between_passes(case: Case) -> Finding | None:
    """Passes further apart than this hand repeats, where nobody has written a final figure yet.

    How a hand repeats is seen in its other valves (the median of the distances). One valve alone
    must be further off than two or more: single readings that stray far are common, and the more
    valves there are, the further the furthest strays.
    """
    passes = [
        (line.valve, first, second, abs(first - second))
        for line, first in zip(case.lines, case.gaps_mm, strict=True)
        if first is not None
        and (second := line.mm(SECOND)) is not None
        and line.length_mm(FINAL) is None
    ]
    if not passes:
        return None
    spread = math.hypot(math.sqrt(2) * case.scatter.pass_mm, case.scatter.step_mm / math.sqrt(6))
    if len(passes) >= LEAST_PASSES:
        spread = max(spread, MAD_TO_SIGMA * statistics.median(gap for *_, gap in passes))
    furthest = len(passes) ** (1 / 3)
    coarse_mm = max(case.scatter.step_mm, _box_step_mm(passes)) - WRITTEN_STEP_MM
    several_mm = max(TWO_STRAY_MM * furthest + coarse_mm, PASSES_APART * spread)
    alone_mm = max(ONE_STRAYS_MM * furthest + coarse_mm, several_mm)
    apart = [one for one in passes if one[-1] > several_mm]
    limit_mm = several_mm
    if len(apart) < 2:
        apart, limit_mm = [one for one in apart if one[-1] > alone_mm], alone_mm
    if not apart:
        return None
    widest = max(gap for *_, gap in apart)
    valves = tuple(valve for valve, *_ in apart)
    return Finding(
        Kind.BETWEEN_PASSES,
        valves,
        0.5 * (widest / spread) ** 2,
        f"The two passes of {listed(valves)} differ by more than this hand's repeatability "
        f"({case.shown(valves[0], limit_mm)}). Measure a third time.",
        about(Kind.BETWEEN_PASSES.words.hint or "", valves),
        tuple(
            f"valve {valve}: {case.shown(valve, first)} and {case.shown(valve, second)}, "
            f"{case.shown(valve, gap)} apart"
            for valve, first, second, gap in apart
        ),
    )


def _box_step_mm(passes: Sequence[tuple[int, float, float, float]]) -> float:
    """The step of a box by twentieths, where every figure is one of its leaves or half-way between
    two; else the usual one."""
    figures = [mm for _, first, second, _ in passes for mm in (first, second)]
    half_mm = float(COARSE_STEP_MM) / 2
    off_mm = max(abs(mm - round(mm / half_mm) * half_mm) for mm in figures)
    coarse = off_mm <= WRITTEN_STEP_MM / 2 + SAME_GAP_MM
    return float(COARSE_STEP_MM) if coarse and len(passes) >= LEAST_PASSES else WRITTEN_STEP_MM


def _creep(case: Case) -> Finding | None:
    """After the nut less before it: one amount on every valve, and not nothing."""
    moved = [
        (line.valve, after - before)
        for line in case.lines
        if (after := line.mm(AFTER)) is not None and (before := line.mm(SET)) is not None
    ]
    if len(moved) < LEAST_LINES:
        return None
    amounts = [amount for _, amount in moved]
    mean = statistics.fmean(amounts)
    spread = math.hypot(math.sqrt(2) * case.scatter.pass_mm, case.scatter.step_mm / math.sqrt(6))
    of_mean = spread / math.sqrt(len(amounts))
    if abs(mean) < LEAST_NUT_MM or statistics.stdev(amounts) > 2 * spread:
        return None
    odds = log_normal(mean, 0.0, math.hypot(NUT_MOVES_MM, of_mean))
    odds += math.log(NUT_SHEET) - log_normal(mean, 0.0, math.hypot(NUT_ALLOWED_MM, of_mean))
    if odds < LOG_NEEDED:
        return None
    does = "opens" if mean > 0 else "closes"
    valves = tuple(valve for valve, _ in moved)
    return Finding(
        Kind.LOCK_NUT_CREEP,
        valves,
        odds,
        f"Tightening the nut {does} every gap by about {case.shown(valves[0], abs(mean))}: "
        f"{times(odds)} as likely as chance. It was not allowed for beforehand.",
        about(Kind.LOCK_NUT_CREEP.words.hint or "", valves, does=does),
        tuple(
            f"valve {valve}: the nut {'closes' if amount < 0 else 'opens'} the gap by "
            f"{case.shown(valve, abs(amount))}"
            for valve, amount in moved
        ),
    )


class ShimSum(NamedTuple):
    """A shim that had to be changed: the size that was needed, and that on the other side."""

    valve: int
    fitted_mm: float
    gap_mm: float
    chosen_mm: float
    right_mm: float
    mirrored_mm: float
    step_mm: float

    def is_near(self, size_mm: float) -> bool:
        return abs(self.chosen_mm - size_mm) <= self.step_mm / 2 + 1e-9


def _wrong_way(case: Case) -> Finding | None:
    """Shims chosen on the far side of the fitted one, by the amount that was needed."""
    wrong: list[ShimSum] = []
    odds = math.log(COLUMN_SHEET)
    for line in case.lines:
        done = _shim_sum(case, line)
        if done is None:
            continue
        if done.is_near(done.mirrored_mm):
            odds += math.log(RIGHT_SHIM / WRONG_BY_CHANCE)
            wrong.append(done)
        elif done.is_near(done.right_mm):
            odds += math.log((1 - RIGHT_SHIM) / RIGHT_SHIM)
    if not wrong or odds < LOG_NEEDED:
        return None
    valves = tuple(done.valve for done in wrong)
    return Finding(
        Kind.WRONG_WAY_SHIM,
        valves,
        odds,
        f"The shims of {listed(valves)} go the wrong way: {times(odds)} as likely as chance. "
        "Too small a gap needs a thinner shim.",
        about(Kind.WRONG_WAY_SHIM.words.hint or "", valves),
        tuple(
            f"valve {done.valve}: fitted {done.fitted_mm:.3f}, gap {done.gap_mm:g}; "
            f"needs {done.right_mm:.3f}, chosen {done.chosen_mm:.3f} mm"
            for done in wrong
        ),
    )


def _shim_sum(case: Case, line: Entry) -> ShimSum | None:
    """None where no shim was worked out, or where both sides are one size."""
    adjuster = case.engine.adjuster(line.valve).shim
    gap_mm, fitted_mm, chosen_mm = line.gap_mm, line.mm(SHIM_FITTED), line.mm(SHIM_CHOSEN)
    if adjuster is None or gap_mm is None or fitted_mm is None or chosen_mm is None:
        return None
    step = float(adjuster.sizes.step_mm)
    by = gap_mm - float(case.engine.clearance[case.role(line.valve)].middle_mm)
    by += float(closing_moves_mm(line))
    if abs(by) <= step:
        return None
    return ShimSum(line.valve, fitted_mm, gap_mm, chosen_mm, fitted_mm + by, fitted_mm - by, step)


_OTHER = {Role.INTAKE: Role.EXHAUST, Role.EXHAUST: Role.INTAKE}


def _verdicts(case: Case) -> Finding | None:
    """The likelier of two things that may be wrong with a sheet's verdicts. What the other spec
    explains in full was not said the wrong way round."""
    other, reverse = _other_spec(case), _reversed(case)
    if other is None or reverse is None:
        return other or reverse
    if set(reverse.valves) <= set(other.valves):
        return other
    return max(other, reverse, key=lambda one: one.log_odds)


def _other_spec(case: Case) -> Finding | None:
    """Verdicts that follow from the other role's spec where the two specs disagree."""
    odds, told = math.log(COLUMN_SHEET), []
    limits = case.reference.limits_mm
    if not {Role.INTAKE, Role.EXHAUST} <= limits.keys():
        return None
    for line, gap_mm, own in _own_verdicts(case):
        other = _OTHER.get(case.role(line.valve))
        if other is None or own == (instead := _verdict(limits[other], gap_mm)):
            continue
        if line.verdict == instead:
            odds += math.log(RIGHT_VERDICT / VERDICT_SLIP)
            says = (
                f"{case.shown(line.valve, gap_mm)} is {own} by its own spec, {instead} by the other"
            )
            told.append((line, says))
        elif line.verdict == own:
            odds += math.log(VERDICT_SLIP / RIGHT_VERDICT)
    return _of_verdicts(Kind.WRONG_SPEC, odds, told, "follow the other role's spec")


_REVERSED = {"tight": "loose", "loose": "tight"}


def _reversed(case: Case) -> Finding | None:
    """Verdicts that say tight of what is read loose, and loose of what is read tight."""
    odds, told = math.log(COLUMN_SHEET), []
    for line, gap_mm, own in _own_verdicts(case):
        if own not in _REVERSED:
            continue
        if line.verdict == _REVERSED[own]:
            odds += math.log(RIGHT_VERDICT / REVERSED_BY_CHANCE)
            told.append((line, f"{case.shown(line.valve, gap_mm)} is {own} by its spec"))
        elif line.verdict == own:
            odds += math.log(REVERSED_BY_CHANCE / RIGHT_VERDICT)
    return _of_verdicts(Kind.VERDICT_REVERSED, odds, told, "say the opposite of what was read")


def _own_verdicts(case: Case) -> Iterator[tuple[Entry, float, str]]:
    """Every line that has a figure and a verdict, and what its own spec says of the figure."""
    for line, gap_mm in zip(case.lines, case.gaps_mm, strict=True):
        limits = case.reference.limits_mm.get(case.role(line.valve))
        if gap_mm is not None and line.verdict is not None and limits is not None:
            yield line, gap_mm, _verdict(limits, gap_mm)


def _of_verdicts(kind: Kind, odds: float, told: list[tuple[Entry, str]], do: str) -> Finding | None:
    if not told or odds < LOG_NEEDED:
        return None
    valves = tuple(line.valve for line, _ in told)
    return Finding(
        kind,
        valves,
        odds,
        f"The verdicts of {listed(valves)} {do}: {times(odds)} as likely as chance.",
        kind.words.hint,
        tuple(f"valve {line.valve}: {says}; said {line.verdict}" for line, says in told),
    )


def _verdict(limits_mm: tuple[float, float], reading_mm: float) -> str:
    if reading_mm < limits_mm[0]:
        return "tight"
    return "loose" if reading_mm > limits_mm[1] else "within"
