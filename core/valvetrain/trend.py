"""Wear from a stand's log: how fast each valve's gap moves, and when to look at it next.

Between two adjustments the gap of a valve moves at one rate. Each stretch between adjustments has a
level of its own, so what a screw or a shim did is no wear: least squares with one rate for a valve
and one level for each stretch (an analysis of covariance with equal slopes; checked against
statsmodels). Its interval is Student's t with what degrees of freedom are left.

The log's meter may count hours or kilometres; it is called hours here.
"""

import math
from collections import defaultdict
from collections.abc import Iterable, Mapping
from typing import NamedTuple

from valvetrain.constants import (
    CONFIDENCE,
    MOST_HOURS,
    NO_RATE_UM_PER_100H,
    NOT_A_GAP_MM,
    ROUNDED_MM,
    SAME_HOURS,
    UM_PER_100H,
)
from valvetrain.errors import RefusedError
from valvetrain.gauges import Spec


class TrendError(RefusedError):
    """A log that no trend can be made of. `faults` are (line, reason), in the log's order."""

    def __init__(self, faults: Iterable[tuple[int, str]]) -> None:
        self.faults = tuple(faults)
        super().__init__("; ".join(f"line {line}: {reason}" for line, reason in self.faults))


class LogLook(NamedTuple):
    """One valve looked at: the gap found, and what it was left at where it was adjusted.

    line is where it stands in its log, for whoever must mend it.
    """

    line: int
    hours: float
    valve: int
    gap_mm: float | None = None
    left_mm: float | None = None


class WearStretch(NamedTuple):
    """The fitted line between two adjustments, from its first look to its last."""

    from_h: float
    from_mm: float
    to_h: float
    to_mm: float


class ValveTrend(NamedTuple):
    """Rates in µm per 100 h, negative where the gap closes; None where nothing can be said.

    side is the limit it moves towards, or the one that it is beyond. expected_h is when it reaches
    that limit from its last gap at its rate; soonest_h when the fitted line with its uncertainty
    first meets either limit. out_on is the side on which it is out of spec now; back_in_h when it
    is in spec again at its rate. scatter_mm is the residual deviation, dof its degrees of freedom,
    spread_h2 the sum of squares of the hours about their stretches' means.
    """

    valve: int
    rate_um_per_100h: float | None
    rate_low: float | None
    rate_high: float | None
    last_hours: float
    last_mm: float
    side: str | None
    expected_h: float | None
    soonest_h: float | None
    looks: int
    dof: int
    scatter_mm: float | None
    spread_h2: float
    stretches: tuple[WearStretch, ...]
    out_on: str | None = None
    back_in_h: float | None = None

    @property
    def is_outside(self) -> bool:
        return self.out_on is not None


class Trend(NamedTuple):
    """next_look_h is None where nothing can be said and the maker gives no interval. first are the
    valves that set it, the most urgent first; empty where the maker's interval does."""

    valves: tuple[ValveTrend, ...]
    last_hours: float
    next_look_h: int | None
    first: tuple[int, ...]


def trend(
    looks: Iterable[LogLook], specs: Mapping[int, Spec], every_hours: float | None = None
) -> Trend:
    """The wear of every valve of a log that has a spec.

    every_hours is the maker's interval. Raises TrendError for looks that no log can hold.
    """
    by_valve = _by_valve(looks, specs)
    valves = tuple(_of_valve(valve, of, specs[valve]) for valve, of in sorted(by_valve.items()))
    last_hours = max(of.last_hours for of in valves)
    return Trend(valves, last_hours, *_next_look(valves, last_hours, every_hours))


def _next_look(
    valves: tuple[ValveTrend, ...], last_hours: float, every_hours: float | None
) -> tuple[int | None, tuple[int, ...]]:
    due = sorted((of.soonest_h, of.valve) for of in valves if of.soonest_h is not None)
    soonest = due[0][0] if due else math.inf
    makers = math.inf if every_hours is None else last_hours + every_hours
    look_h = min(soonest, makers)
    if math.isinf(look_h):
        return None, ()
    return math.floor(look_h + SAME_HOURS), tuple(valve for at, valve in due if at <= look_h)


def _by_valve(looks: Iterable[LogLook], specs: Mapping[int, Spec]) -> dict[int, list[LogLook]]:
    """Raises TrendError with every look that cannot be, and where nothing is left."""
    by_valve: dict[int, list[LogLook]] = defaultdict(list)
    faults = []
    for look in looks:
        before = by_valve[look.valve][-1] if by_valve.get(look.valve) else None
        fault = _fault(look, before, specs)
        if fault:
            faults.append((look.line, fault))
        else:
            by_valve[look.valve].append(look)
    if faults:
        raise TrendError(faults)
    if not by_valve:
        raise TrendError([(1, "the log has no reading yet; give one row for each valve looked at")])
    return by_valve


def _fault(look: LogLook, before: LogLook | None, specs: Mapping[int, Spec]) -> str:
    """What is wrong about a look; empty where nothing is."""
    if look.valve not in specs:
        known = ", ".join(str(valve) for valve in sorted(specs)[:12])
        return f"valve {look.valve} is not on this engine; its valves are {known}"
    if not 0 <= look.hours <= MOST_HOURS:
        return f"{look.hours:g} h is no meter reading; give 0 to {MOST_HOURS:,} h"
    if look.gap_mm is None and look.left_mm is None:
        return f"valve {look.valve} has neither a gap found nor one left; give one of them"
    for length_mm in (look.gap_mm, look.left_mm):
        if length_mm is not None and not 0 <= length_mm <= NOT_A_GAP_MM:
            return f"{length_mm:g} mm is no gap; give 0 to {NOT_A_GAP_MM} mm"
    if before is not None and look.hours < before.hours:
        return (
            f"{look.hours:g} h of valve {look.valve} comes after {before.hours:g} h (line "
            f"{before.line}), and hours never go back; put its rows in order, or mend the figure"
        )
    return ""


def _of_valve(valve: int, looks: list[LogLook], spec: Spec) -> ValveTrend:
    pieces = _pieces(looks)
    last = looks[-1]
    left_mm = last.gap_mm if last.left_mm is None else last.left_mm
    assert left_mm is not None  # a look has one of the two
    fit = _fit(pieces)
    forecast = _forecast(fit, pieces[-1], last.hours, left_mm, spec)
    rate, low, high = (None if one is None else one * UM_PER_100H for one in fit[:3])
    return ValveTrend(
        valve,
        rate,
        low,
        high,
        last.hours,
        left_mm,
        forecast.side,
        forecast.expected_h,
        forecast.soonest_h,
        len(looks),
        fit.dof,
        fit.scatter_mm,
        fit.spread_h2,
        _lines(pieces, fit.rate),
        forecast.out_on,
        forecast.back_in_h,
    )


Piece = list[tuple[float, float]]
"""Points (hours, mm) between two adjustments."""


def _pieces(looks: list[LogLook]) -> list[Piece]:
    """What was found ends a stretch; what it was left at begins the next."""
    pieces: list[Piece] = [[]]
    for look in looks:
        if look.gap_mm is not None:
            pieces[-1].append((look.hours, look.gap_mm))
        if look.left_mm is not None:
            pieces.append([(look.hours, look.left_mm)])
    return [piece for piece in pieces if piece]


class _Fit(NamedTuple):
    """In mm an hour."""

    rate: float | None
    low: float | None
    high: float | None
    dof: int
    scatter_mm: float | None
    spread_h2: float


def _fit(pieces: list[Piece]) -> _Fit:
    """Least squares of one slope and a level for each piece: the slope within pieces,
    S_xy / S_xx with sums about each piece's own mean (Draper and Smith, Applied Regression
    Analysis, parallel lines; from memory)."""
    sxx = sxy = syy = 0.0
    for piece in pieces:
        mean_h, mean_mm = _mean(piece)
        for hours, gap_mm in piece:
            sxx += (hours - mean_h) ** 2
            sxy += (hours - mean_h) * (gap_mm - mean_mm)
            syy += (gap_mm - mean_mm) ** 2
    dof = sum(len(piece) for piece in pieces) - len(pieces) - 1
    if sxx <= 0:
        return _Fit(None, None, None, 0, None, 0.0)
    rate = sxy / sxx
    if abs(rate) * UM_PER_100H < NO_RATE_UM_PER_100H:
        rate = 0.0
    if dof < 1:
        return _Fit(rate, None, None, 0, None, sxx)
    from scipy.special import stdtrit  # slow to load, and needed only where something is left

    scatter_mm = math.sqrt(max(0.0, syy - rate * sxy) / dof)
    half = float(stdtrit(dof, (1 + CONFIDENCE) / 2)) * scatter_mm / math.sqrt(sxx)
    return _Fit(rate, rate - half, rate + half, dof, scatter_mm, sxx)


class _Forecast(NamedTuple):
    side: str | None
    expected_h: float | None
    soonest_h: float | None
    out_on: str | None = None
    back_in_h: float | None = None


def _forecast(
    fit: _Fit, last_piece: Piece, last_hours: float, last_mm: float, spec: Spec
) -> _Forecast:
    """When the spec is left, by what was fitted and by the uncertainty of that."""
    low_mm, high_mm = float(spec.min_mm), float(spec.max_mm)
    rate = fit.rate or 0.0
    out_on = _out_on(last_mm, low_mm, high_mm)
    if out_on is not None:
        way_mm = (low_mm if out_on == "tight" else high_mm) - last_mm
        back_in_h = last_hours + way_mm / rate if rate * way_mm > 0 else None
        return _Forecast(out_on, last_hours, last_hours, out_on, back_in_h)
    side = None if not rate else "tight" if rate < 0 else "loose"
    expected_h = None
    if side is not None:
        way_mm = (low_mm if side == "tight" else high_mm) - last_mm
        expected_h = last_hours + max(0.0, way_mm / rate)
    soonest_h = _soonest_h(fit, last_piece, last_hours, (low_mm, high_mm))
    if soonest_h is not None and expected_h is not None:
        soonest_h = min(soonest_h, expected_h)
    return _Forecast(side, expected_h, soonest_h)


def _out_on(gap_mm: float, low_mm: float, high_mm: float) -> str | None:
    if gap_mm < low_mm - ROUNDED_MM:
        return "tight"
    return "loose" if gap_mm > high_mm + ROUNDED_MM else None


def _soonest_h(
    fit: _Fit, piece: Piece, last_hours: float, limits_mm: tuple[float, float]
) -> float | None:
    """The first hour, from the last look on, at which the confidence band of the fitted line meets
    a limit; None where nothing can be said, or where it never does.

    The line of the last stretch is y(h) = m + b d with d = h - h0 about that stretch's mean, and
    its variance s^2 (1/n + d^2 / S_xx): of the mean of n readings and of the rate (Draper and
    Smith, Applied Regression Analysis, prediction from parallel lines; from memory). A rate of zero
    has a variance too, so both limits count. The band meets a limit L where
    (L - m - b d)^2 = t^2 s^2 (1/n + d^2 / S_xx), a quadratic in d.
    """
    if fit.rate is None or fit.scatter_mm is None:
        return None
    from scipy.special import stdtrit  # slow to load, and needed only where something is left

    mean_h, mean_mm = _mean(piece)
    since = last_hours - mean_h
    band = (float(stdtrit(fit.dof, (1 + CONFIDENCE) / 2)) * fit.scatter_mm) ** 2
    a = fit.rate**2 - band / fit.spread_h2
    found = []
    for sign, limit_mm in zip((-1, 1), limits_mm, strict=True):
        way_mm = limit_mm - mean_mm
        reach = math.sqrt(band * (1 / len(piece) + since**2 / fit.spread_h2))
        if sign * (way_mm - fit.rate * since) <= reach:
            return last_hours  # the band holds the limit already
        b, c = -2 * fit.rate * way_mm, way_mm**2 - band / len(piece)
        found += [d for d in _roots(a, b, c) if d > since]
    return mean_h + min(found) if found else None


def _roots(a: float, b: float, c: float) -> list[float]:
    """Of a d^2 + b d + c = 0."""
    if abs(a) < 1e-30:
        return [-c / b] if b else []
    under = b * b - 4 * a * c
    if under < 0:
        return []
    root = math.sqrt(under)
    return [(-b - root) / (2 * a), (-b + root) / (2 * a)]


def _lines(pieces: list[Piece], rate: float | None) -> tuple[WearStretch, ...]:
    lines = []
    for piece in pieces:
        mean_h, mean_mm = _mean(piece)
        from_h, to_h = piece[0][0], piece[-1][0]
        slope = rate or 0.0
        lines.append(
            WearStretch(
                from_h, mean_mm + slope * (from_h - mean_h), to_h, mean_mm + slope * (to_h - mean_h)
            )
        )
    return tuple(lines)


def _mean(piece: Piece) -> tuple[float, float]:
    return (
        math.fsum(hours for hours, _ in piece) / len(piece),
        math.fsum(gap_mm for _, gap_mm in piece) / len(piece),
    )
