"""Method: two stops a full turn apart, with the first cylinder firing and in overlap.

Each valve belongs to the stop where it is further from the edge of its heel. For usual
timings that gives the charts that people know by heart (for 1-3-4-2: first 1 both,
2 intake, 3 exhaust; then 4 both, 3 intake, 2 exhaust). An engine whose every valve is best set at
the first, as a single cylinder's is, has one stop.
"""

from valvetrain.angles import TURN_DEG
from valvetrain.engine import Engine, Valve
from valvetrain.heel import valve_margin_deg
from valvetrain.sequences.method import Method, always
from valvetrain.sequences.plan import Proposal
from valvetrain.sequences.recognise import needs_places, place_words

STOPS_DEG = (0.0, TURN_DEG)


def propose(engine: Engine) -> tuple[Proposal, ...]:
    """At 0 and at 360 degrees; one that sets nothing is no stop."""

    def better_stop(valve: Valve) -> float:
        return max(STOPS_DEG, key=lambda stop_deg: valve_margin_deg(engine, valve, stop_deg))

    chosen = {valve.number: better_stop(valve) for valve in engine.valves}
    return tuple(
        Proposal(
            crank_deg=stop_deg,
            valves=tuple(number for number, angle in chosen.items() if angle == stop_deg),
            find_by=place_words(engine, stop_deg),
        )
        for stop_deg in STOPS_DEG
    )


METHOD = Method(
    "two-stop",
    "Two stops",
    "half of the valves at one stop, the rest a full turn later",
    "firing TDC of the first cylinder, and the same mark a full turn later",
    always(propose),
    needs=needs_places,
)
