"""Blind feel: a leaf pushed in and drawn, what was felt named and the gap guessed, then seen.

Twenty of them give a hand's own threshold: how far two gaps must lie apart for it to tell them
apart three times in four. What counts is how the guesses follow the gap, and not how near they
come: the leaf's size is printed on it, and whoever always writes that has felt nothing. With x the
gap less the leaf and y the guess less the leaf, y = a + b x + noise of deviation s by least
squares, the order of two gaps that lie d apart is right with probability Φ(b d / (√2 s)) (signal
detection theory: Green and Swets 1966, from memory). That is three in four at d = 0.6745 √2 s / b.

The interval is exact for normal noise: b √Sxx / s of the sample is noncentral t with n − 2 degrees
of freedom about the true one. How often it holds the truth of errors with heavy tails is stated in
docs/decisions.md.
"""

import math
import random
import statistics
from collections.abc import Sequence
from decimal import Decimal
from typing import NamedTuple

from valvetrain.gauges import Feel
from valvetrain.practice.constants import (
    BLIND_BEYOND_MM,
    BLIND_LEAST,
    BLIND_LEAVES_UM,
    BLIND_TRIES,
    DRAG_MM,
    FORCED_MM,
    HAND_MM,
    LEAST_SPREAD_MM,
    SAME_GAPS_MM,
    SURE,
)
from valvetrain.practice.measuring import feel_of


class Blind(NamedTuple):
    """One gap with a leaf to it; gap_mm is not told before it is guessed."""

    leaf_um: int
    gap_mm: float


class BlindPush(NamedTuple):
    """One push of the leaf: how hard it is held (0 to 1), and whether it is in."""

    pull: float
    is_in: bool


class BlindGuess(NamedTuple):
    leaf_mm: float
    gap_mm: float
    guessed_mm: float
    right_word: bool


class Threshold(NamedTuple):
    """Of the last guesses: off_mm is their mean error (below zero: guessed too small), threshold_mm
    how far two gaps must lie apart to be told apart three times in four, with its interval.
    threshold_mm is None where the guesses do not follow the gap, high_mm where they may not."""

    tries: int
    words_right: int
    off_mm: float
    threshold_mm: float | None
    low_mm: float | None
    high_mm: float | None


def deal_blind(seed: int) -> Blind:
    """A gap near a leaf, so that it is held, or just not: there is something to feel."""
    chance = random.Random(f"blind {seed}")  # noqa: S311 (dealt to be dealt again)
    leaf_um = chance.randrange(*BLIND_LEAVES_UM)
    spare_mm = chance.uniform(-FORCED_MM - BLIND_BEYOND_MM, DRAG_MM + BLIND_BEYOND_MM)
    return Blind(leaf_um, round(leaf_um / 1000 + spare_mm, 3))


def push_blind(blind: Blind, seed: int, times: int) -> BlindPush:
    """What a hand feels at its push number times: never quite the same."""
    chance = random.Random(f"push {seed} {times}")  # noqa: S311 (a hand, no secret)
    spare_mm = blind.gap_mm - blind.leaf_um / 1000 + chance.gauss(0.0, HAND_MM)
    feel, pull = feel_of(spare_mm)
    return BlindPush(pull, feel != "no")


def word_of(blind: Blind) -> Feel:
    """What such a leaf is called, by a hand that never shakes."""
    return Feel(feel_of(blind.gap_mm - blind.leaf_um / 1000)[0])


def is_right_word(blind: Blind, named: Feel) -> bool:
    """The word, or its neighbour where the gap lies so near that no hand tells."""
    spare_mm = blind.gap_mm - blind.leaf_um / 1000
    return named in {Feel(feel_of(spare_mm + off)[0]) for off in (-HAND_MM, 0.0, HAND_MM)}


def threshold(guesses: Sequence[BlindGuess]) -> Threshold | None:
    """Of the last BLIND_TRIES; None of fewer than BLIND_LEAST."""
    last = guesses[-BLIND_TRIES:]
    if len(last) < BLIND_LEAST:
        return None
    from scipy.special import nctdtrinc  # slow to load, and needed here alone

    felt = [one.gap_mm - one.leaf_mm for one in last]
    said = [one.guessed_mm - one.leaf_mm for one in last]
    middle, free = statistics.fmean(felt), len(last) - 2
    reach = math.sqrt(math.fsum((x - middle) ** 2 for x in felt))
    if reach < SAME_GAPS_MM:
        return None
    line = statistics.linear_regression(felt, said)
    rest = math.fsum(
        (y - line.intercept - line.slope * x) ** 2 for x, y in zip(felt, said, strict=True)
    )
    spread = max(math.sqrt(rest / free), LEAST_SPREAD_MM)
    apart = statistics.NormalDist().inv_cdf(SURE) * math.sqrt(2) * reach
    # How surely the guesses follow the gap, and between what that lies.
    follows = line.slope * reach / spread
    least, most = (float(nctdtrinc(free, tail, follows)) for tail in (0.975, 0.025))
    at, low, high = (apart / one if one > 0 else None for one in (follows, most, least))
    return Threshold(
        len(last),
        sum(one.right_word for one in last),
        statistics.fmean(one.guessed_mm - one.gap_mm for one in last),
        at,
        low,
        high,
    )


def guess_of(blind: Blind, named: Feel, guessed_mm: Decimal) -> BlindGuess:
    return BlindGuess(
        blind.leaf_um / 1000, blind.gap_mm, float(guessed_mm), is_right_word(blind, named)
    )
