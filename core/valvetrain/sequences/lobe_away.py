"""Method: turn until the lobe points straight away from the follower, one valve at a time."""

from valvetrain.angles import TURN_DEG, normalise_deg
from valvetrain.engine import Engine
from valvetrain.looks import lobes_hidden
from valvetrain.sequences.method import Method, Need, always
from valvetrain.sequences.plan import Plan, Proposal
from valvetrain.sequences.recognise import marks_words


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


def _needs(engine: Engine, _plan: Plan) -> tuple[Need, ...]:
    assumed = any(engine.is_train_assumed(role) for role in engine.roles)
    in_sight = lobes_hidden(engine) is None
    return (Need("lobes in plain sight", None if in_sight and assumed else in_sight),)


METHOD = Method(
    "lobe-away",
    "Lobe away",
    "turn until the lobe points straight away, one valve at a time",
    "the lobe pointing straight away from its follower",
    always(propose),
    needs=_needs,
    hidden=lobes_hidden,
)
