"""The lists before and after: ticked whole, kept in their words, shown with the sheet."""

from datetime import timedelta

import pytest
from django.utils import timezone

from edrix.safety.models import Opening
from tests.server.conftest import CLOSING_LINES, DIESEL_LINES, right_lines
from tests.server.who_may_what import opening_body


@pytest.fixture
def cautions_path(school):
    return f"/api/engines/{school.engine_id}/cautions?stand_id={school.stand.id}"


def open_stand(browser, school, **changes):
    return browser.send("POST", "/api/openings", {**opening_body(school), **changes})


def test_the_lists_come_with_the_engine(browsers, cautions_path):
    lists = browsers["student"].get(cautions_path).json()
    # The test engine has an ignition mark, so spark is the likeliest.
    assert [start["start"] for start in lists["starts"]] == ["spark", "diesel", "air"]
    assert "supervising licensed person" in lists["defers"]
    assert lists["current"] is None


def test_it_is_kept_in_the_words_that_were_read(school, browsers, cautions_path):
    made = open_stand(browsers["student"], school)
    assert made.status_code == 201
    kept = Opening.objects.get()
    assert (kept.person, kept.stand_id, kept.start) == (school.ines, school.stand.id, "diesel")
    assert [line["id"] for line in kept.opened] == DIESEL_LINES
    assert all(len(line["says"]) > 20 for line in kept.opened)
    assert browsers["student"].get(cautions_path).json()["current"]["id"] == kept.id
    assert browsers["classmate"].get(cautions_path).json()["current"] is None


@pytest.mark.parametrize("left_out", DIESEL_LINES)
def test_every_line_must_be_ticked(school, browsers, left_out):
    ticked = [line for line in DIESEL_LINES if line != left_out]
    answer = open_stand(browsers["student"], school, ticked=ticked)
    assert answer.status_code == 422
    assert [field["path"] for field in answer.json()["fields"]] == [left_out]
    assert not Opening.objects.exists()


@pytest.mark.parametrize(
    "wrong",
    [
        {"start": "steam"},
        {"engine_id": 999_999},
        {"stand_id": 999_999},
        {"ticked": "all"},
        {"ticked": ["x"] * 31},
        {"start": "a\x00"},
    ],
)
def test_bad_openings_are_refused_whole(school, browsers, wrong):
    answer = open_stand(browsers["student"], school, **wrong)
    assert answer.status_code in (404, 422)
    assert not Opening.objects.exists()


def test_closing_up_is_ticked_once_in_the_same_record(school, browsers):
    opening = open_stand(browsers["student"], school).json()["id"]
    path = f"/api/openings/{opening}/close"
    short = browsers["student"].send("POST", path, {"ticked": CLOSING_LINES[:2]})
    assert short.status_code == 422
    assert "Turning tool" in short.json()["detail"]
    assert browsers["classmate"].send("POST", path, {"ticked": CLOSING_LINES}).status_code == 404
    closed = browsers["student"].send("POST", path, {"ticked": CLOSING_LINES}).json()
    again = browsers["student"].send("POST", path, {"ticked": CLOSING_LINES}).json()
    assert closed["closed_at"] == again["closed_at"] is not None


def test_an_opening_is_for_one_working_day(school, browsers, cautions_path):
    open_stand(browsers["student"], school)
    Opening.objects.update(opened_at=timezone.now() - timedelta(hours=13))
    assert browsers["student"].get(cautions_path).json()["current"] is None


def test_a_route_card_without_a_stand_is_opened_too(school, browsers):
    answer = open_stand(browsers["other student"], school, stand_id=None)
    assert answer.status_code == 201
    assert Opening.objects.get().stand_id is None


class TestWithTheSheet:
    def hand_in(self, school, browser, **body):
        path = f"/api/sheets/{school.sheet.id}/hand-in"
        return browser.send(
            "POST", path, {"lines": right_lines(), "request_key": "safe-0001", **body}
        )

    def test_unticked_lists_are_asked_about_and_refuse_nothing(self, school, browsers):
        asked = self.hand_in(school, browsers["student"])
        assert asked.status_code == 409
        assert asked.json()["confirm"] is True
        paths = {f["path"]: f["problem"] for f in asked.json()["fields"]}
        assert "isolation list" in paths["record"]
        assert self.hand_in(school, browsers["student"], confirmed=True).status_code == 201

    def test_ticked_lists_are_in_the_instructors_view(self, school, browsers):
        opening = open_stand(browsers["student"], school).json()["id"]
        asked = self.hand_in(school, browsers["student"]).json()
        assert any("closing list" in field["problem"] for field in asked["fields"])
        path = f"/api/openings/{opening}/close"
        browsers["student"].send("POST", path, {"ticked": CLOSING_LINES})
        made = self.hand_in(school, browsers["student"], confirmed=True)
        assert made.status_code == 201
        board = browsers["instructor"].get(f"/api/sheets/{school.sheet.id}/board").json()
        hand_in_id = next(row["hand_in_id"] for row in board["rows"] if row["hand_in_id"])
        seen = browsers["instructor"].get(f"/api/hand-ins/{hand_in_id}").json()["record"]
        assert seen["start"] == "diesel"
        assert seen["closed_at"] is not None
