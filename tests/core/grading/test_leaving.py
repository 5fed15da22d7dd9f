"""Leaving a valve as it is, running ranges, and the figure that is settled on.

Worked by hand after the trade's own rule (common practice): just outside the range by less than one
shim step, a change may land no better; tight by more than a step is always changed.
"""

import json
from decimal import Decimal
from fractions import Fraction
from pathlib import Path

import pytest

from tests.core.conftest import engine_firing
from tests.core.grading.test_adjusted import SCREWS, line, marks_of
from valvetrain.adjusters import Sizes
from valvetrain.engine import Role
from valvetrain.engine_file import read_engine
from valvetrain.grading import (
    ASKS,
    askable,
    asked_columns,
    cannot_be_asked,
    columns_at,
    questions,
    read_entry,
)
from valvetrain.grading.findings import Case, KeyGap, Kind, Reference, explain
from valvetrain.grading.leaving import Left, mark_left
from valvetrain.grading.sheet import EntryError

D = Decimal
ENGINES = Path(__file__).parents[3] / "demo" / "engines"
NARROW = (D("0.10"), D("0.12"))
"""Narrower than a step of 0.05: no size may land in it."""
USUAL = (D("0.10"), D("0.20"))
SIZES = Sizes(D("2.00"), D("3.50"), D("0.05"))
BOTH = ("leave", "leave-over", "shims")


@pytest.mark.parametrize(
    ("gap", "limits", "right", "says"),
    [
        # 2.50 fitted. 0.13 in 0.10-0.12: 2.55 leaves 0.08, which is tight.
        ("0.13", NARROW, True, "a shim of 2.55 mm lands at 0.08 mm, below the minimum"),
        # 0.09 in 0.10-0.12: 2.45 leaves 0.14, 0.02 loose. Below the minimum is never left.
        ("0.09", NARROW, False, "the next thinner shim, 2.45 mm, lands at 0.14 mm"),
        # 0.14 in 0.10-0.12: 2.55 leaves 0.09, only 0.01 out, and on the side that burns.
        ("0.14", NARROW, True, "a shim of 2.55 mm lands at 0.09 mm, below the minimum"),
        # 0.21 in 0.10-0.20: 2.55 leaves 0.16, inside.
        ("0.21", USUAL, False, "a shim of 2.55 mm lands at 0.16 mm: changing it brings it nearer"),
        ("0.04", USUAL, False, "a whole step of 0.05 mm or more is changed"),
        ("0.15", USUAL, True, "is within the spec"),
        ("0.20", USUAL, True, "is within the spec"),
    ],
)
def test_no_better_is_judged_by_what_the_next_size_brings(gap, limits, right, says):
    mark = mark_left(Left(D(gap), limits, SIZES, D("2.50")), "no-better", BOTH)
    assert mark.right is right
    assert says in mark.student_says
    assert mark.student_says == mark.instructor_says


def test_no_better_agrees_with_trying_every_size_by_hand():
    """Brute force over gaps and specs with exact fractions, which shares nothing with the code."""
    step, fitted = Fraction(1, 20), Fraction(5, 2)
    for low, high in ((10, 12), (10, 20), (10, 14), (18, 22)):
        for hundredths in range(1, 40):
            gap = Fraction(hundredths, 100)

            def outside(one, low=Fraction(low, 100), high=Fraction(high, 100)):
                return max(low - one, one - high, Fraction(0))

            now = outside(gap)
            others = [
                outside(left)
                for n in range(-10, 21)
                if n and (left := gap - step * n) >= Fraction(low, 100)
            ]
            is_tight = gap < Fraction(low, 100)
            wanted = now == 0 or (not is_tight and now < step and min(others) >= now)
            limits = (D(low) / 100, D(high) / 100)
            left = Left(D(hundredths) / 100, limits, SIZES, D("2.50"))
            assert mark_left(left, "no-better", BOTH).right is wanted, (low, high, hundredths)
            assert fitted == Fraction(str(left.fitted_mm))


@pytest.mark.parametrize(
    ("gap", "right", "says"),
    [
        ("0.21", True, "loose by 0.01 mm: left until it is measured again"),
        ("0.22", False, "no more than 0.01 mm is left"),
        ("0.09", False, "a little tight does damage"),
    ],
)
def test_a_hundredth_over_is_left_only_on_the_loose_side(gap, right, says):
    mark = mark_left(Left(D(gap), USUAL, SIZES, D("2.50")), "just-over", BOTH)
    assert (mark.right, says in mark.student_says) == (right, True)


@pytest.mark.parametrize("reason", ["no-better", "just-over"])
def test_the_instructors_rule_decides_which_reason_counts(reason):
    left = Left(D("0.13"), NARROW, SIZES, D("2.50"))
    assert mark_left(left, reason, BOTH).right
    refused = mark_left(left, reason, ("shims",))
    assert not refused.right
    assert "does not accept that reason" in refused.student_says


def test_a_screw_has_no_next_size():
    entry = line(SCREWS, reading="0.29", leave="the next size lands no better")
    mark = marks_of(SCREWS, entry, "nut", "leave").parts["adjusted"]
    assert not mark.right
    assert "can be set into the spec" in mark.student_says
    left = line(SCREWS, reading="0.29", leave="just-over")
    assert marks_of(SCREWS, left, "nut", "leave-over").parts["adjusted"].right


COARSE = engine_firing(
    [1, 2],
    adjuster={
        "kind": "shim",
        "place": "over-bucket",
        "sizes_mm": {"from": 2.0, "to": 3.5, "step": 0.1},
    },
)
"""Steps of 0.10 on a spec of 0.22 to 0.28: 0.30 becomes 0.20, below the minimum."""


def test_leaving_takes_the_place_of_a_shim_in_the_marks():
    left = {"reading": "0.30", "shim_fitted": "2.5", "leave": "no-better"}
    asks = ("shims", "leave")
    assert marks_of(COARSE, line(COARSE, **left), *asks).parts["shim"].right
    # The fitted shim written again is leaving it, too.
    again = line(COARSE, **left, shim_chosen="2.5")
    assert marks_of(COARSE, again, *asks).parts["shim"].right
    # Another shim is a change, and counts.
    changed = line(COARSE, **left, shim_chosen="2.6")
    assert not marks_of(COARSE, changed, *asks).parts["shim"].right
    nothing = line(COARSE, reading="0.30", leave="no-better")
    assert "not written" in marks_of(COARSE, nothing, *asks).parts["shim"].student_says


def test_two_answers_are_asked_about_and_leaving_is_no_blank():
    left = line(COARSE, reading="0.30", shim_fitted="2.5", leave="no-better")
    assert questions(COARSE, [left], ("shims", "leave")) == ()
    both = line(COARSE, reading="0.30", shim_fitted="2.5", shim_chosen="2.6", leave="no-better")
    assert [(q.field, "Is that meant" in q.says) for q in questions(COARSE, [both], BOTH)] == [
        ("leave", True)
    ]
    nut = line(SCREWS, reading="0.30", after="0.25", set="0.25", leave="just-over")
    assert [q.field for q in questions(SCREWS, [nut], ("nut", "leave-over"))] == ["leave"]


BRAKE = read_engine(json.loads((ENGINES / "12-hauler-brake-six.json").read_text()))
ROCKER = next(v for v in BRAKE.valves if v.role is Role.BRAKE)
BESIDE = next(v for v in BRAKE.valves if v.role is Role.INTAKE)


def brake_line(valve=ROCKER.number, **further):
    return read_entry(
        BRAKE, valve=valve, reading="", unit="mm", crank_deg=None, verdict=None, further=further
    )


@pytest.mark.parametrize(
    ("wrote", "right", "says"),
    [
        ({"running": "thin goes, thick does not"}, True, "Proved by its own two stacks"),
        ({"running": "OK"}, True, "must go and one of"),
        ({"running": "tight"}, False, "Left tight in its running range"),
        ({"running": "thick goes"}, False, "Left loose in its running range"),
        ({}, False, "No check of the running range is written"),
    ],
)
def test_a_running_range_is_checked_on_its_own_rocker(wrote, right, says):
    mark = marks_of(BRAKE, brake_line(**wrote), "running").parts["running"]
    assert (mark.right, says in mark.student_says) == (right, True)


def test_only_brake_rockers_have_a_running_range_to_write():
    assert "running" not in marks_of(BRAKE, brake_line(BESIDE.number), "running").parts
    assert [one.name for one in columns_at(BRAKE, Role.BRAKE, {"running"})] == ["running"]
    assert columns_at(BRAKE, Role.INTAKE, {"running"}) == ()
    assert "running" in askable(BRAKE)
    assert "running" not in askable(SCREWS)
    assert "no rocker" in cannot_be_asked(ASKS["running"], SCREWS)
    # A blank is asked about where it has to be written, and only there.
    asked = questions(BRAKE, [brake_line(), brake_line(BESIDE.number)], ("running",))
    assert [q.valve for q in asked if q.field == "running"] == [ROCKER.number]


def test_a_choice_that_is_none_is_refused_with_what_there_is():
    with pytest.raises(EntryError, match="say within or tight or loose"):
        brake_line(running="perhaps")


def test_leaving_must_be_judged_by_something():
    assert "ask for one of them too" in cannot_be_asked(ASKS["leave"], COARSE, ("leave",))
    assert cannot_be_asked(ASKS["leave"], COARSE, ("leave", "shims")) is None
    assert [one.name for one in asked_columns({"leave", "leave-over"})] == ["leave"]


def test_the_figure_settled_on_is_the_one_that_is_marked():
    passes = {"reading": "0.35", "second": "0.30", "verdict": "within"}
    unsettled, settled = line(SCREWS, **passes), line(SCREWS, **passes, final="0.28")
    assert [
        marks_of(SCREWS, one, "second").parts["verdict"].right for one in (unsettled, settled)
    ] == [False, True]
    marks = marks_of(SCREWS, settled, "second", "final")
    assert marks.error_mm == D("-0.02")
    assert marks.parts["reading"].right


@pytest.mark.parametrize(
    ("second", "final", "asked"),
    [("0.30", None, True), ("0.34", None, False), ("0.30", "0.33", False), (None, None, False)],
)
def test_passes_that_differ_are_asked_which_counts(second, final, asked):
    wrote = {"second": second, "final": final}
    entry = line(SCREWS, **{name: text for name, text in wrote.items() if text})
    fields = [q.field for q in questions(SCREWS, [entry], ("second", "final"))]
    assert ("final" in fields) is asked


def test_a_slip_in_the_figure_settled_on_is_questioned_like_one_in_the_reading():
    entry = line(SCREWS, second="0.25", final="2.5")
    said = {q.field: q.says for q in questions(SCREWS, [entry], ("second", "final"))}
    assert "is the decimal point right?" in said["final"]


def test_findings_explain_the_figure_that_counts():
    """Two passes that were settled are no finding, and a slip that was settled is none either."""
    reference = Reference(SCREWS, {valve: KeyGap(0.30) for valve in SCREWS.valve})
    wild = {"reading": "2.5", "second": "0.25", "verdict": "within"}
    kinds = {one.kind for one in explain(Case.of(reference, [line(SCREWS, **wild)]))}
    assert {Kind.BETWEEN_PASSES, Kind.DECIMAL_SLIP} & kinds
    assert explain(Case.of(reference, [line(SCREWS, **wild, final="0.29")])) == []
