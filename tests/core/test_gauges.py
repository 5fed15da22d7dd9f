"""Leaves: what tries prove, which leaf settles most, stacks against brute force."""

import itertools
import math
from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from valvetrain.gauges import (
    TOLERANCES,
    Feel,
    GaugeError,
    LeafTry,
    Spec,
    best_stack,
    fine_leaves,
    leaves_uncertainty_mm,
    read_gap,
    thou_leaves,
)

SPEC = Spec(Decimal("0.22"), Decimal("0.28"))


def tries(text):
    return [
        LeafTry(Decimal(leaf), Feel(feel))
        for leaf, feel in (part.split("=") for part in text.split())
    ]


@pytest.mark.parametrize(
    ("text", "low", "high", "verdict"),
    [
        # Common practice: the smallest allowed leaf must enter, the next size above the
        # largest allowed must not.
        ("", "0", None, "undecided"),
        ("0.22=drag", "0.22", None, "undecided"),
        ("0.22=free 0.28=no", "0.22", "0.28", "within"),
        ("0.22=no", "0", "0.22", "tight"),
        ("0.22=tight", "0", "0.22", "tight"),
        ("0.20=no", "0", "0.20", "tight"),
        ("0.28=free", "0.28", None, "loose"),
        ("0.28=drag", "0.28", None, "undecided"),
        ("0.29=drag", "0.29", None, "loose"),
        ("0.28=drag 0.29=no", "0.28", "0.29", "undecided"),
        ("0.25=drag 0.26=tight 0.20=free 0.30=no", "0.25", "0.26", "within"),
        ("0.27=drag 0.25=no", "0.27", "0.25", "contradictory"),
        ("0.22=drag 0.22=tight", "0.22", "0.22", "within"),
    ],
)
def test_what_tries_prove(text, low, high, verdict):
    reading = read_gap(tries(text), SPEC)
    assert reading.low_mm == Decimal(low)
    assert reading.high_mm == (None if high is None else Decimal(high))
    assert reading.verdict == verdict


@pytest.mark.parametrize(
    ("text", "verdict"),
    [
        # ISO 14253-1, decision rules with guard bands of U (from memory; U = 0.02): conforming
        # only inside 0.24 to 0.26, non-conforming only outside 0.20 to 0.30.
        ("0.24=drag 0.26=tight", "within"),
        ("0.23=drag 0.26=tight", "undecided"),
        ("0.24=drag 0.27=tight", "undecided"),
        ("0.21=no", "undecided"),
        ("0.20=no", "tight"),
        ("0.29=free", "undecided"),
        ("0.30=free", "loose"),
        ("0.31=drag", "loose"),
    ],
)
def test_uncertainty_narrows_and_widens(text, verdict):
    assert read_gap(tries(text), SPEC, uncertainty=by("0.02")).verdict == verdict


@pytest.mark.parametrize(
    ("text", "estimate"),
    [
        ("0.20=free", None),
        ("0.20=free 0.30=no", "0.25"),
        ("0.24=drag", "0.25"),
        ("0.24=drag 0.30=no", "0.25"),
        ("0.24=drag 0.25=no", "0.245"),
        ("0.24=drag 0.26=tight", "0.25"),
        ("0.20=free 0.30=tight", "0.29"),
        ("0.30=drag 0.20=no", None),
    ],
)
def test_the_feel_gives_the_estimate(text, estimate):
    told = read_gap(tries(text), SPEC).estimate_mm
    assert told == (None if estimate is None else Decimal(estimate))


def test_a_limit_is_tried_first_and_then_the_other():
    first = read_gap([], SPEC).next_leaf_mm
    assert first == SPEC.min_mm
    then = read_gap(tries("0.22=free"), SPEC).next_leaf_mm
    assert then == SPEC.max_mm
    assert read_gap(tries("0.22=free 0.28=no"), SPEC).next_leaf_mm is None


def test_no_leaf_left_between_is_said():
    reading = read_gap(tries("0.20=free 0.25=no"), SPEC, [Decimal("0.20"), Decimal("0.25")])
    assert (reading.verdict, reading.next_leaf_mm) == ("undecided", None)
    assert "no leaf in the box" in reading.says


hundredths = st.integers(3, 60).map(lambda n: Decimal(n) / 100)


@given(gap=st.decimals("0.02", "0.62", places=3), width=st.integers(0, 6), low=hundredths)
def test_following_the_advice_comes_to_a_right_verdict(gap, width, low):
    """With a hand that never errs, the advice ends, and what it says is true of the gap."""
    spec = Spec(low, low + Decimal(width) / 100)
    done = []
    for _ in range(70):
        reading = read_gap(done, spec)
        if reading.next_leaf_mm is None:
            break
        leaf = reading.next_leaf_mm
        feel = Feel.FREE if gap > leaf else Feel.DRAG if gap == leaf else Feel.NO
        done.append(LeafTry(leaf, feel))
    reading = read_gap(done, spec)
    assert reading.low_mm <= gap
    assert reading.high_mm is None or gap <= reading.high_mm
    if reading.verdict == "within":
        assert spec.min_mm <= gap <= spec.max_mm
    if reading.verdict == "tight":
        assert gap <= spec.min_mm
    if reading.verdict == "loose":
        assert gap > spec.max_mm
    assert reading.verdict != "contradictory"


@given(
    st.lists(st.tuples(hundredths, st.sampled_from(Feel)), max_size=8),
    st.decimals("0", "0.05", places=3),
)
def test_more_uncertainty_never_proves_more(felt, u):
    done = [LeafTry(*pair) for pair in felt]
    sure = read_gap(done, SPEC).verdict
    unsure = read_gap(done, SPEC, uncertainty=by(u)).verdict
    assert sure == "contradictory" or unsure in (sure, "undecided")


def by(u):
    """The same uncertainty for every leaf."""
    return lambda _leaf_mm: Decimal(u)


@pytest.mark.parametrize(
    ("text", "verdict"),
    [
        # A leaf that proves nothing of the limit takes no proof away, however uncertain it is:
        # 0.28 - 0.008 and 0.22 + 0.008 by the leaves that give the bounds.
        ("0.23=drag 0.27=no", "within"),
        ("0.23=drag 0.27=no 1.00=no", "within"),
        ("0.23=drag 0.27=no 0.10=free", "within"),
        ("0.18=no 1.00=no", "tight"),
    ],
)
def test_each_bound_has_the_uncertainty_of_its_own_leaf(text, verdict):
    assert read_gap(tries(text), SPEC, uncertainty=lambda leaf: leaf * Decimal("0.03")).verdict == (
        verdict
    )


def test_leaves_contradict_only_beyond_what_they_are_known_to():
    text = "0.25=drag 0.245=tight"
    assert read_gap(tries(text), SPEC).verdict == "contradictory"
    # 0.25 - 0.01 is less than 0.245 + 0.01: a gap of 0.247 allows both.
    told = read_gap(tries(text), SPEC, uncertainty=by("0.01"))
    assert told.verdict == "within"
    assert "near 0.245 to 0.25 mm" in told.says
    assert read_gap(tries(text), SPEC, uncertainty=by("0.002")).verdict == "contradictory"


def test_a_leaf_finer_than_is_counted_is_refused():
    with pytest.raises(GaugeError, match=r"0\.000004 mm; the finest"):
        best_stack([Decimal("0.000004")], Decimal("0.1"))


SINGLE = Spec(Decimal("0.13"), Decimal("0.17"), nominal_mm=Decimal("0.15"))
"""0.15 printed without a tolerance, in a shop that allows 0.02 either way."""


@pytest.mark.parametrize(
    ("box", "text", "verdict"),
    [
        # Common practice for a single figure: the nominal leaf drags, the next one does not go.
        ("0.10 0.15 0.20", "0.15=drag 0.20=no", "within"),
        ("0.10 0.15 0.20", "0.15=drag 0.20=tight", "within"),
        # The next leaf but one proves nothing while the next was not tried.
        ("0.10 0.15 0.20 0.25", "0.15=drag 0.25=no", "undecided"),
        # A nominal leaf that falls through is no proof.
        ("0.10 0.15 0.20", "0.15=free 0.20=no", "undecided"),
        # By the shop's tolerance as by any other.
        ("", "0.13=drag 0.17=no", "within"),
        ("", "0.13=no", "tight"),
        ("", "0.18=drag", "loose"),
        ("", "0.145=drag 0.15=no", "within"),
        ("0.10 0.15 0.20", "0.15=drag 0.20=no 0.10=no", "contradictory"),
    ],
)
def test_one_figure_is_proved_by_its_leaf_and_the_next(box, text, verdict):
    leaves = [Decimal(leaf) for leaf in box.split()] or None
    assert read_gap(tries(text), SINGLE, leaves).verdict == verdict


def test_one_figure_is_felt_first_and_then_the_leaf_beyond_it():
    box = [Decimal(leaf) for leaf in ("0.10", "0.15", "0.20", "0.25")]
    assert read_gap([], SINGLE, box).next_leaf_mm == Decimal("0.15")
    assert read_gap(tries("0.15=drag"), SINGLE, box).next_leaf_mm == Decimal("0.20")
    assert "next leaf in the box" in read_gap(tries("0.15=drag 0.20=no"), SINGLE, box).says


def test_refusals_say_what_was_given():
    with pytest.raises(GaugeError, match=r"the spec is 0\.3 to 0\.2 mm"):
        read_gap([], Spec(Decimal("0.3"), Decimal("0.2")))
    with pytest.raises(GaugeError, match="uncertainty is -1 mm"):
        read_gap([], SPEC, uncertainty=by(-1))
    with pytest.raises(GaugeError, match="a leaf is 0 mm thick"):
        read_gap([LeafTry(Decimal(0), Feel.NO)], SPEC)


def test_leaves_of_the_usual_boxes():
    assert fine_leaves()[0] == Decimal("0.03")
    assert fine_leaves()[-1] == 1
    assert thou_leaves()[9] == Decimal("0.254")


def test_uncertainty_of_a_stack_after_the_guide():
    """JCGM 100:2008, 4.3.7 and 5.1.2: rectangles a/√3, added as squares; k = 2 (6.3.3).

    Two leaves of tolerance 0.003 and 0.004: u = √(9 + 16)/√3 µm, U = 2 u = 5.7735 µm.
    """
    shop = TOLERANCES["shop"]
    made = shop._replace(fixed_mm=Decimal(0), share=Decimal("0.01"))
    stacked = leaves_uncertainty_mm([Decimal("0.30"), Decimal("0.40")], made)
    assert stacked == pytest.approx(0.0057735, abs=1e-7)
    assert leaves_uncertainty_mm([Decimal("0.30")], TOLERANCES["none"]) == 0
    # A single leaf is never further off than its tolerance: 2 x 0.019/√3 = 0.0219 would be.
    assert math.isclose(leaves_uncertainty_mm([Decimal(1)], shop), 0.019)


def test_the_stack_of_common_practice():
    """0.20 + 0.08 for a missing 0.28 (common practice)."""
    box = [Decimal(x) for x in ("0.05", "0.08", "0.10", "0.15", "0.20", "0.25")]
    stack = best_stack(box, Decimal("0.28"))
    assert stack.leaves_mm == (Decimal("0.20"), Decimal("0.08"))
    assert stack.error_mm == 0


@given(
    st.lists(st.integers(3, 40), min_size=1, max_size=7),
    st.integers(1, 90),
    st.one_of(st.none(), st.integers(1, 4)),
)
def test_stacks_against_every_combination(hundredth, target, most):
    box = [Decimal(n) / 100 for n in hundredth]
    stack = best_stack(box, Decimal(target) / 100, most)
    best = min(
        (abs(sum(some) - target), len(some))
        for count in range(1, (most or len(box)) + 1)
        for some in itertools.combinations(hundredth, count)
    )
    assert (abs(stack.error_mm) * 100, len(stack.leaves_mm)) == best
    assert sum(stack.leaves_mm) == stack.total_mm
    left = list(box)
    for leaf in stack.leaves_mm:
        left.remove(leaf)


def test_mixed_units_stack_exactly():
    box = [*(n * Decimal("0.0254") for n in (2, 3, 5, 10)), Decimal("0.05"), Decimal("0.13")]
    stack = best_stack(box, Decimal("0.184"))
    assert stack.total_mm == Decimal("0.1840") - abs(stack.error_mm) or stack.error_mm > 0
    every = [
        abs(sum(some) - Decimal("0.184"))
        for count in range(1, len(box) + 1)
        for some in itertools.combinations(box, count)
    ]
    assert abs(stack.error_mm) == min(every)


@pytest.mark.parametrize(
    ("box", "target", "most", "says"),
    [
        ([], "0.2", None, "no leaves"),
        (["0.1"], "0", None, "a length is 0 mm"),
        (["0.1"], "6", None, "at most 5 mm"),
        (["-0.1"], "0.2", None, r"a length is -0\.1"),
        (["0.1"], "0.2", 0, "at least one leaf"),
        (["0.1"] * 101, "0.2", None, "101 leaves"),
    ],
)
def test_stacks_refused(box, target, most, says):
    with pytest.raises(GaugeError, match=says):
        best_stack([Decimal(leaf) for leaf in box], Decimal(target), most)


def test_with_an_uncertainty_the_shop_s_proof_of_one_figure_is_no_proof():
    """0.15 drags and 0.16 does not go: within 0.13 to 0.17 as shops prove it. With U = 0.03 the
    guard bands leave nothing of that spec."""
    spec = Spec(Decimal("0.13"), Decimal("0.17"), Decimal("0.15"))
    tries = [LeafTry(Decimal("0.15"), Feel.DRAG), LeafTry(Decimal("0.16"), Feel.NO)]
    assert read_gap(tries, spec).verdict == "within"
    assert read_gap(tries, spec, uncertainty=lambda _leaf: Decimal("0.03")).verdict == "undecided"
