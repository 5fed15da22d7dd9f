"""Marks of what was measured, in full: every case with both of its reasons.

The cases are worked by hand. The decision rule is that of ISO 14253-1 (from memory of the editions
of 1998 and 2013): a figure is proved wrong only beyond the tolerance and the key's own uncertainty.
"""

from decimal import Decimal

import pytest

from tests.core.conftest import engine_firing
from valvetrain.grading.mark import Mark, Terms
from valvetrain.grading.measured import mark_position, mark_reading, mark_verdict
from valvetrain.grading.sheet import Entry, SpecVerdict

D = Decimal
FOUR = engine_firing([1, 3, 4, 2])
INTAKE = 2
"""Valve 2 is an intake: 0.22 to 0.28 mm."""
TERMS = Terms(D("0.02"), uncertainty_mm=D("0.01"), gauge_mm=D("0.015"))


def entry(reading=None, verdict=None, crank_deg=None):
    reading_mm = None if reading is None else D(reading)
    return Entry(INTAKE, reading_mm=reading_mm, verdict=verdict, crank_deg=crank_deg)


READINGS = {
    "none": (None, False, "No reading.", "No reading; the key is 0.30 mm."),
    "exact": (
        "0.30",
        True,
        "Agrees with the reference.",
        "Read 0.30 mm, key 0.30 mm: off by +0.00 mm, within ±0.02 mm.",
    ),
    "at the limit": (
        "0.28",
        True,
        "Agrees with the reference.",
        "Read 0.28 mm, key 0.30 mm: off by −0.02 mm, within ±0.02 mm.",
    ),
    "in doubt": (
        "0.33",
        True,
        "Agrees with the reference.",
        "Read 0.33 mm, key 0.30 mm: off by +0.03 mm, outside ±0.02 mm; the key is known to ±0.01 "
        "mm only: in doubt, counted right.",
    ),
    "too large": (
        "0.331",
        False,
        "Reads larger than the reference by more than the allowed 0.02 mm.",
        "Read 0.331 mm, key 0.30 mm: off by +0.031 mm, outside ±0.02 mm.",
    ),
    "too small": (
        "0.25",
        False,
        "Reads smaller than the reference by more than the allowed 0.02 mm.",
        "Read 0.25 mm, key 0.30 mm: off by −0.05 mm, outside ±0.02 mm.",
    ),
}


@pytest.mark.parametrize("case", READINGS)
def test_readings(case):
    reading, *told = READINGS[case]
    assert mark_reading(FOUR, entry(reading), D("0.3000"), TERMS) == Mark(*told)


def test_a_valve_whose_key_is_known_worse_is_doubted_longer():
    wide = Terms(D("0.02"), uncertainty_mm=D("0.01"), of_valve_mm={INTAKE: D("0.04")})
    assert mark_reading(FOUR, entry("0.36"), D("0.3000"), wide).right
    other = Terms(D("0.02"), uncertainty_mm=D("0.01"), of_valve_mm={1: D("0.04")})
    assert not mark_reading(FOUR, entry("0.36"), D("0.3000"), other).right


VERDICTS = {
    "none": ("0.30", None, False, "No verdict.", "No verdict; by the key it is loose."),
    "right without a figure": (
        None,
        SpecVerdict.LOOSE,
        True,
        "Right, although no figure supports it.",
        "Said loose; by the key it is loose.",
    ),
    "wrong without a figure": (
        None,
        SpecVerdict.TIGHT,
        False,
        "Not right.",
        "Said tight; by the key it is loose.",
    ),
    "follows from the figure": (
        "0.25",
        SpecVerdict.WITHIN,
        True,
        "Follows from your own reading: 0.25 mm against 0.22 mm to 0.28 mm is within.",
        "Follows from your own reading: 0.25 mm against 0.22 mm to 0.28 mm is within. By the key "
        "it is loose.",
    ),
    "does not follow": (
        "0.25",
        SpecVerdict.LOOSE,
        False,
        "0.25 mm against 0.22 mm to 0.28 mm is within; you wrote loose.",
        "0.25 mm against 0.22 mm to 0.28 mm is within; you wrote loose. By the key it is loose.",
    ),
    "doubt without a figure": (
        None,
        SpecVerdict.CANNOT_TELL,
        False,
        "No figure shows that nobody can tell.",
        "No figure supports it.",
    ),
    "doubt at a limit": (
        "0.295",
        SpecVerdict.CANNOT_TELL,
        True,
        "0.295 mm is 0.015 mm from the limit of 0.28 mm, and the gauge tells no better than "
        "±0.015 mm.",
        "0.295 mm is 0.015 mm from the limit of 0.28 mm, and the gauge tells no better than "
        "±0.015 mm. By the key it is loose.",
    ),
    "doubt where it is clear": (
        "0.20",
        SpecVerdict.CANNOT_TELL,
        False,
        "0.20 mm is 0.02 mm from the limit of 0.22 mm: that is clear; the gauge uncertainty is "
        "±0.015 mm.",
        "0.20 mm is 0.02 mm from the limit of 0.22 mm: that is clear; the gauge uncertainty is "
        "±0.015 mm. By the key it is loose.",
    ),
}


@pytest.mark.parametrize("case", VERDICTS)
def test_verdicts(case):
    reading, verdict, *told = VERDICTS[case]
    assert mark_verdict(FOUR, entry(reading, verdict), D("0.3000"), TERMS) == Mark(*told)


@pytest.mark.parametrize(
    ("crank_deg", "right", "says"),
    # The intake of cylinder 1 is off its heel from 332 to 602, by the definition.
    [
        (None, False, "No stop given."),
        (332.0, True, "At 332° it is on its heel, 0° from the edge."),
        (331.5, True, "At 331.5° it is on its heel, 0° from the edge."),
        (340.0, False, "At 340° it is on its ramp, where the gap reads small; turn 8° or more to "
         "reach the heel."),
        (467.0, False, "At 467° it is held open by its lobe, where there is no gap; turn 135° or "
         "more to reach the heel."),
    ],
)  # fmt: skip
def test_positions(crank_deg, right, says):
    assert mark_position(FOUR, entry(crank_deg=crank_deg)) == Mark(right, says, says)


@pytest.mark.parametrize(
    ("spec", "reading", "verdict"),
    [
        # 0.15 printed alone: ±0.02 mm by the shop (common practice).
        ({"nominal": 0.15}, "0.145", SpecVerdict.WITHIN),
        ({"nominal": 0.15}, "0.13", SpecVerdict.WITHIN),
        ({"nominal": 0.15}, "0.12", SpecVerdict.TIGHT),
        ({"nominal": 0.15}, "0.18", SpecVerdict.LOOSE),
        # 6 thou alone: ±1 thou, 0.1270 to 0.1778 mm.
        ({"nominal": 6, "unit": "thou"}, "0.1778", SpecVerdict.WITHIN),
        ({"nominal": 6, "unit": "thou"}, "0.18", SpecVerdict.LOOSE),
        # What the maker states wins, even where it is nothing.
        ({"nominal": 0.15, "minus": 0, "plus": 0}, "0.145", SpecVerdict.TIGHT),
    ],
)
def test_a_single_figure_is_judged_by_the_shop_tolerance_and_says_so(spec, reading, verdict):
    clearance = {"unit": "mm", "intake": spec, "exhaust": {"min": 0.32, "max": 0.38}}
    engine = engine_firing([1, 3, 4, 2], clearance=clearance)
    mark = mark_verdict(engine, entry(reading, verdict), D("0.15"), TERMS)
    assert mark.right, mark.instructor_says
    assert ("shop tolerance" in mark.student_says) is ("minus" not in spec)
