"""Marks for the further columns of a sheet: second pass, lock nut, shims, and honest doubt."""

from decimal import Decimal

import pytest

from tests.core.conftest import engine_firing
from valvetrain.grading import EntryError, Terms, mark_sheet, questions, read_entry
from valvetrain.grading.columns import AFTER, READING, SECOND, SET, SHIM_CHOSEN, SHIM_FITTED

D = Decimal
SCREWS = engine_firing([1, 3, 4, 2])
SHIMMED = engine_firing(
    [1, 2],
    adjuster={
        "kind": "shim",
        "place": "over-bucket",
        "sizes_mm": {"from": 2.0, "to": 3.5, "step": 0.05},
    },
)
INTAKE = 2
"""On both engines the second valve is an intake: 0.22 to 0.28 mm."""
KEY = {number: D("0.3000") for number in SCREWS.valve}


def line(engine, **fields):
    fields = {"reading": "0.35", "verdict": "loose", **fields}
    further = {k: fields.pop(k) for k in list(fields) if k not in ("reading", "verdict", "unit")}
    return read_entry(
        engine,
        valve=INTAKE,
        reading=fields["reading"],
        unit=fields.get("unit", "mm"),
        crank_deg=0.0,
        verdict=fields["verdict"],
        further=further,
    )


def marks_of(engine, entry, *asks, gauge="0"):
    terms = Terms(D("0.02"), gauge_mm=D(gauge), asks=frozenset(asks))
    key = {number: D("0.3000") for number in engine.valve}
    return next(v for v in mark_sheet(engine, key, terms, [entry]).valves if v.valve == entry.valve)


def test_further_lengths_are_kept_as_typed_and_in_mm():
    entry = line(SCREWS, unit="thou", reading="14", second="14.5", after="0,25 mm")
    assert entry.further["second"] == ("14.5", D("0.3683"))
    assert entry.further["after"] == ("0,25 mm", D("0.2500"))
    assert line(SHIMMED, unit="thou", reading="14", shim_fitted="2.35").length_mm(SHIM_FITTED) == D(
        "2.3500"
    )


def test_a_line_for_findings_has_every_column():
    entry = line(SHIMMED, second="0.34", set="0.2", after="0.25", shim_fitted="2", shim_chosen="3")
    columns = (READING, SECOND, SET, AFTER, SHIM_FITTED, SHIM_CHOSEN)
    assert [entry.mm(column) for column in columns] == [0.35, 0.34, 0.2, 0.25, 2.0, 3.0]
    assert line(SHIMMED).mm(SECOND) is None


@pytest.mark.parametrize(
    ("column", "text", "says"),
    [
        ("second", "abc", "is not a length"),
        ("after", "-1", "outside a gap"),
        ("shim_fitted", "0", "is no shim"),
        ("colour", "2", "is not a column"),
    ],
)
def test_columns_that_cannot_be_read(column, text, says):
    with pytest.raises(EntryError, match=says) as caught:
        line(SHIMMED, **{column: text})
    assert caught.value.field == column


@pytest.mark.parametrize(
    ("fields", "right", "says"),
    [
        ({"after": "0.25"}, True, "0.25 mm with the nut tight, against 0.22 mm to 0.28 mm: within"),
        ({"after": "0.30"}, False, "loose"),
        ({"after": "0.20"}, False, "tight"),
        ({}, False, "0.35 mm is loose, and no figure with the nut tight"),
        ({"reading": "0.25"}, True, "nothing to adjust"),
        ({"reading": ""}, False, "Neither a reading nor"),
    ],
)
def test_adjusting_by_a_screw(fields, right, says):
    mark = marks_of(SCREWS, line(SCREWS, **fields), "nut").parts["adjusted"]
    assert (mark.right, says in mark.student_says) == (right, True)


@pytest.mark.parametrize(
    ("fields", "right", "says"),
    [
        # 2.30 + 0.35 - 2.40 = 0.25, by hand.
        ({"shim_fitted": "2.30", "shim_chosen": "2.40"}, True, "2.40 mm = 0.25 mm"),
        # The wrong way: 2.30 + 0.35 - 2.20 = 0.45.
        ({"shim_fitted": "2.30", "shim_chosen": "2.20"}, False, "= 0.45 mm"),
        ({"shim_fitted": "2.30", "shim_chosen": "2.41"}, False, "No shim is made in 2.41 mm"),
        ({"shim_chosen": "2.40"}, False, "fitted shim is not written"),
        ({"shim_fitted": "2.30"}, False, "0.35 mm is loose, and no shim is chosen"),
        ({"reading": "0.25", "shim_fitted": "2.30"}, True, "the shim stays"),
        ({"reading": "", "shim_fitted": "2.30", "shim_chosen": "2.4"}, False, "No reading"),
    ],
)
def test_choosing_a_shim(fields, right, says):
    mark = marks_of(SHIMMED, line(SHIMMED, **fields), "shims").parts["shim"]
    assert (mark.right, says in mark.student_says) == (right, True)


def test_only_what_is_asked_and_can_be_done_counts():
    entry = line(SHIMMED, after="0.25", shim_fitted="2.30", shim_chosen="2.40")
    assert list(marks_of(SHIMMED, entry).parts) == ["reading", "verdict", "position"]
    assert list(marks_of(SHIMMED, entry, "nut", "shims").parts)[3:] == ["shim"]
    whole = mark_sheet(SHIMMED, KEY, Terms(D("0.02"), asks=frozenset({"nut", "shims"})), [entry])
    # Four valves, each with its three marks and one for its shim: there is no nut.
    assert whole.out_of == 16


@pytest.mark.parametrize(
    ("reading", "gauge", "right"),
    [
        # 0.29 is 0.01 over the upper limit of 0.28.
        ("0.29", "0.01", True),
        ("0.29", "0.009", False),
        ("0.21", "0.01", True),
        ("0.25", "0.01", False),
        ("", "0.01", False),
    ],
)
def test_what_the_gauge_cannot_tell(reading, gauge, right):
    """ISO 14253-1 (from memory): within U of a limit neither side can be proved."""
    entry = line(SCREWS, reading=reading, verdict="cannot-tell")
    mark = marks_of(SCREWS, entry, gauge=gauge).parts["verdict"]
    assert mark.right is right
    assert "key" not in mark.student_says


def test_the_verdict_of_the_figure_stays_right_in_doubt():
    assert marks_of(SCREWS, line(SCREWS, reading="0.29"), gauge="0.02").parts["verdict"].right


@pytest.mark.parametrize(
    ("engine", "asks", "fields", "columns"),
    [
        (SCREWS, ["second"], {}, ["second"]),
        (SCREWS, ["second"], {"second": "0.35"}, []),
        (SCREWS, ["nut"], {}, ["after"]),
        (SCREWS, ["nut"], {"reading": "0.25", "verdict": "within"}, []),
        # A wrong figure is the student's to give; only what is missing is asked about.
        (SCREWS, ["nut"], {"after": "0.5"}, []),
        (SHIMMED, ["nut", "shims"], {}, ["shim_chosen"]),
        (SCREWS, [], {}, []),
    ],
)
def test_what_is_missing_is_asked_about(engine, asks, fields, columns):
    asked = questions(engine, [line(engine, **fields)], asks)
    assert [question.field for question in asked] == columns
