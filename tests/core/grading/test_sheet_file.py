"""`edrix-sheet/1`: read whole, refused by path; `edrix calc grade` on it."""

import contextlib
import copy
import json
from decimal import Decimal
from pathlib import Path

import jsonschema
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from valvetrain.calculator import main
from valvetrain.document import DocumentError
from valvetrain.grading import mark_sheet
from valvetrain.grading.columns import SECOND, SET
from valvetrain.grading.sheet_file import read_sheet

ROOT = Path(__file__).parents[3]
ENGINE = json.loads((ROOT / "demo" / "engines" / "01-p4-fire-pump.json").read_text())
SCHEMA = json.loads((ROOT / "docs" / "sheet-file.schema.json").read_text())
KEY = {1: "0.35", 2: "0.25", 3: "0.31", 4: "0.42", 5: "0.28", 6: "0.20", 7: "0.26", 8: "0.36"}


def sheet():
    return {
        "format": "edrix-sheet/1",
        "engine": copy.deepcopy(ENGINE),
        "student": "Ines Falkner",
        "title": "Pump, first look",
        "tolerance_mm": 0.02,
        "key": [{"valve": v, "gap": gap, "unit": "mm", "u_mm": 0.005} for v, gap in KEY.items()],
        "lines": [
            {
                "valve": v,
                "reading": gap,
                "second": gap,
                "set": "0,25",
                "after": 0.25,
                "unit": "mm",
                "crank_deg": 0 if v in (1, 2, 3, 5) else 360,
                "verdict": "within",
            }
            for v, gap in KEY.items()
        ],
    }


def marked(document):
    """What is marked of the first valve, and what it all comes to."""
    read = read_sheet(document)
    marks = mark_sheet(read.engine, read.key_mm, read.terms, read.entries)
    return list(marks.valves[0].parts), (marks.points, marks.out_of)


@pytest.mark.parametrize(
    ("asks", "parts", "out_of"),
    [
        (None, ["reading", "verdict", "position"], 24),
        (["reading", "stop", "verdict"], ["reading", "verdict", "position"], 24),
        (["reading"], ["reading"], 8),
        (["stop"], ["position"], 8),
        (["reading", "set", "after"], ["reading", "adjusted"], 16),
        (["reading", "second", "final", "running"], ["reading"], 8),
    ],
)
def test_what_is_not_asked_is_neither_marked_nor_missing(asks, parts, out_of):
    document = sheet() if asks is None else sheet() | {"asks": asks}
    jsonschema.validate(document, SCHEMA)
    assert (marked(document)[0], marked(document)[1][1]) == (parts, out_of)


def test_seven_of_eight_right_readings_are_seven_of_eight():
    """A list of figures, as from paper, with one of them wrong."""
    document = sheet() | {"asks": ["reading"]}
    document["lines"] = [
        {"valve": line["valve"], "reading": line["reading"]} for line in document["lines"]
    ]
    document["lines"][3]["reading"] = "0.25"
    assert marked(document)[1] == (7, 8)


def test_the_final_figure_is_the_one_that_is_marked():
    document = sheet()
    document["lines"][0] |= {"reading": "0.45", "second": "0.35", "final": "0,35"}
    jsonschema.validate(document, SCHEMA)
    read = read_sheet(document)
    assert read.entries[0].settled_mm == Decimal("0.3500")
    assert read.entries[0].reading_mm == Decimal("0.4500")
    # What is explained is the figure that counts.
    assert read.case.gaps_mm[0] == 0.35
    document["lines"][0]["final"] = "  "
    assert read_sheet(document).entries[0].settled_mm == Decimal("0.4500")


@pytest.mark.parametrize(
    ("change", "path"),
    [
        ({"asks": ["colour"]}, "$.asks[0]"),
        ({"asks": "reading"}, "$.asks"),
    ],
)
def test_what_a_sheet_cannot_ask_for(change, path):
    with pytest.raises(DocumentError) as caught:
        read_sheet(sheet() | change)
    assert caught.value.faults[0].path == path


def test_a_final_figure_that_is_none_is_told_where_it_stands():
    document = sheet()
    document["lines"][2]["final"] = "o.25"
    with pytest.raises(DocumentError) as caught:
        read_sheet(document)
    assert [fault.path for fault in caught.value.faults] == ["$.lines[2].final"]


def test_a_sheet_is_read_whole():
    read = read_sheet(sheet())
    assert (read.student, read.title, read.tolerance_mm) == (
        "Ines Falkner",
        "Pump, first look",
        Decimal("0.02"),
    )
    assert read.key_mm[4] == Decimal("0.4200")
    assert read.case.lines[0].mm(SECOND) == 0.35
    assert read.case.lines[0].mm(SET) == 0.25
    assert read.case.key[1].u_mm == 0.005


def test_the_example_fits_its_schema():
    document = sheet()
    jsonschema.validate(document | {"engine": {}}, SCHEMA)
    broken = sheet()
    broken["lines"][0]["unit"] = "ell"
    with pytest.raises(jsonschema.ValidationError):
        jsonschema.validate(broken, SCHEMA)


def test_units_and_what_may_be_left_out():
    document = sheet()
    document["lines"] = [
        {"valve": 2, "reading": "10 thou"},
        {"valve": 3, "reading": 12, "unit": "thou"},
    ]
    del document["tolerance_mm"], document["student"], document["title"]
    read = read_sheet(document)
    assert [entry.reading_mm for entry in read.entries] == [Decimal("0.2540"), Decimal("0.3048")]
    assert read.case.lines[0].reading_mm is None


@pytest.mark.parametrize(
    ("change", "path", "problem"),
    [
        (lambda d: d.update(format="sheet/2"), "$.format", "edrix-sheet/1"),
        (lambda d: d.pop("engine"), "$.engine", "is missing"),
        (lambda d: d["engine"].update(cylinders=99), "$.engine.cylinders", "1 to 24"),
        (lambda d: d.pop("key"), "$.key", "is missing"),
        (lambda d: d["key"].pop(), "$.key", "no gap for valve 8"),
        (lambda d: d["key"][0].update(gap=""), "$.key[0].gap", "is empty"),
        (lambda d: d["key"][0].update(u_mm=-1), "$.key[0].u_mm", "millimetres"),
        (lambda d: d["key"].append(d["key"][0]), "$.key[8].valve", "given twice"),
        (lambda d: d["lines"].append(d["lines"][0]), "$.lines[8].valve", "given twice"),
        (lambda d: d["lines"][0].update(valve=77), "$.lines[0].valve", "no such valve"),
        (lambda d: d["lines"][0].update(reading="wide"), "$.lines[0].reading", "not a length"),
        (lambda d: d["lines"][0].update(reading="=1+1"), "$.lines[0].reading", "not a number"),
        (lambda d: d["lines"][0].update(reading=-0.2), "$.lines[0].reading", "outside"),
        (lambda d: d["lines"][0].update(second=[1]), "$.lines[0].second", "as it was written"),
        (lambda d: d["lines"][0].update(after="99"), "$.lines[0].after", "outside"),
        (lambda d: d["lines"][0].update(unit="ell"), "$.lines[0].unit", "one of mm, thou"),
        (lambda d: d["lines"][0].update(verdict="fine"), "$.lines[0].verdict", "tight, within"),
        (lambda d: d["lines"][0].update(crank_deg="top"), "$.lines[0].crank_deg", "degrees"),
        (lambda d: d["lines"][0].update(shim_fitted_mm=0), "$.lines[0].shim_fitted_mm", "shim"),
        (lambda d: d.update(lines={}), "$.lines", "what was written"),
        (lambda d: d.update(lines=[3]), "$.lines[0]", "an object for one valve"),
        (lambda d: d.update(tolerance_mm=0), "$.tolerance_mm", "millimetres"),
    ],
)
def test_what_is_wrong_is_told_by_its_path(change, path, problem):
    document = sheet()
    change(document)
    with pytest.raises(DocumentError) as refused:
        read_sheet(document)
    assert [fault for fault in refused.value.faults if fault.path == path], refused.value.faults
    assert any(problem in fault.problem for fault in refused.value.faults if fault.path == path)


def test_all_faults_are_told_at_once():
    document = sheet()
    document["lines"][0]["reading"] = "wide"
    document["lines"][3]["verdict"] = "fine"
    document["key"][2]["gap"] = "x"
    with pytest.raises(DocumentError) as refused:
        read_sheet(document)
    assert len(refused.value.faults) == 3


json_values = st.recursive(
    st.none() | st.booleans() | st.floats() | st.integers() | st.text(max_size=8),
    lambda inside: st.lists(inside, max_size=3) | st.dictionaries(st.text(max_size=6), inside),
    max_leaves=8,
)


@settings(max_examples=150, deadline=None)
@given(
    st.sampled_from(["format", "engine", "key", "lines", "tolerance_mm", "student"]), json_values
)
def test_anything_in_any_field_is_read_or_refused(field, value):
    document = sheet()
    document[field] = value
    with contextlib.suppress(DocumentError):
        read_sheet(document)


@settings(max_examples=150, deadline=None)
@given(
    st.sampled_from(["valve", "reading", "second", "unit", "crank_deg", "verdict", "after"]),
    json_values,
)
def test_anything_in_a_line_is_read_or_refused(field, value):
    document = sheet()
    document["lines"][0][field] = value
    with contextlib.suppress(DocumentError):
        read_sheet(document)


@pytest.fixture
def grade(tmp_path, capsys):
    def asked(document):
        path = tmp_path / "sheet.json"
        path.write_text(json.dumps(document))
        status = main(["grade", str(path)])
        out, err = capsys.readouterr()
        return status, out, err

    return asked


def test_grade_gives_marks_and_findings(grade):
    document = sheet()
    document["lines"][3]["reading"] = "4.2"
    status, out, err = grade(document)
    told = json.loads(out)
    assert (status, err) == (0, "")
    assert told["out_of"] == 24
    assert [one["kind"] for one in told["findings"]] == ["decimal-slip", "between-passes"] or [
        one["kind"] for one in told["findings"]
    ] == ["between-passes", "decimal-slip"]
    assert told["valves"][3]["reading"]["right"] is False


def test_grade_refuses_in_one_line(grade):
    status, out, err = grade({"format": "edrix-sheet/1"})
    assert (status, out) == (2, "")
    assert "$.engine" in err
    assert err.count("\n") == 1


@pytest.mark.parametrize(
    ("running", "right"),
    [
        # The hauler's running range is 3.85 to 4.15 mm: 151.6 to 163.4 thou.
        ("4.0", True),
        ({"text": "155", "unit": "thou"}, True),
        ({"text": "4.0", "unit": "mm"}, True),
        ({"text": "165", "unit": "thou"}, False),
        ("3.8", False),
        ("within", True),
        ("loose", False),
    ],
)
def test_a_running_range_may_be_a_figure_with_a_unit_of_its_own(grade, running, right):
    shelf = Path(__file__).parents[3] / "demo" / "engines" / "12-hauler-brake-six.json"
    engine = json.loads(shelf.read_text())
    brake = next(one["number"] for one in engine["valves"] if one["role"] == "brake")
    middle = {"intake": "0.34", "exhaust": "0.63", "brake": "4.00"}
    document = {
        "format": "edrix-sheet/1",
        "engine": engine,
        "asks": ["reading", "running"],
        "key": [{"valve": one["number"], "gap": middle[one["role"]]} for one in engine["valves"]],
        "lines": [{"valve": brake, "unit": "mm", "reading": "4.00", "running": running}],
    }
    status, out, err = grade(document)
    assert (status, err) == (0, "")
    (told,) = [one for one in json.loads(out)["valves"] if one["valve"] == brake]
    assert told["running"]["right"] is right


def test_a_running_figure_in_a_unit_that_is_none_is_refused(grade):
    document = sheet()
    document["lines"][0]["running"] = {"text": "25", "unit": "ell"}
    status, _, err = grade(document)
    assert status == 2
    assert "running.unit" in err
