"""What runs come to by weights: real runs, with the shares that an instructor would give by hand.

The shares are counted by hand from the run that each test does (common practice: so many of the
engine's eight valves).
"""

import pytest

from tests.core.practice.conftest import shelf_engine
from tests.core.practice.test_instructor_agrees import Script
from valvetrain.grading.weights import Item, Rubric, RubricError
from valvetrain.practice import write_debrief
from valvetrain.practice.run_file import read_run, replay_file
from valvetrain.practice.weighing import (
    RUN_PARTS,
    RUN_TEMPLATES,
    can_be_weighed,
    check_run_rubric,
    grade_run,
    run_part_label,
    sample_run,
)

PLAIN = Rubric(tuple(Item(part, 1) for part in RUN_PARTS), minutes=30.0)


def graded(script, rubric=PLAIN, minutes=20.0):
    script.file["actions"] = script.actions
    told = write_debrief(replay_file(read_run(script.file)).told)
    return grade_run(script.engine, told, rubric, minutes)


def shares(grade):
    return {item.part: item.share for item in grade.items}


def careful():
    run = Script(gaps={"3": 0.16}).measure().adjust(3).recheck(3)
    for leaf in (240, 280):
        run.do("try", valve=3, leaves_um=[leaf])
    return run.do("write", valve=3, column="after", text="0.25").close_up()


def test_careful_work_is_worth_everything():
    grade = graded(careful())
    assert shares(grade) == dict.fromkeys(RUN_PARTS, 1.0)
    assert (grade.percent, grade.passed) == (100.0, True)


@pytest.mark.parametrize(
    ("script", "part", "share"),
    [
        # Nothing was tried on any valve.
        (lambda: Script().close_up(), "place", 0.0),
        (lambda: Script().close_up(), "measuring", 0.0),
        (lambda: Script().close_up(), "adjusting", 0.0),
        (lambda: Script().close_up(), "record", 0.0),
        (lambda: Script().close_up(), "safety", 1.0),
        # Three of eight were measured.
        (lambda: Script().measure(1, 2, 3).close_up(), "place", 3 / 8),
        (lambda: Script().measure(1, 2, 3).close_up(), "record", 3 / 8),
        # One figure is made up.
        (
            lambda: Script().measure().do("write", valve=4, column="first", text="0.90").close_up(),
            "measuring",
            7 / 8,
        ),
        # Valve 3 is left tight.
        (lambda: Script(gaps={"3": 0.16}).measure().close_up(), "adjusting", 7 / 8),
        # It is set and never tried again.
        (
            lambda: Script(gaps={"3": 0.16}).measure().adjust(3).close_up(),
            "adjusting",
            7 / 8,
        ),
        # What it was left at is not written: eight of nine figures.
        (lambda: Script(gaps={"3": 0.16}).measure().adjust(3).close_up(), "record", 8 / 9),
        # It is set before anything else is written: half of what is written.
        (
            lambda: Script(gaps={"3": 0.16}).adjust(3).measure().close_up(),
            "record",
            8 / 9 / 2,
        ),
        # Neither were the tools counted, nor is the tool off.
        (
            lambda: Script().measure().do("cover", on=True).do("start"),
            "safety",
            2 / 4,
        ),
        (lambda: Script().measure(), "safety", 0.0),
    ],
)
def test_each_part_counts_what_it_is_about(script, part, share):
    assert shares(graded(script()))[part] == pytest.approx(share)


def test_a_leaf_off_the_heel_costs_that_valve_its_place():
    # At 467 degrees the intake of cylinder 1 is wide open.
    run = Script().measure().to(467).do("try", valve=2, leaves_um=[250]).close_up()
    told = shares(graded(run))
    assert (told["place"], told["measuring"]) == (7 / 8, 1.0)


@pytest.mark.parametrize(("minutes", "share"), [(30, 1.0), (45, 0.5), (60, 0.0), (90, 0.0)])
def test_time_falls_to_nothing_at_twice_what_is_given(minutes, share):
    assert shares(graded(careful(), minutes=minutes))["time"] == pytest.approx(share)


def test_a_run_that_nobody_timed_is_not_weighed_by_it():
    grade = graded(careful(), minutes=None)
    assert "time" not in shares(grade)
    assert grade.percent == 100.0


def test_a_run_whose_engine_is_not_fit_fails_whatever_its_percentage():
    """One valve of eight was left tight: 7/8 of one part of six is lost, and still it fails."""
    grade = graded(Script(gaps={"3": 0.16}).measure().close_up())
    assert grade.percent > 95
    assert not grade.passed
    assert [run_part_label(part) for part in grade.fails] == ["every gap left in spec"]


def test_what_must_be_whole_fails_a_run_that_reaches_its_percentage():
    whole = Rubric((Item("measuring", 9), Item("safety", 1, least_percent=100)), 60.0)
    run = Script().measure().do("cover", on=True).do("tool-off").do("start")
    grade = graded(run, whole)
    assert grade.percent >= 60
    assert grade.fails == ("safety",)
    assert "tools not counted" in grade.items[1].says


def test_an_engine_that_sets_itself_is_weighed_by_its_closing_up_alone():
    number = next(
        n for n in range(1, 20)
        if all(a.adjusts_itself for a in shelf_engine(n).adjusters.values())
        and shelf_engine(n).adjusters
    )  # fmt: skip
    assert set(shares(graded(Script(number).close_up()))) == {"safety", "time"}


@pytest.mark.parametrize("template", RUN_TEMPLATES, ids=lambda one: one.name)
def test_every_template_can_be_used_and_marks_the_sample_down(template):
    check_run_rubric(template.rubric)
    grade = grade_run(shelf_engine(1), sample_run(shelf_engine(1)), template.rubric, 45.0)
    assert 50 < grade.percent < 95


def test_the_sample_has_each_of_its_mistakes_once():
    told = shares(grade_run(shelf_engine(1), sample_run(shelf_engine(1)), PLAIN, 45.0))
    assert told == {
        "place": 6 / 8,
        "measuring": 6 / 8,
        "adjusting": 6 / 8,
        "record": 7 / 8,
        "safety": 3 / 4,
        "time": 0.5,
    }


@pytest.mark.parametrize(
    ("rubric", "says"),
    [
        (Rubric(()), "weigh at least one part"),
        (Rubric((Item("reading", 1),)), "is no part; use place, measuring"),
        (Rubric((Item("time", 1),)), "give its minutes"),
        (Rubric((Item("place", 0),)), "give more than 0"),
    ],
)
def test_weights_that_no_run_has_are_refused(rubric, says):
    with pytest.raises(RubricError, match=says):
        check_run_rubric(rubric)


def test_a_debrief_of_older_rules_is_not_weighed():
    assert not can_be_weighed({"left_out": [], "valves": []})
    assert can_be_weighed(sample_run(shelf_engine(1)))
