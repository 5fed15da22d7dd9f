"""Run files opened by an instructor: replayed and told, kept nowhere, refused with their places."""

import json

import pytest

from edrix.practice.models import PracticeRun
from tests.core.practice.test_instructor_agrees import Script


def opened(browsers, content, who="instructor"):
    data = content if isinstance(content, bytes) else json.dumps(content).encode()
    return browsers[who].send_file("/api/run-files", data)


def file_of(script):
    return script.file | {"actions": script.actions}


def test_a_run_is_replayed_and_told_and_nothing_is_kept(browsers, school):
    before = PracticeRun.objects.count()
    script = Script(gaps={"3": 0.16}).measure().adjust(3).recheck(3).close_up()
    told = opened(browsers, file_of(script)).json()
    assert (told["passed"], told["outcome"]) == (True, "quiet")
    assert told["engine"] == script.engine.name
    assert len(told["moments"]) == len(script.actions)
    assert told["refused"] == []
    assert PracticeRun.objects.count() == before


def test_what_could_not_be_done_is_named_with_its_step(browsers, school):
    script = Script().do("tighten", valve=1).measure(1)
    told = opened(browsers, file_of(script)).json()
    assert [(one["step"], one["do"]) for one in told["refused"]] == [(1, "tighten")]


def test_a_run_that_was_taken_away_opens_again(browsers, school):
    away = browsers["instructor"].get(f"/api/runs/{school.run_id}/run.json").content
    assert opened(browsers, away).status_code == 200


@pytest.mark.parametrize(
    ("content", "says"),
    [
        (b"\xff\xfe", "not UTF-8"),
        (b"{", "This run file"),
        ({"format": "edrix-run/9"}, "$.format"),
        ({"format": "edrix-run/1"}, "$.engine"),
    ],
)
def test_what_is_no_run_file_is_refused_with_its_place(browsers, school, content, says):
    refused = opened(browsers, content)
    assert refused.status_code == 422
    assert says in refused.json()["detail"]


def test_a_file_too_large_is_refused_before_it_is_read(browsers, school):
    assert opened(browsers, b"x" * 40_000_001).status_code == 413


@pytest.mark.parametrize("who", ["student", "classmate"])
def test_students_open_none(browsers, school, who):
    assert opened(browsers, file_of(Script()), who).status_code == 403
