"""Method: bring every cylinder to firing TDC in firing order, and set its valves there."""

from valvetrain.engine import Engine
from valvetrain.sequences.method import Method, always
from valvetrain.sequences.plan import Proposal
from valvetrain.sequences.recognise import needs_places, place_words


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


METHOD = Method(
    "each-cylinder",
    "Each cylinder",
    "every cylinder at its firing TDC, in firing order: slow and safe",
    "firing TDC of each cylinder: its mark, and {loose}",
    always(propose),
    needs=needs_places,
    keeps_empty_stops=True,
)
