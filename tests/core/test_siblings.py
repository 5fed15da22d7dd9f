"""Valves that run away from their siblings: found, honest ones left alone. Rates by simulation."""

import math

import numpy as np
import pytest
from scipy.stats import t as student

from tests.core.conftest import engine_firing
from valvetrain.engine import Role
from valvetrain.gauges import Spec
from valvetrain.siblings import _log_t, look_for, odd_ones
from valvetrain.trend import LogLook, trend
from valvetrain.trend_words import says

SPECS = dict.fromkeys(range(1, 9), Spec(0.05, 0.6))
ROLES = {valve: "exhaust" if valve in (1, 4, 5, 8) else "intake" for valve in range(1, 9)}


def year(rng, *, odd=None, runs_um=0.0, visits=8):
    """A year of an eight-valve engine: wear alike within a role to about a third (common
    practice), hands that repeat to 0.008 mm, one adjustment."""
    looks = []
    for valve, role in ROLES.items():
        usual = -6.0 if role == "exhaust" else -3.0
        rate = usual * float(rng.lognormal(0, 0.3)) + (runs_um if valve == odd else 0)
        level, since = 0.3, 0.0
        for visit in range(visits):
            hours = visit * 70.0
            gap = level + rate * 1e-5 * (hours - since) + float(rng.normal(0, 0.008))
            left = None
            if visit == visits // 2:
                level, since, left = 0.3, hours, 0.3 + float(rng.normal(0, 0.008))
            looks.append(LogLook(len(looks) + 2, hours, valve, gap, left))
    return looks


def named(looks):
    return [one.valve for one in odd_ones(trend(looks, SPECS).valves, ROLES)]


def test_honest_engines_are_rarely_accused():
    """Of 300 engines on which nothing is wrong one valve is named in 2 % at most."""
    rng = np.random.default_rng(11)
    accused = sum(bool(named(year(rng))) for _ in range(300))
    assert accused / 300 <= 0.02


def test_a_receding_valve_is_found():
    """Five times its siblings' rate within a year: found in three of four at least."""
    rng = np.random.default_rng(12)
    found = [named(year(rng, odd=4, runs_um=-26.0)) for _ in range(100)]
    assert sum(4 in one for one in found) >= 75
    assert sum(set(one) > {4} for one in found) <= 3


def test_a_second_odd_one_does_not_hide_the_first():
    rng = np.random.default_rng(13)
    looks = year(rng, odd=4, runs_um=-60.0)
    worse = [
        look._replace(gap_mm=look.gap_mm + 6e-4 * look.hours) if look.valve == 8 else look
        for look in looks
    ]
    odd = odd_ones(trend(worse, SPECS).valves, dict.fromkeys(range(1, 9), "valve"))
    assert {(one.valve, one.way) for one in odd} >= {(4, "tight"), (8, "loose")}


def test_of_two_that_differ_nobody_can_tell():
    looks = [look for look in year(np.random.default_rng(1), odd=4, runs_um=-90) if look.valve < 5]
    two = [look for look in looks if ROLES[look.valve] == "exhaust"]
    assert named(two) == []


def test_without_a_degree_of_freedom_nobody_is_odd():
    looks = [LogLook(2, h, v, 0.3 - h * v * 1e-5) for v in (1, 2, 3, 4) for h in (0, 100)]
    assert odd_ones(trend(looks, SPECS).valves, {}) == ()


@pytest.mark.parametrize("freedom", [3, 12, 60])
def test_the_density_is_students(freedom):
    """Against SciPy: differences of log densities of one freedom."""
    told = _log_t(2.1, 0.7, freedom) - _log_t(2.1, 3.0, freedom)
    scipy = student.logpdf(2.1, freedom, scale=0.7) - student.logpdf(2.1, freedom, scale=3.0)
    assert told == pytest.approx(scipy, rel=1e-12)
    assert math.isfinite(told)


def test_it_is_said_with_what_to_look_for():
    engine = engine_firing((1, 3, 4, 2))
    found = trend(year(np.random.default_rng(2), odd=4, runs_um=-60.0), SPECS)
    told = says(found, odd_ones(found.valves, ROLES), engine)
    words = next(one for one in told if "runs away" in one)
    assert words.startswith("Exhaust 4 runs away from its siblings")
    assert "receding seat" in words
    assert "push rod" in look_for(
        engine_firing((1,), valve_train="pushrod-rocker"), Role.INTAKE, "loose"
    )
    bucket = engine_firing((1,), valve_train="bucket")
    assert "rocker" not in look_for(bucket, Role.INTAKE, "loose")
