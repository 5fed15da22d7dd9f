"""Blind feel: what is dealt and felt, and the threshold against SciPy and a simulated hand."""

import math
import random
import statistics

import pytest
from scipy import stats

from valvetrain.gauges import Feel
from valvetrain.practice.blind import (
    Blind,
    BlindGuess,
    deal_blind,
    guess_of,
    is_right_word,
    push_blind,
    threshold,
    word_of,
)


def test_what_is_dealt_can_be_felt_and_is_always_the_same_for_a_seed():
    words = set()
    for seed in range(300):
        blind = deal_blind(seed)
        assert blind == deal_blind(seed)
        assert 100 <= blind.leaf_um <= 400
        assert abs(blind.gap_mm - blind.leaf_um / 1000) <= 0.031
        words.add(word_of(blind))
    assert words == set(Feel)


def test_a_push_is_never_quite_the_same_and_tells_no_word():
    blind = Blind(250, 0.26)
    pushes = [push_blind(blind, 7, times) for times in range(40)]
    assert len({push.pull for push in pushes}) > 1
    assert all(push.is_in for push in pushes)
    assert not push_blind(Blind(250, 0.2), 7, 0).is_in


@pytest.mark.parametrize(
    ("gap_mm", "named", "right"),
    [
        (0.26, Feel.DRAG, True),
        (0.26, Feel.FREE, False),
        # Within a hand's unsteadiness of the limit either word will do.
        (0.251, Feel.DRAG, True),
        (0.251, Feel.TIGHT, True),
        (0.251, Feel.NO, False),
        (0.22, Feel.NO, True),
        (0.28, Feel.FREE, True),
    ],
)
def test_a_word_is_right_where_a_hand_can_tell(gap_mm, named, right):
    assert is_right_word(Blind(250, gap_mm), named) is right


def guesses(errors):
    return [BlindGuess(0.25, 0.25 + error, True) for error in errors]


def test_the_threshold_is_that_of_scipy():
    errors = [0.004, -0.01, 0.007, 0.0, 0.012, -0.006, 0.003, -0.008, 0.009, -0.002]
    told = threshold(guesses(errors))
    spread = stats.tstd(errors)
    assert told.threshold_mm == pytest.approx(stats.norm.ppf(0.75) * math.sqrt(2) * spread)
    # The 95 per cent interval of a standard deviation, by SciPy's own quantiles.
    free = len(errors) - 1
    ends = [math.sqrt(free * spread**2 / stats.chi2.isf(share, free)) for share in (0.025, 0.975)]
    factor = told.threshold_mm / spread
    assert (told.low_mm, told.high_mm) == pytest.approx(tuple(factor * end for end in ends))
    assert told.off_mm == pytest.approx(statistics.fmean(errors))


def test_it_is_what_such_a_hand_tells_apart_three_times_in_four():
    """Two gaps a threshold apart, guessed by a hand drawn here: in order in 75 per cent."""
    hand = random.Random(5)  # noqa: S311
    told = threshold(guesses([hand.gauss(0, 0.012) for _ in range(20)]))
    spread = told.threshold_mm / (stats.norm.ppf(0.75) * math.sqrt(2))
    right = sum(
        hand.gauss(0.25 + told.threshold_mm, spread) > hand.gauss(0.25, spread)
        for _ in range(20_000)
    )
    assert right / 20_000 == pytest.approx(0.75, abs=0.01)


def test_its_interval_holds_the_truth_nineteen_times_in_twenty():
    hand, inside = random.Random(11), 0  # noqa: S311
    true = stats.norm.ppf(0.75) * math.sqrt(2) * 0.01
    for _ in range(2000):
        told = threshold(guesses([hand.gauss(0.003, 0.01) for _ in range(20)]))
        inside += told.low_mm <= true <= told.high_mm
    assert inside / 2000 == pytest.approx(0.95, abs=0.015)


def test_only_the_last_twenty_count_and_few_say_nothing():
    assert threshold(guesses([0.01, -0.01] * 3)) is None
    clumsy, steady = [0.1, -0.1] * 10, [0.002, -0.002] * 10
    assert threshold(guesses(clumsy + steady)) == threshold(guesses(steady))


def test_a_guess_is_held_against_the_gap_that_was_dealt():
    assert guess_of(Blind(250, 0.262), Feel.DRAG, "0.26") == (0.262, 0.26, True)
