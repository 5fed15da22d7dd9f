"""The methods side by side on one engine: does each cover it, and what does it ask for?"""

from typing import NamedTuple

from valvetrain.engine import Engine
from valvetrain.sequences.build import make_plan
from valvetrain.sequences.method import Need
from valvetrain.sequences.methods import METHODS
from valvetrain.sequences.plan import OffHeel, Plan, Route


class Compared(NamedTuple):
    plan: Plan
    recognise: str
    """What a person must be able to tell at each stop."""
    needs: tuple[Need, ...]
    worst: OffHeel | None
    """The valve that is furthest from where it may be set, where the method fails by that."""
    says: str
    """The verdict in a sentence."""
    offered: bool = True
    """Whether the sign it goes by exists on this engine."""


def compare_methods(engine: Engine, route: Route | None = None) -> tuple[Compared, ...]:
    """All methods in the order in which they are taught, by the same route."""
    return tuple(_compared(engine, make_plan(engine, method, route)) for method in METHODS)


def _compared(engine: Engine, plan: Plan) -> Compared:
    method = METHODS[plan.method]
    worst = min(plan.failing, key=lambda off: off.margin_deg, default=None)
    hidden = method.hidden(engine)
    return Compared(
        plan,
        method.recognised_by(engine),
        method.needs(engine, plan),
        worst,
        _says(engine, plan, worst) if hidden is None else f"Not offered here. {hidden}",
        hidden is None,
    )


def _says(engine: Engine, plan: Plan, worst: OffHeel | None) -> str:
    total = len(engine.valves)
    if plan.complete:
        return "Covers this engine: every valve once, on its heel."
    count = total - len(plan.unset)
    partly = f"Sets {count} of {total} valves." if count else "Covers no valve of this engine."
    if worst is None:
        return f"{partly} {plan.warnings[0]}" if plan.warnings else partly
    valve = engine.valve[worst.valve]
    who = f"Valve {valve.number} (cylinder {valve.cylinder} {valve.role})"
    where = f"at {worst.crank_deg:g}°"
    if worst.margin_deg < 0:
        return f"{partly} {who} fails by {-worst.margin_deg:g}°: off its heel {where}."
    return f"{partly} {who} has only {worst.margin_deg:g}° of margin {where}."
