"""Method: rock a cylinder in overlap, and set the valves of its companion.

A person finds the overlap by rocking between "exhaust just shut" and "intake just opening",
which is the overlap's centre. That is seldom exactly the companion's TDC; by how much it
differs is said with the stop.
"""

from valvetrain.angles import SAME_ANGLE_DEG
from valvetrain.engine import Engine
from valvetrain.looks import overlap_words
from valvetrain.overlap import overlap_of
from valvetrain.sequences.method import Method, Need, always
from valvetrain.sequences.plan import Plan, Proposal


def propose(engine: Engine) -> tuple[Proposal, ...]:
    """One proposal for each cylinder whose companion has an overlap to rock in."""
    proposals = []
    for cylinder in engine.firing_order:
        companion = engine.companion(cylinder)
        if companion is None:
            continue
        overlap = overlap_of(engine, companion)
        if overlap.centre_deg is None or overlap.centre_past_tdc_deg is None:
            continue
        numbers = tuple(valve.number for valve in engine.valves_of(cylinder))
        words = f"{overlap_words(engine, companion)}: set cylinder {cylinder}"
        proposals.append(
            Proposal(overlap.centre_deg, numbers, words + _off_tdc(overlap.centre_past_tdc_deg))
        )
    return tuple(proposals)


def remarks(engine: Engine) -> tuple[str, ...]:
    alone = [c for c in engine.firing_order if engine.companion(c) is None]
    said = []
    if alone:
        named = ", ".join(map(str, sorted(alone)))
        said.append(f"Without a companion 360 degrees apart: cylinder {named}.")
    if all(overlap_of(engine, c).centre_deg is None for c in engine.firing_order):
        said.append("The valves are never open together, so there is no overlap to rock in.")
    return tuple(said)


def _off_tdc(past_deg: float) -> str:
    if abs(past_deg) < SAME_ANGLE_DEG:
        return " (its centre is the dead centre)"
    side = "past" if past_deg > 0 else "before"
    return f" (its centre lies {abs(past_deg):g}° {side} the dead centre)"


def _needs(engine: Engine, _plan: Plan) -> tuple[Need, ...]:
    paired = all(engine.companion(cylinder) is not None for cylinder in engine.firing_order)
    rocks = any(overlap_of(engine, c).centre_deg is not None for c in engine.firing_order)
    return (
        Need("a companion for every cylinder", paired),
        Need("an overlap to rock in", rocks),
    )


METHOD = Method(
    "companion-overlap",
    "Companion overlap",
    "rock a cylinder in overlap, set its companion",
    "which cylinder {overlap}: a little forward opens the intake, back the exhaust",
    always(propose),
    remarks=remarks,
    needs=_needs,
)
