"""Findings: each explanation by hand-made figures, by rates on made sheets, and never by chance."""

import math
from dataclasses import replace
from decimal import Decimal

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats

from ops.finding_rates import (
    ENGINES,
    PLANTS,
    a_key,
    clean,
    copied_rates,
    engine,
    found_rate,
    honest,
    planted,
)
from valvetrain.grading import Entry
from valvetrain.grading.findings import (
    Case,
    KeyGap,
    Kind,
    Reference,
    Scatter,
    copied_pairs,
    explain,
)
from valvetrain.grading.findings.model import fit, log_normal, times
from valvetrain.heel import valve_margin_deg

PUMP = engine(ENGINES["pump, 8 valves"])
"""Valves 1 to 8: exhaust, intake, intake, exhaust and so again; specs 0.22-0.28 and 0.32-0.38."""
TUG = engine(ENGINES["tug, 24 valves"])
WINCH = engine(ENGINES["winch, 15 valves with shims"])
KEY_MM = {1: 0.35, 2: 0.25, 3: 0.31, 4: 0.42, 5: 0.28, 6: 0.20, 7: 0.26, 8: 0.36}


def case_of(readings, key=KEY_MM, made=PUMP, crank_deg=None, verdict=None, **columns):
    """A sheet with these readings by valve; columns are dicts by valve."""
    lines = tuple(
        Entry.of_figures(
            valve.number,
            {"reading": readings.get(valve.number)}
            | {name: given.get(valve.number) for name, given in columns.items()},
            *[(given or {}).get(valve.number) for given in (crank_deg, verdict)],
        )
        for valve in made.valves
    )
    return Case(Reference(made, {v: KeyGap(gap) for v, gap in key.items()}), lines)


def rests_at(made, valve, crank_deg):
    return valve_margin_deg(made, made.valve[valve], crank_deg) >= 0


def kinds(case):
    return {(finding.kind, finding.valves) for finding in explain(case)}


ALL = tuple(range(1, 9))


class TestByHand:
    def test_figures_near_the_key_are_not_accused(self):
        assert explain(case_of({v: gap + 0.01 * (-1) ** v for v, gap in KEY_MM.items()})) == []

    def test_one_slipped_point_among_good_figures(self):
        found = explain(case_of({**KEY_MM, 4: 4.2}))
        assert [(one.kind, one.valves) for one in found] == [(Kind.DECIMAL_SLIP, (4,))]
        assert "times as likely" in found[0].says
        assert "4.2" in found[0].arithmetic[0]

    @pytest.mark.parametrize(
        ("scale", "kind"),
        [
            (100 * 0.01 / 2.54, Kind.UNIT_SLIP),  # 10 thou written as 0.10 mm
            (2.54, Kind.UNIT_SLIP),  # 25 hundredths written as 25 thou
            (1 / 0.0254, Kind.UNIT_SLIP),
            (0.03 / 0.0254, Kind.CONVERSION_SLIP),
            (0.04 / 0.0254, Kind.CONVERSION_SLIP),
            (10, Kind.DECIMAL_SLIP),
        ],
    )
    def test_what_was_done_to_every_figure(self, scale, kind):
        assert kinds(case_of({v: gap * scale for v, gap in KEY_MM.items()})) == {(kind, ALL)}

    def test_intake_and_exhaust_exchanged(self):
        partner = {1: 2, 2: 1, 3: 4, 4: 3, 5: 6, 6: 5, 7: 8, 8: 7}
        found = explain(case_of({v: KEY_MM[partner[v]] for v in KEY_MM}))
        assert found[0].kind is Kind.ROLES_SWAPPED

    def test_counted_from_the_other_end(self):
        assert kinds(case_of({v: KEY_MM[9 - v] for v in KEY_MM})) == {(Kind.WRONG_END, ALL)}

    def test_two_neighbours_exchanged(self):
        swapped = {**KEY_MM, 3: KEY_MM[4], 4: KEY_MM[3]}
        assert kinds(case_of(swapped)) == {(Kind.NEIGHBOURS_SWAPPED, (3, 4))}

    def test_neighbours_alike_cannot_be_told_apart(self):
        alike = {**KEY_MM, 3: 0.30, 4: 0.31}
        assert explain(case_of({**alike, 3: 0.31, 4: 0.30}, key=alike)) == []

    @pytest.mark.parametrize(("by", "kind"), [(-0.05, Kind.BIAS_TIGHT), (0.05, Kind.BIAS_LOOSE)])
    def test_a_biased_hand(self, by, kind):
        found = explain(case_of({v: gap + by for v, gap in KEY_MM.items()}))
        assert [one.kind for one in found] == [kind]
        assert "0.0" in found[0].says

    def test_a_lean_of_a_leaf_or_two_is_as_hands_are(self):
        """0.025 mm on each of 24 valves is sure, and told to nobody; 0.045 mm is."""
        key = {v.number: float(TUG.clearance[v.role].middle_mm) for v in TUG.valves}
        for by, told in ((-0.025, []), (-0.045, [Kind.BIAS_TIGHT])):
            readings = {valve: gap + by for valve, gap in key.items()}
            assert [one.kind for one in explain(case_of(readings, key=key, made=TUG))] == told

    def test_one_caught_leaf(self):
        assert kinds(case_of({**KEY_MM, 8: 0.27})) == {(Kind.CAUGHT_TIP, (8,))}

    def test_a_gap_that_was_read_on_the_ramp(self):
        """The gap there is the clearance less the follower's lift (docs/engine-file.md)."""
        from valvetrain.lobe import lobe_of

        valve = PUMP.valve[8]
        lobe = lobe_of(PUMP, valve.role)
        crank_deg = next(
            deg
            for deg in range(720)
            if 0.12 < lobe.lift_at_mm(PUMP.cycle_deg(valve.cylinder, deg)) < 0.2
        )
        lift = lobe.lift_at_mm(PUMP.cycle_deg(valve.cylinder, crank_deg))
        readings = {**KEY_MM, 8: round(KEY_MM[8] - lift, 2)}
        stops = dict.fromkeys(KEY_MM, 0.0) | {8: float(crank_deg)}
        found = explain(case_of(readings, crank_deg=stops))
        assert (found[0].kind, found[0].valves) == (Kind.OFF_HEEL, (8,))

    def test_a_full_turn_out_without_stops(self):
        """Facts of the trade, 1-3-4-2 by two stops: at the first cylinder 1 both, 2 intake and 3
        exhaust. A turn on 4 both, 2 exhaust and 3 intake rest, and those of the first are open but
        for what rests at both."""
        first = {1, 2, 3, 5}
        there = {
            valve: KEY_MM[valve] if rests_at(PUMP, valve, 360.0 if valve in first else 0.0) else 0.0
            for valve in KEY_MM
        }
        closed = {valve for valve, gap in there.items() if gap == 0}
        assert closed
        (found,) = explain(case_of(there))
        assert (found.kind, set(found.valves)) == (Kind.FULL_TURN, closed)
        assert "which leaves no gap" in found.arithmetic[0]
        stops = {valve: 0.0 if valve in first else 360.0 for valve in KEY_MM}
        (found,) = explain(case_of(there, crank_deg=stops))
        assert (found.kind, set(found.valves)) == (Kind.FULL_TURN, closed)
        turned = {valve: (at + 360) % 720 for valve, at in stops.items()}
        (found,) = explain(case_of(there, crank_deg=turned))
        assert (found.kind, set(found.valves)) == (Kind.FULL_TURN, closed)

    def test_one_stop_measured_at_the_other(self):
        first = {1, 2, 3, 5}
        stops = {valve: 0.0 if valve in first else 360.0 for valve in KEY_MM}
        there = {
            valve: gap if valve in first or rests_at(PUMP, valve, 0.0) else 0.0
            for valve, gap in KEY_MM.items()
        }
        closed = {valve for valve, gap in there.items() if gap == 0}
        (found,) = explain(case_of(there, crank_deg=stops))
        assert (found.kind, set(found.valves)) == (Kind.WRONG_STOP, closed)
        assert closed
        assert closed <= set(KEY_MM) - first

    def test_right_figures_are_never_out_of_place(self):
        assert explain(case_of(KEY_MM)) == []
        assert explain(case_of({**KEY_MM, 3: 0.0})) == []

    def test_passes_that_differ(self):
        """One valve alone by more than any hand strays, two by less; a single one by less is how
        readings with heavy tails look."""
        alone = {**KEY_MM, 6: KEY_MM[6] + 0.15}
        assert kinds(case_of(KEY_MM, second=alone)) == {(Kind.BETWEEN_PASSES, (6,))}
        less = {**KEY_MM, 6: KEY_MM[6] + 0.10}
        assert kinds(case_of(KEY_MM, second=less)) == set()
        both = {**less, 3: KEY_MM[3] - 0.08}
        assert kinds(case_of(KEY_MM, second=both)) == {(Kind.BETWEEN_PASSES, (3, 6))}

    def test_what_the_nut_does(self):
        before = dict.fromkeys(KEY_MM, 0.25)
        found = explain(case_of(KEY_MM, set=before, after=dict.fromkeys(KEY_MM, 0.22)))
        assert [one.kind for one in found] == [Kind.LOCK_NUT_CREEP]
        assert "closes every gap by about 0.03 mm" in found[0].says

    def test_nuts_that_differ_are_no_one_creep(self):
        before = dict.fromkeys(KEY_MM, 0.25)
        after = {v: 0.25 + (0.04 if v % 2 else -0.04) for v in KEY_MM}
        assert explain(case_of(KEY_MM, set=before, after=after)) == []

    def test_verdicts_by_the_other_spec(self):
        """0.30 is loose for an intake (0.22-0.28) and tight for an exhaust (0.32-0.38)."""
        key = dict.fromkeys(KEY_MM, 0.30)
        said = {v: "loose" if v in (1, 4, 5, 8) else "tight" for v in key}
        found = explain(case_of(key, key=key, verdict=said))
        assert [one.kind for one in found] == [Kind.WRONG_SPEC]
        assert "verdicts" in found[0].says

    def test_verdicts_that_say_the_opposite(self):
        """By hand: 0.18 and 0.26 are tight, 0.34 and 0.45 loose, each by its own spec."""
        key = {1: 0.26, 2: 0.18, 3: 0.34, 4: 0.45, 5: 0.35, 6: 0.25, 7: 0.25, 8: 0.35}
        right = {1: "tight", 2: "tight", 3: "loose", 4: "loose"} | dict.fromkeys(
            (5, 6, 7, 8), "within"
        )
        assert explain(case_of(key, key=key, verdict=right)) == []
        other = {"tight": "loose", "loose": "tight", "within": "within"}
        said = {valve: other[one] for valve, one in right.items()}
        (found,) = explain(case_of(key, key=key, verdict=said))
        assert (found.kind, found.valves) == (Kind.VERDICT_REVERSED, (1, 2, 3, 4))
        once = right | {1: "loose"}
        assert explain(case_of(key, key=key, verdict=once)) == []

    def test_a_shim_the_wrong_way(self):
        role_of = {valve.number: valve.role for valve in WINCH.valves}
        middle = {v: float(WINCH.clearance[role].middle_mm) for v, role in role_of.items()}
        key = {**middle, 4: middle[4] - 0.10}
        fitted = dict.fromkeys(key, 3.0)
        chosen = {**fitted, 4: 3.10}
        found = explain(case_of(key, key=key, made=WINCH, shim_fitted=fitted, shim_chosen=chosen))
        assert [(one.kind, one.valves) for one in found] == [(Kind.WRONG_WAY_SHIM, (4,))]
        right = {**fitted, 4: 2.90}
        assert not explain(case_of(key, key=key, made=WINCH, shim_fitted=fitted, shim_chosen=right))

    def test_several_at_once(self):
        """A biased hand, a slipped point and a caught leaf on one sheet."""
        key = {v.number: 0.30 + 0.01 * (v.number % 5) for v in TUG.valves}
        readings = {v: gap + 0.05 for v, gap in key.items()} | {3: 3.8, 20: key[20] + 0.05 - 0.09}
        told = kinds(case_of(readings, key=key, made=TUG))
        assert {(Kind.DECIMAL_SLIP, (3,)), (Kind.CAUGHT_TIP, (20,))} <= told
        assert Kind.BIAS_LOOSE in {kind for kind, _ in told}

    def test_what_fits_nothing_stays_unexplained(self):
        assert explain(case_of({**KEY_MM, 4: 0.77})) == []

    def test_hints_hold_no_figure_of_the_key(self):
        for kind in PLANTS:
            for case in planted(TUG, kind, 3):
                gaps = {f"{gap.gap_mm:.2f}" for gap in case.key.values()}
                for finding in explain(case):
                    assert finding.hint is None or not [g for g in gaps if g in finding.hint]

    def test_blank_and_impossible_lines(self):
        assert explain(case_of({})) == []
        assert explain(case_of({1: 0.35})) == []
        assert explain(case_of({1: 0.0, 2: 0.25})) == []


class TestRates:
    """A smaller run of what docs/findings.md reports; bounds leave room for 120 sheets' chance."""

    @pytest.mark.parametrize("kind", [kind for kind in PLANTS if kind is not Kind.WRONG_WAY_SHIM])
    def test_planted_mistakes_are_found(self, kind):
        assert found_rate(TUG, kind, 120) >= 0.95

    def test_shims_the_wrong_way_are_found(self):
        assert found_rate(WINCH, Kind.WRONG_WAY_SHIM, 120) >= 0.95

    @pytest.mark.parametrize("made", [PUMP, TUG, WINCH])
    def test_clean_sheets_are_hardly_ever_accused(self, made):
        accused = sum(bool(explain(case)) for case in clean(made, 400))
        # 2 % of 400 is 8; an honest rate of 2 % would give 13 or more once in twenty runs.
        assert accused <= 8

    def test_copies_are_found_and_neighbours_left_alone(self):
        found, named = copied_rates(TUG, classes=8)
        assert found == 1.0
        assert named <= 0.02

    def test_eight_figures_near_the_key_prove_no_copy(self):
        """Thirty honest hands at eight valves: equal sheets happen, and nobody is named."""
        _, named = copied_rates(PUMP, classes=8)
        assert named <= 0.02


class TestLikelihoods:
    def test_the_bias_is_integrated_as_the_exact_normal_is(self):
        """Without strays the marginal likelihood is a multivariate normal (SciPy)."""
        chance = np.random.default_rng(3)
        scatter = Scatter(stray=1e-12)
        key = a_key(PUMP, chance)
        lines = honest(PUMP, key, chance).lines
        case = Case(Reference(PUMP, key, scatter), lines)
        spread, bias = case.reference.spread_mm(case.scatter), 0.02
        ours = fit(case, case.key_mm[None, :], spread[None, :], np.array([bias]))
        covariance = np.diag(spread**2) + bias**2
        exact = stats.multivariate_normal(case.key_mm, covariance).logpdf(case.readings_mm)
        assert ours.log_likelihood[0] == pytest.approx(exact, abs=1e-6)

    def test_log_normal(self):
        assert log_normal(0.3, 0.25, 0.02) == pytest.approx(stats.norm(0.25, 0.02).logpdf(0.3))

    def test_odds_in_words(self):
        assert times(math.log(17.0)) == "10 times"
        assert times(math.log(3456)) == "3 000 times"
        assert times(50.0) == "more than a million times"


class TestCopied:
    def test_shared_odd_figures_weigh_most(self):
        chance = np.random.default_rng(5)
        key = a_key(TUG, chance)
        cases = [honest(TUG, key, chance) for _ in range(4)]
        odd = {3: 0.91, 7: 0.13, 11: 0.77, 15: 0.66}
        shared = [
            replace(
                case,
                lines=tuple(
                    replace(line, reading_mm=Decimal(str(odd.get(place, line.reading_mm))))
                    for place, line in enumerate(case.lines[:18])
                ),
            )
            for case in cases[:2]
        ]
        assert not [p for p in copied_pairs(cases) if {p.one, p.other} == {0, 1}]
        copied = replace(
            shared[1],
            lines=tuple(
                line if place % 3 else shared[0].lines[place]
                for place, line in enumerate(shared[0].lines)
            ),
        )
        pairs = copied_pairs([shared[0], copied, *cases[2:]])
        assert (pairs[0].one, pairs[0].other) == (0, 1)
        assert pairs[0].finding.hint is None

    def test_one_sheet_or_none(self):
        assert copied_pairs([]) == []
        assert copied_pairs([case_of(KEY_MM)]) == []


@settings(max_examples=80, deadline=None)
@given(st.lists(st.one_of(st.none(), st.floats(0.01, 19)), min_size=8, max_size=8))
def test_any_figures_are_explained_or_not_and_never_break(readings):
    written = {v: r for v, r in zip(ALL, readings, strict=True) if r is not None}
    for finding in explain(case_of(written)):
        assert finding.log_odds > 0
        assert math.isfinite(finding.log_odds)
        assert finding.valves
        assert finding.arithmetic
