"""Lessons: kept whole or not at all, changed by their maker, held with what a class has."""

import json

import pytest

from edrix.lessons.models import Lesson
from tests.core.test_lesson import WHOLE


@pytest.fixture
def lesson(browsers):
    made = browsers["instructor"].send("POST", "/api/lessons", {"document": WHOLE})
    assert made.status_code == 201, made.content
    return made.json()


def test_written_read_and_changed(lesson, browsers):
    tove = browsers["instructor"]
    path = f"/api/lessons/{lesson['id']}"
    assert tove.get(path).json()["document"] == WHOLE
    changed = WHOLE | {"title": "Valves, again"}
    answer = tove.send("PUT", path, {"document": changed, "revision": 1})
    assert answer.json()["revision"] == 2
    (row,) = tove.get("/api/lessons").json()
    assert (row["title"], row["steps"], row["minutes"], row["mine"]) == (
        "Valves, again", 6, 5, True,
    )  # fmt: skip


def test_two_who_change_it_at_once_notice(lesson, browsers):
    path = f"/api/lessons/{lesson['id']}"
    browsers["instructor"].send("PUT", path, {"document": WHOLE, "revision": 1})
    late = browsers["instructor"].send("PUT", path, {"document": WHOLE, "revision": 1})
    assert late.status_code == 409
    assert Lesson.objects.get().revision == 2


def test_another_instructor_holds_it_and_takes_a_copy_to_change(lesson, browsers):
    rolf = browsers["other instructor"]
    path = f"/api/lessons/{lesson['id']}"
    read = rolf.get(path).json()
    assert read["mine"] is False
    refused = rolf.send("PUT", path, {"document": WHOLE, "revision": 1})
    assert refused.status_code == 403
    assert "take a copy" in refused.json()["detail"]
    copy = rolf.send("POST", "/api/lessons", {"document": read["document"]})
    assert copy.json()["mine"] is True


def test_what_is_no_lesson_is_refused_at_its_path_and_nothing_is_kept(browsers):
    bad = WHOLE | {"steps": [{"kind": "film", "title": ""}]}
    answer = browsers["instructor"].send("POST", "/api/lessons", {"document": bad})
    assert answer.status_code == 422
    assert {one["path"] for one in answer.json()["fields"]} == {
        "$.steps[0].kind", "$.steps[0].title",
    }  # fmt: skip
    assert not Lesson.objects.exists()


def test_what_a_class_has_is_found_and_what_it_misses_is_said(school, browsers):
    steps = [
        {"kind": "bench", "title": "A", "engine": "Test engine 1-3-4-2", "at_deg": 0},
        {"kind": "drill", "title": "B", "engine": "No such engine"},
        {"kind": "practice", "title": "C", "named": "First run"},
        {"kind": "sheet", "title": "D", "named": "First measuring"},
        {"kind": "sheet", "title": "E", "named": "Another"},
    ]
    tove = browsers["instructor"]
    made = tove.send("POST", "/api/lessons", {"document": WHOLE | {"steps": steps}}).json()
    path = f"/api/lessons/{made['id']}"
    held = tove.get(f"{path}?class_id={school.class_a}").json()["held"]
    assert held[0]["engine_id"] == school.engine_id
    assert held[1]["missing"] == "There is no engine “No such engine” on the shelf."
    assert held[2]["named_id"] == school.practice.id
    assert held[3]["named_id"] == school.sheet.id
    assert held[4]["missing"] == "This class has no sheet “Another”."
    assert all(one["missing"] == "" for one in tove.get(path).json()["held"][2:])
    assert tove.get(f"{path}?class_id={school.class_b}").status_code == 404


def test_put_away_brought_back_and_removed(lesson, browsers):
    tove, path = browsers["instructor"], f"/api/lessons/{lesson['id']}"
    assert tove.send("PATCH", path, {"away": True}).status_code == 204
    assert tove.get("/api/lessons").json()[0]["away"] is True
    assert tove.send("PATCH", path, {"away": False}).status_code == 204
    assert tove.send("DELETE", path).status_code == 204
    assert tove.get(path).status_code == 404


def test_as_a_file_and_as_a_plan(lesson, browsers):
    path = f"/api/lessons/{lesson['id']}/lesson"
    file = browsers["other instructor"].get(f"{path}.json")
    assert json.loads(file.content) == WHOLE
    assert "attachment" in file["Content-Disposition"]
    plan = browsers["instructor"].get(f"{path}.pdf")
    assert plan.content.startswith(b"%PDF")


@pytest.mark.parametrize("path", ["", "/lesson.pdf", "/lesson.json"])
def test_students_see_no_lesson_before_it_is_held(lesson, browsers, path):
    assert browsers["student"].get(f"/api/lessons/{lesson['id']}{path}").status_code == 403
