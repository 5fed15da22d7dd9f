"""Schools of sequence against the charts of common practice, and properties of every plan."""

import itertools

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.conftest import engine_document, engine_firing
from valvetrain.cycle_table import cycle_table, segments
from valvetrain.engine import Role
from valvetrain.engine_file import read_engine
from valvetrain.heel import margin_deg, state_at, valve_margin_deg
from valvetrain.overlap import overlap_of
from valvetrain.sequences import (
    METHODS,
    Route,
    UnknownMethodError,
    check_stops,
    make_plan,
    sum_rule,
)

SHORT_TIMING = {
    "intake": {"opens_btdc": 10, "closes_abdc": 40},
    "exhaust": {"opens_bbdc": 40, "closes_atdc": 10},
}


def by_cylinder(engine, stop):
    """What a stop sets, as people say it: {cylinder: {roles}}."""
    chart = {}
    for number in stop.valves:
        valve = engine.valve[number]
        chart.setdefault(valve.cylinder, set()).add(valve.role.value)
    return chart


BOTH, INTAKE, EXHAUST = {"intake", "exhaust"}, {"intake"}, {"exhaust"}


@pytest.mark.parametrize(
    ("order", "first"),
    [
        # Common practice (two-stop charts as taught in workshops; no published source).
        ([1, 3, 4, 2], {1: BOTH, 2: INTAKE, 3: EXHAUST}),
        ([1, 5, 3, 6, 2, 4], {1: BOTH, 2: INTAKE, 3: EXHAUST, 4: INTAKE, 5: EXHAUST}),
    ],
)
def test_two_stop_charts_of_common_practice(order, first):
    engine = engine_firing(order, timing=SHORT_TIMING, ramp_deg=12)
    plan = make_plan(engine, "two-stop")
    assert plan.complete
    assert [stop.crank_deg for stop in plan.stops] == [0, 360]
    assert by_cylinder(engine, plan.stops[0]) == first
    rest = {c: BOTH - first.get(c, set()) for c in range(1, len(order) + 1)}
    assert by_cylinder(engine, plan.stops[1]) == {c: roles for c, roles in rest.items() if roles}


def test_two_stops_fail_where_a_valve_is_off_its_heel_at_both():
    # By hand: with ramps of 70 the intake is off its heel from 278 to 656 of its cycle.
    # Cylinder 2 fires at 430, so it stands at 290 and, a turn later, at 650.
    engine = engine_firing([1, 2], firing_intervals_deg=[430, 290], ramp_deg=70)
    plan = make_plan(engine, "two-stop")
    assert plan.unset == (3,)
    assert "Valve 3 is off its heel at 360°: it is 6 degrees inside" in plan.warnings[0]


def test_rule_of_nine_pairs_of_common_practice(four):
    # Common practice: on a mirrored eight-valve four, 1-8, 2-7, 3-6 and 4-5.
    rule = sum_rule(four)
    assert (rule.total, rule.holds) == (9, True)
    assert {(p.opened, p.to_set) for p in rule.pairs if p.opened < p.to_set} == {
        (1, 8),
        (2, 7),
        (3, 6),
        (4, 5),
    }


def test_nine_fails_on_a_head_that_is_no_mirror():
    # Fact of the trade: on an intake-exhaust-intake-exhaust head the rule is wrong. By hand:
    # valve 1 (intake, cylinder 1) is fully open at crank 467; valve 8 is the exhaust of
    # cylinder 4, which fires at 360, so it stands at 107 of its cycle; it leaves its heel at
    # 132 - 16 = 116: margin 9. Valve 2 (exhaust 1) is open at 253: valve 7 (intake 4) is at
    # 613 of its cycle, 11 past the end of its ramp at 602.
    roles = ("intake", "exhaust")
    valves = [
        {"number": n, "cylinder": (n + 1) // 2, "role": roles[(n + 1) % 2]} for n in range(1, 9)
    ]
    engine = engine_firing([1, 3, 4, 2], valves=valves)
    pairs = {p.opened: p.margin_deg for p in sum_rule(engine).pairs}
    assert pairs[1] == pytest.approx(9)
    assert pairs[2] == pytest.approx(11)
    wide = engine_firing([1, 3, 4, 2], valves=valves, ramp_deg=30)
    rule = sum_rule(wide)
    assert not rule.holds
    assert {p.opened: p.margin_deg for p in rule.pairs}[1] == pytest.approx(-5)
    plan = make_plan(wide, "opposite-valve")
    assert not plan.complete
    assert rule.reason in plan.warnings
    assert set(plan.unset) == {8, 7, 6, 5, 4, 3, 2, 1}


def test_the_rule_uses_places_and_the_plan_uses_numbers():
    document = engine_document([1, 3, 4, 2])
    for valve in document["valves"]:
        valve["number"] += 100
    plan = make_plan(read_engine(document), "opposite-valve")
    assert plan.complete
    assert sorted(n for stop in plan.stops for n in stop.valves) == list(range(101, 109))


def test_each_cylinder_goes_in_firing_order(four):
    plan = make_plan(four, "each-cylinder")
    assert [stop.cylinders for stop in plan.stops] == [(1,), (3,), (4,), (2,)]
    assert [stop.turn_deg for stop in plan.stops] == [0, 180, 180, 180]
    assert (plan.complete, plan.total_turn_deg, plan.least_margin_deg) == (True, 540, 116)


def test_backwards_a_1432_is_visited_in_easy_order():
    # Fact of the trade: a four that fires 1-4-3-2 is visited 1, 2, 3, 4 when turned back.
    engine = engine_firing([1, 4, 3, 2])
    plan = make_plan(engine, "each-cylinder", Route(direction="reverse"))
    assert [stop.cylinders for stop in plan.stops] == [(1,), (2,), (3,), (4,)]


def test_a_brake_rocker_that_lifts_at_firing_tdc_is_left_out_and_named():
    document = engine_document([1, 3, 4, 2])
    document["valves"].append({"number": 9, "cylinder": 4, "role": "brake"})
    document["timing"]["brake"] = {"opens_cycle_deg": 690, "closes_cycle_deg": 60}
    document["clearance"]["brake"] = {"min": 0.7, "max": 0.8}
    plan = make_plan(read_engine(document), "each-cylinder")
    assert plan.unset == (9,)
    assert any("Valve 9 is off its heel at 360°" in text for text in plan.warnings)


def test_start_and_direction(four):
    plan = make_plan(four, "two-stop", Route(start_deg=90))
    assert [(s.crank_deg, s.turn_deg) for s in plan.stops] == [(360, 270), (0, 360)]
    back = make_plan(four, "two-stop", Route(start_deg=90, direction="reverse"))
    assert [(s.crank_deg, s.turn_deg) for s in back.stops] == [(0, 90), (360, 360)]


def test_marks_only(four):
    plan = make_plan(four, "each-cylinder", Route(marks_only=True))
    assert [stop.crank_deg for stop in plan.stops] == [0, 360]
    assert any("No mark lines up at 180°" in text for text in plan.warnings)
    assert plan.unset == (3, 4, 5, 6)


def test_one_way_engines_are_warned_about():
    engine = engine_firing([1, 3, 4, 2], turning={"reverse_allowed": False})
    plan = make_plan(engine, "two-stop", Route(direction="reverse"))
    assert "running direction only" in plan.warnings[0]


def test_a_larger_margin_than_there_is(four):
    plan = make_plan(four, "two-stop", Route(min_margin_deg=117))
    assert not plan.complete
    assert any("on its heel by only 116 degrees; 117 are asked for" in w for w in plan.warnings)


def test_unknown_school(four):
    with pytest.raises(UnknownMethodError, match="“by-ear”; give one of each-cylinder, two-stop"):
        make_plan(four, "by-ear")


ORDERS = st.integers(1, 8).flatmap(lambda n: st.permutations(range(1, n + 1)))
ENGINES = st.builds(
    lambda order, a, b, c, d, ramp: engine_firing(
        order,
        ramp_deg=ramp,
        timing={
            "intake": {"opens_btdc": a, "closes_abdc": b},
            "exhaust": {"opens_bbdc": c, "closes_atdc": d},
        },
    ),
    ORDERS,
    *[st.integers(-30, 80)] * 4,
    st.integers(1, 40),
)
ROUTES = st.builds(
    Route,
    start_deg=st.integers(0, 719).map(float),
    direction=st.sampled_from(["running", "reverse"]),
    min_margin_deg=st.sampled_from([0.0, 5.0, 30.0]),
)


@given(ENGINES, st.sampled_from(list(METHODS)), ROUTES)
def test_what_the_planner_calls_complete_passes_the_checker(engine, method, route):
    plan = make_plan(engine, method, route)
    stops = [(stop.crank_deg, stop.valves) for stop in plan.stops]
    verdict = check_stops(engine, stops, route.min_margin_deg)
    assert verdict.complete == plan.complete
    # Independently of the checker: every valve once, each on its heel by sampling the margin.
    set_at = [(n, angle) for angle, numbers in stops for n in numbers]
    margins = [valve_margin_deg(engine, engine.valve[n], angle) for n, angle in set_at]
    assert all(margin >= route.min_margin_deg for margin in margins)
    missing = set(engine.valve) - {n for n, _ in set_at}
    assert set(plan.unset) == missing
    assert plan.complete == (not missing)


@given(ENGINES)
def test_two_stops_serve_every_engine_whose_lobes_span_less_than_a_turn(engine):
    # Proof: a valve off its heel at two places a turn apart is off it for a turn or more.
    widths = [e.duration_deg + 2 * engine.ramp_deg for e in engine.events.values()]
    assert make_plan(engine, "two-stop").complete or max(widths) > 360


@given(ENGINES, st.sampled_from(list(METHODS)), ROUTES)
def test_turned_by_a_cycle_a_plan_is_the_same(engine, method, route):
    later = Route(route.start_deg + 720, route.direction, route.min_margin_deg)
    assert make_plan(engine, method, later) == make_plan(engine, method, route)


@given(ENGINES, st.sampled_from(list(METHODS)), ROUTES)
def test_turns_add_up_to_the_stops(engine, method, route):
    plan = make_plan(engine, method, route)
    sign = 1 if route.direction == "running" else -1
    at = route.start_deg
    for stop in plan.stops:
        at = (at + sign * stop.turn_deg) % 720
        assert abs((at - stop.crank_deg + 360) % 720 - 360) < 1e-6
    assert 0 <= plan.total_turn_deg < 720


@pytest.mark.parametrize(
    ("stops", "says"),
    [
        ([(0.0, (1, 2, 3, 5)), (360.0, (4, 6, 7))], "Valve 8 is set at no stop."),
        ([(0.0, (1, 2, 3, 5, 1)), (360.0, (4, 6, 7, 8))], "Valve 1 is set at more than one stop."),
        ([(0.0, (1, 2, 3, 5, 4)), (360.0, (6, 7, 8))], "Valve 4 is off its heel at 0°"),
        ([(0.0, (99,))], "Valve 99 at 0° is not on this engine."),
    ],
)
def test_the_checker_names_what_is_wrong(four, stops, says):
    verdict = check_stops(four, stops)
    assert not verdict.complete
    assert any(says in text for text in verdict.warnings)


def test_overlap_by_hand(four):
    # Exhaust shuts 14 after and intake opens 12 before TDC: 26 degrees, centre 1 past it.
    overlap = overlap_of(four, 4)
    assert overlap.companion == 1
    assert (overlap.overlap_deg, overlap.starts_deg, overlap.centre_deg, overlap.ends_deg) == (
        26,
        708,
        1,
        14,
    )


@given(ENGINES)
def test_segments_cover_the_cycle_and_agree_with_the_point_by_point_answer(engine):
    pieces = segments(engine)
    assert pieces[0].from_deg == 0
    assert pieces[-1].to_deg == 720
    assert all(a.to_deg == b.from_deg for a, b in itertools.pairwise(pieces))
    for piece in pieces:
        for share in (0.25, 0.75):
            angle = piece.from_deg + share * (piece.to_deg - piece.from_deg)
            for role, told in piece.roles.items():
                assert told.state == state_at(engine, role, angle)
                assert told.settable == (float(margin_deg(engine, role, angle)) >= 0)


def test_the_cycle_table_is_the_lobe_at_every_degree(four):
    table = cycle_table(four)
    intake = table.roles[Role.INTAKE]
    assert intake.lift_mm.shape == (720,)
    assert intake.lift_mm[467] == pytest.approx(8.4)
    assert np.flatnonzero(intake.margin_deg >= 0).size == 720 - 269
    assert table.piston_from_tdc_mm[180] == pytest.approx(66)


def test_at_full_lift_a_valve_is_called_fully_open(four):
    told = {
        (piece.from_deg, piece.to_deg): piece.roles[Role.INTAKE].says for piece in segments(four)
    }
    assert told[465, 469] == "fully open"
    assert "open, still lifting" in told.values()
    assert "open, coming back" in told.values()
