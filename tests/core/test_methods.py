"""The methods beyond the first three, by hand, and fewest-stops against brute force."""

import itertools

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.conftest import engine_document, engine_firing
from tests.core.test_any_engine import ENGINES
from valvetrain.engine import Role
from valvetrain.engine_file import read_engine
from valvetrain.heel import margin_deg
from valvetrain.overlap import overlap_of
from valvetrain.sequences import Route, make_plan
from valvetrain.sequences.fewest import heel_arcs


def stops_of(engine, method, **route):
    return make_plan(engine, method, Route(**route)).stops


def test_companion_overlap_stops_at_the_centre_and_says_how_far_it_is_off(four):
    plan = make_plan(four, "companion-overlap")
    assert plan.complete
    # By hand: overlap from 12 before to 14 after TDC, so its centre lies 1 past it.
    assert [stop.crank_deg for stop in plan.stops] == [1, 181, 361, 541]
    assert plan.stops[0].find_by.startswith("cylinder 4 rocks in overlap: set cylinder 1")
    assert "1° past the dead centre" in plan.stops[0].find_by
    assert plan.stops[0].valves == (1, 2)


@pytest.mark.parametrize("engine", ["three", "five", "single", "twin 180"])
def test_without_companions_there_is_no_companion_overlap(engine):
    plan = make_plan(read_engine(ENGINES[engine]), "companion-overlap")
    assert plan.stops == ()
    assert plan.warnings[0].startswith("Without a companion 360 degrees apart: cylinder")


def test_without_overlap_nothing_can_be_rocked():
    timing = {
        "intake": {"opens_btdc": -10, "closes_abdc": 40},
        "exhaust": {"opens_bbdc": 40, "closes_atdc": -5},
    }
    plan = make_plan(engine_firing([1, 3, 4, 2], timing=timing), "companion-overlap")
    assert "no overlap to rock in" in plan.warnings[0]


def test_pair_marks_of_a_six_are_gone_round_twice():
    # Fact of the trade: marks 1-6, 2-5, 3-4 a third of a turn apart, each seen twice.
    marks = [
        {"on": "crank", "label": label, "deg": deg, "means": "pair"}
        for label, deg in (("1-6", 0), ("2-5", 120), ("3-4", 240))
    ]
    plan = make_plan(engine_firing([1, 5, 3, 6, 2, 4], marks=marks), "pair-marks")
    assert plan.complete
    assert [stop.cylinders for stop in plan.stops] == [(1,), (5,), (3,), (6,), (2,), (4,)]
    assert plan.stops[3].find_by == ("crank mark “1-6”: rockers of cylinder 6 both loose, not 1")


def test_a_margin_that_is_asked_for_and_given_is_enough():
    """Lobe away of an event of 242 degrees with ramps of 16: (720 - 242) / 2 - 16 = 223 to either
    edge, on each of seven cylinders, whose thirds of a degree no float holds."""
    order = [1, 3, 5, 7, 2, 4, 6]
    seven = engine_firing(order)
    for asked in (223, 223.0000001):
        plan = make_plan(seven, "lobe-away", Route(min_margin_deg=asked))
        exhausts = [v.number for v in seven.valves if v.role is Role.EXHAUST]
        assert not set(exhausts) & set(plan.unset), plan.warnings
    beyond = make_plan(seven, "lobe-away", Route(min_margin_deg=223.1))
    assert set(exhausts) <= set(beyond.unset)
    for stops in (False, True):
        fewest = make_plan(
            seven, "fewest-stops", Route(min_margin_deg=116.00000000001, marks_only=stops)
        )
        assert 1 not in fewest.unset


def test_followers_that_adjust_themselves_are_not_set():
    itself = {"kind": "hydraulic"}
    all_of_them = engine_firing([1, 3, 4, 2], adjuster=itself)
    said = make_plan(all_of_them, "two-stop").warnings
    assert any(one.startswith("Its followers adjust themselves") for one in said)
    screw = {"kind": "screw", "pitch_mm": 1.0}
    half = engine_firing([1, 3, 4, 2], adjuster={"intake": itself, "exhaust": screw})
    said = make_plan(half, "two-stop").warnings
    assert any(one.startswith("Its intake followers adjust themselves") for one in said)
    by_screw = make_plan(engine_firing([1, 3, 4, 2], adjuster=screw), "two-stop")
    assert not any("themselves" in one for one in by_screw.warnings)


def test_a_lettered_mark_sets_nobody_where_none_of_its_cylinders_is_loose():
    # At 200 degrees exhaust 1 is open (from 132) and intake 6 is (till 586 - 360 = 226); one turn
    # on they have changed over. At 0 cylinder 1 is loose, one turn on cylinder 6.
    marks = [
        {"on": "crank", "label": "A", "deg": 0, "means": "tdc", "cylinders": [1, 6]},
        {"on": "crank", "label": "B", "deg": 200, "means": "other", "cylinders": [1, 6]},
    ]
    plan = make_plan(engine_firing([1, 5, 3, 6, 2, 4], marks=marks), "pair-marks")
    assert [(stop.crank_deg, stop.cylinders) for stop in plan.stops] == [(0, (1,)), (360, (6,))]


def test_without_pair_marks_it_is_said(four):
    assert "This engine has no pair marks." in make_plan(four, "pair-marks").warnings


def test_opening_closing_by_hand(four):
    plan = make_plan(four, "opening-closing")
    assert plan.complete
    # Cylinder 1: exhaust opens at 132; intake closes at 586.
    places = {stop.crank_deg: stop for stop in plan.stops}
    assert places[132].valves == (2,)
    assert places[586].valves == (1,)
    assert "exhaust 1 starts to open" in places[132].find_by
    assert len(plan.stops) == 8


def test_lobe_away_is_the_middle_of_the_heel(four):
    plan = make_plan(four, "lobe-away")
    assert plan.complete
    # Intake 1 is fully open at 467, so its lobe points away at 107, 225 from either edge.
    stop = next(stop for stop in plan.stops if stop.valves == (2,))
    assert (stop.crank_deg, stop.margin_deg) == (107, 225)


def test_a_makers_chart_is_followed_and_checked():
    chart = [{"crank_deg": 0, "set": [1, 2, 3, 5]}, {"crank_deg": 360, "set": [4, 6, 7, 8]}]
    plan = make_plan(engine_firing([1, 3, 4, 2], maker_chart=chart), "maker-chart")
    assert (plan.complete, plan.least_margin_deg) == (True, 116)
    chart[0]["set"].append(4)
    wrong = make_plan(engine_firing([1, 3, 4, 2], maker_chart=chart), "maker-chart")
    assert not any(4 in stop.valves for stop in wrong.stops[:1])
    assert "Valve 4 is off its heel at 0°: it is 64 degrees inside" in wrong.warnings[0]


def test_without_a_chart_it_is_said(four):
    assert "The engine file gives no maker's chart." in make_plan(four, "maker-chart").warnings


def margins_on_a_grid(engine, step_deg):
    """Margin of every valve (rows) at every grid angle (columns), from the definition."""
    grid = np.arange(0, 720, step_deg)
    return np.vstack(
        [margin_deg(engine, v.role, grid - engine.fire_deg[v.cylinder]) for v in engine.valves]
    )


def brute_force(margins, min_margin):
    """(fewest points up to three, best least margin) by trying every family of grid points."""
    one = margins
    two = np.maximum(one[:, :, None], one[:, None, :])
    three = np.maximum(two[:, :, :, None], one[:, None, None, :])
    for size, families in enumerate((one, two, three), start=1):
        best = families.min(axis=0).max()
        if best >= min_margin:
            return size, best
    return None, None


SMALL = st.builds(
    lambda order, a, b, c, d, ramp: engine_firing(
        order,
        ramp_deg=ramp,
        timing={
            "intake": {"opens_btdc": a, "closes_abdc": b},
            "exhaust": {"opens_bbdc": c, "closes_atdc": d},
        },
    ),
    st.integers(1, 4).flatmap(lambda n: st.permutations(range(1, n + 1))),
    *[st.integers(-2, 8).map(lambda n: 10 * n)] * 4,
    st.sampled_from([10, 30, 60]),
)
STEP_DEG = 10


@given(SMALL, st.sampled_from([0.0, 20.0, 100.0]))
def test_fewest_stops_against_brute_force(engine, min_margin):
    """All edges lie on the 10 degree grid, so the best point of a group lies on it or half
    a step beside it: brute force is never better, and worse by at most half a step."""
    plan = make_plan(engine, "fewest-stops", Route(min_margin_deg=min_margin))
    size, best = brute_force(margins_on_a_grid(engine, STEP_DEG), min_margin)
    if size is None:
        # More than three points, or a margin that the grid misses by half a step.
        few = plan.complete and len(plan.stops) <= 3
        assert not few or plan.least_margin_deg < min_margin + STEP_DEG
        return
    assert plan.complete
    assert len(plan.stops) <= size
    if len(plan.stops) == size:
        assert best - 1e-6 <= plan.least_margin_deg <= best + STEP_DEG / 2 + 1e-6


@given(SMALL)
def test_fewest_stops_at_marks_against_brute_force(engine):
    places = [0.0, 90.0, 210.0, 360.0, 450.0, 570.0]
    marks = [
        {"on": "cam", "label": str(i), "deg": d, "means": "other"} for i, d in enumerate(places)
    ]
    document = engine_document(list(engine.firing_order), marks=marks, ramp_deg=engine.ramp_deg)
    marked = read_engine(document)
    plan = make_plan(marked, "fewest-stops", Route(marks_only=True))
    grid = margins_on_a_grid(marked, 1)[:, [int(place) for place in places]]
    answers = [
        (
            size,
            max(
                np.max(grid[:, list(f)], axis=1).min()
                for f in itertools.combinations(range(6), size)
            ),
        )
        for size in range(1, 7)
    ]
    serving = [(size, best) for size, best in answers if best >= 0]
    if not serving:
        assert not plan.complete
        return
    assert plan.complete
    assert (len(plan.stops), plan.least_margin_deg) == pytest.approx(serving[0])


@pytest.mark.parametrize("name", ENGINES)
def test_fewest_stops_is_never_more_than_any_other_school(name):
    engine = read_engine(ENGINES[name])
    fewest = make_plan(engine, "fewest-stops")
    for method in ("each-cylinder", "two-stop", "companion-overlap", "lobe-away"):
        other = make_plan(engine, method)
        if other.complete:
            assert fewest.complete
            assert len(fewest.stops) <= len(other.stops)
            if len(fewest.stops) == len(other.stops):
                assert fewest.least_margin_deg >= other.least_margin_deg - 1e-6


def test_a_decompressor_leaves_the_exhaust_two_arcs():
    engine = read_engine(ENGINES["single, five valves, decompressor"])
    arcs = heel_arcs(engine, engine.valve[4])
    # Off its heel from 116 to 390 (lobe and ramps) and from 600 to 660 (bump).
    assert sorted((a % 720, b - a) for a, b in arcs) == [(390, 210), (660, 176)]
    assert len(stops_of(engine, "fewest-stops")) == 1


def test_asking_for_more_margin_than_there_is_leaves_valves_unset(four):
    plan = make_plan(four, "fewest-stops", Route(min_margin_deg=224))
    # The heels are 450 wide at the intakes and 446 at the exhausts: half is 225 and 223.
    assert set(plan.unset) == {1, 4, 5, 8}
    assert not plan.complete


def test_one_event_that_lies_inside_the_other_is_overlap_from_end_to_end():
    """Intake 260 to 580, exhaust 290 to 440: both open from 290 to 440, by hand."""
    timing = {
        "intake": {"opens_cycle_deg": 260, "closes_cycle_deg": 580},
        "exhaust": {"opens_cycle_deg": 290, "closes_cycle_deg": 440},
    }
    overlap = overlap_of(engine_firing([1], timing=timing), 1)
    assert (overlap.overlap_deg, overlap.starts_deg, overlap.ends_deg) == (150, 290, 440)
    assert (overlap.centre_deg, overlap.centre_past_tdc_deg) == (365, 5)


def test_the_overlap_offset_of_a_late_cam():
    timing = {
        "intake": {"opens_btdc": 5, "closes_abdc": 40},
        "exhaust": {"opens_bbdc": 40, "closes_atdc": 25},
    }
    engine = engine_firing([1, 3, 4, 2], timing=timing)
    assert overlap_of(engine, 1).centre_deg == 370
    assert "10° past the dead centre" in stops_of(engine, "companion-overlap")[0].find_by
