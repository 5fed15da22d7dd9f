"""School: the manual's own table of stops and valves. Followed as it is, and checked."""

from valvetrain.engine import Engine
from valvetrain.sequences.plan import Proposal
from valvetrain.sequences.recognise import place_words

METHOD = "maker-chart"


def propose(engine: Engine) -> tuple[Proposal, ...]:
    return tuple(
        Proposal(stop.crank_deg, stop.valves, place_words(engine, stop.crank_deg))
        for stop in engine.maker_chart
    )


def remarks(engine: Engine) -> tuple[str, ...]:
    return () if engine.maker_chart else ("The engine file gives no maker's chart.",)
