"""The methods side by side: what each asks for, and by how much one fails."""

import pytest

from tests.core.conftest import engine_document, engine_firing
from tests.core.test_any_engine import ENGINES
from valvetrain.engine_file import read_engine
from valvetrain.heel import valve_margin_deg
from valvetrain.sequences import METHODS, Route, compare_methods, make_plan
from valvetrain.sequences.recognise import overshot_words
from valvetrain.suspicions import suspicions

IEIE = [
    {"number": n, "cylinder": (n + 1) // 2, "role": "intake" if n % 2 else "exhaust"}
    for n in range(1, 9)
]


def by_method(engine, route=None):
    return {row.plan.method: row for row in compare_methods(engine, route)}


@pytest.mark.parametrize("name", ENGINES)
def test_each_row_is_that_methods_own_plan(name):
    engine = read_engine(ENGINES[name])
    route = Route(start_deg=90, direction="reverse")
    rows = compare_methods(engine, route)
    assert tuple(row.plan.method for row in rows) == tuple(METHODS)
    for row in rows:
        assert row.plan == make_plan(engine, row.plan.method, route)
        assert row.recognise
        assert row.says.startswith("Covers this engine") == row.plan.complete
        for off in row.plan.failing:
            valve = engine.valve[off.valve]
            assert off.margin_deg == valve_margin_deg(engine, valve, off.crank_deg) < 0
        # A need that is surely not met and a complete plan cannot both be.
        assert not (row.plan.complete and any(need.met is False for need in row.needs))


def test_the_rule_of_nine_fails_on_an_ieie_head_and_by_how_much():
    """By hand: firing 1-3-4-2, valve 1 (intake 1) is fully open at 360 + (46 - 12)/2 + 90 = 467.
    Valve 8 is exhaust 4, which fires at 360, so it stands at cycle 107; it leaves its heel at
    180 - 48 - 16 = 116: 9 degrees ahead, so it holds there. Valve 2 (exhaust 1) is fully open at
    180 + (14 - 48)/2 + 90 = 253; valve 7 is intake 4 at cycle 613, 11 after its heel begins at
    540 + 46 + 16 = 602. So it holds, by little; with 20 degrees more on each closing it fails."""
    row = by_method(engine_firing([1, 3, 4, 2], valves=IEIE))["opposite-valve"]
    assert row.plan.complete
    assert row.plan.least_margin_deg == pytest.approx(9)
    long_cam = {
        "intake": {"opens_btdc": 12, "closes_abdc": 86},
        "exhaust": {"opens_bbdc": 48, "closes_atdc": 14},
    }
    row = by_method(engine_firing([1, 3, 4, 2], valves=IEIE, timing=long_cam))["opposite-valve"]
    # Valve 1 is now fully open 20 later: 487, exhaust 4 at cycle 127, which is 11 past 116.
    # And valve 7 leaves its ramp 40 later: at cycle 613 it is 29 inside.
    assert not row.plan.complete
    assert row.needs[0].met is False
    assert row.worst is not None
    assert row.worst.margin_deg == pytest.approx(-29)
    assert "fails by 29°" in row.says
    assert row.says.startswith("Covers no valve of this engine. Valve 7 (cylinder 4 intake)")


def test_a_margin_that_is_too_small_is_told_as_such():
    row = by_method(engine_firing([1, 3, 4, 2]), Route(min_margin_deg=150))["two-stop"]
    assert not row.plan.complete
    assert "has only 116° of margin at 0°" in row.says


def test_needs_are_told_from_the_engine():
    three = by_method(engine_firing([1, 3, 2]))
    companion, overlap = three["companion-overlap"].needs
    assert (companion.met, overlap.met) == (False, True)
    assert three["pair-marks"].needs[0].met is False
    assert three["lobe-away"].needs[0].met is None
    assert three["maker-chart"].needs[0].met is False
    braked = by_method(read_engine(ENGINES["six with brake rockers"]))
    assert braked["opening-closing"].needs[0].met is False


def test_overshooting_by_the_engines_own_rule():
    one_way = engine_firing([1, 3, 4, 2], turning={"reverse_allowed": False})
    assert "Never turn back" in overshot_words(one_way)
    slack = engine_firing([1, 3, 4, 2], turning={"backlash_deg": 2.5})
    assert "2.5°" in overshot_words(slack)
    assert "Bump back" in overshot_words(engine_firing([1, 3, 4, 2]))


class TestFiringOrderAgainstTheCrank:
    """Facts of the trade: in-line cranks are mirrored, and pair marks name who rises together."""

    @pytest.mark.parametrize("order", [[1, 3, 4, 2], [1, 2, 4, 3], [1, 5, 3, 6, 2, 4]])
    def test_orders_in_use_are_not_suspicious(self, order):
        assert suspicions(engine_firing(order)) == ()

    def test_an_order_for_another_crank(self):
        (said,) = suspicions(engine_firing([1, 2, 3, 4]))
        assert "cylinders 1 and 3 rise together" in said
        assert "1 with 4" in said

    def test_the_same_order_on_a_flat_engine_is_left_alone(self):
        assert suspicions(engine_firing([1, 2, 3, 4], layout="flat")) == ()

    def test_a_pair_mark_against_the_firing_order(self):
        mark = {"on": "crank", "label": "1-3", "deg": 0, "means": "pair"}
        (said,) = suspicions(engine_firing([1, 3, 4, 2], marks=[mark]))
        assert "cylinder 3 is at the top there, but by the firing order it is 180 degrees" in said

    def test_a_pair_mark_that_names_nobody(self):
        mark = {"on": "crank", "label": "1-9", "deg": 0, "means": "pair"}
        (said,) = suspicions(engine_firing([1, 3, 4, 2], marks=[mark]))
        assert "names cylinder 9; there is none" in said


def test_a_brake_rocker_may_stand_far_off():
    document = engine_document([1, 5, 3, 6, 2, 4])
    document["valves"] += [{"number": 50 + c, "cylinder": c, "role": "brake"} for c in range(1, 7)]
    document["timing"]["brake"] = {"opens_cycle_deg": 680, "closes_cycle_deg": 70}
    document["clearance"]["brake"] = {"min": 3.9, "max": 4.1}
    assert suspicions(read_engine(document)) == ()
