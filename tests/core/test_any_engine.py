"""Engines of any layout that the file can say, against an oracle that shares no code with the core.

The oracle below goes back to the definitions in docs/engine-file.md with plain loops over a
tenth of a degree: no heel arcs, no merging, no segments, no planner.
"""

import itertools
from typing import ClassVar

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.conftest import engine_document, engine_firing
from valvetrain.cycle_table import cycle_table
from valvetrain.engine import Engine, Role
from valvetrain.engine_file import read_engine
from valvetrain.heel import valve_margin_deg
from valvetrain.overlap import overlaps
from valvetrain.practice import deal_setup, first_state
from valvetrain.practice.measuring import lift_mm
from valvetrain.sequences import METHODS, make_plan, sum_rule
from valvetrain.snapshot import snapshot
from valvetrain.suspicions import suspicions

# A degree of the cycle holds this many steps of the oracle.
STEPS_PER_DEG = 10
CYCLE_STEPS = 720 * STEPS_PER_DEG


def wrapped(deg):
    """Distance to zero the short way round a cycle."""
    return min(deg % 720, -deg % 720)


def oracle_intervals(document, role):
    """Open interval widened by the ramps, and the bump, as (from, to) on an unwrapped axis."""
    timing = document["timing"][role]
    if "opens_cycle_deg" in timing:
        opens, closes = timing["opens_cycle_deg"], timing["closes_cycle_deg"]
        closes += 720 if closes < opens else 0
    elif role == "intake":
        opens, closes = 360 - timing["opens_btdc"], 540 + timing["closes_abdc"]
    else:
        opens, closes = 180 - timing["opens_bbdc"], 360 + timing["closes_atdc"]
    ramp = document.get("ramp_deg", 15)
    intervals = [(opens - ramp, closes + ramp)]
    bump = document.get("decompressor")
    if bump and bump["role"] == role:
        intervals.append((bump["opens_cycle_deg"], bump["closes_cycle_deg"]))
    return intervals


def oracle_off_heel(document, role):
    """For each tenth of a degree of the cycle: is the valve off its heel?"""
    off = [False] * CYCLE_STEPS
    for start, end in oracle_intervals(document, role):
        for step in range(round(start * STEPS_PER_DEG) + 1, round(end * STEPS_PER_DEG)):
            off[step % CYCLE_STEPS] = True
    return off


def oracle_margin_deg(off, cycle_deg):
    """Steps to the nearest place where on and off change over, negative when off."""
    here = round(cycle_deg * STEPS_PER_DEG) % CYCLE_STEPS
    state = off[here]
    for steps in range(CYCLE_STEPS):
        if off[(here + steps) % CYCLE_STEPS] != state or off[(here - steps) % CYCLE_STEPS] != state:
            return (-steps if state else steps) / STEPS_PER_DEG
    raise AssertionError("never on its heel")


def oracle_fire_deg(document):
    order = document["firing_order"]
    intervals = document.get("firing_intervals_deg", [720 / len(order)] * len(order))
    at = itertools.accumulate(intervals, initial=0)
    return dict(zip(order, at, strict=False))


def vee_twelve():
    order = [1, 12, 5, 8, 3, 10, 6, 7, 2, 11, 4, 9]
    return engine_document(order, layout="vee", banks=[list(range(1, 7)), list(range(7, 13))])


def five_valve_single():
    roles = ["intake"] * 3 + ["exhaust"] * 2
    return engine_document(
        [1],
        layout="single",
        valves=[{"number": n, "cylinder": 1, "role": r} for n, r in enumerate(roles, 1)],
        decompressor={
            "role": "exhaust",
            "opens_cycle_deg": 600,
            "closes_cycle_deg": 660,
            "lift_mm": 0.6,
        },
    )


def braked_six():
    document = engine_document([1, 5, 3, 6, 2, 4])
    document["valves"] += [{"number": 100 + c, "cylinder": c, "role": "brake"} for c in range(1, 7)]
    document["timing"]["brake"] = {"opens_cycle_deg": 680, "closes_cycle_deg": 70}
    document["lift_mm"]["brake"] = 2.0
    document["clearance"]["brake"] = {"min": 0.7, "max": 0.8, "running": {"min": 0.5, "max": 1}}
    return document


def in_thou():
    document = engine_document([1, 4, 3, 2], layout="vee", banks=[[1, 3], [2, 4]])
    document["clearance"] = {
        "unit": "thou",
        "engine": "hot",
        "intake": {"nominal": 10, "minus": 1, "plus": 1},
        "exhaust": {"min": 12, "max": 15},
    }
    return document


ENGINES = {
    "single": engine_document([1], layout="single"),
    "single, five valves, decompressor": five_valve_single(),
    "twin 360": engine_document([1, 2], layout="parallel-twin"),
    "twin 180": engine_document([1, 2], layout="parallel-twin", firing_intervals_deg=[180, 540]),
    "twin 270": engine_document([1, 2], layout="parallel-twin", firing_intervals_deg=[270, 450]),
    "vee twin, 52 degrees": engine_document([1, 2], layout="vee", firing_intervals_deg=[308, 412]),
    "three": engine_document([1, 3, 2]),
    "four, 1-3-4-2": engine_document([1, 3, 4, 2]),
    "four, 1-4-3-2 in thou": in_thou(),
    "flat four": engine_document([1, 3, 2, 4], layout="flat", banks=[[1, 3], [2, 4]]),
    "five": engine_document([1, 2, 4, 5, 3]),
    "six": engine_document([1, 5, 3, 6, 2, 4], rotation="counterclockwise"),
    "six, the other way": engine_document([1, 4, 2, 6, 3, 5]),
    "six with brake rockers": braked_six(),
    "eight": engine_document([1, 8, 4, 3, 6, 5, 7, 2], layout="vee"),
    "vee twelve": vee_twelve(),
    "twenty-four": engine_document(list(range(1, 25)), layout="other"),
    "pairs that fire together": engine_document(
        [1, 4, 2, 3], firing_intervals_deg=[0, 360, 0, 360]
    ),
}


@pytest.fixture(params=ENGINES.values(), ids=ENGINES.keys())
def document(request):
    return request.param


def test_firing_angles(document):
    engine = read_engine(document)
    assert engine.fire_deg == pytest.approx(oracle_fire_deg(document))


def test_margins_and_settable_against_the_oracle(document):
    engine = read_engine(document)
    fire = oracle_fire_deg(document)
    off = {role: oracle_off_heel(document, role) for role in document["timing"]}
    used = {valve.role.value for valve in engine.valves}
    for crank_deg in (0, 2, 107, 359.9, 360, 500.5, 719):
        for now in snapshot(engine, crank_deg).valves:
            expected = oracle_margin_deg(off[now.role], crank_deg - fire[now.cylinder])
            # Firing angles that are no tenths of a degree are rounded by the oracle.
            assert now.margin_deg == pytest.approx(expected, abs=0.11), (crank_deg, now)
            if abs(expected) > 0.11:
                assert now.settable == (expected > 0)
    assert used <= set(off)


def test_companions_and_overlaps(document):
    engine = read_engine(document)
    fire = oracle_fire_deg(document)
    for overlap in overlaps(engine):
        others = [
            other
            for other in fire
            if other != overlap.cylinder
            and wrapped(fire[other] - fire[overlap.cylinder] - 360) < 0.01
        ]
        assert (overlap.companion in others) if others else overlap.companion is None
        # Intake opens 12 before and exhaust shuts 14 after overlap TDC: 26, centred 1 past it.
        assert overlap.overlap_deg == pytest.approx(26)
        tdc = fire[overlap.cylinder] + 360
        assert wrapped(overlap.centre_deg - tdc - 1) == pytest.approx(0, abs=1e-6)


@pytest.mark.parametrize("method", METHODS)
def test_every_school_on_every_engine_judged_by_the_oracle(document, method):
    engine = read_engine(document)
    fire = oracle_fire_deg(document)
    off = {role.value: oracle_off_heel(document, role.value) for role in engine.roles}
    plan = make_plan(engine, method)
    seen = []
    for stop in plan.stops:
        margins = [
            oracle_margin_deg(
                off[engine.valve[n].role], stop.crank_deg - fire[engine.valve[n].cylinder]
            )
            for n in stop.valves
        ]
        assert all(margin > -0.11 for margin in margins)
        if margins:
            assert stop.margin_deg == pytest.approx(min(margins), abs=0.11)
        seen += stop.valves
    assert len(seen) == len(set(seen))
    assert sorted([*seen, *plan.unset]) == sorted(engine.valve)
    assert plan.complete == (not plan.unset)


def test_the_sum_rule_against_the_oracle(document):
    engine = read_engine(document)
    fire = oracle_fire_deg(document)
    rule = sum_rule(engine)
    count = len(document["valves"])
    assert rule.total == count + 1
    for pair in rule.pairs:
        opened = document["valves"][pair.opened - 1]
        to_set = document["valves"][count - pair.opened]
        # The middle of the open period: the main event, without its ramps.
        start, end = oracle_intervals(document, opened["role"])[0]
        crank_deg = (start + end) / 2 + fire[opened["cylinder"]]
        off = oracle_off_heel(document, to_set["role"])
        expected = oracle_margin_deg(off, crank_deg - fire[to_set["cylinder"]])
        assert pair.margin_deg == pytest.approx(expected, abs=0.11)
    assert rule.holds == all(pair.margin_deg >= 0 for pair in rule.pairs)


def test_the_cycle_table_agrees_with_the_snapshot(document):
    engine = read_engine(document)
    table = cycle_table(engine)
    for crank_deg in (0, 45, 333):
        for now in snapshot(engine, crank_deg).valves:
            cycle_deg = engine.cycle_deg(now.cylinder, crank_deg)
            if abs(cycle_deg - round(cycle_deg)) > 1e-9:
                continue  # the table holds whole degrees
            index = round(cycle_deg) % 720
            role = table.roles[now.role]
            assert role.lift_mm[index] == pytest.approx(now.lift_mm)
            assert role.gap_mm[index] == pytest.approx(now.gap_mm)
            assert role.margin_deg[index] == pytest.approx(now.margin_deg)
            piece = next(s for s in table.segments if s.from_deg <= index < s.to_deg)
            assert piece.roles[now.role].settable == now.settable


def test_these_engines_are_not_suspicious(document):
    assert suspicions(read_engine(document)) == ()


def test_the_oracle_itself_by_hand():
    # Intake of the test engines: off its heel from 332 to 602 (348 - 16 and 586 + 16).
    off = oracle_off_heel(ENGINES["single"], "intake")
    # The step in which it changes over counts, so the oracle is right to a tenth of a degree.
    assert oracle_margin_deg(off, 322) == pytest.approx(10, abs=0.11)
    assert oracle_margin_deg(off, 352) == pytest.approx(-20, abs=0.11)
    assert oracle_margin_deg(off, 107) == pytest.approx(225, abs=0.11)


@given(st.permutations(range(1, 7)), st.floats(0, 720, exclude_max=True))
def test_turning_a_whole_cycle_changes_nothing(order, crank_deg):
    engine: Engine = read_engine(engine_document(order))
    for valve in engine.valves:
        one = valve_margin_deg(engine, valve, crank_deg)
        assert valve_margin_deg(engine, valve, crank_deg + 720) == pytest.approx(one, abs=1e-6)


@given(st.permutations(range(1, 5)))
def test_the_two_stop_chart_of_any_four_mirrors_its_companions(order):
    """Fact of the trade: a turn later, each cylinder's companion stands where it stood."""
    engine = read_engine(engine_document(order))
    first, second = make_plan(engine, "two-stop").stops
    for number in first.valves:
        valve = engine.valve[number]
        twin = engine.companion(valve.cylinder)
        mirrored = {v.number for v in engine.valves_of(twin) if v.role is valve.role}
        assert mirrored <= set(second.valves)


def test_roles_are_told_in_a_fixed_order():
    engine = read_engine(ENGINES["six with brake rockers"])
    assert engine.roles == (Role.INTAKE, Role.EXHAUST, Role.BRAKE)


class TestADecompressorThatLiftsSome:
    """One of two exhaust valves is held off over firing TDC; the other is left alone."""

    BUMP: ClassVar = {
        "role": "exhaust",
        "opens_cycle_deg": 660,
        "closes_cycle_deg": 60,
        "lift_mm": 0.8,
    }

    def single(self, **bump):
        valves = [
            {"number": number, "cylinder": 1, "role": role}
            for number, role in enumerate(("intake", "exhaust", "exhaust"), start=1)
        ]
        fields = {"valves": valves, "decompressor": self.BUMP | bump, "marks": []}
        return engine_firing([1], **fields)

    def settable(self, engine):
        return {v.valve: v.settable for v in snapshot(engine, 0.0).valves}

    def test_the_file_names_them_and_only_those_are_off_their_heel(self):
        assert self.settable(self.single(valves=[2])) == {1: True, 2: False, 3: True}
        assert self.settable(self.single()) == {1: True, 2: False, 3: False}

    def test_the_table_has_the_other_kind_beside_the_role(self):
        engine = self.single(valves=[2])
        table = cycle_table(engine)
        lifted, free = (engine.cycle_key(engine.valve[number]) for number in (2, 3))
        assert (
            set(table.roles)
            == {"intake", "exhaust", "exhaust unlifted"}
            == {"intake", lifted, free}
        )
        assert table.roles[lifted].lift_mm[0] > 0 == table.roles[free].lift_mm[0]
        first = table.segments[0]
        assert (first.roles[lifted].settable, first.roles[free].settable) == (False, True)
        assert set(cycle_table(self.single()).roles) == {"intake", "exhaust"}

    def test_plans_go_by_each_valve(self):
        plan = make_plan(self.single(valves=[2]), "each-cylinder")
        assert plan.stops[0].valves == (1, 3)
        assert plan.unset == (2,)
        assert make_plan(self.single(valves=[2]), "fewest-stops").complete

    def test_a_practice_engine_lifts_those_alone(self):
        setup = deal_setup(self.single(valves=[2]), 3)
        state = first_state(setup)._replace(crank_deg=0.0)
        assert lift_mm(setup, state, 2) > 0 == lift_mm(setup, state, 3)


def test_a_single_cylinder_has_one_stop():
    """Its second stop of two would set nothing."""
    plan = make_plan(engine_firing([1]), "two-stop")
    assert plan.complete
    assert len(plan.stops) == 1
