"""Method: at each pair mark feel which of the pair is loose, and set that one; go twice round."""

from valvetrain.angles import apart_deg
from valvetrain.constants import NEAR_TDC_DEG
from valvetrain.engine import Engine
from valvetrain.looks import loose_words
from valvetrain.sequences.method import Method, Need, always
from valvetrain.sequences.plan import Plan, Proposal


def propose(engine: Engine) -> tuple[Proposal, ...]:
    """One proposal for each time that a pair mark comes round with a cylinder firing there."""
    proposals = []
    for mark in engine.marks:
        if mark.means != "pair":
            continue
        for crank_deg in mark.crank_degs():
            for cylinder in _firing_at(engine, crank_deg):
                companion = engine.companion(cylinder)
                other = f", not {companion}" if companion else ""
                proposals.append(
                    Proposal(
                        crank_deg,
                        tuple(valve.number for valve in engine.valves_of(cylinder)),
                        f"{mark.on} mark “{mark.label}”: {loose_words(engine, cylinder)}{other}",
                    )
                )
    return tuple(proposals)


def remarks(engine: Engine) -> tuple[str, ...]:
    if any(mark.means == "pair" for mark in engine.marks):
        return ()
    return ("This engine has no pair marks.",)


def _firing_at(engine: Engine, crank_deg: float) -> list[int]:
    return [
        cylinder
        for cylinder in engine.firing_order
        if apart_deg(engine.fire_deg[cylinder], crank_deg) <= NEAR_TDC_DEG
    ]


def _needs(engine: Engine, _plan: Plan) -> tuple[Need, ...]:
    return (Need("pair marks on the crank", any(m.means == "pair" for m in engine.marks)),)


METHOD = Method(
    "pair-marks",
    "Pair marks",
    "at each pair mark set the cylinder at firing TDC; go round twice",
    "the pair mark, and which of the pair has {loose}",
    always(propose),
    remarks=remarks,
    needs=_needs,
)
