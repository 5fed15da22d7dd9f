"""Explanations of a whole sheet: one thing that was done to every figure.

The sheet is laid beside each of them, and beside ordinary scatter, at once; the likeliest wins.
"""

import math
from functools import lru_cache
from typing import NamedTuple

import numpy as np

from valvetrain.constants import MM_PER_INCH, MM_PER_THOU
from valvetrain.engine import Engine, Role
from valvetrain.grading.constants import (
    BIASED_HAND_MM,
    BIASED_SHEET,
    CONVERTED_SHEET,
    LEAST_LEAN_MM,
    ORDINARY_SHEET,
    SCALED_SHEET,
    VISIBLE,
)
from valvetrain.grading.findings.kinds import Kind
from valvetrain.grading.findings.model import (
    LOG_NEEDED,
    Case,
    Finding,
    Fit,
    FloatArray,
    Reference,
    Scatter,
    fit,
    times,
)

THOU_PER_MM = float(1 / MM_PER_THOU)
RARE = math.log(SCALED_SHEET / ORDINARY_SHEET)
RARE_CONVERSION = math.log(CONVERTED_SHEET / ORDINARY_SHEET)
RARE_BIAS = math.log(BIASED_SHEET / (1 - BIASED_SHEET))
SCALES: tuple[tuple[Kind, float, str], ...] = (
    (Kind.UNIT_SLIP, THOU_PER_MM / 100, "thou written as hundredths of a millimetre"),
    (Kind.UNIT_SLIP, 2.54, "hundredths of a millimetre written as thou"),
    (Kind.UNIT_SLIP, THOU_PER_MM, "thou written as millimetres"),
    (Kind.UNIT_SLIP, 1 / THOU_PER_MM, "millimetres written as thou"),
    (Kind.UNIT_SLIP, float(1 / MM_PER_INCH), "inches written as millimetres"),
    (Kind.UNIT_SLIP, 0.001, "inches written as thou"),
    (Kind.CONVERSION_SLIP, 0.02 * THOU_PER_MM, "converted at 0.02 mm a thou instead of 0.0254"),
    (Kind.CONVERSION_SLIP, 0.03 * THOU_PER_MM, "converted at 0.03 mm a thou instead of 0.0254"),
    (Kind.CONVERSION_SLIP, 0.04 * THOU_PER_MM, "converted at 0.04 mm a thou instead of 0.0254"),
    (Kind.DECIMAL_SLIP, 10.0, "the decimal point one place to the right"),
    (Kind.DECIMAL_SLIP, 0.1, "the decimal point one place to the left"),
)


class Based(NamedTuple):
    """The explanation that a sheet is read by, and where each of its figures then lies; sure is
    how surely each is no stray."""

    predicted_mm: FloatArray
    spread_mm: FloatArray
    bias_mm: float
    sure: FloatArray
    finding: Finding | None = None


def explain_whole(case: Case) -> Based:
    rivals = _rivals(case.reference, case.scatter)
    predicted, spread = rivals.predicted_mm[:, case.columns], rivals.spread_mm[:, case.columns]
    fitted = fit(case, predicted, spread, rivals.bias_mm)
    odds = fitted.log_likelihood + rivals.log_prior
    odds -= odds[0]
    # What moves none of these figures visibly cannot be told from nothing.
    odds[2:][~(np.abs(predicted[2:] - predicted[0]) > VISIBLE * spread[0]).any(axis=1)] = -np.inf
    if abs(fitted.bias_mm[1]) < LEAST_LEAN_MM:
        odds[1] = -np.inf
    best = int(np.argmax(odds))
    if odds[best] < LOG_NEEDED:
        best = 0
    based = Based(predicted[best], spread[best], float(fitted.bias_mm[best]), fitted.sure[best])
    if best == 0:
        return based
    kind, how = rivals.names[best]
    finding = _finding(case, kind, how, based, float(odds[best]))
    # The next best that is another kind of mistake.
    others = [at for at in range(1, len(odds)) if _kind_of(rivals, fitted, at) is not finding.kind]
    if others:
        second = max(others, key=lambda at: float(odds[at]))
        finding = finding.beside(_kind_of(rivals, fitted, second), float(odds[second]))
    return based._replace(finding=finding)


def _kind_of(rivals: "Rivals", fitted: Fit, at: int) -> Kind:
    """A hand is biased to the side that its sheet says."""
    kind = rivals.names[at][0]
    if kind is not Kind.BIAS_TIGHT:
        return kind
    return Kind.BIAS_TIGHT if fitted.bias_mm[at] < 0 else Kind.BIAS_LOOSE


class Rivals(NamedTuple):
    """Every explanation of a whole sheet as rows over all valves of the engine; the first row is
    ordinary scatter, the second a biased hand."""

    names: tuple[tuple[Kind, str], ...]
    predicted_mm: FloatArray
    spread_mm: FloatArray
    bias_mm: FloatArray
    log_prior: FloatArray


@lru_cache(maxsize=256)
def _rivals(reference: Reference, scatter: Scatter) -> Rivals:
    key, spread, person = reference.key_mm, reference.spread_mm(scatter), scatter.person_mm
    rows: list[tuple[tuple[Kind, str], FloatArray, FloatArray, float, float]] = [
        ((Kind.BIAS_TIGHT, "honest"), key, spread, person, 0.0),
        ((Kind.BIAS_TIGHT, "biased to one side"), key, spread, BIASED_HAND_MM, RARE_BIAS),
    ]
    for kind, scale, how in SCALES:
        rare = RARE_CONVERSION if kind is Kind.CONVERSION_SLIP else RARE
        bias = person * max(scale, 0.2)
        rows.append(((kind, how), key * scale, reference.spread_mm(scatter, scale), bias, rare))
    for kind, instead, how in (
        (Kind.ROLES_SWAPPED, _other_role(reference), "intake and exhaust exchanged"),
        (Kind.WRONG_END, _from_the_end(reference), "counted from the other end"),
    ):
        rows.append(((kind, how), instead, spread, person, RARE))
    names, predicted, spreads, biases, priors = zip(*rows, strict=True)
    return Rivals(names, np.stack(predicted), np.stack(spreads), np.array(biases), np.array(priors))


def partners(engine: Engine) -> dict[int, int]:
    """Each valve's counterpart of the other role, in the same place of its cylinder."""
    partner: dict[int, int] = {}
    for cylinder in engine.firing_order:
        of = engine.valves_of(cylinder)
        intake = [valve.number for valve in of if valve.role is Role.INTAKE]
        exhaust = [valve.number for valve in of if valve.role is Role.EXHAUST]
        for one, other in zip(intake, exhaust, strict=False):
            partner |= {one: other, other: one}
    return partner


def _other_role(reference: Reference) -> FloatArray:
    partner = partners(reference.engine)
    return np.array([reference.key[partner.get(valve, valve)].gap_mm for valve in reference.order])


def _from_the_end(reference: Reference) -> FloatArray:
    return reference.key_mm[::-1]


def _finding(case: Case, kind: Kind, how: str, based: Based, log_odds: float) -> Finding:
    bias = based.bias_mm
    if kind is Kind.BIAS_TIGHT:
        kind = Kind.BIAS_TIGHT if bias < 0 else Kind.BIAS_LOOSE
        side = "tight" if bias < 0 else "loose"
        how = f"{case.shown(case.valves[0], abs(bias))} too {side} throughout"
    said = "every figure" if len(case.valves) > 1 else "the figure"
    return Finding(
        kind,
        case.valves,
        log_odds,
        f"Read as {how}, {said} falls into place: {times(log_odds)} as likely as ordinary scatter.",
        kind.words.hint,
        tuple(
            f"valve {valve}: written {case.shown(valve, reading)}, key "
            f"{case.shown(valve, key)}; {how}: {case.shown(valve, predicted + bias)}"
            for valve, reading, key, predicted in zip(
                case.valves, case.readings_mm, case.key_mm, based.predicted_mm, strict=True
            )
        ),
    )
