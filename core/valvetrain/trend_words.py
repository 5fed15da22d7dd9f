"""What a trend says, in sentences that an instructor reads: what to open next, when, and why."""

import math
from collections.abc import Iterator, Sequence

from valvetrain.constants import MOST_NAMED
from valvetrain.engine import Engine
from valvetrain.siblings import Odd, look_for
from valvetrain.trend import Trend, ValveTrend


def says(
    found: Trend,
    odd: Sequence[Odd],
    engine: Engine | None = None,
    now_h: float | None = None,
    meter: str = "h",
) -> tuple[str, ...]:
    """The most urgent first. now_h is what the meter reads today, None where it is not known; meter
    is its unit, h or km."""
    told = [
        *_outside(found, engine, meter),
        *_next(found, engine, now_h, meter),
        *_runaways(odd, engine, meter),
    ]
    return (*told, *_too_early(found))


def rate_words(of: ValveTrend, meter: str = "h") -> str:
    """`closes 4.2 µm in 100 h (2.9 to 5.5)`; says so where nothing is known."""
    if of.rate_um_per_100h is None:
        return "one look says nothing of a rate"
    if not of.rate_um_per_100h:
        return "does not move"
    way = "closes" if of.rate_um_per_100h < 0 else "opens"
    words = f"{way} {abs(of.rate_um_per_100h):.2g} µm in 100 {meter}"
    if of.rate_low is None or of.rate_high is None:
        return f"{words}, how surely nobody can say yet"
    sign = -1 if of.rate_um_per_100h < 0 else 1
    ends = sorted((sign * of.rate_low, sign * of.rate_high))
    return f"{words} ({ends[0]:.2g} to {ends[1]:.2g})"


def called(valve: int, engine: Engine | None) -> str:
    """`exhaust 4`, as people say it; `valve 4` where the engine is not known."""
    return f"valve {valve}" if engine is None else f"{engine.valve[valve].role.value} {valve}"


def _outside(found: Trend, engine: Engine | None, meter: str) -> Iterator[str]:
    """Tight valves first: they are never left. A loose one may be back in spec by its own wear."""
    for side in ("tight", "loose"):
        outside = [of for of in found.valves if of.out_on == side]
        if not outside:
            continue
        verb = "is" if len(outside) == 1 else "are"
        yield (
            f"{_listed([of.valve for of in outside], engine)} {verb} {side}, outside the spec as "
            f"last left: set {'it' if len(outside) == 1 else 'them'} first."
        )
        for of in outside:
            if of.back_in_h is not None:
                name = called(of.valve, engine)
                yield f"At its rate {name} is back in spec at {of.back_in_h:,.0f} {meter}."


def _next(found: Trend, engine: Engine | None, now_h: float | None, meter: str) -> Iterator[str]:
    look_h = found.next_look_h
    if look_h is None:
        return
    in_h = look_h - (found.last_hours if now_h is None else now_h)
    when = f"in {in_h:,.0f} {meter}, at {look_h:,} {meter}"
    if in_h < 0:
        when = f"was due at {look_h:,} {meter}"
    due = [
        of
        for of in sorted(found.valves, key=lambda of: of.soonest_h or math.inf)
        if of.valve in found.first and not of.is_outside
    ]
    if not found.first:
        yield (
            f"Next look: {when}. That is the maker's interval; no valve is known to need it sooner."
        )
    elif due:
        sides = {of.side for of in due}
        side = f" on the {sides.pop()} side" if len(sides) == 1 else ""
        first = _listed([of.valve for of in due], engine, capital=False)
        yield f"Next look: {when}, {first} first: at the earliest it leaves its spec{side} then."
    else:
        yield f"Next look: {when}."


def _runaways(odd: Sequence[Odd], engine: Engine | None, meter: str) -> Iterator[str]:
    for one in odd:
        name = called(one.valve, engine)
        siblings = f"{engine.valve[one.valve].role.value}s" if engine else "valves"
        words = (
            f"{name[0].upper()}{name[1:]} runs away from its siblings: "
            f"{_signed(one.rate_um_per_100h)} µm in 100 {meter}, where the other {siblings} move "
            f"{_signed(one.siblings_um_per_100h)} ({_odds(one.odds)})."
        )
        if engine is not None:
            words += f" {look_for(engine, engine.valve[one.valve].role, one.way)}"
        yield words


def _signed(rate: float) -> str:
    return f"{rate:+.1f}".replace("-", "−")


def _odds(odds: float) -> str:
    """Beyond this nobody reads the figure."""
    return "odds above 1,000 to 1" if odds > 1000 else f"odds {odds:,.0f} to 1"


def _too_early(found: Trend) -> Iterator[str]:
    if any(of.rate_low is not None for of in found.valves):
        return
    most = max(of.looks for of in found.valves)
    yield (
        f"Nothing can be said yet of how fast the gaps move: {_looks(most)} of a valve "
        f"{'gives no rate' if most < 2 else 'give a rate, but not how sure it is'}. "
        "Measure at another reading of the meter."
    )


def _looks(count: int) -> str:
    return {1: "one look", 2: "two looks"}.get(count, f"{count} looks")


def _listed(valves: list[int], engine: Engine | None, *, capital: bool = True) -> str:
    names = [called(valve, engine) for valve in valves[:MOST_NAMED]]
    if len(valves) > MOST_NAMED:
        names.append(f"{len(valves) - MOST_NAMED} more")
    listed = names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"
    return f"{listed[0].upper()}{listed[1:]}" if capital else listed
