"""Turns what a school proposes into a checked plan for one engine, start and direction."""

from collections.abc import Callable
from dataclasses import replace
from typing import NamedTuple

from valvetrain.angles import SAME_ANGLE_DEG, ahead_deg, apart_deg, normalise_deg
from valvetrain.engine import Engine
from valvetrain.heel import valve_margin_deg
from valvetrain.sequences import (
    companion_overlap,
    each_cylinder,
    fewest,
    lobe_away,
    maker_chart,
    opening_closing,
    opposite_valve,
    pair_marks,
    two_stop,
)
from valvetrain.sequences.check import check_stops, off_heel_sentence
from valvetrain.sequences.plan import (
    OffHeel,
    Plan,
    Proposal,
    Route,
    Stop,
    UnknownMethodError,
)
from valvetrain.sequences.recognise import marks_at, overshot_words

Propose = Callable[[Engine, Route], tuple[Proposal, ...]]


def _nothing_to_say(_engine: Engine) -> tuple[str, ...]:
    return ()


class School(NamedTuple):
    propose: Propose
    remarks: Callable[[Engine], tuple[str, ...]] = _nothing_to_say
    """What this school needs that this engine does not have, in sentences."""
    keeps_empty_stops: bool = False
    """Its stops are fixed places: they are visited even if nothing may be set there."""


def _always(propose: Callable[[Engine], tuple[Proposal, ...]]) -> Propose:
    """A school that says the same whatever the start, direction and margin."""
    return lambda engine, _route: propose(engine)


_SCHOOLS = {
    each_cylinder.METHOD: School(_always(each_cylinder.propose), keeps_empty_stops=True),
    two_stop.METHOD: School(_always(two_stop.propose), keeps_empty_stops=True),
    companion_overlap.METHOD: School(_always(companion_overlap.propose), companion_overlap.remarks),
    pair_marks.METHOD: School(_always(pair_marks.propose), pair_marks.remarks),
    opposite_valve.METHOD: School(_always(opposite_valve.propose), opposite_valve.remarks),
    opening_closing.METHOD: School(_always(opening_closing.propose), opening_closing.remarks),
    lobe_away.METHOD: School(_always(lobe_away.propose)),
    maker_chart.METHOD: School(_always(maker_chart.propose), maker_chart.remarks),
    fewest.METHOD: School(fewest.propose_fewest),
}
METHODS = tuple(_SCHOOLS)


def make_plan(engine: Engine, method: str, route: Route | None = None) -> Plan:
    """A plan by one school. Raises UnknownMethodError.

    Valves that the school would set off their heel, or with less than the margin asked
    for, are left out, named in the warnings and listed as unset.
    """
    if method not in _SCHOOLS:
        raise UnknownMethodError(method, METHODS)
    route = route or Route()
    route = replace(route, start_deg=normalise_deg(route.start_deg))
    school = _SCHOOLS[method]
    warnings = [*_one_way(engine, route), *school.remarks(engine)]
    kept: list[Proposal] = []
    failing: list[OffHeel] = []
    for proposal in school.propose(engine, route):
        if route.marks_only and not marks_at(engine, proposal.crank_deg):
            warnings.append(
                f"No mark lines up at {proposal.crank_deg:g}°, so there is no stop there."
            )
            continue
        usable, off = _sift(engine, proposal, route.min_margin_deg)
        failing += off
        warnings += [off_heel_sentence(*valve, route.min_margin_deg) for valve in off]
        if usable.valves or school.keeps_empty_stops:
            kept.append(usable)
    stops = _in_turning_order(engine, _joined(kept), route)
    verdict = check_stops(
        engine, [(stop.crank_deg, stop.valves) for stop in stops], route.min_margin_deg
    )
    return Plan(
        method=method,
        complete=verdict.complete,
        stops=stops,
        unset=verdict.unset,
        total_turn_deg=sum(stop.turn_deg for stop in stops),
        least_margin_deg=verdict.least_margin_deg,
        warnings=(*warnings, *verdict.warnings),
        failing=tuple(failing),
        if_overshot=overshot_words(engine),
    )


def _one_way(engine: Engine, route: Route) -> tuple[str, ...]:
    if route.direction == "running" or engine.turning.reverse_allowed:
        return ()
    return (
        "This engine may be turned in the running direction only; "
        "a plan in reverse is for looking at, not for turning.",
    )


def _sift(
    engine: Engine, proposal: Proposal, min_margin_deg: float
) -> tuple[Proposal, list[OffHeel]]:
    """The proposal without the valves that may not be set there, and those valves."""
    usable, off = [], []
    for number in proposal.valves:
        margin = valve_margin_deg(engine, engine.valve[number], proposal.crank_deg)
        if margin >= min_margin_deg:
            usable.append(number)
        else:
            off.append(OffHeel(number, proposal.crank_deg, margin))
    return replace(proposal, valves=tuple(usable)), off


def _joined(proposals: list[Proposal]) -> list[Proposal]:
    """Proposals at one angle become one stop."""
    joined: list[Proposal] = []
    for proposal in proposals:
        for index, other in enumerate(joined):
            if apart_deg(other.crank_deg, proposal.crank_deg) < SAME_ANGLE_DEG:
                joined[index] = Proposal(
                    other.crank_deg,
                    other.valves + proposal.valves,
                    f"{other.find_by}; {proposal.find_by}",
                )
                break
        else:
            joined.append(proposal)
    return joined


def _in_turning_order(engine: Engine, proposals: list[Proposal], route: Route) -> tuple[Stop, ...]:
    def turn_deg(from_deg: float, to_deg: float) -> float:
        if route.direction == "running":
            return ahead_deg(from_deg, to_deg)
        return ahead_deg(to_deg, from_deg)

    visited = sorted(proposals, key=lambda p: turn_deg(route.start_deg, p.crank_deg))
    stops = []
    stands_deg = route.start_deg
    for number, proposal in enumerate(visited, start=1):
        stops.append(_stop(engine, number, proposal, turn_deg(stands_deg, proposal.crank_deg)))
        stands_deg = proposal.crank_deg
    return tuple(stops)


def _stop(engine: Engine, number: int, proposal: Proposal, turn_deg: float) -> Stop:
    valves = [valve for valve in engine.valves if valve.number in proposal.valves]
    margins = [valve_margin_deg(engine, valve, proposal.crank_deg) for valve in valves]
    return Stop(
        stop=number,
        crank_deg=proposal.crank_deg,
        turn_deg=turn_deg,
        cylinders=tuple(sorted({valve.cylinder for valve in valves})),
        valves=tuple(valve.number for valve in valves),
        margin_deg=min(margins) if margins else None,
        find_by=proposal.find_by,
    )
