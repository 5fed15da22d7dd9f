"""Inch and millimetre. 1 in = 25.4 mm exactly: international yard and pound agreement, 1959."""

from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from valvetrain.units import (
    LengthError,
    Unit,
    agree,
    parse_figure,
    parse_length,
    to_mm,
    to_record_mm,
)


@pytest.mark.parametrize(
    ("thou", "mm"),
    [("1000", "25.4"), ("1", "0.0254"), ("10", "0.254"), ("5", "0.127"), ("0.5", "0.0127")],
)
def test_thou_by_the_exact_inch(thou, mm):
    assert to_mm(Decimal(thou), Unit.THOU) == Decimal(mm)


@given(st.decimals(0, 400, places=3))
def test_there_and_back(thou):
    assert parse_length(f"{thou} thou").thou == thou


@pytest.mark.parametrize(
    ("text", "mm"),
    [("0.25 mm", "0.25"), ("0,25mm", "0.25"), (" 10 THOU ", "0.254"), (".010 in", "0.254")],
)
def test_lengths_as_people_write_them(text, mm):
    assert parse_length(text).mm == Decimal(mm)


@pytest.mark.parametrize(
    ("one", "other", "agrees"),
    [
        # 0.12 mm is 4.72 thou, which is written 5; 0.10 mm is 3.94, which is not.
        ("5 thou", "0.12 mm", True),
        ("5 thou", "0.127 mm", True),
        ("5 thou", "0.10 mm", False),
        ("10 thou", "0.25 mm", True),
        ("12 thou", "0.25 mm", False),
        ("5.0 thou", "0.12 mm", True),
        ("9 thou", "0.2 mm", False),
        ("9.8 thou", "0.25 mm", True),
        # 0.1145 mm rounds to 0.11 and, as 4.51 thou, to 5.
        ("5 thou", "0.11 mm", True),
        ("4.7 thou", "0.12 mm", True),
    ],
)
def test_pairs_agree_as_manuals_round_them(one, other, agrees):
    assert agree(parse_length(one), parse_length(other)) is agrees


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("5", "“5” has no unit; give a number and its unit, like 0.25 mm or 10 thou"),
        ("5 cm", "the unit “cm” is not known here; use mm, thou"),
        ("about five", "“about five” is not a length"),
        ("", "“” is not a length"),
        ("1e5 mm", "is not a length"),
        ("0.2.5 mm", "is not a length"),
        ("9" * 99 + " mm", "…” is not a length"),
    ],
)
def test_what_is_no_length(text, says):
    with pytest.raises(LengthError) as caught:
        parse_length(text)
    assert says in str(caught.value)


@pytest.mark.parametrize("text", ["", ".", "-", "NaN", "1e3", "0x10", "0.2 5"])
def test_what_is_no_figure(text):
    with pytest.raises(LengthError, match=r"is not a number; give one like 0\.25"):
        parse_figure(text)


def test_records_keep_a_ten_thousandth_of_a_millimetre():
    assert to_record_mm(Decimal("0.25405")) == Decimal("0.2540")
    assert to_record_mm(Decimal("0.25415")) == Decimal("0.2542")
