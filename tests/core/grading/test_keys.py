"""Keys from several passes, against hand figures and NumPy."""

import math
from decimal import Decimal

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from valvetrain.grading.keys import PassesError, pool_passes

D = Decimal


def test_two_passes_by_hand():
    """0.30 and 0.32, 0.25 and 0.25: squares 0.0002 over two degrees of freedom, so one pass has
    0.01; the mean of two has 0.01 / sqrt 2, with 0.005 of the leaf 0.00866; doubled 0.0173."""
    pooled = pool_passes({1: [D("0.30"), D("0.32")], 2: [D("0.25"), D("0.25")]})
    assert pooled.spread_mm == pytest.approx(0.01)
    assert pooled.gaps[1] == (D("0.3100"), D("0.0173"), 2, D("0.02"), False)
    assert pooled.gaps[2].uncertainty_mm == D("0.0173")


def test_one_pass_is_known_as_well_as_a_leaf_is():
    pooled = pool_passes({1: [D("0.30")]})
    assert pooled.spread_mm is None
    assert pooled.gaps[1] == (D("0.3000"), D("0.0100"), 1, D(0), False)


def test_passes_too_far_apart_are_told():
    pooled = pool_passes({1: [D("0.30"), D("0.35")], 2: [D("0.30"), D("0.34")]})
    assert (pooled.gaps[1].apart, pooled.gaps[2].apart) == (True, False)


@pytest.mark.parametrize("passes", [[], [D("0.3")] * 13])
def test_passes_of_which_no_key_can_be_made(passes):
    with pytest.raises(PassesError, match="valve 4"):
        pool_passes({4: passes})


gap = st.decimals("0.05", "1", places=2)


@given(st.lists(st.lists(gap, min_size=1, max_size=6), min_size=1, max_size=12))
def test_the_spread_is_that_of_a_one_way_analysis(valves):
    """NumPy's sums of squares within groups, over their degrees of freedom."""
    pooled = pool_passes(dict(enumerate(valves, 1)))
    within = sum(len(v) * np.var([float(x) for x in v]) for v in valves)
    degrees = sum(len(v) - 1 for v in valves)
    if degrees == 0:
        assert pooled.spread_mm is None
        return
    assert pooled.spread_mm == pytest.approx(math.sqrt(within / degrees), abs=1e-9)
    for valve, passes in enumerate(valves, 1):
        told = pooled.gaps[valve]
        assert min(passes) <= told.gap_mm <= max(passes)
        assert told.uncertainty_mm >= D("0.0100")
