"""School: at each pair mark feel which of the pair is loose, and set that one; go twice round."""

from valvetrain.angles import apart_deg
from valvetrain.engine import Engine
from valvetrain.sequences.plan import Proposal

METHOD = "pair-marks"
NEAR_TDC_DEG = 10.0
"""A pair mark stands at the dead centre of its pair, or a few degrees beside it."""


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
                        f"{mark.on} mark “{mark.label}”: the rockers of cylinder {cylinder} are "
                        f"loose{other}",
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
