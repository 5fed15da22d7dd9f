"""A dot of one's own on the pulley: a place to come back to. Common practice."""

import pytest

from tests.core.practice.conftest import Bench
from valvetrain.practice import RefusedActionError, view


def test_a_dot_is_seen_where_it_was_painted_in_either_turn():
    pump = Bench(1).to(200.0).do("paint")
    assert view(pump.setup, pump.state).dots_deg == (200.0,)
    pump.to(210.0).do("look", at="marks")
    assert "your own dot 10\u00b0 past its pointer" in pump.seen.says.lower()
    pump.to(560.0).do("look", at="marks")
    assert "your own dot at its pointer" in pump.seen.says.lower()
    pump.to(300.0).do("look", at="marks")
    assert "dot" not in pump.seen.says


def test_it_is_wiped_off_where_it_is():
    pump = Bench(1).to(200.0).do("paint")
    with pytest.raises(RefusedActionError, match="already"):
        pump.do("paint")
    pump.to(230.0)
    with pytest.raises(RefusedActionError, match="no dot of yours"):
        pump.do("paint", wipe=True)
    pump.to(561.0).do("paint", wipe=True)
    assert pump.state.dots_deg == ()


def test_a_pulley_full_of_dots_tells_nothing():
    pump = Bench(1)
    for place in (10.0, 40.0, 70.0, 100.0):
        pump.to(place).do("paint")
    with pytest.raises(RefusedActionError, match="which is which"):
        pump.to(130.0).do("paint")


def test_where_the_cams_stand_is_seen_only_where_everything_is_shown():
    """It tells the stroke, which is for the student to find."""
    seen = {
        level: view(bench.setup, bench.state).cam_deg
        for level in ("shown", "prompted", "alone", "test")
        for bench in [Bench(1, level=level).to(500.0)]
    }
    assert seen == {"shown": 500.0, "prompted": None, "alone": None, "test": None}
