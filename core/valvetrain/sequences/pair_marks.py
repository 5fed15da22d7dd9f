"""Method: at each pair mark feel which of the pair is loose, and set that one; go twice round.

A lettered mark serves as a pair mark where the file says whose it is: at each pass the one of its
cylinders is set whose valves are all on their heel, brake rockers too.
"""

from valvetrain.angles import apart_deg
from valvetrain.constants import NEAR_TDC_DEG
from valvetrain.engine import Engine, Role, TimingMark
from valvetrain.heel import valve_margin_deg
from valvetrain.looks import loose_words
from valvetrain.sequences.method import Method, Need, always
from valvetrain.sequences.plan import Plan, Proposal


def propose(engine: Engine) -> tuple[Proposal, ...]:
    """One proposal for each time that such a mark comes round with a cylinder to set there."""
    proposals = []
    for mark in _marks(engine):
        for crank_deg in mark.crank_degs():
            for cylinder in _set_at(engine, mark, crank_deg):
                companion = engine.companion(cylinder)
                other = f", not {companion}" if companion else ""
                loose = loose_words(
                    engine, cylinder, with_brake=_brakes_loose(engine, cylinder, crank_deg)
                )
                proposals.append(
                    Proposal(
                        crank_deg,
                        tuple(valve.number for valve in engine.valves_of(cylinder)),
                        f"{mark.on} mark “{mark.label}”: {loose}{other}",
                    )
                )
    return tuple(proposals)


def _brakes_loose(engine: Engine, cylinder: int, crank_deg: float) -> bool:
    brakes = [valve for valve in engine.valves_of(cylinder) if valve.role is Role.BRAKE]
    return bool(brakes) and all(valve_margin_deg(engine, v, crank_deg) >= 0 for v in brakes)


def remarks(engine: Engine) -> tuple[str, ...]:
    return () if _marks(engine) else ("This engine has no pair marks.",)


def _marks(engine: Engine) -> list[TimingMark]:
    """The pair marks; where there are none, marks on the crank that serve several cylinders."""
    pairs = [mark for mark in engine.marks if mark.means == "pair"]
    return pairs or [m for m in engine.marks if m.on == "crank" and len(m.cylinders) > 1]


def _set_at(engine: Engine, mark: TimingMark, crank_deg: float) -> list[int]:
    """The cylinders to set at one pass of a mark: at most one of a lettered mark's."""
    if mark.means == "pair" or not mark.cylinders:
        return _firing_at(engine, crank_deg)
    margins = {
        cylinder: min(valve_margin_deg(engine, v, crank_deg) for v in engine.valves_of(cylinder))
        for cylinder in mark.cylinders
    }
    best = max(margins, key=lambda cylinder: margins[cylinder])
    return [best] if margins[best] >= 0 else []


def _firing_at(engine: Engine, crank_deg: float) -> list[int]:
    return [
        cylinder
        for cylinder in engine.firing_order
        if apart_deg(engine.fire_deg[cylinder], crank_deg) <= NEAR_TDC_DEG
    ]


def _needs(engine: Engine, _plan: Plan) -> tuple[Need, ...]:
    return (Need("pair marks on the crank", bool(_marks(engine))),)


METHOD = Method(
    "pair-marks",
    "Pair marks",
    "at each pair mark set the cylinder at firing TDC; go round twice",
    "the pair mark, and which of the pair has {loose}",
    always(propose),
    remarks=remarks,
    needs=_needs,
)
