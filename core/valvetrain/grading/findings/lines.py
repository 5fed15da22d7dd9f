"""Explanations of single figures, or of two that were exchanged, on top of a whole sheet's.

Only figures that ordinary scatter does not hold are looked at. Each is laid beside what it would be
had one thing gone wrong; what fits no explanation stays unexplained, and is not accused.
"""

import math
from typing import NamedTuple

from valvetrain.angles import CYCLE_DEG, TURN_DEG
from valvetrain.grading.constants import (
    CAUGHT_LINE,
    DECIMAL_LINE,
    FAR_UNIT_LINE,
    NEAR_MARK_DEG,
    OFF_HEEL_LINE,
    STRAY_SHARE,
    SWAPPED_LINES,
    TIP_MM,
    UNIT_LINE,
)
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
from valvetrain.grading.findings.whole import SCALES, Based
from valvetrain.lobe import lobe_of

LINE_SCALES = tuple(one for one in SCALES if one[0] is not Kind.CONVERSION_SLIP)
LOG_PRIOR = {
    Kind.DECIMAL_SLIP: math.log(DECIMAL_LINE),
    Kind.UNIT_SLIP: math.log(UNIT_LINE),
    Kind.CAUGHT_TIP: math.log(CAUGHT_LINE),
    Kind.OFF_HEEL: math.log(OFF_HEEL_LINE),
    Kind.NEIGHBOURS_SWAPPED: math.log(SWAPPED_LINES),
}


_ELSEWHERE = {Kind.OFF_HEEL: " off the heel"}


class Suspect(NamedTuple):
    """One explanation of one figure; group ties figures that stand and fall together."""

    kind: Kind
    place: int
    log_odds: float
    evidence: str
    group: str


def explain_lines(case: Case, based: Based) -> list[Finding]:
    odd = [at for at in range(len(case.valves)) if based.sure[at] < 0.5]
    if not odd:
        return []
    findings, explained = _exchanged(case, based, odd)
    suspects = [
        suspect
        for at in odd
        if at not in explained
        for suspect in (
            *_scaled(case, based, at),
            *_off_heel(case, based, at),
            *_caught(case, based, at),
        )
    ]
    findings += _likeliest(case, suspects)
    return findings


def _log_now(case: Case, based: Based, at: int) -> float:
    """Log density of a figure as ordinary scatter about the whole sheet's explanation has it."""
    middle = float(based.predicted_mm[at]) + based.bias_mm
    spread = float(based.spread_mm[at])
    inside = log_normal(float(case.readings_mm[at]), middle, spread)
    inside += math.log(1 - case.scatter.stray)
    stray = float(case.log_stray[at])
    return max(inside, stray) + math.log1p(math.exp(-abs(inside - stray)))


def _scaled(case: Case, based: Based, at: int) -> list[Suspect]:
    found = []
    reading, now = float(case.readings_mm[at]), _log_now(case, based, at)
    valve = case.valves[at]
    for kind, scale, how in LINE_SCALES:
        middle = (float(based.predicted_mm[at]) + based.bias_mm) * scale
        step_mm = case.scatter.step_at(scale)
        spread = math.hypot(float(based.spread_mm[at]) * scale, step_mm / 4)
        prior = LOG_PRIOR[kind]
        if kind is Kind.UNIT_SLIP and not 0.1 < scale < 10:
            prior = math.log(FAR_UNIT_LINE)
        gain = log_normal(reading, middle, spread) - now + prior
        evidence = f"written {case.shown(valve, reading)}; {how}: {case.shown(valve, middle)}"
        found.append(Suspect(kind, at, gain, evidence, f"{kind} {how}"))
    return found


def _off_heel(case: Case, based: Based, at: int) -> list[Suspect]:
    """The gap half a cycle on, and at the ignition mark near the stop that was named."""
    line = case.read[at]
    if line.crank_deg is None:
        return []
    valve = case.engine.valve[line.valve]
    lobe = lobe_of(case.engine.seen_by(valve), valve.role)
    reading, now = float(case.readings_mm[at]), _log_now(case, based, at)
    middle = float(based.predicted_mm[at]) + based.bias_mm
    spread = float(based.spread_mm[at])
    found = []
    for where, crank_deg in _places(case, line.crank_deg):
        lift = lobe.lift_at_mm(case.engine.cycle_deg(valve.cylinder, crank_deg))
        gap = max(0.0, middle - lift)
        if lift < spread or gap <= 0:
            continue
        gain = log_normal(reading, gap, spread) - now
        evidence = (
            f"written {case.shown(line.valve, reading)}; {where} ({crank_deg:g}°) its follower is "
            f"up {case.shown(line.valve, lift)}, which leaves {case.shown(line.valve, gap)}"
        )
        found.append(Suspect(Kind.OFF_HEEL, at, gain, evidence, f"{where} {crank_deg:g}"))
    return found


def _places(case: Case, crank_deg: float) -> list[tuple[str, float]]:
    places = [
        ("a turn further, on the other stroke", (crank_deg + TURN_DEG) % CYCLE_DEG),
    ]
    for mark in case.engine.marks:
        if mark.means == "ignition":
            for at in mark.crank_degs():
                apart = (at - crank_deg + CYCLE_DEG / 2) % CYCLE_DEG - CYCLE_DEG / 2
                if abs(apart) <= NEAR_MARK_DEG:
                    places.append((f"at the ignition mark {mark.label}", at))
    return places


def _caught(case: Case, based: Based, at: int) -> list[Suspect]:
    reading = float(case.readings_mm[at])
    middle = float(based.predicted_mm[at]) + based.bias_mm
    tight = middle - reading
    if not TIP_MM[0] <= tight <= TIP_MM[1]:
        return []
    gain = -math.log(TIP_MM[1] - TIP_MM[0]) - _log_now(case, based, at)
    valve = case.valves[at]
    evidence = (
        f"written {case.shown(valve, reading)}, {case.shown(valve, tight)} tighter than this hand "
        "reads the others"
    )
    gain += LOG_PRIOR[Kind.CAUGHT_TIP] - math.log(max(1.0, case.scatter.near_stray / STRAY_SHARE))
    return [Suspect(Kind.CAUGHT_TIP, at, gain, evidence, f"tip {at}")]


def _exchanged(case: Case, based: Based, odd: list[int]) -> tuple[list[Finding], set[int]]:
    """Pairs next to each other on the head that read as each other."""
    order = case.reference.order
    found: list[tuple[float, int, int]] = []
    for one in range(len(case.valves) - 1):
        other = one + 1
        if one not in odd and other not in odd:
            continue
        if order[case.valves[other]] - order[case.valves[one]] != 1:
            continue
        gain = LOG_PRIOR[Kind.NEIGHBOURS_SWAPPED]
        for here, there in ((one, other), (other, one)):
            middle = float(based.predicted_mm[there]) + based.bias_mm
            reading = float(case.readings_mm[here])
            gain += log_normal(reading, middle, float(based.spread_mm[here]))
            gain -= _log_now(case, based, here)
        if gain > LOG_NEEDED:
            found.append((gain, one, other))
    findings, taken = [], set[int]()
    for gain, one, other in sorted(found, reverse=True):
        if taken & {one, other}:
            continue
        taken |= {one, other}
        pair = (case.valves[one], case.valves[other])
        findings.append(
            Finding(
                Kind.NEIGHBOURS_SWAPPED,
                pair,
                gain,
                f"The figures of {listed(pair)} read as each other's: "
                f"{times(gain)} as likely as ordinary scatter.",
                about(Kind.NEIGHBOURS_SWAPPED.words.hint or "", pair),
                tuple(
                    f"valve {case.valves[here]}: written "
                    f"{case.shown(case.valves[here], float(case.readings_mm[here]))}; its key is "
                    f"{case.shown(case.valves[here], float(case.key_mm[here]))}, that of valve "
                    f"{case.valves[there]} "
                    f"{case.shown(case.valves[there], float(case.key_mm[there]))}"
                    for here, there in ((one, other), (other, one))
                ),
            )
        )
    return findings, taken


def _likeliest(case: Case, suspects: list[Suspect]) -> list[Finding]:
    """Each figure by its likeliest explanation; figures of one group make one finding."""
    groups: dict[tuple[Kind, str], float] = {}
    for one in suspects:
        if one.kind is Kind.OFF_HEEL:
            key = (one.kind, one.group)
            groups[key] = groups.get(key, LOG_PRIOR[Kind.OFF_HEEL]) + max(0.0, one.log_odds)
    of_place: dict[int, list[tuple[float, Suspect]]] = {}
    for one in suspects:
        # Figures read at one wrong place speak for each other.
        together = groups.get((one.kind, one.group), one.log_odds)
        if one.log_odds > 0 and together > LOG_NEEDED:
            of_place.setdefault(one.place, []).append((together, one))
    told: dict[tuple[Kind, str], list[tuple[float, Suspect]]] = {}
    rivals: dict[tuple[Kind, str], tuple[float, Suspect]] = {}
    for _, found in sorted(of_place.items()):
        found.sort(key=lambda pair: -pair[0])
        odds, one = found[0]
        told.setdefault((one.kind, one.group), []).append((odds, one))
        for pair in found[1:]:
            if pair[1].kind is not one.kind:
                rivals.setdefault((one.kind, one.group), pair)
                break
    return [_with_rival(_finding(case, group), rivals.get(key)) for key, group in told.items()]


def _with_rival(finding: Finding, rival: tuple[float, Suspect] | None) -> Finding:
    return finding if rival is None else finding.beside(rival[1].kind, rival[0])


def _finding(case: Case, group: list[tuple[float, Suspect]]) -> Finding:
    valves = tuple(case.valves[one.place] for _, one in group)
    kind, odds = group[0][1].kind, max(odds for odds, _ in group)
    words = kind.words
    return Finding(
        kind,
        valves,
        odds,
        f"{about(words.says, valves)}{_ELSEWHERE.get(kind, '')}: {times(odds)} as likely as "
        "ordinary scatter.",
        about(words.of_one or words.hint or "", valves),
        tuple(f"valve {case.valves[one.place]}: {one.evidence}" for _, one in group),
    )
