"""Lift, gap, heel and margin: the definitions of docs/engine-file.md, and physical sense."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.interpolate import BPoly
from scipy.optimize import brentq

from tests.core.conftest import engine_firing
from valvetrain.angles import SAME_ANGLE_DEG
from valvetrain.engine import Events, Role
from valvetrain.heel import ValveState, margin_deg, off_heel_arcs, state_at, valve_margin_deg
from valvetrain.lobe import Lobe, gap_mm, lobe_of, shape_of, valve_lift_mm
from valvetrain.piston import piston_from_tdc_mm
from valvetrain.sequences import METHODS, make_plan
from valvetrain.snapshot import snapshot
from valvetrain.suspicions import suspicions

CYCLE = np.arange(0, 720, 0.25)
CYCLE_DEG = st.floats(0, 720, exclude_max=True)

TIMINGS = st.builds(
    lambda a, b, c, d, ramp: engine_firing(
        [1, 3, 4, 2],
        ramp_deg=ramp,
        timing={
            "intake": {"opens_btdc": a, "closes_abdc": b},
            "exhaust": {"opens_bbdc": c, "closes_atdc": d},
        },
    ),
    *[st.floats(-40, 90)] * 4,
    st.floats(1, 60),
)


def test_named_heights_of_the_lobe(four):
    lobe = lobe_of(four, Role.INTAKE)
    opens, closes = 360 - 12, 540 + 46
    assert lobe.follower_lift_mm([opens, closes]) == pytest.approx([0.25, 0.25])
    assert lobe.follower_lift_mm([opens - 16, closes + 16, 0]) == pytest.approx([0, 0, 0])
    assert float(lobe.follower_lift_mm((opens + closes) / 2)) == pytest.approx(8.4 + 0.25)


def test_lobe_and_decompressor_may_leave_no_heel():
    """An exhaust open from 132 to 374 and its ramps of 16 end at 390; a bump from 390 round to 116
    meets both ends."""
    bump = {"role": "exhaust", "opens_cycle_deg": 385, "closes_cycle_deg": 120, "lift_mm": 0.8}
    engine = engine_firing([1], decompressor=bump)
    exhaust = next(valve for valve in engine.valves if valve.role is Role.EXHAUST)
    assert (margin_deg(engine, Role.EXHAUST, CYCLE) < 0).all()
    assert max(valve_margin_deg(engine, exhaust, deg) for deg in range(720)) < 0
    assert any("leave no heel" in said for said in suspicions(engine))
    for method in METHODS:
        plan = make_plan(engine, method)
        assert exhaust.number in plan.unset, method
    most = engine_firing([1], decompressor=bump | {"closes_cycle_deg": 100})
    assert not any("leave no heel" in said for said in suspicions(most))
    assert valve_margin_deg(most, exhaust, 108) == pytest.approx(8)


def test_a_ramp_against_scipys_bernstein_polynomial(four):
    """Reference: scipy.interpolate.BPoly through the named points with the same speed and
    acceleration at both ends."""
    lobe = lobe_of(four, Role.EXHAUST)
    opens = 180 - 48
    shape = shape_of(0.35, 16.0, 8.1, (360 + 14 - opens) / 2)
    cubic, quartic, quintic = shape.ramp
    slope = (3 * cubic + 4 * quartic + 5 * quintic) * 0.35 / 16
    bend = (6 * cubic + 12 * quartic + 20 * quintic) * 0.35 / 16**2
    ramp = BPoly.from_derivatives([opens - 16, opens], [[0, 0, 0], [0.35, slope, bend]])
    on_ramp = np.linspace(opens - 16, opens, 50)
    assert lobe.follower_lift_mm(on_ramp) == pytest.approx(ramp(on_ramp), abs=1e-9)


LOBES = {
    "usual": (0.25, 15.0, 8.4, 119.0),
    "no clearance": (0.0, 15.0, 8.4, 119.0),
    "hydraulic": (0.01, 16.0, 11.2, 116.0),
    "long ramp": (0.3, 40.0, 6.0, 100.0),
    "brake": (4.0, 14.0, 2.4, 70.0),
    "largest lash": (8.0, 10.0, 1.0, 60.0),
}


@pytest.mark.parametrize("sizes", LOBES.values(), ids=LOBES)
def test_speed_and_acceleration_are_continuous(sizes):
    """By differences over the whole half lobe, which know nothing of the polynomials: the speed
    never turns back, and no step of the acceleration is larger than a smooth curve's."""
    clearance, ramp, lift, half = sizes
    middle = 300.0
    lobe = Lobe(Events(middle - half, middle + half, "cycle"), ramp, lift, clearance)
    little = 1 / 64
    angles = np.arange(middle - half - ramp - 5, middle + 1, little)
    height = lobe.follower_lift_mm(angles)
    speed = np.diff(height) / little
    assert speed[angles[1:] <= middle].min() > -1e-9
    bend = np.diff(speed) / little
    jumps, whole = np.abs(np.diff(bend)), np.ptp(bend)
    assert jumps.max() < 0.02 * whole
    assert height[np.searchsorted(angles, middle)] == pytest.approx(lift + clearance)
    assert float(lobe.follower_lift_mm(middle - half)) == pytest.approx(clearance)
    mirrored = lobe.follower_lift_mm(2 * middle - angles)
    assert mirrored == pytest.approx(height)
    for angle in (middle - half - ramp / 2, middle - half / 3, middle + half + ramp / 3):
        assert lobe.lift_at_mm(angle) == pytest.approx(float(lobe.follower_lift_mm(angle)))


@given(TIMINGS)
def test_lift_is_continuous_and_never_negative(engine):
    for role in engine.roles:
        lift = lobe_of(engine, role).follower_lift_mm(CYCLE)
        steps = np.abs(np.diff(lift, append=lift[0]))
        # The steepest allowed cubic rises 3 times its mean slope; the open half takes 50
        # degrees or more here, so a quarter degree is far below 0.2 mm.
        assert lift.min() >= 0
        assert steps.max() < 0.2


@given(TIMINGS, CYCLE_DEG, st.floats(0, 1))
def test_gap_and_lift_are_never_both_positive(engine, cycle_deg, clearance_mm):
    for role in engine.roles:
        follower = lobe_of(engine, role).follower_lift_mm(cycle_deg)
        gap, lift = gap_mm(follower, clearance_mm), valve_lift_mm(follower, clearance_mm)
        assert float(gap) == 0 or float(lift) == 0
        assert float(gap - lift) == pytest.approx(clearance_mm - float(follower))


@given(TIMINGS, CYCLE_DEG)
def test_full_gap_on_the_heel_and_less_off_it(engine, cycle_deg):
    for role in engine.roles:
        lobe = lobe_of(engine, role)
        gap = float(gap_mm(lobe.follower_lift_mm(cycle_deg), lobe.clearance_mm))
        if float(margin_deg(engine, role, cycle_deg)) >= 0:
            assert gap == pytest.approx(lobe.clearance_mm)
        else:
            assert gap <= lobe.clearance_mm


def test_a_tight_valve_opens_early_by_a_computable_amount(four):
    # Fact of the trade: too tight opens early and closes late. Root found by SciPy.
    lobe = lobe_of(four, Role.INTAKE)
    tight_mm = 0.10
    opens = brentq(lambda a: float(lobe.follower_lift_mm(a)) - tight_mm, 332, 360)
    assert 332 < opens < 348
    assert float(valve_lift_mm(lobe.follower_lift_mm(467), tight_mm)) == pytest.approx(8.55)


@pytest.mark.parametrize(
    ("cycle_deg", "margin"),
    # Intake off its heel from 348 - 16 = 332 to 586 + 16 = 602, by the definition.
    [(0, 118 + 720 - 720), (332, 0), (602, 0), (340, -8), (467, -135), (331, 1), (107, 225)],
)
def test_margins_by_hand(four, cycle_deg, margin):
    assert float(margin_deg(four, Role.INTAKE, cycle_deg)) == pytest.approx(margin)


@pytest.mark.parametrize(
    ("cycle_deg", "state"),
    [(0, "heel"), (332, "heel"), (340, "ramp"), (349, "open"), (600, "ramp")],
)
def test_states(four, cycle_deg, state):
    assert state_at(four, Role.INTAKE, cycle_deg) == state


def test_nothing_may_be_set_in_overlap(four):
    # Fact of the trade: at overlap TDC both valves of the cylinder are a little open, and
    # at firing TDC both are on the heel.
    now = {(v.cylinder, v.role): v for v in snapshot(four, 0).valves}
    for role in (Role.INTAKE, Role.EXHAUST):
        assert now[4, role].state is ValveState.OPEN
        assert now[1, role].settable


def test_a_decompressor_takes_the_exhaust_off_its_heel_near_compression():
    bump = {"role": "exhaust", "opens_cycle_deg": 640, "closes_cycle_deg": 700, "lift_mm": 0.6}
    engine = engine_firing([1], decompressor=bump, layout="single")
    assert len(off_heel_arcs(engine, Role.EXHAUST)) == 2
    assert float(margin_deg(engine, Role.EXHAUST, 670)) == pytest.approx(-30)
    assert state_at(engine, Role.EXHAUST, 670) is ValveState.OPEN
    assert float(margin_deg(engine, Role.EXHAUST, 710)) == pytest.approx(10)
    assert float(margin_deg(engine, Role.INTAKE, 670)) > 0


def test_a_decompressor_that_touches_the_lobe_widens_it():
    bump = {"role": "exhaust", "opens_cycle_deg": 380, "closes_cycle_deg": 420, "lift_mm": 0.6}
    engine = engine_firing([1], decompressor=bump)
    (arc,) = off_heel_arcs(engine, Role.EXHAUST)
    assert (arc.from_deg, arc.to_deg) == (116, 420)


def test_a_decompressor_that_just_meets_the_lobe_is_one_stretch_with_it():
    # The exhaust lobe with its ramps takes 116 to 390; the bump begins where it ends.
    bump = {"role": "exhaust", "opens_cycle_deg": 390, "closes_cycle_deg": 420, "lift_mm": 0.6}
    engine = engine_firing([1], layout="single", decompressor=bump)
    assert off_heel_arcs(engine, Role.EXHAUST) == ((116, 420),)


@pytest.mark.parametrize("noise_deg", [5e-7, -5e-7])
def test_noise_on_the_very_edge_tips_no_valve_off_its_heel(four, noise_deg):
    # By definition: an angle within SAME_ANGLE_DEG of the edge is the edge.
    assert abs(noise_deg) < SAME_ANGLE_DEG
    assert float(margin_deg(four, Role.INTAKE, 332 + noise_deg)) == 0
    assert valve_margin_deg(four, four.valve[2], 332 + noise_deg) == 0


def test_where_the_valve_just_opens_it_is_still_on_the_ramp(four):
    # By definition: open is more lift than the clearance, by more than noise.
    assert state_at(four, Role.INTAKE, 348) is ValveState.RAMP
    assert state_at(four, Role.INTAKE, 348.001) is ValveState.OPEN


@pytest.mark.parametrize("degrees", [0, 30, 60, 90, 120, 180, 240, 300])
def test_piston_height_against_the_textbook(four, degrees):
    # Heywood, Internal Combustion Engine Fundamentals (1988), section 2.1: the distance of the
    # pin from the crank axis is s = a cos t + (l^2 - a^2 sin^2 t)^(1/2). Cited from memory.
    a, rod, t = 33.0, 110.0, math.radians(degrees)
    s = a * math.cos(t) + math.sqrt(rod**2 - a**2 * math.sin(t) ** 2)
    here = float(piston_from_tdc_mm(four.geometry, degrees))
    assert here == pytest.approx(a + rod - s, abs=1e-9)


def test_piston_height_against_the_numeric_slider_crank(four):
    # Reference: the rod length as a constraint, solved for the pin by SciPy's brentq.
    a, rod = 33.0, 110.0
    for degrees in (0, 30, 77, 90, 180, 271, 359):
        t = np.radians(degrees)
        pin = brentq(
            lambda s, t=t: np.hypot(a * np.sin(t), s - a * np.cos(t)) - rod, 50, a + rod + 1
        )
        here = float(piston_from_tdc_mm(four.geometry, degrees))
        assert here == pytest.approx(a + rod - pin, abs=1e-8)
    assert float(piston_from_tdc_mm(four.geometry, 180)) == pytest.approx(66)


@pytest.mark.parametrize("number", range(1, 17))
def test_lift_at_one_angle_is_the_lift_of_the_array(number):
    from tests.core.practice.conftest import shelf_engine

    engine = shelf_engine(number)
    for role in engine.roles:
        lobe = lobe_of(engine, role)
        angles = np.arange(0, 720, 0.5)
        one_by_one = [lobe.lift_at_mm(float(angle)) for angle in angles]
        assert np.allclose(one_by_one, lobe.follower_lift_mm(angles), atol=1e-12)
