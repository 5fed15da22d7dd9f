"""Marking a reading sheet: lines, slips, marks and their reasons."""

import re
from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.conftest import engine_firing
from valvetrain.grading import EntryError, Terms, mark_sheet, questions, read_entry, spec_verdict

FOUR = engine_firing([1, 3, 4, 2])
TOLERANCE = Decimal("0.02")
KEY = {
    n: Decimal("0.2500") if FOUR.valve[n].role == "intake" else Decimal("0.3500")
    for n in FOUR.valve
}


def line(valve=2, reading="0.25", unit="mm", crank_deg=0.0, verdict="within"):
    return read_entry(
        FOUR, valve=valve, reading=reading, unit=unit, crank_deg=crank_deg, verdict=verdict
    )


def marks_of(entry, key=KEY, tolerance=TOLERANCE):
    sheet = mark_sheet(FOUR, key, Terms(tolerance), [entry])
    return next(v for v in sheet.valves if v.valve == entry.valve)


@pytest.mark.parametrize(
    ("reading", "unit", "mm"),
    [
        ("0.25", "mm", "0.2500"),
        ("10", "thou", "0.2540"),
        ("10 thou", "mm", "0.2540"),
        ("", "mm", None),
    ],
)
def test_readings_as_typed(reading, unit, mm):
    assert line(reading=reading, unit=unit).reading_mm == (mm and Decimal(mm))


@pytest.mark.parametrize(
    ("fields", "field", "says"),
    [
        ({"valve": 99}, "valve", "no such valve"),
        ({"reading": "abc"}, "reading", "is not a length"),
        ({"reading": "0.2."}, "reading", "is not a number"),
        ({"reading": "-0.2"}, "reading", "outside a gap from 0 to 20 mm"),
        ({"reading": "25"}, "reading", "outside a gap from 0 to 20 mm"),
        ({"unit": "cm"}, "unit", "use mm or thou"),
        ({"verdict": "fine"}, "verdict", "say tight, within, loose or cannot-tell"),
        ({"crank_deg": 1e9}, "stop", "give crank degrees"),
        ({"crank_deg": float("nan")}, "stop", "give crank degrees"),
    ],
)
def test_lines_that_cannot_be_read(fields, field, says):
    with pytest.raises(EntryError) as caught:
        line(**fields)
    assert caught.value.field == field
    assert says in caught.value.problem


@pytest.mark.parametrize(
    ("reading", "unit", "says"),
    [
        ("2.5", "mm", "10 times too large; the spec is 0.22–0.28 mm: is the decimal point"),
        ("0.025", "mm", "10 times too small"),
        # 0.010 inch is 10 thou: written as thou it is a thousandth of it.
        ("0.010", "thou", "984 times too small; the spec is 0.22–0.28 mm: did you mean inches?"),
        ("10", "mm", "40 times too large; the spec is 0.22–0.28 mm: did you mean thou?"),
        ("0.25", "thou", "39 times too small; the spec is 0.22–0.28 mm: did you mean mm?"),
        ("0", "mm", "no gap at all?"),
        ("19", "mm", "that is far away"),
    ],
)
def test_slips_are_questioned(reading, unit, says):
    (question,) = questions(FOUR, [line(reading=reading, unit=unit)])
    assert question.field == "reading"
    assert says in question.says


@given(st.decimals("0.06", "1.1", places=2))
def test_gaps_that_happen_are_not_questioned(reading):
    assert questions(FOUR, [line(reading=str(reading))]) == ()


def test_blanks_are_asked_about():
    asked = questions(FOUR, [line(reading="", crank_deg=None, verdict=None)])
    assert [q.field for q in asked] == ["reading", "stop", "verdict"]


@pytest.mark.parametrize(
    ("reading", "verdict"),
    [("0.21", "tight"), ("0.22", "within"), ("0.28", "within"), ("0.2801", "loose")],
)
def test_the_limits_themselves_are_within(reading, verdict):
    assert spec_verdict(FOUR, 2, Decimal(reading)) == verdict


def test_everything_right_earns_three():
    marks = marks_of(line())
    assert marks.points == 3
    assert marks.error_mm == 0


@pytest.mark.parametrize(("reading", "right"), [("0.27", True), ("0.271", False), ("0.23", True)])
def test_the_tolerance_includes_its_limit(reading, right):
    assert marks_of(line(reading=reading)).parts["reading"].right is right


def test_a_verdict_is_judged_on_the_students_own_figure():
    marks = marks_of(line(reading="0.35", verdict="loose"))
    assert (marks.parts["reading"].right, marks.parts["verdict"].right) == (False, True)
    wrong = marks_of(line(reading="0.35", verdict="within"))
    assert (
        wrong.parts["verdict"].student_says
        == "0.35 mm against 0.22 mm to 0.28 mm is loose; you wrote within."
    )


@pytest.mark.parametrize(
    ("valve", "crank_deg", "right", "says"),
    [
        (2, 0, True, "on its heel, 118° from the edge"),
        (2, 360, False, "held open by its lobe, where there is no gap; turn 28° or more"),
        (2, 340, False, "on its ramp, where the gap reads small; turn 8° or more"),
    ],
)
def test_position(valve, crank_deg, right, says):
    position = marks_of(line(valve=valve, crank_deg=float(crank_deg))).parts["position"]
    assert position.right is right
    assert says in position.student_says


def test_valves_without_an_entry_earn_nothing():
    sheet = mark_sheet(FOUR, KEY, Terms(TOLERANCE), [])
    assert (sheet.points, sheet.out_of) == (0, 24)
    assert sheet.valves[0].parts["reading"].student_says == "No reading."


KEYS = st.decimals("0.05", "0.9", places=4)


@given(
    KEYS,
    KEYS,
    st.sampled_from(["0.25", "0.61", "0.10", "12 thou", ""]),
    st.sampled_from(["tight", "within", "loose", None]),
)
def test_keys_that_give_the_same_marks_tell_a_student_the_same(one, other, reading, verdict):
    """Nothing of the key is in a student's reasons but what the mark itself gives away."""
    entry = line(reading=reading, verdict=verdict)
    marks = [marks_of(entry, key=KEY | {2: key}) for key in (one, other)]
    # Right or wrong, and on which side: all that a mark may tell.
    tells = [(m.points, m.parts["reading"].right, (m.error_mm or 0) > 0) for m in marks]
    told = [[m.parts["reading"].student_says, m.parts["verdict"].student_says] for m in marks]
    if tells[0] == tells[1] or all(m.parts["reading"].right for m in marks):
        assert told[0] == told[1]
    if entry.reading_mm is not None:
        figures = {float(figure) for figure in re.findall(r"\d+\.\d+", " ".join(told[0]))}
        assert figures <= {0.02, 0.22, 0.28, float(entry.reading_mm)}


class TestAKeyThatIsNotExact:
    """ISO 14253-1's decision rules (from memory): wrong only where it is proved."""

    def reading(self, text, uncertainty):
        key = dict.fromkeys(KEY, Decimal("0.30"))
        entry = read_entry(FOUR, valve=1, reading=text, unit="mm", crank_deg=None, verdict=None)
        marks = mark_sheet(FOUR, key, Terms(Decimal("0.02"), Decimal(uncertainty)), [entry])
        return next(valve.parts["reading"] for valve in marks.valves if valve.valve == 1)

    @pytest.mark.parametrize(
        ("text", "uncertainty", "right"),
        [
            ("0.32", "0", True),
            ("0.33", "0", False),
            ("0.33", "0.01", True),
            ("0.27", "0.01", True),
            ("0.3301", "0.01", False),
            ("0.34", "0.01", False),
            ("0.26", "0.01", False),
        ],
    )
    def test_it_is_wrong_beyond_tolerance_and_uncertainty_together(self, text, uncertainty, right):
        assert self.reading(text, uncertainty).right is right

    def test_doubt_is_told_and_gives_no_figure_away(self):
        mark = self.reading("0.33", "0.01")
        assert "in doubt, counted right" in mark.instructor_says
        assert mark.student_says == "Agrees with the reference."
