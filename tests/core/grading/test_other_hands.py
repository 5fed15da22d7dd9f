"""Findings on sheets by hands that are not the model's own (`other_hands.py`)."""

import pytest

from tests.core.grading.other_hands import HANDS, PASSING_HANDS
from tests.core.grading.other_rates import (
    PLANTS,
    UNITS,
    accused,
    lean_and_slip,
    reversed_verdicts,
    second_passes_accused,
    share,
)
from valvetrain.grading.findings import Kind

EACH = 30
"""Sheets for each of the six engines."""


@pytest.mark.parametrize("hand", HANDS, ids=lambda hand: hand.name)
def test_a_clean_sheet_of_any_hand_is_hardly_ever_accused(hand):
    # 2 % of 360 is 7; an honest rate of 2 % would give 12 or more once in twenty runs.
    assert len(found := accused(hand, 2 * EACH)) <= 11, found


@pytest.mark.parametrize("hand", PASSING_HANDS, ids=lambda hand: hand.name)
def test_two_honest_passes_are_hardly_ever_said_to_differ(hand):
    """At most 2 % of the sheets of any hand; of 600, no more than chance adds to that."""
    assert second_passes_accused(hand, 100) <= 0.03


@pytest.mark.parametrize("kind", PLANTS)
def test_what_was_planted_is_found_and_its_valves_named(kind):
    found, named = share(kind, PLANTS[kind], EACH)
    assert found >= 0.95
    assert named >= 0.9


@pytest.mark.parametrize("called", UNITS)
def test_another_unit_is_found_on_a_sheet_and_on_one_line(called):
    """An exact scale, and never a full turn or a closed valve. One figure alone of a spec of a
    tenth is nearly as likely a slip that nobody can name."""
    found, named = share(Kind.UNIT_SLIP, UNITS[called], EACH)
    assert found >= (0.9 if called.startswith("one") else 0.95)
    assert named >= 0.88


def test_a_lean_and_a_slip_are_both_told():
    assert lean_and_slip(EACH) >= 0.92


def test_verdicts_said_the_wrong_way_round():
    assert reversed_verdicts(EACH) >= 0.95
