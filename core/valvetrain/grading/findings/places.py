"""Where the crank stood for a whole sheet: the right mark on the wrong stroke, another mark, or one
stop's valves measured at the other.

Each is a place for every valve, and so a lift of its follower. Where the follower is up the gap is
gone, or only the ramp's; on the heel the figure is right all the same. That pattern, over all
valves at once, is laid beside ordinary scatter. The shape of a ramp is the maker's and not known to
the micrometre, so what it leaves is a range.
"""

import math
from collections.abc import Iterable, Iterator
from typing import NamedTuple

from valvetrain.angles import CYCLE_DEG, TURN_DEG, apart_deg
from valvetrain.grading.constants import (
    MOST_FIGURE_MM,
    NO_GAP_BY_CHANCE,
    NO_GAP_MOST_MM,
    NO_GAP_WRITTEN,
    OFF_HEEL_NAMED,
    PLACE_SHEET,
    RAMP_EDGE_MM,
    RAMP_SHAPE,
)
from valvetrain.grading.findings.kinds import Kind
from valvetrain.grading.findings.model import (
    LOG_NEEDED,
    LOG_SPAN,
    Case,
    Finding,
    about,
    log_normal,
    times,
)

Places = dict[int, float]
"""Where the crank stands for each valve."""


class Guess(NamedTuple):
    """One way in which a whole sheet may have been measured elsewhere."""

    kind: Kind
    how: str
    at_deg: Places
    each: bool = False
    """Whether each line was done by itself, and is no evidence against the others."""

    def log_odds(self, seen: "list[Seen]") -> float:
        if not self.each:
            return math.log(PLACE_SHEET) + sum(one.log_odds for one in seen)
        prior = math.log(OFF_HEEL_NAMED)
        return sum(max(0.0, prior + one.log_odds) for one in seen)


class Seen(NamedTuple):
    """One figure beside what it would be there; up_mm is how far its follower stands up."""

    valve: int
    written_mm: float
    crank_deg: float
    up_mm: float
    low_mm: float
    high_mm: float
    log_odds: float


def explain_places(case: Case) -> Finding | None:
    """The likeliest of them, where it is clearly likelier than ordinary scatter."""
    written = {
        line.valve: gap
        for line, gap in zip(case.lines, case.gaps_mm, strict=True)
        if gap is not None and gap <= MOST_FIGURE_MM
    }
    # Nobody was elsewhere whose figures are all as they should be.
    if not any(_is_low(case, valve, gap) for valve, gap in written.items()):
        return None
    best: tuple[float, Guess, list[Seen]] | None = None
    for guess in _guesses(case):
        seen = [
            one
            for valve, gap in written.items()
            if valve in guess.at_deg
            and (one := _beside(case, valve, gap, guess.at_deg[valve])) is not None
        ]
        odds = guess.log_odds(seen)
        if seen and odds > LOG_NEEDED and (best is None or odds > best[0]):
            best = (odds, guess, seen)
    return None if best is None else _finding(case, *best)


def _is_low(case: Case, valve: int, gap_mm: float) -> bool:
    key = case.key[valve]
    return gap_mm < key.gap_mm - 3 * math.hypot(case.scatter.hand_mm, key.u_mm)


def _guesses(case: Case) -> Iterator[Guess]:
    stops = {line.valve: line.crank_deg for line in case.lines if line.crank_deg is not None}
    for intended in _intended(case, stops):
        yield Guess(
            Kind.FULL_TURN,
            "a full turn on, at the right mark on the wrong stroke",
            {valve: (at + TURN_DEG) % CYCLE_DEG for valve, at in intended.items()},
        )
        for label, off_deg in _other_marks(case).items():
            yield Guess(
                Kind.WRONG_MARK,
                f"at mark {label}, {_beside_it(off_deg)}",
                {valve: (at + off_deg) % CYCLE_DEG for valve, at in intended.items()},
            )
    off = {valve: at for valve, at in stops.items() if not _rests(case, valve, at)}
    if all(_rests(case, valve, at + TURN_DEG) for valve, at in stops.items()):
        # Every stop that was written is a full turn from where its valves rest.
        how = "where the sheet says, a full turn from their place"
        yield Guess(Kind.FULL_TURN, how, off, each=True)
    else:
        yield Guess(Kind.OFF_HEEL, "at the stops that were named", off, each=True)
    yield from _one_stop_at_the_other(stops)


def _intended(case: Case, stops: Places) -> Iterator[Places]:
    """Where each valve was meant to be measured: as written, else as the usual methods have it."""
    if stops:
        yield {valve: at for valve, at in stops.items() if _rests(case, valve, at)}
    if len(stops) < len(case.lines):
        for usual in case.reference.usual_stops:
            yield usual | stops


def _beside_it(off_deg: float) -> str:
    return f"{abs(off_deg):g}° {'past' if off_deg > 0 else 'before'} the right one"


def _rests(case: Case, valve: int, crank_deg: float) -> bool:
    return case.reference.stands(valve, crank_deg % CYCLE_DEG).rests


def _other_marks(case: Case) -> dict[str, float]:
    """Marks of the crank that may be taken for the right one, by label, and how far they are from
    it: the ignition's before its dead centre, and those of other dead centres."""
    crank = [mark for mark in case.engine.marks if mark.on == "crank" and mark.means != "pin"]
    first = case.engine.fire_deg[case.engine.firing_order[0]]
    found = {}
    for mark in crank:
        off = (mark.deg - first + TURN_DEG / 2) % TURN_DEG - TURN_DEG / 2
        if abs(off) >= 1:
            found[mark.label] = off
    return found


def _one_stop_at_the_other(stops: Places) -> Iterator[Guess]:
    named = sorted(set(stops.values()))
    if not 2 <= len(named) <= 6:
        return
    for here in named:
        for there in named:
            if apart_deg(here, there) > 1:
                yield Guess(
                    Kind.WRONG_STOP,
                    f"at {there:g}°, with the valves of that stop",
                    {valve: there for valve, at in stops.items() if at == here},
                )


def _beside(case: Case, valve: int, written_mm: float, crank_deg: float) -> Seen | None:
    """None on the heel: there the figure is right, and speaks neither way."""
    up_mm = case.reference.stands(valve, crank_deg).up_mm
    key = case.key[valve]
    spread = math.hypot(case.scatter.hand_mm, key.u_mm, case.scatter.step_mm / 2)
    if up_mm < spread:
        return None
    low = max(0.0, key.gap_mm - up_mm * (1 + RAMP_SHAPE) - RAMP_EDGE_MM)
    high = max(0.0, key.gap_mm - up_mm * (1 - RAMP_SHAPE) + RAMP_EDGE_MM)
    odds = _log_there(case, written_mm, low, high, spread) - _log_honest(
        case, valve, written_mm, spread
    )
    return Seen(valve, written_mm, crank_deg, up_mm, low, high, odds)


def _log_there(case: Case, written_mm: float, low_mm: float, high_mm: float, u_mm: float) -> float:
    """Log density of a figure where the follower is up, or log chance of no gap at all."""
    closed = high_mm <= 2 * RAMP_EDGE_MM
    if written_mm == 0:
        return math.log(NO_GAP_WRITTEN if closed else NO_GAP_BY_CHANCE)
    if closed:
        inside = (1 - NO_GAP_WRITTEN) / NO_GAP_MOST_MM if written_mm <= NO_GAP_MOST_MM else 0.0
    else:
        reach = high_mm - low_mm + 2 * u_mm
        within = low_mm - u_mm <= written_mm <= high_mm + u_mm
        inside = (1 - case.scatter.stray) / reach if within else 0.0
    return math.log(inside + math.exp(_log_stray(case, written_mm)))


def _log_stray(case: Case, written_mm: float) -> float:
    """A figure that is wrong for a reason that nobody finds is so wherever the crank stood."""
    return math.log(case.scatter.stray / LOG_SPAN) - math.log(written_mm)


def _log_honest(case: Case, valve: int, written_mm: float, spread_mm: float) -> float:
    if written_mm == 0:
        return math.log(NO_GAP_BY_CHANCE)
    hand = math.hypot(spread_mm, case.scatter.person_mm)
    stray = _log_stray(case, written_mm)
    inside = log_normal(written_mm, case.key[valve].gap_mm, hand)
    top = max(stray, inside)
    return top + math.log1p(math.exp(-abs(stray - inside)))


def _finding(case: Case, log_odds: float, guess: Guess, seen: Iterable[Seen]) -> Finding:
    told = [one for one in seen if one.log_odds > 0]
    valves = tuple(sorted(one.valve for one in told))
    words = guess.kind.words
    hint = about(words.of_one or words.hint or "", valves)
    return Finding(
        guess.kind,
        valves,
        log_odds,
        f"{about(words.says, valves)} {guess.how}: {times(log_odds)} as likely as ordinary "
        "scatter. What rests on its heel there reads right all the same.",
        hint,
        tuple(
            f"valve {one.valve}: written {case.shown(one.valve, one.written_mm)}; at "
            f"{one.crank_deg:g}° its follower is up {case.shown(one.valve, one.up_mm)}, which "
            f"leaves {_left_words(case, one)}"
            for one in sorted(told)
        ),
    )


def _left_words(case: Case, one: Seen) -> str:
    if one.high_mm <= 2 * RAMP_EDGE_MM:
        return "no gap"
    return f"{case.shown(one.valve, one.low_mm)} to {case.shown(one.valve, one.high_mm)}"
