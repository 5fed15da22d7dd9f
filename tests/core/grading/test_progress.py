"""What a student has shown, and what comes next."""

from datetime import UTC, datetime, timedelta

import pytest

from valvetrain.grading.findings import Kind
from valvetrain.grading.progress import (
    DrillWork,
    RunWork,
    SheetWork,
    Skill,
    SkillState,
    Train,
    progress,
)

BEGAN = datetime(2026, 11, 2, 8, tzinfo=UTC)


def sheet(day, right=8, *, error_mm=(0.0,) * 8, kinds=(), closed=True, **parts):
    asked = {"reading": 8, "position": 8} | dict.fromkeys(parts, 8)
    return SheetWork(
        day,
        f"Sheet {day}",
        BEGAN + timedelta(days=day),
        {"reading": right, "position": right, **parts},
        asked,
        error_mm,
        frozenset(kinds),
        closed,
    )


def run(day, *, shims=False, right=True, tools_off=True):
    return RunWork(f"Run {day}", BEGAN + timedelta(days=day), shims, right, tools_off)


def skill(told, wanted):
    return next(one for one in told.skills if one.skill is wanted)


@pytest.mark.parametrize(
    ("rights", "state"),
    [
        ([], SkillState.UNSEEN),
        ([8], SkillState.NEARLY),
        ([8, 8], SkillState.SHOWN),
        ([0, 8, 8], SkillState.SHOWN),
        ([8, 7], SkillState.NOT_YET),
        ([7, 8], SkillState.NEARLY),
    ],
)
def test_twice_running_nine_of_ten(rights, state):
    told = progress([sheet(day, right) for day, right in enumerate(rights)], [])
    place = skill(told, Skill.PLACE)
    assert place.state is state
    assert place.train is (None if state is SkillState.SHOWN else Train.DRILL)


def test_time_orders_the_work_however_it_comes():
    told = progress([sheet(3, 8), sheet(1, 0), sheet(2, 8)], [])
    assert skill(told, Skill.PLACE).shares == (0.0, 1.0, 1.0)
    assert [hand.title for hand in told.hands] == ["Sheet 1", "Sheet 2", "Sheet 3"]


def test_runs_show_adjusting_and_closing_up():
    told = progress([], [run(1), run(2), run(3, shims=True, tools_off=False)])
    assert skill(told, Skill.SCREW).state is SkillState.SHOWN
    assert skill(told, Skill.SHIM).state is SkillState.NEARLY
    assert skill(told, Skill.CLOSE).state is SkillState.NOT_YET


def test_failures_count_against_a_skill_and_prove_nothing_else():
    """Six that ended in damage changed nothing; nor may the half that went well count."""
    bad = [run(day, tools_off=False)._replace(proves=False, place=1.0) for day in range(3, 9)]
    told = progress([], [run(1), run(2), *bad])
    assert skill(told, Skill.CLOSE).state is SkillState.NOT_YET
    assert skill(told, Skill.SCREW).shares == (1.0, 1.0), "right, and of a run that proves nothing"
    assert skill(told, Skill.PLACE).state is SkillState.UNSEEN
    timed_out = run(1)._replace(tools_off=None, left_right=False, proves=False)
    told = progress([], [timed_out])
    assert skill(told, Skill.CLOSE).state is SkillState.UNSEEN
    assert skill(told, Skill.SCREW).state is SkillState.NOT_YET


def test_sheets_and_runs_count_together():
    told = progress([sheet(1, adjusted=8)], [run(2)])
    assert skill(told, Skill.SCREW).shares == (1.0, 1.0)
    assert skill(told, Skill.SCREW).state is SkillState.SHOWN


def test_a_biased_hand_is_not_yet_good_at_measuring():
    told = progress([sheet(1), sheet(2, error_mm=(-0.02,) * 8)], [])
    measure = skill(told, Skill.MEASURE)
    assert (measure.state, measure.train) == (SkillState.NEARLY, Train.RUN)
    assert "reads tight of late" in measure.says


def test_bias_and_scatter_are_moved_by_no_slip():
    """By hand: median of 0.01, 0.02, 0.03 and 2.2 is 0.025; distances 0.015, 0.005, 0.005, 2.175,
    their median 0.01, times 1.4826."""
    (hand,) = progress([sheet(1, error_mm=(0.01, 0.02, 0.03, 2.2))], []).hands
    assert hand.bias_mm == pytest.approx(0.025)
    assert hand.repeatability_mm == pytest.approx(0.014826)


def test_slips_of_writing_are_counted_and_few_readings_tell_no_hand():
    kinds = (Kind.DECIMAL_SLIP, Kind.UNIT_SLIP, Kind.CAUGHT_TIP)
    (hand,) = progress([sheet(1, error_mm=(0.01, 0.02), kinds=kinds)], []).hands
    assert (hand.bias_mm, hand.repeatability_mm, hand.slips) == (None, None, 2)


def drill(day, right, answered=10):
    return DrillWork(BEGAN + timedelta(days=day), right, answered)


@pytest.mark.parametrize(
    ("drills", "sheets", "state", "train"),
    [
        # Understood, and not yet found at an engine.
        ([drill(1, 10), drill(2, 10)], [], SkillState.NEARLY, Train.RUN),
        # With one sheet besides it is shown.
        ([drill(1, 10), drill(3, 9)], [sheet(2, 8)], SkillState.SHOWN, None),
        ([drill(1, 10), drill(2, 5)], [], SkillState.NOT_YET, Train.DRILL),
        # Four questions of ten are no drill.
        ([drill(1, 4, answered=4)], [], SkillState.UNSEEN, Train.DRILL),
    ],
)
def test_drills_count_towards_finding_the_place_but_not_alone(drills, sheets, state, train):
    place = skill(progress(sheets, [], drills), Skill.PLACE)
    assert (place.state, place.train) == (state, train)
    assert skill(progress(sheets, [], drills), Skill.SCREW).state is SkillState.UNSEEN


def test_runs_show_where_leaves_were_tried():
    told = progress([], [run(1)._replace(place=1.0), run(2)._replace(place=0.5)])
    assert skill(told, Skill.PLACE).shares == (1.0, 0.5)
    # One that was told by rules which did not say shows nothing of it.
    assert skill(progress([], [run(1)]), Skill.PLACE).state is SkillState.UNSEEN
