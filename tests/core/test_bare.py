"""What anybody sees of an engine: nothing of it tells the stroke, the heel or what a mark means."""

import pytest

from tests.core.conftest import engine_document, engine_firing
from tests.core.test_any_engine import ENGINES
from valvetrain.bare import bare_view
from valvetrain.engine_file import read_engine

MARKS = [
    {"on": "crank", "label": "0", "deg": 0, "means": "tdc"},
    {"on": "crank", "label": "F", "deg": 348, "means": "ignition"},
    {"on": "cam", "label": "•", "deg": 0, "means": "tdc"},
]


def test_a_wheel_shows_where_in_its_turn_the_crank_is_and_not_which_turn():
    engine = read_engine(engine_document([1, 3, 4, 2], marks=MARKS))
    first, second = bare_view(engine, 40), bare_view(engine, 400)
    assert first.wheel_deg == second.wheel_deg == 40
    assert first.marks == second.marks == (("0", 0), ("F", 348))
    assert [v.down for v in first.valves] != [v.down for v in second.valves]


@pytest.mark.parametrize("name", ENGINES)
def test_a_valve_is_up_on_its_seat_or_down_by_a_share_of_its_lift(name):
    engine = read_engine(ENGINES[name])
    for valve in engine.valves:
        at_full = bare_view(engine, engine.full_lift_deg(valve)).valves
        assert next(v.down for v in at_full if v.number == valve.number) == pytest.approx(
            1, abs=0.02
        )
        closed = bare_view(engine, engine.full_lift_deg(valve) + 360).valves
        assert next(v.down for v in closed if v.number == valve.number) < 0.35
    assert [v.number for v in at_full] == [v.number for v in engine.valves]


def test_a_lobe_is_seen_only_where_the_cam_lies_under_the_cover():
    """Facts of the trade: push rods come from a cam down in the block, buckets have it on top."""
    rods = engine_firing([1, 3, 4, 2], valve_train="pushrod-rocker")
    assert {v.lobe_deg for v in bare_view(rods, 0).valves} == {None}
    buckets = engine_firing([1, 3, 4, 2], valve_train="bucket")
    first = buckets.valves[0]
    full = buckets.full_lift_deg(first)
    assert bare_view(buckets, full).valves[0].lobe_deg == 0
    assert bare_view(buckets, full + 90).valves[0].lobe_deg == pytest.approx(90)
    assert bare_view(buckets, full - 90).valves[0].lobe_deg == pytest.approx(-90)
