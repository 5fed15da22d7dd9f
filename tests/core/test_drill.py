"""Questions for a class: every answer is checked again by the oracle or by hand."""

import random
import re

import pytest

from tests.core.conftest import engine_firing
from tests.core.test_any_engine import (
    ENGINES,
    oracle_fire_deg,
    oracle_margin_deg,
    oracle_off_heel,
)
from valvetrain.drill import deal, is_right
from valvetrain.drill.deal import put_anew
from valvetrain.drill.on_the_crank import _MARK_TAKEN_FOR, fires_next
from valvetrain.drill.question import AskedAt, CannotAskError
from valvetrain.engine_file import read_engine

STROKES = ("power", "exhaust", "intake", "compression")


@pytest.fixture(params=ENGINES)
def document(request):
    return ENGINES[request.param]


def test_ten_different_questions_with_an_answer_among_the_options(document):
    questions = deal(read_engine(document), seed=3)
    assert len({(q.place, q.asks) for q in questions}) == len(questions) == 10
    for question in questions:
        ids = [option.id for option in question.options]
        assert len(set(ids)) == len(ids) >= 2 - (question.kind == "which-valves")
        assert question.answer
        assert set(question.answer) <= set(ids)
        assert question.several or len(question.answer) == 1
        assert question.because.endswith(".")


def test_the_oracle_agrees_about_which_valves_and_strokes(document):
    engine = read_engine(document)
    fire = oracle_fire_deg(document)
    off = {role.value: oracle_off_heel(document, role.value) for role in engine.roles}
    seen = set()
    for seed in range(4):
        for question in deal(engine, seed):
            seen.add(question.kind)
            if question.kind == "which-valves":
                for option in question.options:
                    valve = engine.valve[option.valve]
                    cycle_deg = question.crank_deg - fire[valve.cylinder]
                    margin = oracle_margin_deg(off[valve.role.value], cycle_deg)
                    assert (option.id in question.answer) == (margin > 0)
                    assert abs(margin) >= 7.8
            if question.kind == "which-stroke":
                cylinder = int(question.asks.rsplit(" ", 1)[1].rstrip("?"))
                cycle_deg = (question.crank_deg - fire[cylinder]) % 720
                assert question.answer == (STROKES[int(cycle_deg // 180)],)
    assert {"which-valves", "which-stroke"} <= seen


def test_the_same_seed_deals_the_same_and_another_another(four):
    assert deal(four, 5) == deal(four, 5)
    assert deal(four, 5) != deal(four, 6)


def asked(engine, kind):
    return [q for seed in range(12) for q in deal(engine, seed) if q.kind == kind]


def test_firing_order_and_companions_of_a_four_by_heart():
    """Common practice: 1-3-4-2, companions 1-4 and 2-3, sums to nine on a mirrored head."""
    four = engine_firing([1, 3, 4, 2])
    after = {"1": "3", "3": "4", "4": "2", "2": "1"}
    companion = {"1": "4", "4": "1", "2": "3", "3": "2"}
    for question in asked(four, "fires-next"):
        assert question.answer == (after[question.place.split()[1]],)
    for question in asked(four, "who-rocks"):
        assert question.answer == (companion[question.place.split()[1]],)
    for question in asked(four, "makes-the-sum"):
        assert int(question.place.split()[1]) + int(question.answer[0]) == 9
    assert asked(four, "fires-next")
    assert asked(four, "who-rocks")
    assert asked(four, "makes-the-sum")
    for question in asked(four, "does-the-sum-serve"):
        assert question.answer[0].startswith("yes-")


def test_what_an_engine_does_not_have_is_not_asked():
    three = engine_firing([1, 3, 2])
    assert not asked(three, "who-rocks")
    assert not asked(three, "makes-the-sum")
    assert asked(three, "does-the-sum-serve")
    single = engine_firing([1])
    assert not asked(single, "fires-next")


def test_right_is_all_of_it_and_nothing_else(four):
    question = asked(four, "which-valves")[0]
    assert is_right(question, reversed(question.answer))
    assert not is_right(question, question.answer[:-1])
    assert not is_right(question, [option.id for option in question.options] + ["99"])
    assert not is_right(question, [])


class TestDistractors:
    """What is offered beside the right answer: a guess must cost, and nothing may give it away."""

    SIX = engine_firing([1, 5, 3, 6, 2, 4])

    @pytest.mark.parametrize(("kind", "many"), [("fires-next", 5), ("who-rocks", 5)])
    def test_every_other_cylinder_is_offered_but_never_the_one_asked_about(self, kind, many):
        questions = asked(self.SIX, kind)
        assert questions
        for question in questions:
            ids = [option.id for option in question.options]
            about = re.search(r"Cylinder (\d)", question.place).group(1)
            assert len(ids) == many
            assert about not in ids
            assert ids == sorted(ids)

    def test_of_twelve_cylinders_six_are_offered(self):
        twelve = engine_firing([1, 12, 5, 8, 3, 10, 6, 7, 2, 11, 4, 9])
        assert {len(q.options) for q in asked(twelve, "fires-next")} == {6}

    def test_beside_the_sum_stand_three_other_valves_and_never_the_open_one(self, four):
        questions = asked(four, "makes-the-sum")
        assert questions
        for question in questions:
            opened = re.match(r"Valve (\d+)", question.place).group(1)
            ids = [option.id for option in question.options]
            assert len(ids) == 4
            assert opened not in ids

    def test_of_valves_at_most_six_are_asked_and_not_all_of_many_may_be_set(self):
        for question in asked(self.SIX, "which-valves"):
            assert len(question.options) <= 6
            assert len(question.answer) < len(question.options) or len(question.options) <= 2

    def test_the_place_of_the_right_answer_tells_nothing(self):
        places = {
            [option.id for option in question.options].index(question.answer[0])
            for seed in range(60)
            for question in deal(self.SIX, seed)
            if question.kind == "fires-next"
        }
        assert places == {0, 1, 2, 3, 4}


@pytest.mark.parametrize("kind", ["tight-or-loose", "thinner-or-thicker", "lock-nut"])
def test_specs_from_nothing_are_asked_nothing_that_cannot_be(kind):
    """0 to 0.05 mm: nothing is tight there, and no nut is set below nothing."""
    thin = {"unit": "mm", "engine": "cold", "intake": {"min": 0.0, "max": 0.05},
            "exhaust": {"min": 0.0, "max": 0.05}}  # fmt: skip
    engine = engine_firing([1, 3, 4, 2], clearance=thin, adjuster={"kind": "screw", "pitch_mm": 1})
    for seed in range(60):
        question = put_anew(engine, kind, seed)
        if question is None:
            continue  # it cannot be asked here
        said = " ".join((question.asks, question.because, *(o.says for o in question.options)))
        assert "\u2212" not in said.replace(" \u2212 ", " minus ")
        assert "-0.0" not in said
        if kind == "tight-or-loose":
            assert question.answer != ("tight",)


def test_cylinders_that_fire_together_have_no_next_one():
    engine = engine_firing([1, 2, 3, 4], firing_intervals_deg=[0, 360, 0, 360])
    with pytest.raises(CannotAskError, match="fire together"):
        fires_next(AskedAt(engine, 90.0, random.Random(1), whole=True, about=None))  # noqa: S311


@pytest.mark.parametrize(
    ("right", "given", "mistake"),
    [
        ("ignition", "dead-centre", "ignition-mark"),
        ("dead-centre", "ignition", ""),
        ("dead-centre", "firing", "full-turn-out"),
    ],
)
def test_a_mark_taken_for_another_is_a_usual_mistake_one_way_only(right, given, mistake):
    assert _MARK_TAKEN_FOR.get((right, given), "") == mistake
