"""Blind feel: a leaf pushed in and drawn, what was felt named and the gap guessed, then seen.

Twenty of them give a hand's own threshold: how far two gaps must lie apart for it to tell them
apart three times in four. After signal detection theory (Green and Swets 1966, from memory): where
guesses scatter by s about the gap, the difference of two of them scatters by √2 s, and their order
is right with probability Φ(d / (√2 s)); that is three in four at d = 0.6745 √2 s. The interval is
that of the scatter (χ² with n − 1 degrees of freedom).
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
    gap_mm: float
    guessed_mm: float
    right_word: bool


class Threshold(NamedTuple):
    """Of the last guesses: off_mm is their mean error (below zero: guessed too small), threshold_mm
    how far two gaps must lie apart to be told apart three times in four, with its interval."""

    tries: int
    words_right: int
    off_mm: float
    threshold_mm: float
    low_mm: float
    high_mm: float


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
    errors = [one.guessed_mm - one.gap_mm for one in last]
    from scipy.special import chdtri  # slow to load, and needed here alone

    spread = statistics.stdev(errors)
    apart = statistics.NormalDist().inv_cdf(SURE) * math.sqrt(2)
    free = len(errors) - 1
    low, high = (spread * math.sqrt(free / float(chdtri(free, tail))) for tail in (0.025, 0.975))
    return Threshold(
        len(errors),
        sum(one.right_word for one in last),
        statistics.fmean(errors),
        apart * spread,
        apart * low,
        apart * high,
    )


def guess_of(blind: Blind, named: Feel, guessed_mm: Decimal) -> BlindGuess:
    return BlindGuess(blind.gap_mm, float(guessed_mm), is_right_word(blind, named))
