"""Lengths beside a spec: no figure contradicts the verdict beside it. One inch is 25.4 mm exactly
(international agreement of 1959), so a thou is 0.0254 mm."""

from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from valvetrain.engine import Clearance, ShopTolerance, Spread
from valvetrain.spec_words import (
    beside_spec,
    difference,
    exact,
    gap_words,
    limits_words,
    other_limits,
    spec_texts,
)
from valvetrain.units import Unit


def spec(low, high, unit="mm"):
    return Clearance(Unit(unit), Spread(Decimal(low), Decimal(high)))


@pytest.mark.parametrize(
    ("limits", "gap_mm", "says"),
    [
        (("0.13", "0.18"), 0.1804, "0.1804 mm"),
        (("0.13", "0.18"), 0.182, "0.182 mm"),
        (("0.13", "0.17"), 0.1296, "0.1296 mm"),
        (("0.13", "0.18"), 0.15, "0.15 mm"),
        (("3", "5", "thou"), 0.127, "5.0 thou"),
        (("3", "5", "thou"), 0.1275, "5.02 thou"),
    ],
)
def test_no_gap_is_rounded_onto_a_limit(limits, gap_mm, says):
    assert beside_spec(spec(*limits), gap_mm) == says


@given(
    st.integers(1, 60),
    st.integers(0, 20),
    st.floats(0.0, 0.9),
    st.sampled_from(("mm", "thou")),
)
def test_what_is_shown_lies_on_the_side_of_the_gap_itself(low, wide, gap_mm, unit):
    step = Decimal("0.01") if unit == "mm" else Decimal(1)
    of = spec(low * step, (low + wide) * step, unit)
    gap = round(gap_mm, 4)
    figure, shown_in = beside_spec(of, gap).split()
    assert shown_in == unit
    true = Decimal(str(gap)) if unit == "mm" else Decimal(str(gap)) / Decimal("0.0254")
    for limit in (of.spread.low, of.spread.high):
        if abs(true - limit) > Decimal("0.0005"):
            assert (Decimal(figure) > limit) == (true > limit)


def test_a_valve_that_is_held_open_has_no_gap():
    assert gap_words(spec("0.25", "0.30"), -0.19) == "no gap: held open by 0.19 mm"


@pytest.mark.parametrize(
    ("low", "high", "unit", "says"),
    [
        # 0.38 mm is 14.961 thou: 15.0 would lie outside.
        ("0.32", "0.38", "mm", "12.6–14.96 thou"),
        # 0.30 mm is 11.811 thou: 11.81 would lie outside.
        ("0.30", "0.38", "mm", "11.82–14.96 thou"),
        # 5 thou is 0.127 mm: 0.13 would lie outside.
        ("0.0762", "0.127", "thou", "0.08–0.127 mm"),
        ("0.254", "0.3048", "thou", "0.254–0.30 mm"),
    ],
)
def test_a_limit_in_the_other_unit_is_never_rounded_outwards(low, high, unit, says):
    assert other_limits(Decimal(low), Decimal(high), Unit(unit)) == says


def test_one_figure_is_no_range_from_itself_to_itself():
    five = Clearance(
        Unit.THOU, Spread(Decimal(5), Decimal(5), Decimal(5), stated=False), shop=ShopTolerance()
    )
    assert spec_texts(five) == ("5 thou, ±1 thou by the shop", "0.127 mm")
    assert spec_texts(spec("0.2", "0.2")) == ("0.20 mm, ±0.02 mm by the shop", "7.9 thou")


def test_figures_that_were_written_keep_their_digits():
    assert exact(Decimal("2.175")) == "2.175 mm"
    assert exact(Decimal("0.254"), Unit.THOU) == "10 thou (0.254 mm)"
    assert exact(None) == "nothing"
    limits = limits_words(Decimal("0.127"), Decimal("0.1778"), Unit.THOU)
    assert limits == "5 to 7 thou (0.127 mm to 0.1778 mm)"
    assert (difference(0.0254, Unit.THOU), difference(0.04, Unit.MM)) == ("1.0 thou", "0.04 mm")
