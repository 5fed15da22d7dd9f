"""Runs that are tests: timed, begun once, on other valves the second time, debriefs held."""

from datetime import timedelta

import pytest
from django.utils import timezone

from edrix.practice import live
from edrix.practice import services as practice
from edrix.practice.models import PracticeRun
from tests.server.test_practice import Run, make


def open_debriefs(browsers, run, *, debriefs=True):
    path = f"/api/practice/{run.practice_id}"
    answer = browsers["instructor"].send("PATCH", path, {"debriefs": debriefs})
    assert answer.status_code == 204


class TestATestIsATest:
    @pytest.fixture
    def done(self, school, browsers):
        begun = make(school, title="Trade test", level="test", minutes=None, attempts=1)
        Run(browsers["student"], begun.id).do("start")
        return begun

    def read(self, browsers, run, who="student"):
        return browsers[who].get(f"/api/runs/{run.id}/debrief")

    def row(self, school, browsers, run):
        rows = browsers["student"].get(f"/api/classes/{school.class_a}/practice").json()
        return next(row for row in rows if row["id"] == run.practice_id)

    def test_its_debriefs_are_held_until_they_are_opened(self, school, browsers, done):
        """Whoever starts after three steps must not tell the next student everything."""
        held = self.read(browsers, done)
        assert held.status_code == 409
        assert "when everybody is through" in held.json()["detail"]
        assert self.read(browsers, done, "instructor").status_code == 200
        assert not self.row(school, browsers, done)["debriefs_open"]
        open_debriefs(browsers, done)
        assert self.read(browsers, done).status_code == 200
        assert self.row(school, browsers, done)["debriefs_open"]
        open_debriefs(browsers, done, debriefs=False)
        assert self.read(browsers, done).status_code == 409

    def test_it_is_begun_once(self, school, browsers, done):
        path = f"/api/practice/{done.practice_id}/runs"
        again = browsers["student"].send("POST", path)
        assert again.status_code == 409
        assert "is done once, and you have done it" in again.json()["detail"]

    def test_an_open_one_is_gone_on_with(self, school, browsers):
        begun = make(school, title="Going on", level="test", minutes=None, attempts=1)
        path = f"/api/practice/{begun.practice_id}/runs"
        assert browsers["student"].send("POST", path).json()["id"] == begun.id

    def test_what_the_rules_ended_was_no_attempt(self, school, browsers):
        begun = make(school, title="Of before", level="test", minutes=None, attempts=1)
        PracticeRun.objects.filter(id=begun.id).update(rules_version="edrix-practice/1")
        live.forget_all()
        path = f"/api/practice/{begun.practice_id}/runs"
        assert browsers["student"].send("POST", path).json()["attempt"] == 2

    def test_for_learning_nothing_is_held(self, school, browsers):
        begun = make(school, title="To learn", level="alone")
        Run(browsers["student"], begun.id).do("start")
        assert self.read(browsers, begun).status_code == 200

    def test_a_student_opens_nothing(self, school, browsers, done):
        path = f"/api/practice/{done.practice_id}"
        answer = browsers["student"].send("PATCH", path, {"debriefs": True})
        assert answer.status_code == 403


def test_time_is_up(school, browsers):
    timed = make(school, title="Timed", level="test", minutes=10)
    run = Run(browsers["student"], timed.id)
    run.do("rock")
    began = timezone.now() - timedelta(minutes=11)
    PracticeRun.objects.filter(id=timed.id).update(began_at=began)
    live.forget_all()
    late = run.post({"do": "rock"})
    assert late.status_code == 409
    assert "time of this run is up" in late.json()["detail"]
    open_debriefs(browsers, timed)
    told = browsers["student"].get(f"/api/runs/{timed.id}/debrief").json()
    assert told["run"]["outcome"] == "time-up"
    path = f"/api/practice/{timed.practice_id}/runs"
    assert browsers["student"].send("POST", path).json()["attempt"] == 2


class TestASecondAttemptAtATest:
    def attempts(self, school, browsers, level):
        first = make(school, title="Trade test", level=level, minutes=None)
        played = Run(browsers["student"], first.id)
        for name in ("count-tools", "tool-off"):
            played.do(name)
        played.do("cover", on=True)
        played.do("start")
        open_debriefs(browsers, first)
        told = played.browser.get(f"/api/runs/{first.id}/debrief").json()["faults"]
        second = practice.open_run(school.ines, first.practice_id)
        assert second.id != first.id
        return told, [fault._asdict() for fault in live.setup_of(second).faults]

    def test_has_the_same_faults_on_other_valves(self, school, browsers):
        told, now = self.attempts(school, browsers, "test")
        assert [one["kind"] for one in told] == [str(one["kind"]) for one in now]
        assert {one["valve"] for one in told}.isdisjoint({one["valve"] for one in now})

    def test_where_it_is_for_learning_they_stay(self, school, browsers):
        told, now = self.attempts(school, browsers, "alone")
        assert [one["valve"] for one in told] == [one["valve"] for one in now]
