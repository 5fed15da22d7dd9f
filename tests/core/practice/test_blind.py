"""Blind feel: what is dealt and felt, and the threshold against SciPy and a simulated hand."""

import math
import random
import statistics

import numpy as np
import pytest
from scipy import optimize, stats

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


GAPS = [0.22, 0.23, 0.235, 0.24, 0.245, 0.25, 0.255, 0.26, 0.27, 0.28]
"""About a leaf of 0.25 mm."""
SURE = stats.norm.ppf(0.75) * math.sqrt(2)


def guesses(errors, gaps=GAPS, follows=1.0):
    return [
        BlindGuess(0.25, gap, 0.25 + follows * (gap - 0.25) + error, True)
        for gap, error in zip(gaps * (len(errors) // len(gaps) + 1), errors, strict=False)
    ]


def test_the_threshold_is_that_of_scipy():
    errors = [0.004, -0.01, 0.007, 0.0, 0.012, -0.006, 0.003, -0.008, 0.009, -0.002]
    own = guesses(errors)
    told = threshold(own)
    felt = np.array([one.gap_mm - 0.25 for one in own])
    said = np.array([one.guessed_mm - 0.25 for one in own])
    line = stats.linregress(felt, said)
    rest = said - line.intercept - line.slope * felt
    spread = math.sqrt(float((rest**2).sum()) / 8)
    assert told.threshold_mm == pytest.approx(SURE * spread / line.slope)
    # The 95 per cent interval by SciPy's own noncentral t, found by its root finder.
    reach = math.sqrt(float(((felt - felt.mean()) ** 2).sum()))
    follows = line.slope * reach / spread
    ends = [
        optimize.brentq(lambda nc, tail=tail: stats.nct.cdf(follows, 8, nc) - tail, -5, 60)
        for tail in (0.025, 0.975)
    ]
    assert told.low_mm == pytest.approx(SURE * reach / ends[0], rel=1e-3)
    assert told.high_mm == pytest.approx(SURE * reach / ends[1], rel=1e-3)
    assert told.off_mm == pytest.approx(statistics.fmean(errors))


def test_whoever_writes_the_size_on_the_leaf_has_felt_nothing():
    """Always the printed size: the guesses lie near the gaps, and do not follow them."""
    told = threshold(guesses([0.0] * 20, follows=0.0))
    assert told.threshold_mm is None
    assert threshold(guesses([0.0] * 20, follows=-1.0)).threshold_mm is None
    # Half-way to the leaf is no less felt: a steady hand that dares little.
    daring, timid = guesses([0.004, -0.004] * 10), guesses([0.002, -0.002] * 10, follows=0.5)
    assert threshold(timid).threshold_mm == pytest.approx(threshold(daring).threshold_mm)


def test_it_is_what_such_a_hand_tells_apart_three_times_in_four():
    """Two gaps a threshold apart, guessed by a hand drawn here: in order in 75 per cent."""
    hand = random.Random(5)  # noqa: S311
    told = threshold(guesses([hand.gauss(0, 0.012) for _ in range(20)]))
    spread = told.threshold_mm / SURE
    right = sum(
        hand.gauss(0.25 + told.threshold_mm, spread) > hand.gauss(0.25, spread)
        for _ in range(20_000)
    )
    assert right / 20_000 == pytest.approx(0.75, abs=0.01)


def covered(draw, times=1000):
    """How often the interval holds the threshold of a hand, on gaps as they are dealt."""
    hand, inside = random.Random(11), 0  # noqa: S311
    for at in range(times):
        dealt = [deal_blind(20 * at + one) for one in range(20)]
        own = [
            BlindGuess(one.leaf_um / 1000, one.gap_mm, one.gap_mm + 0.003 + draw(hand), True)
            for one in dealt
        ]
        told = threshold(own)
        inside += (told.low_mm or 0) <= SURE * 0.01 <= (told.high_mm or math.inf)
    return inside / times


def heavy(hand):
    """Student's t of three degrees, scaled to a deviation of 0.01 mm (that of t is √3)."""
    chi2 = sum(hand.gauss(0, 1) ** 2 for _ in range(3))
    return 0.01 / math.sqrt(3) * hand.gauss(0, 1) / math.sqrt(chi2 / 3)


def test_its_interval_holds_the_truth_nineteen_times_in_twenty():
    assert covered(lambda hand: hand.gauss(0, 0.01)) == pytest.approx(0.95, abs=0.02)


def test_of_heavy_tails_it_holds_it_less_often_as_is_stated():
    """docs/decisions.md says so: about three hands in four."""
    assert covered(heavy) == pytest.approx(0.75, abs=0.05)


def test_only_the_last_twenty_count_and_few_say_nothing():
    assert threshold(guesses([0.01, -0.01] * 3)) is None
    clumsy, steady = [0.1, -0.1] * 10, [0.002, -0.002] * 10
    assert threshold(guesses(clumsy + steady)) == threshold(guesses(steady))


def test_a_guess_is_held_against_the_gap_that_was_dealt():
    assert guess_of(Blind(250, 0.262), Feel.DRAG, "0.26") == (0.25, 0.262, 0.26, True)
