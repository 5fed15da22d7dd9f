"""School: turn until the lobe points straight away from the follower, one valve at a time."""

from valvetrain.angles import TURN_DEG, normalise_deg
from valvetrain.engine import Engine
from valvetrain.sequences.plan import Proposal
from valvetrain.sequences.recognise import marks_words

METHOD = "lobe-away"


def propose(engine: Engine) -> tuple[Proposal, ...]:
    """One proposal for each valve; the builder joins those whose lobes stand alike."""
    proposals = []
    for valve in engine.valves:
        # Half a turn of the cam, which is a whole turn of the crank, from full lift.
        middle_deg = engine.events[valve.role].middle_cycle_deg
        crank_deg = normalise_deg(middle_deg + TURN_DEG + engine.fire_deg[valve.cylinder])
        words = f"the lobe of valve {valve.number} points straight away"
        marks = marks_words(engine, crank_deg)
        proposals.append(
            Proposal(crank_deg, (valve.number,), f"{words}; {marks}" if marks else words)
        )
    return tuple(proposals)
