"""Questions for a class: every answer is checked again by the oracle or by hand."""

import pytest

from tests.core.conftest import engine_firing
from tests.core.test_any_engine import (
    ENGINES,
    oracle_fire_deg,
    oracle_margin_deg,
    oracle_off_heel,
)
from valvetrain.drill import deal, is_right
from valvetrain.engine_file import read_engine

STROKES = ("power", "exhaust", "intake", "compression")


@pytest.fixture(params=ENGINES)
def document(request):
    return ENGINES[request.param]


def test_ten_different_questions_with_an_answer_among_the_options(document):
    questions = deal(read_engine(document), seed=3)
    assert len({q.asks for q in questions}) == len(questions) == 10
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
        assert question.answer == (after[question.asks.split()[1]],)
    for question in asked(four, "who-rocks"):
        assert question.answer == (companion[question.asks.split()[1]],)
    for question in asked(four, "makes-the-sum"):
        assert int(question.asks.split()[1]) + int(question.answer[0]) == 9
    assert asked(four, "fires-next")
    assert asked(four, "who-rocks")
    assert asked(four, "makes-the-sum")
    assert not asked(four, "does-the-sum-serve")


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
