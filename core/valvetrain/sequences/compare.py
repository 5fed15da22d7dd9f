"""The schools side by side on one engine: does each serve it, and what does it ask for?"""

from collections.abc import Callable
from typing import NamedTuple

from valvetrain.engine import Engine, Role
from valvetrain.overlap import overlap_of
from valvetrain.sequences import (
    companion_overlap,
    each_cylinder,
    fewest,
    lobe_away,
    maker_chart,
    opening_closing,
    opposite_valve,
    pair_marks,
    two_stop,
)
from valvetrain.sequences.build import METHODS, make_plan
from valvetrain.sequences.constant_sum import sum_rule
from valvetrain.sequences.plan import OffHeel, Plan, Route
from valvetrain.sequences.recognise import marks_at


class Need(NamedTuple):
    """Something that a school cannot do without. met is None where the file cannot tell."""

    what: str
    met: bool | None


class Compared(NamedTuple):
    plan: Plan
    recognise: str
    """What a person must be able to tell at each stop."""
    needs: tuple[Need, ...]
    worst: OffHeel | None
    """The valve that is furthest from where it may be set, where the school fails by that."""
    says: str
    """The verdict in a sentence."""


def compare_schools(engine: Engine, route: Route | None = None) -> tuple[Compared, ...]:
    """All schools in the order in which they are taught, by the same route."""
    return tuple(_compared(engine, make_plan(engine, method, route)) for method in METHODS)


def _compared(engine: Engine, plan: Plan) -> Compared:
    recognise, needs = _ASKS[plan.method]
    worst = min(plan.failing, key=lambda off: off.margin_deg, default=None)
    return Compared(plan, recognise, needs(engine, plan), worst, _says(engine, plan, worst))


def _says(engine: Engine, plan: Plan, worst: OffHeel | None) -> str:
    total = len(engine.valves)
    if plan.complete:
        return "Serves this engine: every valve once, on its heel."
    count = total - len(plan.unset)
    partly = f"Sets {count} of {total} valves." if count else "Serves no valve of this engine."
    if worst is None:
        return f"{partly} {plan.warnings[0]}" if plan.warnings else partly
    valve = engine.valve[worst.valve]
    who = f"Valve {valve.number} (cylinder {valve.cylinder} {valve.role})"
    where = f"at {worst.crank_deg:g}°"
    if worst.margin_deg < 0:
        return f"{partly} {who} fails by {-worst.margin_deg:g}°: off its heel {where}."
    return f"{partly} {who} has only {worst.margin_deg:g}° of margin {where}."


def _companions(engine: Engine, _plan: Plan) -> tuple[Need, ...]:
    paired = all(engine.companion(cylinder) is not None for cylinder in engine.firing_order)
    rocks = any(overlap_of(engine, c).centre_deg is not None for c in engine.firing_order)
    return (
        Need("a companion for every cylinder", paired),
        Need("an overlap to rock in", rocks),
    )


def _mirror(engine: Engine, _plan: Plan) -> tuple[Need, ...]:
    rule = sum_rule(engine)
    return (Need(f"a mirrored head, so that valves sum to {rule.total}", rule.holds),)


def _pair_marks(engine: Engine, _plan: Plan) -> tuple[Need, ...]:
    return (Need("pair marks on the crank", any(m.means == "pair" for m in engine.marks)),)


def _chart(engine: Engine, _plan: Plan) -> tuple[Need, ...]:
    return (Need("the manual's table", bool(engine.maker_chart)),)


def _both_roles(engine: Engine, _plan: Plan) -> tuple[Need, ...]:
    plain = Role.BRAKE not in engine.roles
    return (Need("only intake and exhaust rockers", plain),)


def _lobes(_engine: Engine, _plan: Plan) -> tuple[Need, ...]:
    return (Need("lobes in plain sight", None),)


def _places(engine: Engine, plan: Plan) -> tuple[Need, ...]:
    """Stops that lie at no mark are found by a degree wheel only."""
    at_marks = all(marks_at(engine, stop.crank_deg) for stop in plan.stops)
    return (Need("a mark at every stop, or a degree wheel", True if at_marks else None),)


_ASKS: dict[str, tuple[str, Callable[[Engine, Plan], tuple[Need, ...]]]] = {
    each_cylinder.METHOD: (
        "firing TDC of each cylinder: its mark, and both its rockers loose",
        _places,
    ),
    two_stop.METHOD: (
        "firing TDC of the first cylinder, and the same mark a full turn later",
        _places,
    ),
    companion_overlap.METHOD: (
        "which cylinder rocks in overlap: a little forward opens the intake, back the exhaust",
        _companions,
    ),
    pair_marks.METHOD: ("the pair mark, and which of the pair has loose rockers", _pair_marks),
    opposite_valve.METHOD: ("which valve is fully open, and the sum", _mirror),
    opening_closing.METHOD: (
        "the exhaust valve starting to open; the intake valve nearly closed",
        _both_roles,
    ),
    lobe_away.METHOD: ("the lobe pointing straight away from its follower", _lobes),
    maker_chart.METHOD: ("the places that the manual names", _chart),
    fewest.METHOD: ("the very angles of the stops", _places),
}
