"""Method: the manual's own table of stops and valves. Followed as it is, and checked."""

from valvetrain.engine import Engine
from valvetrain.sequences.method import Method, Need, always
from valvetrain.sequences.plan import Plan, Proposal
from valvetrain.sequences.recognise import place_words


def propose(engine: Engine) -> tuple[Proposal, ...]:
    return tuple(
        Proposal(stop.crank_deg, stop.valves, place_words(engine, stop.crank_deg))
        for stop in engine.maker_chart
    )


def remarks(engine: Engine) -> tuple[str, ...]:
    return () if engine.maker_chart else ("The engine file gives no maker's chart.",)


def _needs(engine: Engine, _plan: Plan) -> tuple[Need, ...]:
    return (Need("the manual's table", bool(engine.maker_chart)),)


METHOD = Method(
    "maker-chart",
    "Maker's chart",
    "the manual's own table, followed and checked",
    "the places that the manual names",
    always(propose),
    remarks=remarks,
    needs=_needs,
)
