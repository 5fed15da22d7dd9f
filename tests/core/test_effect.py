"""What a clearance does, and what becomes of a gap that is set in the wrong place."""

from decimal import Decimal

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.conftest import engine_firing
from tests.core.test_any_engine import ENGINES
from valvetrain.effect import effect_of, opening_at, set_here
from valvetrain.engine import Role, ShopTolerance
from valvetrain.engine_file import read_engine
from valvetrain.lobe import lobe_of

NOMINAL_MM = 0.25


@pytest.mark.parametrize("name", ENGINES)
def test_at_nominal_clearance_the_events_are_the_makers(name):
    engine = read_engine(ENGINES[name])
    for role in engine.roles:
        events = engine.events[role]
        nominal_mm = float(engine.clearance[role].middle_mm)
        opening = opening_at(engine, role, nominal_mm)
        assert opening.opens_cycle_deg == pytest.approx(events.opens_cycle_deg, abs=1e-6)
        assert opening.duration_deg == pytest.approx(events.duration_deg, abs=1e-6)
        assert opening.lift_mm == pytest.approx(engine.lift_mm[role])


@given(st.floats(0.01, 3.0))
def test_where_it_opens_the_lift_is_the_clearance_and_just_before_less(clearance_mm):
    engine = engine_firing([1, 3, 4, 2])
    opening = opening_at(engine, Role.INTAKE, clearance_mm)
    lobe = lobe_of(engine, Role.INTAKE)
    edges = np.array([opening.opens_cycle_deg, opening.closes_cycle_deg])
    assert lobe.follower_lift_mm(edges) == pytest.approx(clearance_mm, abs=1e-7)
    assert lobe.follower_lift_mm(opening.opens_cycle_deg - 0.1) < clearance_mm


@given(st.floats(0, 2), st.floats(0.001, 1))
def test_looser_opens_later_closes_earlier_and_lifts_less(clearance_mm, more_mm):
    """Fact of the trade."""
    engine = engine_firing([1, 3, 4, 2])
    tight = opening_at(engine, Role.EXHAUST, clearance_mm)
    loose = opening_at(engine, Role.EXHAUST, clearance_mm + more_mm)
    assert loose.duration_deg < tight.duration_deg
    assert loose.lift_mm == pytest.approx(tight.lift_mm - more_mm)


def test_no_clearance_is_open_over_the_ramps():
    opening = opening_at(engine_firing([1, 3, 4, 2]), Role.INTAKE, 0.0)
    # By hand: 348 - 16 to 586 + 16.
    assert opening.opens_cycle_deg == pytest.approx(332)
    assert opening.closes_cycle_deg == pytest.approx(602)


def test_a_nominal_clearance_of_zero_opens_at_its_events():
    """A ramp to zero has no lift: 0.01 mm more takes but a sliver of the lobe, no whole ramp."""
    zero = {"unit": "mm", "intake": {"min": 0, "max": 0.02}, "exhaust": {"min": 0, "max": 0}}
    engine = engine_firing([1], clearance=zero)
    events = engine.events[Role.EXHAUST]
    assert opening_at(engine, Role.EXHAUST, 0).duration_deg == events.duration_deg
    early = (events.duration_deg - opening_at(engine, Role.EXHAUST, 0.01).duration_deg) / 2
    # A lobe that starts with neither speed nor acceleration: a few degrees, no whole ramp.
    assert 3 < early < 16


def test_more_clearance_than_lift_never_opens(four):
    effect = effect_of(four, four.valves[0], 9.0)
    assert effect.changed is None
    assert "never opens" in effect.says[0]


@pytest.mark.parametrize(
    ("clearance_mm", "says"),
    [
        (0.35, ("Opens and closes where", "Within the spec")),
        (0.20, ("Tight: opens", "Below the spec")),
        (0.60, ("Loose: opens", "Above the spec")),
        (0.0, ("Tight: opens 16.0° early and closes 16.0° late", "no clearance left")),
    ],
)
def test_it_is_told_in_words(four, clearance_mm, says):
    told = effect_of(four, four.valves[0], clearance_mm).says
    for part, sentence in zip(says, told, strict=True):
        assert part in sentence


@pytest.mark.parametrize(
    ("spec", "gap_mm"),
    [
        ({"nominal": 0.15}, 0.15),
        ({"nominal": 6, "unit": "thou"}, 0.1524),
        ({"nominal": 0.15, "minus": 0, "plus": 0.05}, 0.15),
        ({"min": 0.1, "max": 0.2}, 0.1),
        ({"min": 4, "max": 8, "unit": "thou"}, 8 * 0.0254),
    ],
)
def test_a_gap_at_its_figure_is_not_called_tight_or_loose(spec, gap_mm):
    """What is within the spec, its limits included, is neither."""
    engine = engine_firing([1, 2], clearance={"unit": "mm", "intake": spec, "exhaust": spec})
    says = " ".join(effect_of(engine, engine.valves[0], gap_mm).says)
    assert "Within the spec." in says
    assert not any(word in says for word in ("Tight", "Loose", "Below", "Above"))


def test_what_rests_on_the_shop_tolerance_says_so():
    clearance = {"unit": "mm", "intake": {"nominal": 0.15}, "exhaust": {"min": 0.3, "max": 0.4}}
    engine = engine_firing([1, 2], clearance=clearance)
    intake, exhaust = (next(v for v in engine.valves if v.role is r) for r in engine.roles[:2])
    assert "±0.02 mm" in effect_of(engine, intake, 0.16).says[-1]
    assert "shop tolerance" not in " ".join(effect_of(engine, exhaust, 0.35).says)
    own = engine.in_a_shop(ShopTolerance(mm=Decimal("0.01")))
    assert "Above the spec" in " ".join(effect_of(own, intake, 0.165).says)


def test_the_curves_hold_gap_and_lift_for_the_clearance(four):
    effect = effect_of(four, four.valves[1], 0.4)
    curve = effect.changed_curve
    assert max(curve.gap_mm) == pytest.approx(0.4)
    assert max(curve.lift_mm) == pytest.approx(effect.changed.lift_mm, abs=1e-3)
    assert not np.any((curve.gap_mm > 0) & (curve.lift_mm > 0))


class TestSettingInTheWrongPlace:
    def test_on_the_heel_the_figure_stays(self, four):
        outcome = set_here(four, four.valve[1], 0.0, 0.35)
        assert outcome.true_mm == 0.35
        assert outcome.says.startswith("Right place: on its heel by 116°")

    def test_on_the_ramp_it_comes_out_looser_by_the_lift_there(self, four):
        # Valve 2 is cylinder 1's intake: its ramp runs from 332 to 348, and at 348 the
        # follower has lifted by exactly the nominal clearance.
        outcome = set_here(four, four.valve[2], 348.0, NOMINAL_MM)
        assert outcome.true_mm == pytest.approx(2 * NOMINAL_MM)
        assert outcome.margin_deg == -16
        assert "far too loose" in outcome.says

    def test_on_the_lobe_the_valve_hardly_opens_afterwards(self, four):
        outcome = set_here(four, four.valve[2], 467.0, NOMINAL_MM)
        assert outcome.true_mm == pytest.approx(8.4 + 2 * NOMINAL_MM)
        assert "hardly opens" in outcome.says

    def test_within_by_luck_is_told_as_luck(self, four):
        outcome = set_here(four, four.valve[2], 334.0, 0.24)
        assert 0.24 < outcome.true_mm <= 0.28
        assert "by luck" in outcome.says
