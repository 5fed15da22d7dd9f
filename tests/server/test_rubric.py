"""Rubrics of a sheet: seen before they count, versioned, and silent to students where they tell."""

import csv
import io
from datetime import timedelta

import pytest

from edrix.marking import handing_in
from edrix.marking.models import Rubric
from edrix.safety.models import Opening
from edrix.sheets.lines import TypedLine
from edrix.weights import StoredRubric
from tests.server.conftest import right_lines, tick_the_lists

WEIGHED = {
    "items": [
        {"part": "reading", "weight": 3},
        {"part": "safety", "weight": 1, "least_percent": 100},
    ],
    "pass_percent": 60,
}


@pytest.fixture
def handed_in(school):
    """Ines hands in all right but valve 7, which reads 0.05 too much; her lists are not ticked."""
    lines = [
        line | ({"reading": "0.30", "verdict": "loose"} if line["valve"] == 7 else {})
        for line in right_lines()
    ]
    return handing_in.hand_in(
        school.ines,
        school.sheet.id,
        [TypedLine(**line) for line in lines],
        request_key="k-12345678",
        confirmed=True,
    )


def path(school, rest=""):
    return f"/api/sheets/{school.sheet.id}/rubric{rest}"


def weigh(browsers, school, rubric=None, based_on=0):
    body = {"rubric": rubric or WEIGHED, "based_on": based_on}
    return browsers["instructor"].send("POST", path(school), body)


def own(browsers, school):
    return browsers["student"].get(f"/api/sheets/{school.sheet.id}").json()["result"]


def test_without_a_rubric_every_mark_counts_alike(school, browsers, handed_in):
    grade = own(browsers, school)["grade"]
    assert (grade["percent"], grade["passed"]) == (round(100 * 23 / 24, 1), True)
    told = browsers["instructor"].get(path(school)).json()
    assert (told["number"], told["made_by"]) == (0, None)
    assert [one["name"] for one in told["templates"]][:2] == ["plain", "measuring"]


def test_a_rubric_is_seen_and_then_counts(school, browsers, handed_in):
    seen = browsers["instructor"].send("POST", path(school, "/preview"), WEIGHED).json()
    (row,) = seen["rows"]
    # Three quarters for readings of which seven of eight are right; nothing for safety.
    assert (row["before_percent"], row["after_percent"]) == (95.8, 65.6)
    assert (row["before_passed"], row["after_passed"]) == (True, False)
    assert seen["sample"]["percent"] < 100
    assert not Rubric.objects.exists()
    assert weigh(browsers, school).status_code == 201
    grade = own(browsers, school)["grade"]
    assert (grade["percent"], grade["passed"], grade["fails"]) == (65.6, False, ["Safety lists"])
    assert grade["items"][0]["says"] == "7 of 8 within"
    board = browsers["instructor"].get(f"/api/sheets/{school.sheet.id}/board").json()
    assert {row["percent"] for row in board["rows"]} == {65.6, None}
    told = browsers["instructor"].get(path(school)).json()
    assert (told["number"], told["made_by"]) == (1, "Tove")


def test_decisions_count_in_the_grade(school, browsers, handed_in):
    weigh(browsers, school)
    body = {"valve": 7, "part": "reading", "right": True, "reason": "The stand was warm."}
    told = browsers["instructor"].send("POST", f"/api/hand-ins/{handed_in.id}/decisions", body)
    assert told.json()["result"]["grade"]["items"][0]["says"] == "8 of 8 within"


def test_a_grade_that_tells_how_far_off_waits_until_it_is_given_back(school, browsers, handed_in):
    weigh(browsers, school, WEIGHED | {"zero_at_mm": 0.09})
    assert own(browsers, school)["grade"] is None
    tove = browsers["instructor"]
    told = tove.get(f"/api/hand-ins/{handed_in.id}").json()["result"]["grade"]
    # Valve 7: 0.0483 off, 0.0183 beyond; (0.09 - 0.0483) / 0.06 is 0.695.
    assert "1 beyond it worth 0.69" in told["items"][0]["says"]
    assert tove.get(f"/api/sheets/{school.sheet.id}/board").json()["waits"] is True
    assert tove.send("POST", f"/api/sheets/{school.sheet.id}/give-back", {}).status_code == 204
    assert own(browsers, school)["grade"]["percent"] == told["percent"]
    assert tove.get(f"/api/sheets/{school.sheet.id}/board").json()["waits"] is False


def test_the_lists_of_that_day_count(school, browsers):
    tick_the_lists(school, school.ines)
    lines = [TypedLine(**line) for line in right_lines()]
    handing_in.hand_in(
        school.ines, school.sheet.id, lines, request_key="k-12345678", confirmed=True
    )
    # Opening the stand once more afterwards is another day's work.
    browsers["student"].send(
        "POST",
        "/api/openings",
        {
            "engine_id": school.engine_id,
            "stand_id": school.stand.id,
            "start": "diesel",
            "ticked": ["stop-lever", "priming", "control", "secured", "cold", "hands"],
        },
    )
    weigh(browsers, school)
    grade = own(browsers, school)["grade"]
    assert (grade["percent"], grade["passed"]) == (100.0, True)


def test_time_runs_from_the_list_to_handing_in_in_minutes(school, browsers):
    """45 minutes of 30 are worth half: nothing is left at twice the time."""
    tick_the_lists(school, school.ines)
    lines = [TypedLine(**line) for line in right_lines()]
    made = handing_in.hand_in(
        school.ines, school.sheet.id, lines, request_key="k-12345678", confirmed=True
    )
    Opening.objects.update(opened_at=made.handed_in_at - timedelta(minutes=45))
    wish = {"items": [{"part": "time", "weight": 1}], "pass_percent": 60, "minutes": 30}
    assert weigh(browsers, school, wish).status_code == 201
    (item,) = (
        browsers["instructor"].get(f"/api/hand-ins/{made.id}").json()["result"]["grade"]["items"]
    )
    assert (item["share"], item["says"]) == (0.5, "45 minutes of 30")


def test_who_weighs_on_an_old_look_is_refused(school, browsers):
    weigh(browsers, school)
    answer = weigh(browsers, school, based_on=0)
    assert answer.status_code == 409
    assert "has rubric 1 by now" in answer.json()["detail"]
    assert Rubric.objects.count() == 1
    assert weigh(browsers, school, based_on=1).status_code == 201


@pytest.mark.parametrize(
    ("change", "field", "says"),
    [
        ({"items": []}, "items", "at least one part"),
        ({"items": [{"part": "colour", "weight": 1}]}, "items", "is no part"),
        ({"items": [{"part": "reading", "weight": -1}]}, "weight of reading", "more than 0"),
        ({"items": [{"part": "time", "weight": 1}]}, "minutes", "give its minutes"),
        ({"pass_percent": 200}, "pass mark", "0 to 100"),
        ({"zero_at_mm": 0.01}, "zero at", "more than the tolerance of 0.03 mm"),
    ],
)
def test_rubrics_that_cannot_be_used(school, browsers, change, field, says):
    for answer in (
        weigh(browsers, school, WEIGHED | change),
        browsers["instructor"].send("POST", path(school, "/preview"), WEIGHED | change),
    ):
        assert answer.status_code == 422
        (fault,) = answer.json()["fields"]
        assert fault["path"] == field
        assert says in fault["problem"]
    assert not Rubric.objects.exists()


def test_grades_go_to_a_grade_book(school, browsers, handed_in):
    weigh(browsers, school)
    text = browsers["instructor"].get(f"/api/sheets/{school.sheet.id}/grades.csv").content
    row, bo = csv.DictReader(io.StringIO(text.decode("utf-8-sig")))
    # A grade book misses nobody: who has not handed in stands there, without a grade.
    assert [bo[name] for name in ("student", "handed_in_at", "percent", "passed")] == [
        "Bo Hallgrim", "", "", "",
    ]  # fmt: skip
    assert (row["percent"], row["passed"], row["not_whole"]) == ("65.6", "no", "safety")


def test_no_query_for_each_student(school, browsers, handed_in, django_assert_max_num_queries):
    browsers.sign_in("instructor")
    with django_assert_max_num_queries(25):
        browsers["instructor"].get(f"/api/sheets/{school.sheet.id}/board")


def test_a_rubric_of_an_older_edrix_keeps_what_it_asked(school, browsers, handed_in):
    """Up to edrix-rubric/2 a part said only whether all of it must be right."""
    assert weigh(browsers, school).status_code == 201
    kept = Rubric.objects.get()
    kept.document["items"] = [
        {"part": "reading", "weight": 3.0, "must_be_whole": False},
        {"part": "safety", "weight": 1.0, "must_be_whole": True},
    ]
    kept.save()
    told = browsers["instructor"].get(path(school)).json()["rubric"]
    assert [item["least_percent"] for item in told["items"]] == [0, 100]
    assert own(browsers, school)["grade"]["fails"] == ["Safety lists"]
    StoredRubric.model_validate(kept.document)
