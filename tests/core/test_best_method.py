"""Which method a route begins with, by counting the plans of all methods by hand."""

import json
from pathlib import Path

import pytest

from tests.core.conftest import engine_firing
from valvetrain.engine_file import read_engine
from valvetrain.sequences import METHODS, best_method, make_plan

SHELF = sorted((Path(__file__).parents[2] / "demo" / "engines").glob("*.json"))
ENGINES = [read_engine(json.loads(path.read_text())) for path in SHELF]


def is_marked(engine, crank_deg):
    """Whether a mark that is not the ignition's stands there, by its own definition."""
    return any(
        abs((crank_deg - mark.deg + 180) % 360 - 180) <= 0.5
        if mark.on == "crank"
        else abs((crank_deg - mark.deg + 360) % 720 - 360) <= 0.5
        for mark in engine.marks
        if mark.means != "ignition"
    )


@pytest.mark.parametrize("engine", ENGINES, ids=lambda engine: engine.name)
def test_no_method_is_better_than_the_one_a_route_begins_with(engine):
    best = best_method(engine)
    plan = make_plan(engine, best)
    assert METHODS[best].hidden(engine) is None
    assert plan.complete
    if engine.maker_chart and make_plan(engine, "maker-chart").complete:
        assert best == "maker-chart"
        return
    marked = all(is_marked(engine, stop.crank_deg) for stop in plan.stops)
    for name, method in METHODS.items():
        other = make_plan(engine, name)
        if method.hidden(engine) is not None or not other.complete or not other.stops:
            continue
        if marked and not all(is_marked(engine, stop.crank_deg) for stop in other.stops):
            continue
        assert len(plan.stops) <= len(other.stops), name
        if len(plan.stops) == len(other.stops):
            assert plan.least_margin_deg >= other.least_margin_deg - 0.1, name


def test_a_chart_that_leaves_a_valve_out_is_not_begun_with():
    engine = engine_firing([1, 3, 4, 2], maker_chart=[{"crank_deg": 0, "set": [1]}])
    assert not make_plan(engine, "maker-chart").complete
    assert best_method(engine) == "two-stop"
