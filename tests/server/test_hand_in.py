"""Handing in: questions first, exactly once, marked at once, exported."""

import csv
import io
import threading
from concurrent.futures import ThreadPoolExecutor

import pytest
from django.db import IntegrityError, connections
from django.db.models import ProtectedError

from edrix.errors import ConflictError
from edrix.marking import handing_in
from edrix.marking.models import Marking
from edrix.sheets.lines import TypedLine
from edrix.sheets.models import Draft, HandIn, Reading
from tests.server.conftest import mark_of, right_lines, tick_the_lists
from tests.server.test_drafts import write


@pytest.fixture(autouse=True)
def lists_are_ticked(school):
    """These tests are about the figures; test_safety.py is about the lists."""
    for student in (school.ines, school.bo):
        tick_the_lists(school, student)


def post(browsers, school, lines=None, key="first-click", **fields):
    body = {"lines": right_lines() if lines is None else lines, "request_key": key, **fields}
    return browsers["student"].send("POST", f"/api/sheets/{school.sheet.id}/hand-in", body)


def changed(valve, **fields):
    return [line | (fields if line["valve"] == valve else {}) for line in right_lines()]


def test_a_right_sheet_earns_everything(school, browsers):
    answer = post(browsers, school)
    assert answer.status_code == 201
    result = answer.json()
    assert (result["points"], result["out_of"]) == (24, 24)
    assert (
        mark_of(result["valves"][2], "verdict")["says"]
        == "0.19 mm against 0.22 mm to 0.28 mm is tight."
    )


def test_marks_with_reasons(school, browsers):
    lines = changed(7, reading="0.31", verdict="within", crank_deg=0.0)
    valve = post(browsers, school, lines).json()["valves"][6]
    assert valve["points"] == 0
    assert mark_of(valve, "reading")["says"].startswith(
        "Reads larger than the reference by more than"
    )
    assert "you wrote within" in mark_of(valve, "verdict")["says"]
    assert "held open by its lobe" in mark_of(valve, "position")["says"]


def test_a_slip_is_questioned_and_may_be_confirmed(school, browsers):
    lines = changed(2, reading="2.5")
    asked = post(browsers, school, lines)
    assert asked.status_code == 409
    problem = asked.json()
    assert problem["confirm"] is True
    assert problem["fields"][0]["path"] == "valve 2.reading"
    assert "10 times too large" in problem["fields"][0]["problem"]
    assert not HandIn.objects.exists()
    assert post(browsers, school, lines, confirmed=True).status_code == 201


def test_a_second_hand_in_is_refused_and_changes_nothing(school, browsers):
    first = post(browsers, school)
    second = post(browsers, school, changed(2, reading="0.99"), key="other-click")
    assert second.status_code == 409
    assert "a sheet is handed in once" in second.json()["detail"]
    assert second.json()["confirm"] is False
    shown = browsers["student"].get(f"/api/sheets/{school.sheet.id}").json()["result"]
    assert shown["lines"] == first.json()["lines"]


def test_a_retry_of_the_same_click_gives_the_same_answer(school, browsers):
    first = post(browsers, school)
    again = post(browsers, school)
    assert (again.status_code, again.json()) == (201, first.json())
    assert HandIn.objects.count() == 1


@pytest.mark.django_db(transaction=True)
@pytest.mark.parametrize("keys", [["same-click"] * 6, [f"click-no-{n}" for n in range(6)]])
def test_six_requests_at_once_make_one_hand_in(school, keys, monkeypatch):
    """All six pass the first look together: what decides is the database's constraint."""
    lines = [TypedLine(**line) for line in right_lines()]
    gate = threading.Barrier(6, timeout=10)
    real = handing_in.own_hand_in

    def look_and_wait(user, sheet):
        found = real(user, sheet)
        assert found is None
        gate.wait()
        return found

    monkeypatch.setattr(handing_in, "own_hand_in", look_and_wait)

    def click(key):
        try:
            return handing_in.hand_in(
                school.ines, school.sheet.id, lines, request_key=key, confirmed=False
            ).id
        except ConflictError:
            return None
        finally:
            connections.close_all()

    with ThreadPoolExecutor(6) as pool:
        made = list(pool.map(click, keys))
    assert HandIn.objects.count() == 1
    assert Reading.objects.count() == 8
    assert Marking.objects.count() == 1
    (only,) = {found for found in made if found is not None}
    assert made.count(only) == (6 if len(set(keys)) == 1 else 1)


def test_the_database_itself_refuses_a_second_hand_in(school):
    HandIn.objects.create(
        sheet=school.sheet, student=school.ines, request_key="one", key=school.sheet.key
    )
    with pytest.raises(IntegrityError, match="hand_in_once"):
        HandIn.objects.create(
            sheet=school.sheet, student=school.ines, request_key="two", key=school.sheet.key
        )


def test_the_database_itself_refuses_a_valve_twice(school):
    made = HandIn.objects.create(
        sheet=school.sheet, student=school.ines, request_key="one", key=school.sheet.key
    )
    Reading.objects.create(hand_in=made, valve=1, unit="mm")
    with pytest.raises(IntegrityError, match="reading_valve_once"):
        Reading.objects.create(hand_in=made, valve=1, unit="mm")


@pytest.mark.parametrize("kept", ["teaching_class", "stand", "key"])
def test_what_a_sheet_rests_on_cannot_be_deleted(school, kept):
    with pytest.raises(ProtectedError):
        getattr(school.sheet, kept).delete()


def test_a_hand_in_with_its_record_cannot_be_deleted(school, browsers):
    post(browsers, school)
    with pytest.raises(ProtectedError):
        HandIn.objects.get().delete()


def test_a_draft_keeps_what_was_typed_even_if_wrong(school, browsers):
    lines = [{"valve": 2, "reading": "0,2 5?", "unit": "mm", "crank_deg": None, "verdict": None}]
    lines[0]["further"] = {}
    assert write(browsers["student"], school, lines).status_code == 200
    assert browsers["student"].get(f"/api/sheets/{school.sheet.id}").json()["draft"] == lines
    refused = post(browsers, school, lines)
    assert refused.status_code == 422
    assert refused.json()["fields"][0]["path"] == "valve 2.reading"
    assert Draft.objects.count() == 1


def test_no_draft_after_hand_in(school, browsers):
    post(browsers, school)
    late = write(browsers["student"], school, right_lines())
    assert late.status_code == 409
    assert Draft.objects.count() == 0


def test_the_board_shows_who_is_where(school, browsers):
    write(browsers["classmate"], school, right_lines()[:3])
    post(browsers, school)
    rows = browsers["instructor"].get(f"/api/sheets/{school.sheet.id}/board").json()["rows"]
    assert [(r["display_name"], r["points"], r["lines_begun"]) for r in rows] == [
        ("Bo Hallgrim", None, 3),
        ("Ines Falkner", 24, 0),
    ]


def test_the_instructor_sees_all_figures(school, browsers):
    post(browsers, school)
    (row,) = [
        r
        for r in browsers["instructor"].get(f"/api/sheets/{school.sheet.id}/board").json()["rows"]
        if r["hand_in_id"]
    ]
    shown = browsers["instructor"].get(f"/api/hand-ins/{row['hand_in_id']}").json()
    says = mark_of(shown["result"]["valves"][0], "reading")["says"]
    assert says == "Read 0.35 mm, key 0.3471 mm: off by +0.0029 mm, within ±0.03 mm."


def test_a_sheet_is_marked_by_the_key_it_was_set_with(school, browsers):
    gaps = [{"valve": v, "gap": "0.90", "unit": "mm"} for v in range(1, 9)]
    browsers["instructor"].send("POST", f"/api/stands/{school.stand.id}/keys", {"gaps": gaps})
    assert post(browsers, school).json()["points"] == 24


def test_csv_has_a_row_for_each_student_and_valve(school, browsers):
    school.ines.display_name = "=HYPERLINK(evil)"
    school.ines.save()
    post(browsers, school, changed(2, reading="10 thou"))
    answer = browsers["instructor"].get(f"/api/sheets/{school.sheet.id}/marks.csv")
    assert answer["Content-Type"].startswith("text/csv")
    assert "attachment" in answer["Content-Disposition"]
    rows = list(csv.DictReader(io.StringIO(answer.content.decode("utf-8-sig"))))
    assert len(rows) == 8
    assert rows[1]["student"] == "'=HYPERLINK(evil)"
    assert (rows[1]["reading_typed"], rows[1]["reading_mm"]) == ("10 thou", "0.254")
    assert rows[1]["error_mm"] == "0.0007"
    assert {row["points"] for row in rows} == {"24"}


def test_reading_lists_takes_no_query_for_each_row(school, browsers, django_assert_max_num_queries):
    from edrix.classes import roll

    roll.add_students(school.tove, school.class_a, "\n".join(f"Crew {n:c}" for n in range(65, 90)))
    browsers.sign_in("instructor", "student")
    with django_assert_max_num_queries(9):
        assert (
            len(browsers["instructor"].get(f"/api/sheets/{school.sheet.id}/board").json()["rows"])
            == 27
        )
    with django_assert_max_num_queries(9):
        browsers["instructor"].get(f"/api/classes/{school.class_a}/stands")
    with django_assert_max_num_queries(6):
        browsers["student"].get("/api/work")


class TestFindings:
    def shifted(self, by):
        return [line | {"reading": f"{float(line['reading']) + by:.2f}"} for line in right_lines()]

    def of_class(self, browsers, school):
        return browsers["instructor"].get(f"/api/sheets/{school.sheet.id}/findings").json()

    def test_a_hand_that_leans_is_told_to_the_instructor_with_its_arithmetic(
        self, browsers, school
    ):
        post(browsers, school, self.shifted(0.06), confirmed=True)
        told = self.of_class(browsers, school)
        (row,) = told["rows"]
        assert row["student"] == "Ines Falkner"
        assert [one["kind"] for one in row["findings"]] == ["steady-bias-loose"]
        assert len(row["findings"][0]["arithmetic"]) == 8
        (kind,) = told["kinds"]
        assert (kind["kind"], kind["students"]) == ("steady-bias-loose", 1)
        assert kind["label"] == row["findings"][0]["label"] == "Reads everything loose"
        page = browsers["instructor"].get(f"/api/hand-ins/{row['hand_in_id']}").json()
        assert page["findings"] == row["findings"]

    def test_the_student_is_told_where_to_look_and_no_figure_of_the_key(self, browsers, school):
        lines = changed(7, reading="2.5")
        result = post(browsers, school, lines, confirmed=True).json()
        assert result["hints"] == ["Check the decimal point of valve 7."]
        again = browsers["student"].get(f"/api/sheets/{school.sheet.id}").json()
        assert again["result"]["hints"] == result["hints"]
        assert "findings" not in again["result"]

    def test_a_right_sheet_has_none(self, browsers, school):
        assert post(browsers, school).json()["hints"] == []
        assert self.of_class(browsers, school)["rows"][0]["findings"] == []

    def test_equal_odd_sheets_are_named_to_the_instructor_only(self, browsers, school):
        odd = [line | {"reading": f"{0.11 + 0.07 * line['valve']:.2f}"} for line in right_lines()]
        mine = post(browsers, school, odd, confirmed=True).json()
        browsers["classmate"].send(
            "POST",
            f"/api/sheets/{school.sheet.id}/hand-in",
            {"lines": odd, "request_key": "classmate-1", "confirmed": True},
        )
        rows = self.of_class(browsers, school)["rows"]
        copied = [one for row in rows for one in row["findings"] if one["kind"] == "copied"]
        assert {one["with_student"] for one in copied} == {"Ines Falkner", "Bo Hallgrim"}
        assert not any("equal" in hint for hint in mine["hints"])

    def test_no_query_for_each_row(self, browsers, school, django_assert_max_num_queries):
        post(browsers, school)
        browsers.sign_in("instructor")
        with django_assert_max_num_queries(17):
            self.of_class(browsers, school)
