"""Method: with one valve fully open, set the one whose number makes the constant sum with it."""

from valvetrain.engine import Engine
from valvetrain.sequences.constant_sum import sum_rule
from valvetrain.sequences.method import Method, Need, always
from valvetrain.sequences.plan import Plan, Proposal
from valvetrain.sequences.recognise import marks_words


def propose(engine: Engine) -> tuple[Proposal, ...]:
    """One proposal for each valve that is set; the builder joins those at one angle."""
    rule = sum_rule(engine)
    proposals = []
    for pair in rule.pairs:
        opened = engine.valves[pair.opened - 1]
        words = (
            f"valve {opened.number} fully open (cylinder {opened.cylinder} {opened.role}): "
            f"{rule.total} − {pair.opened} = {pair.to_set}"
        )
        marks = marks_words(engine, pair.crank_deg)
        proposals.append(
            Proposal(
                crank_deg=pair.crank_deg,
                valves=(engine.valves[pair.to_set - 1].number,),
                find_by=f"{words}; {marks}" if marks else words,
            )
        )
    return tuple(proposals)


def remarks(engine: Engine) -> tuple[str, ...]:
    rule = sum_rule(engine)
    return () if rule.holds else (rule.reason,)


def _needs(engine: Engine, _plan: Plan) -> tuple[Need, ...]:
    rule = sum_rule(engine)
    return (Need(f"a mirrored head, so that valves sum to {rule.total}", rule.holds),)


METHOD = Method(
    "opposite-valve",
    "Opposite valve",
    "with one valve fully open, set the one that makes the sum with it",
    "which valve is fully open, and the sum",
    always(propose),
    remarks=remarks,
    needs=_needs,
)
