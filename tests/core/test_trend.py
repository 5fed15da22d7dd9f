"""Wear from a log: against statsmodels, worked examples by hand, and what a log cannot hold."""

import json
import math
import random
from decimal import Decimal

import numpy as np
import pytest
import statsmodels.api as sm

from tests.core.conftest import engine_document
from valvetrain.calculator import main
from valvetrain.gauges import Spec
from valvetrain.trend import LogLook, TrendError, trend
from valvetrain.trend_words import says

SPEC = Spec(Decimal("0.15"), Decimal("0.30"))
SPECS = dict.fromkeys(range(1, 25), SPEC)


def worn(rng, valve=1, visits=12, rate=-5e-5, scatter=0.006, set_at=(4, 9)):
    """A valve's log as wear and a hand make it: adjusted to 0.25 at some visits."""
    level, begun = 0.25, 0.0
    looks = []
    for visit in range(visits):
        hours = visit * 60.0 + float(rng.uniform(0, 30))
        gap = level + rate * (hours - begun) + float(rng.normal(0, scatter))
        left = None
        if visit in set_at:
            level, begun = 0.25, hours
            left = level + float(rng.normal(0, scatter))
        looks.append(LogLook(visit + 2, hours, valve, gap, left))
    return looks


def by_statsmodels(looks):
    """Ordinary least squares with an indicator for each stretch: statsmodels 0.14 and later."""
    points, stretch = [], 0
    for look in looks:
        points.append((stretch, look.hours, look.gap_mm))
        if look.left_mm is not None:
            stretch += 1
            points.append((stretch, look.hours, look.left_mm))
    of = np.array([[s == one for one in range(stretch + 1)] + [h] for s, h, _ in points], float)
    fit = sm.OLS(np.array([gap for *_, gap in points]), of).fit()
    return fit.params[-1], fit.conf_int(alpha=0.05)[-1], fit


@pytest.mark.parametrize("seed", range(20))
def test_rate_and_interval_are_those_of_statsmodels(seed):
    rng = np.random.default_rng(seed)
    looks = worn(rng, rate=float(rng.normal(0, 8e-5)), visits=int(rng.integers(11, 30)))
    found = trend(looks, SPECS).valves[0]
    rate, interval, fit = by_statsmodels(looks)
    told = (found.rate_um_per_100h, found.rate_low, found.rate_high)
    assert told == pytest.approx([one * 1e5 for one in (rate, *interval)], rel=1e-9)
    assert found.dof == fit.df_resid
    assert found.scatter_mm == pytest.approx(math.sqrt(fit.mse_resid), rel=1e-9)


def test_its_drawn_lines_are_the_fitted_values_of_statsmodels():
    looks = worn(np.random.default_rng(3))
    *_, fit = by_statsmodels(looks)
    ends = [end for line in trend(looks, SPECS).valves[0].stretches for end in (line[1], line[3])]
    fitted = list(fit.fittedvalues)
    # Stretches of 5 (to the adjustment), 6 and 3 points.
    assert ends == pytest.approx([fitted[at] for at in (0, 4, 5, 10, 11, 13)], rel=1e-9)


def test_worked_by_hand():
    """0.25, 0.24, 0.235 at 0, 100, 200 h, then set to 0.26; 0.252 and 0.245 at 300 and 400 h.

    About their means: S_xx = 20 000 twice, S_xy = -1.5 and -1.5; so -3 / 40 000 mm an hour, that
    is -7.5 µm in 100 h; from 0.245 to 0.15 mm it takes 1266.7 h.
    """
    looks = [
        LogLook(2, 0, 1, 0.25),
        LogLook(3, 100, 1, 0.24),
        LogLook(4, 200, 1, 0.235, 0.26),
        LogLook(5, 300, 1, 0.252),
        LogLook(6, 400, 1, 0.245),
    ]
    found = trend(looks, SPECS).valves[0]
    assert found.rate_um_per_100h == pytest.approx(-7.5)
    assert (found.side, found.last_mm, found.last_hours) == ("tight", 0.245, 400)
    assert found.expected_h == pytest.approx(400 + 0.095 / 7.5e-5)
    # Student's t, 3 degrees of freedom (six points, two levels, a rate), 95 %: 3.182 (handbooks).
    residuals = (2.5e-3 / 3, -5e-3 / 3, 2.5e-3 / 3, -0.5e-3 / 3, 1e-3 / 3, -0.5e-3 / 3)
    error = math.sqrt(sum(one**2 for one in residuals) / 3 / 40_000)
    assert found.rate_high - found.rate_um_per_100h == pytest.approx(3.182e5 * error, rel=1e-3)
    # The lower 95 % band of the last stretch (mean 0.252333 at 300 h, three points) meets 0.15 mm:
    # 0.252333 - 7.5e-5 d - 3.182 s sqrt(1/3 + d²/40 000) = 0.15, solved by halving.
    deviation = math.sqrt(sum(one**2 for one in residuals) / 3)

    def band_mm(hours):
        d = hours - 300
        return 0.757 / 3 - 7.5e-5 * d - 3.1824 * deviation * math.sqrt(1 / 3 + d**2 / 40_000)

    low, high = 400.0, 1666.0
    for _ in range(60):
        middle = (low + high) / 2
        low, high = (middle, high) if band_mm(middle) > 0.15 else (low, middle)
    assert found.soonest_h == pytest.approx(low, rel=1e-3)


SETTINGS = [
    (rate, sigma, looks)
    for rate in (-8e-5, 0.0, 4e-5)
    for sigma in (0.004, 0.01)
    for looks in (4, 8)
]
"""mm an hour, mm, looks: twelve kinds of engine."""


@pytest.mark.parametrize(("rate", "sigma", "looks"), SETTINGS)
def test_few_valves_leave_their_spec_before_the_soonest_hour(rate, sigma, looks):
    """A thousand engines of each kind, whose true wear is known: at most 4 in 100 may be out before
    the hour that was named. Source: simulation, which shares nothing with the code."""
    chance = random.Random(f"{rate} {sigma} {looks}")  # noqa: S311
    spec = Spec(Decimal("0.15"), Decimal("0.35"))
    early = named = 0
    for _ in range(1000):
        start = chance.uniform(0.22, 0.28)
        hours = [200.0 * n for n in range(looks)]
        read = [
            LogLook(2, h, 1, max(0.0, start + rate * h + chance.gauss(0, sigma))) for h in hours
        ]
        of = trend(read, {1: spec}).valves[0]
        limit = 0.15 if rate < 0 else 0.35
        out_at = (limit - start) / rate if rate else math.inf
        if of.soonest_h is None or of.is_outside or out_at < hours[-1]:
            continue  # nothing is named, or it was out before it was looked at
        named += 1
        early += out_at < of.soonest_h - 1e-6
    assert named > 150
    assert early <= 0.04 * named


def test_a_valve_that_is_out_says_on_which_side_and_when_it_is_back():
    """0.40 of 0.15 to 0.35 that closes by 10 µm in 100 h is in spec again 500 h later."""
    looks = [LogLook(2, 0, 1, 0.42), LogLook(3, 100, 1, 0.41), LogLook(4, 200, 1, 0.40)]
    of = trend(looks, {1: Spec(Decimal("0.15"), Decimal("0.35"))}).valves[0]
    assert (of.side, of.out_on, of.soonest_h) == ("loose", "loose", 200)
    assert of.back_in_h == pytest.approx(700)
    assert any("back in spec at 700 h" in one for one in says(trend(looks, {1: Spec(
        Decimal("0.15"), Decimal("0.35"))}), ()))  # fmt: skip


class TestWhatIsSaid:
    def test_one_look_says_nothing_of_a_rate(self):
        found = trend([LogLook(2, 100, 1, 0.2)], SPECS)
        of = found.valves[0]
        assert (of.rate_um_per_100h, of.rate_low, of.side, of.expected_h) == (None,) * 4
        assert found.next_look_h is None
        assert "Nothing can be said yet" in says(found, ())[-1]

    def test_two_looks_give_a_rate_without_an_interval(self):
        found = trend([LogLook(2, 100, 1, 0.2), LogLook(3, 200, 1, 0.19)], SPECS)
        of = found.valves[0]
        assert of.rate_um_per_100h == pytest.approx(-10)
        assert (of.rate_low, of.rate_high, of.soonest_h) == (None, None, None)
        assert of.expected_h == pytest.approx(600)
        assert found.next_look_h is None
        assert "two looks of a valve give a rate, but not how sure it is" in says(found, ())[-1]

    def test_two_passes_at_one_reading_of_the_meter_say_nothing_of_a_rate(self):
        of = trend([LogLook(2, 100, 1, 0.2), LogLook(3, 100, 1, 0.21)], SPECS).valves[0]
        assert (of.rate_um_per_100h, of.dof) == (None, 0)

    def test_a_gap_that_does_not_move_never_leaves_its_spec(self):
        of = trend([LogLook(2, hours, 1, 0.2) for hours in (0, 33, 100, 211)], SPECS).valves[0]
        assert (of.rate_um_per_100h, of.side, of.expected_h, of.soonest_h) == (0, None, None, None)

    def test_outside_already_is_now(self):
        found = trend([LogLook(2, 100.7, 1, 0.14), LogLook(3, 0, 2, 0.2)], SPECS)
        assert (found.valves[0].expected_h, found.valves[0].soonest_h) == (100.7, 100.7)
        assert (found.next_look_h, found.first) == (100, (1,))
        assert "Valve 1 is tight, outside the spec" in says(found, ())[0]

    def test_what_it_was_left_at_counts_where_it_was_adjusted(self):
        of = trend([LogLook(2, 100, 1, 0.14, 0.22)], SPECS).valves[0]
        assert (of.last_mm, of.expected_h) == (0.22, None)

    def test_never_later_than_the_makers_interval(self):
        looks = worn(np.random.default_rng(1), rate=-1e-6, scatter=0.0005)
        last = looks[-1].hours
        found = trend(looks, SPECS, every_hours=250)
        assert (found.next_look_h, found.first) == (math.floor(last + 250), ())
        assert "maker's interval" in says(found, (), now_h=last + 300)[0]
        assert "was due" in says(found, (), now_h=last + 300)[0]

    def test_sooner_than_the_makers_interval_where_the_wear_says_so(self):
        looks = worn(np.random.default_rng(1), rate=-8e-5, scatter=0.001)
        found = trend(looks, SPECS, every_hours=5000)
        of = found.valves[0]
        assert found.next_look_h == math.floor(of.soonest_h) < of.expected_h
        assert found.first == (1,)


class TestALogThatCannotBe:
    @pytest.mark.parametrize(
        ("looks", "line", "word"),
        [
            ([LogLook(2, 100, 1, 0.2), LogLook(3, 90, 1, 0.2)], 3, "hours never go back"),
            ([LogLook(2, 100, 99, 0.2)], 2, "not on this engine"),
            ([LogLook(2, -1, 1, 0.2)], 2, "no meter reading"),
            ([LogLook(2, math.nan, 1, 0.2)], 2, "no meter reading"),
            ([LogLook(2, 1, 1, None)], 2, "neither a gap found nor one left"),
            ([LogLook(2, 1, 1, 25.0)], 2, "no gap"),
            ([LogLook(2, 1, 1, 0.2, -0.1)], 2, "no gap"),
            ([LogLook(2, 1, 1, math.nan)], 2, "no gap"),
        ],
    )
    def test_is_refused_with_its_line(self, looks, line, word):
        with pytest.raises(TrendError) as refusal:
            trend(looks, SPECS)
        assert refusal.value.faults[0][0] == line
        assert word in refusal.value.faults[0][1]

    def test_every_bad_line_is_told(self):
        looks = [LogLook(2, 100, 1, 0.2), LogLook(3, 50, 1, 0.2), LogLook(4, 1, 99, 0.2)]
        with pytest.raises(TrendError) as refusal:
            trend(looks, SPECS)
        assert [line for line, _ in refusal.value.faults] == [3, 4]

    def test_rows_may_come_valve_by_valve(self):
        looks = [LogLook(2, 0, 1, 0.2), LogLook(3, 100, 1, 0.2), LogLook(4, 0, 2, 0.2)]
        assert len(trend(looks, SPECS).valves) == 2


@pytest.fixture
def ask(tmp_path, capsys):
    def asked(text, *options):
        path = tmp_path / "log.csv"
        path.write_text(text)
        code = main(["trend", str(path), *options])
        out = capsys.readouterr()
        return code, (json.loads(out.out) if code == 0 else out.err)

    return asked


LOG = """hours,valve,gap_mm,left_mm
0,1,0.25,
100,1,0.24,
200,1,0.235,0.26
300,1,0.252,
400,1,0.245,
"""


class TestTheCalculator:
    def test_answers_as_promised(self, ask):
        code, told = ask(LOG, "--spec", "0.15:0.30")
        assert code == 0
        (of,) = told["valves"]
        assert of["rate_um_per_100h"] == pytest.approx(-7.5)
        assert of["side"] == "tight"
        assert told["next_look_h"] == math.floor(of["soonest_h"])
        assert told["odd"] == []

    def test_counts_from_now(self, ask):
        _, told = ask(LOG, "--spec", "0.15:0.30", "--now", "450", "--every", "120")
        assert (told["next_look_h"], told["in_h"]) == (520, 70)

    def test_a_decimal_comma_between_semicolons(self, ask):
        code, told = ask("hours;valve;gap_mm\n0;1;0,25\n", "--spec", "0.15:0.30")
        assert (code, told["valves"][0]["last_mm"]) == (0, 0.25)

    def test_the_engines_own_interval(self, ask, tmp_path):
        file = tmp_path / "engine.json"
        file.write_text(json.dumps(engine_document((1, 3, 4, 2), interval={"hours": 100})))
        _, told = ask("hours,valve,gap_mm\n50,1,0.17\n", "--engine", str(file))
        assert told["next_look_h"] <= 150

    @pytest.mark.parametrize(
        ("text", "options", "word"),
        [
            (LOG, (), "give one of --spec"),
            (LOG, ("--spec", "0.3:0.15"), "the smaller gap comes first"),
            (LOG, ("--spec", "0.15:0.3", "--now", "300"), "lies before the log's last row"),
            (LOG, ("--spec", "0.15:0.3", "--every", "-5"), "no meter reading"),
            (LOG, ("--spec", "0.15:0.3", "--every", "soon"), "not a number"),
            ("hours,gap_mm\n1,2\n", ("--spec", "0.15:0.3"), "has no column valve"),
            (LOG + "500,1,0.2x,\n", ("--spec", "0.15:0.3"), "line 7"),
            (LOG + "500,one,0.2,\n", ("--spec", "0.15:0.3"), "line 7"),
            (LOG + ",1,0.2,\n", ("--spec", "0.15:0.3"), "has no hours"),
            (LOG + "300,1,0.2,\n", ("--spec", "0.15:0.3"), "line 7: 300 h of valve 1 comes after"),
            ("hours,valve,gap_mm\n", ("--spec", "0.15:0.3"), "no reading yet"),
            ("", ("--spec", "0.15:0.3"), "has no column"),
        ],
    )
    def test_what_is_wrong_is_told_in_one_line(self, ask, text, options, word):
        code, err = ask(text, *options)
        assert code == 2
        assert word in err
        assert err.count("\n") == 1
