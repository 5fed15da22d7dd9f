"""Strokes and firing angles of common firing orders."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.conftest import engine_firing
from valvetrain.angles import (
    AngleError,
    Stroke,
    ahead_deg,
    apart_deg,
    normalise_deg,
    stroke_at,
    typed_crank_deg,
)
from valvetrain.snapshot import snapshot

ANGLES = st.floats(-1e5, 1e5, allow_nan=False)


@pytest.mark.parametrize(
    ("order", "fire_deg"),
    [
        # Fact of the trade: an even-firing engine fires every 720/n degrees, in firing order.
        ([1, 3, 4, 2], {1: 0, 3: 180, 4: 360, 2: 540}),
        ([1, 4, 3, 2], {1: 0, 4: 180, 3: 360, 2: 540}),
        ([1, 5, 3, 6, 2, 4], {1: 0, 5: 120, 3: 240, 6: 360, 2: 480, 4: 600}),
        ([1, 4, 2, 6, 3, 5], {1: 0, 4: 120, 2: 240, 6: 360, 3: 480, 5: 600}),
        ([1, 3, 2], {1: 0, 3: 240, 2: 480}),
    ],
)
def test_even_firing_angles(order, fire_deg):
    assert engine_firing(order).fire_deg == pytest.approx(fire_deg)


def test_odd_firing_twin(odd_twin):
    assert odd_twin.fire_deg == {1: 0, 2: 180}
    assert odd_twin.companion(1) is None


@pytest.mark.parametrize(
    ("order", "pairs"),
    [
        # Fact of the trade: in an in-line six the companions are 1-6, 2-5 and 3-4.
        ([1, 5, 3, 6, 2, 4], {1: 6, 2: 5, 3: 4}),
        ([1, 4, 2, 6, 3, 5], {1: 6, 2: 5, 3: 4}),
        ([1, 3, 4, 2], {1: 4, 2: 3}),
        ([1, 3, 2], {1: None, 2: None, 3: None}),
    ],
)
def test_companions(order, pairs):
    engine = engine_firing(order)
    assert {cylinder: engine.companion(cylinder) for cylinder in pairs} == pairs


def test_strokes_of_a_four_at_zero(four):
    # 1-3-4-2 (common practice): 1 fires, 3 compresses, 4 draws in, 2 pushes out.
    strokes = {c.cylinder: c.stroke for c in snapshot(four, 0.0).cylinders}
    assert strokes == {
        1: Stroke.POWER,
        3: Stroke.COMPRESSION,
        4: Stroke.INTAKE,
        2: Stroke.EXHAUST,
    }


@pytest.mark.parametrize(
    ("cycle_deg", "stroke"),
    [(0, "power"), (179.9, "power"), (180, "exhaust"), (360, "intake"), (719, "compression")],
)
def test_stroke_edges(cycle_deg, stroke):
    assert stroke_at(cycle_deg) == stroke


@given(ANGLES)
def test_normalised_angles_stay_in_the_cycle(angle):
    assert 0 <= normalise_deg(angle) < 720
    assert math.isclose(
        math.cos(math.radians(angle)), math.cos(math.radians(normalise_deg(angle))), abs_tol=1e-6
    )


def test_a_tiny_negative_angle_is_zero():
    assert normalise_deg(-1e-17) == 0.0


@given(ANGLES, ANGLES)
def test_apart_is_symmetric_and_at_most_half_a_cycle(one, other):
    assert apart_deg(one, other) == pytest.approx(apart_deg(other, one), abs=1e-6)
    assert 0 <= apart_deg(one, other) <= 360


def test_ahead_goes_in_the_running_direction():
    assert ahead_deg(700, 20) == 40
    assert ahead_deg(20, 700) == 680


@pytest.mark.parametrize("angle", [math.nan, math.inf, -math.inf, 1e9])
def test_angles_nobody_can_turn_to(angle):
    with pytest.raises(AngleError, match=r"the crank angle is .*; give crank degrees, 0 up to 720"):
        typed_crank_deg(angle)
