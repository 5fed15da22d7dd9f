"""Turns what a method proposes into a checked plan for one engine, start and direction."""

from dataclasses import replace

from valvetrain.angles import SAME_ANGLE_DEG, ahead_deg, apart_deg, normalise_deg
from valvetrain.engine import Engine
from valvetrain.heel import reaches, valve_margin_deg
from valvetrain.sequences.check import check_stops, off_heel_sentence
from valvetrain.sequences.methods import METHODS
from valvetrain.sequences.plan import (
    OffHeel,
    Plan,
    Proposal,
    Route,
    Stop,
    UnknownMethodError,
)
from valvetrain.sequences.recognise import marks_at, overshot_words


def make_plan(engine: Engine, method: str, route: Route | None = None) -> Plan:
    """A plan by one method. Raises UnknownMethodError.

    Valves that the method would set off their heel, or with less than the margin asked
    for, are left out, named in the warnings and listed as unset.
    """
    if method not in METHODS:
        raise UnknownMethodError(method, tuple(METHODS))
    route = route or Route()
    route = replace(route, start_deg=normalise_deg(route.start_deg))
    chosen = METHODS[method]
    warnings = [
        *_one_way(engine, route),
        *_adjusts_itself(engine),
        *chosen.remarks(engine),
    ]
    kept: list[Proposal] = []
    failing: list[OffHeel] = []
    for proposal in chosen.propose(engine, route):
        if route.marks_only and not marks_at(engine, proposal.crank_deg):
            warnings.append(
                f"No mark lines up at {proposal.crank_deg:g}°, so there is no stop there."
            )
            continue
        usable, off = _sift(engine, proposal, route.min_margin_deg)
        failing += off
        warnings += [off_heel_sentence(*valve, route.min_margin_deg) for valve in off]
        if usable.valves or chosen.keeps_empty_stops:
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


def _adjusts_itself(engine: Engine) -> tuple[str, ...]:
    """Fact of the trade: oil takes up the gap of a hydraulic follower; there is nothing to set."""
    roles = [role for role in engine.roles if engine.adjuster_of(role).adjusts_itself]
    if not roles:
        return ()
    whose = "Its followers" if len(roles) == len(engine.roles) else f"Its {roles[0]} followers"
    return (
        f"{whose} adjust themselves: nothing is measured or set on them; the stops show where each "
        "rests on its heel.",
    )


def _sift(
    engine: Engine, proposal: Proposal, min_margin_deg: float
) -> tuple[Proposal, list[OffHeel]]:
    """The proposal without the valves that may not be set there, and those valves."""
    usable, off = [], []
    for number in proposal.valves:
        margin = valve_margin_deg(engine, engine.valve[number], proposal.crank_deg)
        if reaches(margin, min_margin_deg):
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
