"""Cam profiles against the lift that they must give, and against SciPy."""

import json
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.interpolate import CubicSpline
from scipy.spatial import ConvexHull
from scipy.spatial.distance import cdist

from tests.core.conftest import engine_firing
from valvetrain.cycle_table import cycle_table
from valvetrain.engine import Role
from valvetrain.engine_file import read_engine
from valvetrain.lobe import lobe_of
from valvetrain.section import cam_of, flat_profile, round_profile, section_of

GENTLE = {
    "timing": {
        "intake": {"opens_btdc": 30, "closes_abdc": 70},
        "exhaust": {"opens_bbdc": 48, "closes_atdc": 14},
    },
    "lift_mm": {"intake": 6, "exhaust": 6},
}
"""A lift that a flat face can follow."""
SHELF = sorted((Path(__file__).parents[2] / "demo" / "engines").glob("*.json"))
ENGINES = [read_engine(json.loads(path.read_text())) for path in SHELF]
CAMS = [
    pytest.param(engine, role, id=f"{path.stem}-{role}")
    for path, engine in zip(SHELF, ENGINES, strict=True)
    if engine.decompressor is None
    for role in engine.roles
]


def reach_mm(cam, turned_deg):
    """How far a flat face that lies across +y stands from the axis of a cam turned so far."""
    t = np.radians(turned_deg)
    return (cam.x_mm[:, None] * np.sin(t) + cam.y_mm[:, None] * np.cos(t)).max(axis=0)


@pytest.mark.parametrize(("engine", "role"), CAMS)
def test_a_profile_gives_back_the_lift_that_it_was_made_from(engine, role):
    """The follower is put against the drawn curve again, by nothing but geometry."""
    cam = cam_of(engine, role)
    lobe = lobe_of(engine, role)
    turned = np.arange(-178.0, 180.0, 4.0)
    wanted = lobe.follower_lift_mm((lobe.events.middle_cycle_deg + 2 * turned) % 720) / cam.ratio
    if cam.pad_mm == 0:
        found = reach_mm(cam, turned) - cam.base_mm
        assert hull_error_mm(engine, role) < 0
    else:
        # The round face's centre, where it stands by its lift: as far off the curve as its radius.
        t = np.radians(turned)
        out = cam.base_mm + cam.pad_mm + wanted
        centres = np.column_stack([out * np.sin(t), out * np.cos(t)])
        off = cdist(centres, fine(cam)).min(axis=1)
        found = wanted - (cam.pad_mm - off)
    assert found == pytest.approx(wanted, abs=0.02)


@settings(max_examples=60, deadline=None)
@given(
    duration=st.integers(200, 320),
    ramp=st.integers(6, 40),
    lift=st.floats(3, 14),
    gap=st.floats(0.05, 0.9),
)
def test_any_flat_follower_touches_its_lobe_or_the_lobe_says_how_far_it_misses(
    duration, ramp, lift, gap
):
    """Lifts of usual and unusual cams. A usual one (Norton: lift below a quarter of the heel's
    reach in its time) touches within 0.02 mm; where none does, what is missing is in short_mm."""
    half = duration / 2
    engine = engine_firing(
        [1],
        valve_train="bucket",
        ramp_deg=ramp,
        lift_mm={"intake": lift, "exhaust": lift},
        clearance={
            "unit": "mm",
            "intake": {"min": gap, "max": gap + 0.05},
            "exhaust": {"min": 0.3, "max": 0.35},
        },
        timing={
            "intake": {"opens_cycle_deg": 450 - half, "closes_cycle_deg": 450 + half},
            "exhaust": {"opens_cycle_deg": 250 - half, "closes_cycle_deg": 250 + half},
        },
    )
    cam, lobe = cam_of(engine, Role.INTAKE), lobe_of(engine, Role.INTAKE)
    turned = np.arange(-178.0, 180.0, 4.0)
    wanted = lobe.follower_lift_mm((lobe.events.middle_cycle_deg + 2 * turned) % 720)
    found = reach_mm(cam, turned) - cam.base_mm
    assert found == pytest.approx(wanted, abs=0.02 + cam.short_mm)
    if duration >= 230 and ramp >= 12 and lift > 8:
        assert cam.short_mm == 0


def hull_error_mm(engine, role):
    """How much bend of its lift a flat face could not follow from this base; textbook: R + s + s"
    must be positive. By SciPy's spline, not by our differences."""
    cam, lobe = cam_of(engine, role), lobe_of(engine, role)
    angles = np.linspace(-np.pi, np.pi, 1441)
    cycle = (lobe.events.middle_cycle_deg + 2 * np.degrees(angles)) % 720
    lift = lobe.follower_lift_mm(cycle) / cam.ratio
    spline = CubicSpline(angles, np.append(lift[:-1], lift[0]), bc_type="periodic")
    return float(-(cam.base_mm + spline(angles) + spline(angles, 2)).min())


def fine(cam, points=20_000):
    """The closed curve, with points close together along its sides."""
    x, y = np.append(cam.x_mm, cam.x_mm[0]), np.append(cam.y_mm, cam.y_mm[0])
    along = np.linspace(0, len(cam.x_mm), points)
    at = np.arange(len(x))
    return np.column_stack([np.interp(along, at, x), np.interp(along, at, y)])


@pytest.mark.parametrize(("engine", "role"), CAMS)
def test_a_flat_face_touches_a_convex_cam_everywhere(engine, role):
    """SciPy's hull leaves out no point of it by more than the thickness of a line."""
    cam = cam_of(engine, role)
    if cam.pad_mm > 0:
        pytest.skip("a round pad may run into a hollow")
    hull = ConvexHull(np.column_stack([cam.x_mm, cam.y_mm]))
    inside = hull.equations @ np.vstack([cam.x_mm, cam.y_mm, np.ones_like(cam.x_mm)])
    assert (-inside.max(axis=0)).max() < 0.01


def test_the_profile_is_the_textbooks_with_scipys_slope():
    """Slope by SciPy's periodic spline instead of our differences (Norton's formulas)."""
    engine = engine_firing([1, 3, 4, 2], valve_train="bucket", **GENTLE)
    assert hull_error_mm(engine, Role.INTAKE) < 0
    cam = cam_of(engine, Role.INTAKE)
    lobe = lobe_of(engine, Role.INTAKE)
    angles = np.linspace(-np.pi, np.pi, 1441)
    lift = lobe.follower_lift_mm((lobe.events.middle_cycle_deg + 2 * np.degrees(angles)) % 720)
    spline = CubicSpline(angles, np.append(lift[:-1], lift[0]), bc_type="periodic")
    t = np.radians(np.arange(-180.0, 180.0, 2.0))
    h, slope = cam.base_mm + spline(t), spline(t, 1)
    book = np.column_stack([h * np.sin(t) + slope * np.cos(t), h * np.cos(t) - slope * np.sin(t)])
    assert cdist(book, fine(cam)).min(axis=1).max() < 0.02


def test_a_round_shaft_is_a_circle_by_either_face():
    """By hand: no lift, no slope, so every point lies at the base radius."""
    deg = np.arange(-180.0, 180.0, 2.0)
    still = np.zeros_like(deg)
    for x, y in (flat_profile(12, deg, still, still), round_profile(12, 7, deg, still, still)):
        assert np.hypot(x, y) == pytest.approx(12)


def test_the_nose_stands_at_full_lift_and_clearance():
    """By hand: 6 mm of lift and 0.25 mm of clearance above the base, straight over a bucket."""
    cam = cam_of(engine_firing([1, 3, 4, 2], valve_train="bucket", **GENTLE), Role.INTAKE)
    assert cam.y_mm.max() - cam.base_mm == pytest.approx(6.25)
    ratio = {"kind": "screw", "pitch_mm": 1, "screw_at": "pushrod", "rocker_ratio": 1.5}
    rod = cam_of(engine_firing([1, 3, 4, 2], adjuster=ratio, **GENTLE), Role.INTAKE)
    assert rod.y_mm.max() - rod.base_mm == pytest.approx(6.25 / 1.5)


def test_sizes_are_the_files_or_usual_ones_that_say_so():
    sizes = {"bore_mm": 82, "stroke_mm": 79, "rod_mm": 136}
    given = section_of(engine_firing([1, 2], geometry=sizes))
    assert (given.bore_mm, given.stroke_mm, given.rod_mm, given.to_scale) == (82, 79, 136, True)
    usual = section_of(engine_firing([1, 2]))
    assert not usual.to_scale
    assert 50 < usual.bore_mm < 100
    assert usual.rod_mm > usual.stroke_mm


def pulled_shut():
    (path,) = [path for path in SHELF if path.name.startswith("17-")]
    return read_engine(json.loads(path.read_text()))


@pytest.mark.parametrize("role", [Role.INTAKE, Role.EXHAUST])
def test_the_closing_lobe_is_the_twin_of_the_opening_one(role):
    """Its pad, put against the drawn hollow by nothing but distances, falls by what the other
    rises: the play of both together stays the same."""
    engine = pulled_shut()
    cam = cam_of(engine, role)
    closing, lobe = cam.closing, lobe_of(engine, role)
    curve = np.stack([closing.x_mm, closing.y_mm], axis=1)
    for turned in np.arange(-176.0, 180.0, 8.0):
        lift = lobe.follower_lift_mm((lobe.events.middle_cycle_deg + 2 * turned) % 720)
        reach = closing.base_mm + closing.pad_mm - float(lift)
        # The pad lies opposite to the other one.
        centre = -reach * np.array([[np.sin(np.radians(turned)), np.cos(np.radians(turned))]])
        assert cdist(centre, curve).min() == pytest.approx(closing.pad_mm, abs=0.05)


def test_only_valves_that_are_pulled_shut_have_one():
    assert all(cam_of(ENGINES[0], role).closing is None for role in ENGINES[0].roles)


def test_the_play_changes_sides_as_the_opening_rocker_presses():
    engine = pulled_shut()
    cycle = cycle_table(engine).roles[Role.INTAKE]
    opening_mm = float(engine.clearance[Role.INTAKE].middle_mm)
    closing_mm = float(engine.closing[Role.INTAKE].middle_mm)
    play = cycle.gap_mm + cycle.closing_gap_mm
    assert play == pytest.approx(opening_mm + closing_mm)
    on_heel = cycle.margin_deg >= 0
    assert cycle.closing_gap_mm[on_heel] == pytest.approx(closing_mm)
    assert cycle.closing_gap_mm[cycle.lift_mm > 0] == pytest.approx(opening_mm + closing_mm)
    assert cycle_table(ENGINES[0]).roles[Role.INTAKE].closing_gap_mm is None
