"""A lesson's step on the phones of the class: where everybody goes now, at one tap."""

from datetime import timedelta

import pytest
from django.utils import timezone

from edrix.lessons.models import HeldNow
from tests.core.test_lesson import WHOLE

STEPS = [
    {"kind": "text", "title": "What has to be known"},
    {"kind": "drill", "title": "Find the place", "engine": "Test engine 1-3-4-2"},
    {"kind": "practice", "title": "By hand", "named": "First run"},
    {"kind": "sheet", "title": "Measured", "named": "First measuring"},
    {"kind": "sheet", "title": "Of another class", "named": "Another"},
]


@pytest.fixture
def lesson_id(browsers):
    body = {"document": WHOLE | {"steps": STEPS}}
    return browsers["instructor"].send("POST", "/api/lessons", body).json()["id"]


@pytest.fixture
def hold(school, browsers, lesson_id):
    """Tove holds a step, counted from one; gives the answer's status."""

    def held(step, who="instructor"):
        body = {"lesson_id": lesson_id, "step": step}
        return browsers[who].send("PUT", f"/api/classes/{school.class_a}/held", body).status_code

    return held


@pytest.fixture
def opens(browsers):
    def seen(who="student"):
        return browsers[who].get("/api/my/now?day=false").json()["opens"]

    return seen


def test_where_the_step_leads_is_on_every_phone_of_the_class(school, hold, opens):
    assert opens() == []
    assert hold(2) == 200
    (one,) = opens()
    assert (one["kind"], one["of_id"], one["title"]) == (
        "drill",
        school.engine_id,
        "Find the place",
    )
    assert one["class_name"] == "Class A"
    assert opens("classmate") == [one]
    assert opens("other student") == []


def test_the_next_step_takes_its_place_and_a_told_one_leads_nowhere(school, hold, opens):
    for step, kind, of_id in (
        (3, "practice", school.practice.id),
        (4, "sheet", school.sheet.id),
    ):
        hold(step)
        assert [(one["kind"], one["of_id"]) for one in opens()] == [(kind, of_id)]
    for told in (1, 5):
        hold(4)
        hold(told)
        assert opens() == []


def test_it_ends_with_the_lesson_and_by_itself_where_nobody_ended_it(school, browsers, hold, opens):
    hold(4)
    path = f"/api/classes/{school.class_a}/held"
    assert browsers["instructor"].send("DELETE", path).status_code == 204
    assert opens() == []
    hold(4)
    HeldNow.objects.update(held_at=timezone.now() - timedelta(hours=3, minutes=1))
    assert opens() == []


def test_a_phone_that_looked_is_told_of_nothing_new_until_there_is(
    browsers, hold, django_capture_on_commit_callbacks
):
    def look(cursor):
        return browsers["student"].get(f"/api/my/now?day=false&after={cursor}")

    with django_capture_on_commit_callbacks(execute=True):
        hold(2)
    cursor = look("").json()["cursor"]
    assert look(cursor).status_code == 304
    with django_capture_on_commit_callbacks(execute=True):
        hold(3)
    assert [one["kind"] for one in look(cursor).json()["opens"]] == ["practice"]


def test_a_sheet_that_was_put_away_leads_nowhere_and_its_instructor_is_told(
    school, browsers, lesson_id, hold, opens
):
    hold(4)
    tove = browsers["instructor"]
    tove.send("PATCH", f"/api/sheets/{school.sheet.id}", {"away": True})
    body = {"lesson_id": lesson_id, "step": 4}
    told = tove.send("PUT", f"/api/classes/{school.class_a}/held", body)
    assert told.json() == {"leads": False}
    assert opens() == []


def test_only_the_class_s_own_instructor_holds_and_only_steps_that_there_are(hold):
    assert hold(2, "other instructor") == 404
    assert hold(2, "student") == 403
    assert hold(6) == 422
    assert hold(0) == 422


def test_a_lesson_that_is_gone_is_not_held(school, browsers, lesson_id):
    tove = browsers["instructor"]
    tove.send("DELETE", f"/api/lessons/{lesson_id}")
    body = {"lesson_id": lesson_id, "step": 1}
    assert tove.send("PUT", f"/api/classes/{school.class_a}/held", body).status_code == 404
