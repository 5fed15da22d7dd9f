"""Method: set the intake when the exhaust starts to open, the exhaust when the intake is shutting.

Used with long-duration cams: each place is far from the other valve's lobe.
"""

from valvetrain.angles import normalise_deg
from valvetrain.engine import Engine, Role
from valvetrain.sequences.method import Method, Need, always
from valvetrain.sequences.plan import Plan, Proposal
from valvetrain.sequences.recognise import marks_words


def propose(engine: Engine) -> tuple[Proposal, ...]:
    """Two proposals for each cylinder that has both valves."""
    proposals = []
    for cylinder in engine.firing_order:
        numbers = {
            role: tuple(v.number for v in engine.valves_of(cylinder) if v.role is role)
            for role in (Role.INTAKE, Role.EXHAUST)
        }
        if not all(numbers.values()):
            continue
        fire_deg = engine.fire_deg[cylinder]
        opens = normalise_deg(engine.events[Role.EXHAUST].opens_cycle_deg + fire_deg)
        shuts = normalise_deg(engine.events[Role.INTAKE].closes_cycle_deg + fire_deg)
        for crank_deg, to_set, sign in (
            (
                opens,
                Role.INTAKE,
                f"cylinder {cylinder}: exhaust {_listed(numbers[Role.EXHAUST])} starts to open",
            ),
            (
                shuts,
                Role.EXHAUST,
                f"cylinder {cylinder}: intake {_listed(numbers[Role.INTAKE])} has nearly closed",
            ),
        ):
            marks = marks_words(engine, crank_deg)
            words = f"{sign}; {marks}" if marks else sign
            proposals.append(Proposal(crank_deg, numbers[to_set], words))
    return tuple(proposals)


def remarks(engine: Engine) -> tuple[str, ...]:
    if Role.BRAKE in engine.roles:
        return ("This method says nothing of brake rockers.",)
    return ()


def _listed(numbers: tuple[int, ...]) -> str:
    return " and ".join(map(str, numbers))


def _needs(engine: Engine, _plan: Plan) -> tuple[Need, ...]:
    plain = Role.BRAKE not in engine.roles
    return (Need("only intake and exhaust valves", plain),)


METHOD = Method(
    "opening-closing",
    "Opening and closing",
    "the intake when the exhaust starts to open, the exhaust when the intake is shutting",
    "the exhaust valve starting to open; the intake valve nearly closed",
    always(propose),
    remarks=remarks,
    needs=_needs,
)
