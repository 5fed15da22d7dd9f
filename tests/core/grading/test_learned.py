"""Scatter learned from a hand's other sheets and its class, against how the hands were made."""

import random

import pytest

from tests.core.conftest import engine_firing
from tests.core.grading.other_hands import HANDS
from tests.core.grading.other_rates import accused_when_known
from valvetrain.grading import read_entry
from valvetrain.grading.constants import HAND_SCATTER_MM, PASS_MM, STRAY_SHARE, WRITTEN_STEP_MM
from valvetrain.grading.findings import Case, KeyGap, Kind, Reference, explain, learn

FOUR = engine_firing([1, 3, 4, 2])
KEY = {v.number: 0.25 if v.role == "intake" else 0.35 for v in FOUR.valves}
REFERENCE = Reference(FOUR, {valve: KeyGap(gap) for valve, gap in KEY.items()})


def sheet(chance, spread_mm, *, lean=0.0, second_mm=None, step=0.01, unit="mm"):
    lines = []
    for valve, gap in KEY.items():
        gap_mm = gap + lean + chance.gauss(0, spread_mm)
        text = gap_mm / 0.0254 if unit == "thou" else round(gap_mm / step) * step
        further = {} if second_mm is None else {
            "second": f"{gap_mm + chance.gauss(0, second_mm * 2**0.5):.3f}"
        }  # fmt: skip
        lines.append(
            read_entry(FOUR, valve=valve, reading=f"{text:.3f}", unit=unit, crank_deg=0.0,
                       verdict=None, further=further)
        )  # fmt: skip
    return Case.of(REFERENCE, lines)


def dice(seed):
    return random.Random(seed)  # noqa: S311 (hands, no secrets)


def test_nothing_to_learn_from_is_common_practice():
    chance = dice(1)
    ((one,),) = learn([[sheet(chance, 0.012)]])
    assert one.hand_mm == pytest.approx(HAND_SCATTER_MM, abs=0.002)
    assert (one.near_stray, one.step_mm, one.pass_mm) == (STRAY_SHARE, WRITTEN_STEP_MM, PASS_MM)


@pytest.mark.parametrize("spread_mm", [0.012, 0.018, 0.024])
def test_a_class_is_learned_and_each_hand_shrunk_to_it(spread_mm):
    chance = dice(int(spread_mm * 1000))
    noisy = [[sheet(chance, spread_mm) for _ in range(6)] for _ in range(12)]
    steady = [[sheet(chance, 0.006) for _ in range(6)]]
    learned = learn(noisy + steady)
    mean = sum(own[0].hand_mm for own in learned[:-1]) / 12
    assert mean == pytest.approx(spread_mm, rel=0.25)
    assert learned[-1][0].hand_mm < mean


def test_a_lean_is_no_scatter_and_a_mistake_widens_nobody():
    plain = learn([[sheet(dice(3), 0.012) for _ in range(5)]])[0][0]
    leaning = learn([[sheet(dice(3), 0.012, lean=0.05) for _ in range(5)]])[0][0]
    assert leaning.hand_mm == pytest.approx(plain.hand_mm, abs=0.001)
    assert leaning.near_stray == plain.near_stray


def test_a_sheet_is_not_excused_by_its_own_mistakes():
    chance = dice(9)
    clean = [sheet(chance, 0.01) for _ in range(5)]
    caught = sheet(chance, 0.01)
    line = caught.lines[2]
    far = read_entry(FOUR, valve=line.valve, reading=f"{KEY[line.valve] - 0.1:.2f}", unit="mm",
                     crank_deg=0.0, verdict=None, further={})  # fmt: skip
    spoiled = Case.of(REFERENCE, [far if one.valve == line.valve else one for one in caught.lines])
    (own,) = learn([[*clean, spoiled]])
    assert own[-1].near_stray < STRAY_SHARE
    assert own[0].near_stray > own[-1].near_stray
    # Strays near the others hide no slip of the pen.
    assert own[0].stray == own[-1].stray == STRAY_SHARE
    assert {one.kind for one in explain(spoiled.by(own[-1]))} == {Kind.CAUGHT_TIP}


def test_the_repeatability_of_a_hand_is_learned_from_its_passes():
    chance = dice(4)
    shaky = [[sheet(chance, 0.012, second_mm=0.02) for _ in range(6)] for _ in range(4)]
    assert learn(shaky)[0][0].pass_mm == pytest.approx(0.018, abs=0.004)


def test_passes_of_a_shaky_hand_that_differ_as_they_always_do_are_no_finding():
    """Its own sheet shows how far its passes lie apart: nothing else needs to be known of it."""
    chance = dice(6)
    own = [sheet(chance, 0.012, second_mm=0.02) for _ in range(100)]
    assert sum(Kind.BETWEEN_PASSES in {f.kind for f in explain(one)} for one in own) <= 2


@pytest.mark.parametrize(
    ("fields", "step_mm"), [({"step": 0.05}, 0.05), ({"unit": "thou"}, 0.0254), ({}, 0.01)]
)
def test_the_step_is_that_of_the_gauge(fields, step_mm):
    chance = dice(8)
    learned = learn([[sheet(chance, 0.01, **fields) for _ in range(3)]])
    assert learned[0][0].step_mm == pytest.approx(step_mm)


@pytest.mark.parametrize("hand", [HANDS[1], HANDS[2]], ids=lambda one: one.name)
def test_a_noisy_honest_hand_that_is_known_is_hardly_ever_accused(hand):
    """At most 2 per cent; with the chance of 120 sheets: no more than six."""
    assert len(accused_when_known(hand, 20)) <= 6
