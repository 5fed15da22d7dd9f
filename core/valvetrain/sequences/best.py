"""The method that a route card begins with: the best one by what the engine file says."""

from valvetrain.engine import Engine
from valvetrain.sequences.build import make_plan
from valvetrain.sequences.maker_chart import METHOD as MAKER_CHART
from valvetrain.sequences.methods import METHODS
from valvetrain.sequences.plan import Plan
from valvetrain.sequences.recognise import marks_at


def best_method(engine: Engine) -> str:
    """The maker's chart where the file has one that covers the engine. Else, of the methods that
    cover it: first those whose stops are all at marks that exist, of these the one with the fewest
    stops, then the larger least margin, then the less turning; of equals the one taught first.
    Where none covers it, each cylinder by itself."""
    plans = {
        name: make_plan(engine, name)
        for name, method in METHODS.items()
        if method.hidden(engine) is None
    }
    covering = {name: plan for name, plan in plans.items() if plan.complete and plan.stops}
    if MAKER_CHART.name in covering:
        return MAKER_CHART.name
    return min(
        covering, key=lambda name: _rank(engine, covering[name]), default=next(iter(METHODS))
    )


def _rank(engine: Engine, plan: Plan) -> tuple[int, int, float, float]:
    """The smaller the better. Margins and turns are compared to the tenth of a degree."""
    unmarked = sum(not marks_at(engine, stop.crank_deg) for stop in plan.stops)
    margin_deg = round(plan.least_margin_deg or 0.0, 1)
    return min(unmarked, 1), len(plan.stops), -margin_deg, round(plan.total_turn_deg, 1)
