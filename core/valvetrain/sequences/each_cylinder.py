"""School: bring every cylinder to firing TDC in firing order, and set its valves there."""

from valvetrain.engine import Engine
from valvetrain.sequences.plan import Proposal
from valvetrain.sequences.recognise import place_words

METHOD = "each-cylinder"


def propose(engine: Engine) -> tuple[Proposal, ...]:
    """One proposal for each distinct firing angle."""
    angles = sorted(set(engine.fire_deg.values()))
    return tuple(
        Proposal(
            crank_deg=angle,
            valves=tuple(
                valve.number for valve in engine.valves if engine.fire_deg[valve.cylinder] == angle
            ),
            find_by=place_words(engine, angle),
        )
        for angle in angles
    )
