"""Keys from several passes, against hand figures and NumPy."""

import math
from decimal import Decimal

import numpy as np
import pytest
import scipy.stats
from hypothesis import given
from hypothesis import strategies as st

from valvetrain.grading.constants import APART_MM
from valvetrain.grading.keys import PassesError, pool_passes

D = Decimal


def test_two_passes_by_hand():
    """0.30 and 0.32, 0.25 and 0.25: squares 0.0002 over two degrees of freedom, so one pass has
    0.01; the mean of two has 0.01 / sqrt 2, with 0.005 of the leaf 0.00866. Effective degrees of
    freedom 2 x (0.00866 / 0.00707)^4 = 4.5; t lies between 2.78 (4) and 2.57 (5) of GUM's table
    G.2, at 2.66: 0.0230."""
    pooled = pool_passes({1: [D("0.30"), D("0.32")], 2: [D("0.25"), D("0.25")]})
    assert pooled.spread_mm == pytest.approx(0.01)
    assert pooled.gaps[1] == (D("0.3100"), D("0.0230"), 2, D("0.02"), False)
    assert pooled.gaps[2].uncertainty_mm == D("0.0230")


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
    """NumPy's sums of squares within groups, over their degrees of freedom, of what agrees."""
    pooled = pool_passes(dict(enumerate(valves, 1)))
    agree = [v for v in valves if max(v) - min(v) <= APART_MM]
    within = sum(len(v) * np.var([float(x) for x in v]) for v in agree)
    degrees = sum(len(v) - 1 for v in agree)
    if degrees == 0:
        assert pooled.spread_mm is None
        return
    assert pooled.spread_mm == pytest.approx(math.sqrt(within / degrees), abs=1e-9)
    for valve, passes in enumerate(valves, 1):
        told = pooled.gaps[valve]
        assert min(passes) <= told.gap_mm <= max(passes)
        assert told.uncertainty_mm >= D("0.0100")


@pytest.mark.parametrize(("passes", "t"), [(2, 12.706), (3, 4.303), (6, 2.571)])
def test_few_passes_are_expanded_by_students_t(passes, t):
    """Table G.2 of the GUM, two sides, 95 %: 1, 2 and 5 degrees of freedom. A spread far above a
    leaf's own uncertainty leaves the degrees as they are."""
    gaps = [D("0.30"), D("0.34")] * 3
    pooled = pool_passes({1: gaps[:passes]})
    of_mean = pooled.spread_mm / math.sqrt(passes)
    u = math.hypot(of_mean, 0.005)
    effective = (passes - 1) * (u / of_mean) ** 4
    assert float(pooled.gaps[1].uncertainty_mm) == pytest.approx(
        scipy.stats.t.ppf(0.975, effective) * u, abs=1e-4
    )
    assert float(pooled.gaps[1].uncertainty_mm) <= t * u


def test_many_passes_are_expanded_by_two():
    valves = {valve: [D("0.30"), D("0.31"), D("0.29")] for valve in range(1, 25)}
    told = pool_passes(valves)
    u = math.hypot(told.spread_mm / math.sqrt(3), 0.005)
    assert float(told.gaps[1].uncertainty_mm) == pytest.approx(2 * u, abs=1e-3)


@given(
    st.lists(st.lists(st.decimals("0.28", "0.32", places=2), min_size=3, max_size=3), min_size=2,
             max_size=12),
    st.decimals("0.5", "1", places=2),
)  # fmt: skip
def test_one_slip_makes_no_other_valve_s_key_worse(valves, slip):
    """0.75 for 0.25 in one pass of the first valve: by the others nobody is marked more mildly
    than if that valve had not been measured."""
    with_slip = {1: [*valves[0][:2], slip], **dict(enumerate(valves[1:], 2))}
    told = pool_passes(with_slip)
    assert told.apart == (1,)
    without = pool_passes(dict(enumerate(valves[1:], 2)))
    for valve in without.gaps:
        assert told.gaps[valve] == without.gaps[valve]
