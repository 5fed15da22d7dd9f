"""Gauge studies against statsmodels, a published worked example, and planted components."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from valvetrain.study import (
    Measured,
    StudyError,
    cells_of,
    fleiss_kappa,
    kappa,
    study,
)

# Measurement Systems Analysis reference manual (AIAG), the gauge study of ten parts, three
# appraisers and three trials; readings and results from memory of the third and fourth editions.
HANDBOOK = {
    "A": (
        (0.29, -0.56, 1.34, 0.47, -0.80, 0.02, 0.59, -0.31, 2.26, -1.36),
        (0.41, -0.68, 1.17, 0.50, -0.92, -0.11, 0.75, -0.20, 1.99, -1.25),
        (0.64, -0.58, 1.27, 0.64, -0.84, -0.21, 0.66, -0.17, 2.01, -1.31),
    ),
    "B": (
        (0.08, -0.47, 1.19, 0.01, -0.56, -0.20, 0.47, -0.63, 1.80, -1.68),
        (0.25, -1.22, 0.94, 1.03, -1.20, 0.22, 0.55, 0.08, 2.12, -1.62),
        (0.07, -0.68, 1.34, 0.20, -1.28, 0.06, 0.83, -0.34, 2.19, -1.50),
    ),
    "C": (
        (0.04, -1.38, 0.88, 0.14, -1.46, -0.29, 0.02, -0.46, 1.77, -1.49),
        (-0.11, -1.13, 1.09, 0.20, -1.07, -0.67, 0.01, -0.56, 1.45, -1.77),
        (-0.15, -0.96, 0.67, 0.11, -1.45, -0.49, 0.21, -0.49, 1.87, -2.16),
    ),
}


def handbook_rows():
    return [
        Measured(student, valve, trial, reading)
        for student, passes in HANDBOOK.items()
        for trial, readings in enumerate(passes, start=1)
        for valve, reading in enumerate(readings, start=1)
    ]


def block(seed, valves=12, students=6, trials=3, part=0.1, hand=0.02, both=0.0, repeat=0.01):
    chance = np.random.default_rng(seed)
    return [
        Measured(f"s{o:02d}", v + 1, t + 1, value)
        for (v, o, t), value in np.ndenumerate(
            0.3
            + part * chance.standard_normal((valves, 1, 1))
            + hand * chance.standard_normal((1, students, 1))
            + both * chance.standard_normal((valves, students, 1))
            + repeat * chance.standard_normal((valves, students, trials))
        )
    ]


def by_source(found):
    return {one.source: one for one in found}


class TestHandbook:
    @pytest.fixture
    def found(self):
        return study(cells_of(handbook_rows()))

    def test_the_interaction_is_pooled(self, found):
        assert found.pooled
        assert found.interaction_p == pytest.approx(0.974, abs=5e-4)

    @pytest.mark.parametrize(
        ("source", "variance", "share"),
        [
            ("gauge", 0.09143, 7.76),
            ("repeatability", 0.03997, 3.39),
            ("reproducibility", 0.05146, 4.37),
            ("valves", 1.08645, 92.24),
            ("total", 1.17788, 100.0),
        ],
    )
    def test_components_and_shares(self, found, source, variance, share):
        component = by_source(found.components)[source]
        assert component.variance == pytest.approx(variance, abs=6e-6)
        assert component.share_variance == pytest.approx(share, abs=6e-3)

    def test_share_of_the_study_and_categories(self, found):
        assert by_source(found.components)["gauge"].share_study == pytest.approx(27.86, abs=6e-3)
        assert found.categories == 4

    def test_sums_of_squares(self, found):
        rows = by_source(found.table)
        assert rows["valves"].ss == pytest.approx(88.3619, abs=6e-5)
        assert rows["students"].ss == pytest.approx(3.1673, abs=6e-5)
        assert rows["repeatability"].ss == pytest.approx(0.3590 + 2.7589, abs=2e-4)
        assert rows["valves"].f == pytest.approx(245.614, abs=6e-3)


class TestAgainstStatsmodels:
    @pytest.mark.parametrize("seed", [1, 2, 3])
    @pytest.mark.parametrize("both", [0.0, 0.02])
    def test_the_table_is_that_of_its_formula_interface(self, seed, both):
        """Ordinary least squares with both factors and their interaction, type 2 sums."""
        import pandas as pd
        from statsmodels.formula.api import ols
        from statsmodels.stats.anova import anova_lm

        rows = block(seed, both=both)
        frame = pd.DataFrame(rows)
        theirs = anova_lm(ols("reading_mm ~ C(valve) * C(student)", frame).fit(), typ=2)
        # Never pooled here, so that each line has its counterpart.
        ours = by_source(study(cells_of(rows), pool_above=1.0).table)
        names = {
            "valves": "C(valve)",
            "students": "C(student)",
            "students x valves": "C(valve):C(student)",
            "repeatability": "Residual",
        }
        for name, theirs_name in names.items():
            assert ours[name].ss == pytest.approx(theirs.loc[theirs_name, "sum_sq"], rel=1e-9)
            assert ours[name].df == theirs.loc[theirs_name, "df"]
        both_row = theirs.loc["C(valve):C(student)"]
        assert ours["students x valves"].f == pytest.approx(both_row["F"], rel=1e-9)
        assert ours["students x valves"].p == pytest.approx(both_row["PR(>F)"], rel=1e-9)

    def test_pooled_is_the_model_without_interaction(self):
        import pandas as pd
        from statsmodels.formula.api import ols
        from statsmodels.stats.anova import anova_lm

        rows = block(5)
        theirs = anova_lm(ols("reading_mm ~ C(valve) + C(student)", pd.DataFrame(rows)).fit())
        found = study(cells_of(rows), pool_above=0.0)
        assert found.pooled
        for name, theirs_name in (("valves", "C(valve)"), ("students", "C(student)")):
            assert by_source(found.table)[name].f == pytest.approx(
                theirs.loc[theirs_name, "F"], rel=1e-9
            )

    def test_fleiss_kappa(self):
        from statsmodels.stats.inter_rater import fleiss_kappa as theirs

        counts = [[5, 0, 1], [2, 3, 1], [0, 6, 0], [1, 1, 4], [3, 3, 0]]
        assert fleiss_kappa(counts) == pytest.approx(theirs(np.array(counts)), rel=1e-12)

    def test_cohens_kappa(self):
        from statsmodels.stats.inter_rater import cohens_kappa

        one = ["tight", "within", "within", "loose", "within", "tight", "loose", "within"]
        other = ["tight", "within", "loose", "loose", "within", "within", "loose", "within"]
        kinds = sorted({*one, *other})
        table = np.zeros((3, 3))
        for a, b in zip(one, other, strict=True):
            table[kinds.index(a), kinds.index(b)] += 1
        assert kappa(one, other) == pytest.approx(cohens_kappa(table).kappa, rel=1e-12)


class TestPlanted:
    def test_components_come_back(self):
        """Many valves and students: each planted deviation is found to a tenth."""
        rows = block(9, valves=60, students=40, part=0.10, hand=0.03, both=0.02, repeat=0.01)
        found = study(cells_of(rows))
        parts = by_source(found.components)
        assert not found.pooled
        for source, planted in (
            ("valves", 0.10),
            ("students", 0.03),
            ("students x valves", 0.02),
            ("repeatability", 0.01),
        ):
            assert parts[source].deviation_mm == pytest.approx(planted, rel=0.25)

    def test_each_hand_is_told_with_its_interval(self):
        rows = [
            row._replace(reading_mm=row.reading_mm + (0.05 if row.student == "s02" else 0))
            for row in block(4, hand=0.0)
        ]
        hands = {hand.student: hand for hand in study(cells_of(rows)).hands}
        assert hands["s02"].bias_low_mm > 0.03
        assert all(h.bias_low_mm <= h.bias_mm <= h.bias_high_mm for h in hands.values())
        assert all(h.spread_low_mm < h.spread_mm < h.spread_high_mm for h in hands.values())

    def test_spread_intervals_hold_what_they_promise(self):
        """95 per cent intervals of the deviation (chi squared) catch the truth about as often."""
        caught = [
            hand.spread_low_mm <= 0.01 <= hand.spread_high_mm
            for seed in range(30)
            for hand in study(cells_of(block(seed))).hands
        ]
        assert 0.90 <= np.mean(caught) <= 0.99

    def test_bias_against_the_key(self):
        rows = block(6, part=0.0, hand=0.0, repeat=0.001)
        against = study(cells_of(rows), key_mm=[0.25] * 12)
        assert against.bias_against == "key"
        assert all(hand.bias_mm == pytest.approx(0.05, abs=0.002) for hand in against.hands)

    def test_the_hardest_valve_comes_first(self):
        chance = np.random.default_rng(1)
        rows = [
            row._replace(reading_mm=row.reading_mm + (0.1 * chance.standard_normal()))
            if row.valve == 7
            else row
            for row in block(3)
        ]
        assert study(cells_of(rows)).hardest[0].valve == 7


@settings(max_examples=60, deadline=None)
@given(st.integers(0, 10_000), st.integers(2, 6), st.integers(2, 5), st.integers(2, 4))
def test_sums_of_squares_add_up_and_order_does_not_matter(seed, valves, students, trials):
    rows = block(seed, valves, students, trials)
    found = study(cells_of(rows), pool_above=0.5)
    readings = np.array([row.reading_mm for row in rows])
    total = float(((readings - readings.mean()) ** 2).sum())
    assert math.fsum(row.ss for row in found.table) == pytest.approx(total, rel=1e-9)
    assert all(component.variance >= 0 for component in found.components)
    assert study(cells_of(rows[::-1]), pool_above=0.5) == found


@pytest.mark.parametrize(
    ("change", "says"),
    [
        (lambda rows: rows[:-1], "has no trial 3 of valve 12"),
        (lambda rows: [*rows, rows[0]], "twice; keep one"),
        (lambda rows: [r for r in rows if r.student == "s01"], "needs two of each"),
        (lambda rows: [r for r in rows if r.trial == 1], "needs two of each"),
        (lambda rows: [], "needs two of each"),
        (lambda rows: [rows[0]._replace(reading_mm=math.nan), *rows[1:]], "is no number"),
        (lambda rows: rows[:100], "more. Measure them"),
    ],
)
def test_what_no_study_can_be_made_of(change, says):
    with pytest.raises(StudyError, match=says):
        study(cells_of(change(block(1))))


def test_kappas_refuse_what_cannot_be_compared():
    with pytest.raises(StudyError, match="same valves"):
        kappa(["tight"], [])
    with pytest.raises(StudyError, match="same two raters"):
        fleiss_kappa([[1, 1], [2, 1]])
    assert kappa(["tight"], ["tight"]) == 1.0
    assert fleiss_kappa([[2, 0], [2, 0]]) == 1.0


def test_readings_without_any_spread_of_the_gauge_have_no_categories():
    rows = [row._replace(reading_mm=0.1 * row.valve) for row in block(1)]
    found = study(cells_of(rows))
    assert found.categories is None
    assert any("no categories to count" in said for said in found.says)


def test_a_largest_part_that_is_no_majority_is_not_called_most():
    """Three causes of nearly equal variance: the largest is about a third of the class's."""
    rows = block(4, students=12, trials=4, repeat=0.02, hand=0.02, both=0.02)
    found = study(cells_of(rows), pool_above=0.0)
    gauge = by_source(found.components)["gauge"].variance
    parts = [by_source(found.components)[s].variance for s in
             ("repeatability", "students", "students x valves")]  # fmt: skip
    most = max(parts) / gauge
    says = next(said for said in found.says if "of the class's variance" in said)
    assert says.startswith("Most of that" if most > 0.5 else "The largest part of that")
    assert f"({100 * most:.0f} %" in says


def test_readings_that_do_not_differ_at_all():
    rows = [row._replace(reading_mm=0.3) for row in block(1)]
    found = study(cells_of(rows))
    assert found.categories == 0
    assert by_source(found.components)["total"].variance == 0
