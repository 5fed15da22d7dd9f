"""What runs are worth: weights of a practice engine, seen on every run before they count."""

import pytest

from edrix.practice import weighing
from edrix.practice.models import PracticeRun, RunRubric
from tests.server.test_practice import Run

CLOSING = {"items": [{"part": "safety", "weight": 1, "least_percent": 100}], "pass_percent": 50}
PLACES = {"items": [{"part": "place", "weight": 3}, {"part": "safety", "weight": 1}]}


@pytest.fixture
def ended(school, browsers):
    """A run in which nobody measured anything, closed up as it should be."""
    run = Run(browsers["student"], school.run_id)
    for name in ("count-tools", "tool-off"):
        run.do(name)
    run.do("cover", on=True)
    run.do("start")
    return run


def weights(browsers, school, way="", body=None):
    path = f"/api/practice/{school.practice.id}/rubric{way}"
    tove = browsers["instructor"]
    return tove.get(path) if body is None else tove.send("POST", path, body)


def test_without_weights_every_part_counts_alike(browsers, school, ended):
    seen = weights(browsers, school).json()
    assert (seen["number"], seen["made_by"]) == (0, None)
    assert [part["part"] for part in seen["parts"]] == [
        "place", "measuring", "adjusting", "record", "safety", "time",
    ]  # fmt: skip
    told = browsers["student"].get(f"/api/runs/{ended.id}/debrief").json()
    # Only the closing up: one part of five.
    assert told["grade"]["percent"] == 20.0
    assert not told["grade"]["passed"]
    assert told["grade"]["fails"] == [
        "every gap left in spec", "every valve measured", "every reading written",
    ]  # fmt: skip
    assert told["run"]["percent"] == 20.0


def test_weights_are_seen_on_a_sample_and_on_every_run_before_they_count(browsers, school, ended):
    look = weights(browsers, school, "/preview", PLACES).json()
    assert 0 < look["sample"]["percent"] < 100
    (row,) = look["rows"]
    assert (row["student"], row["before_percent"], row["after_percent"]) == (
        "Ines Falkner", 20.0, 25.0,
    )  # fmt: skip
    assert not RunRubric.objects.exists()
    made = weights(browsers, school, "", {"rubric": PLACES, "based_on": 0})
    assert (made.status_code, made.json()["number"]) == (201, 1)
    runs = browsers["instructor"].get(f"/api/practice/{school.practice.id}/runs").json()
    assert [(run["percent"], run["passed"]) for run in runs] == [(25.0, False)]


def test_who_set_them_meanwhile_is_not_overwritten(browsers, school):
    first = weights(browsers, school, "", {"rubric": PLACES, "based_on": 0})
    second = weights(browsers, school, "", {"rubric": CLOSING, "based_on": 0})
    assert (first.status_code, second.status_code) == (201, 409)
    assert "weights 1 by now" in second.json()["detail"]
    assert RunRubric.objects.count() == 1


@pytest.mark.parametrize(
    ("rubric", "says"),
    [
        ({"items": []}, "weigh at least one part"),
        ({"items": [{"part": "reading", "weight": 1}]}, "is no part"),
        ({"items": [{"part": "time", "weight": 1}]}, "give its minutes"),
    ],
)
def test_weights_that_no_run_has_are_refused_and_kept_nowhere(browsers, school, rubric, says):
    refused = weights(browsers, school, "", {"rubric": rubric, "based_on": 0})
    assert refused.status_code == 422
    assert says in refused.json()["detail"]
    assert not RunRubric.objects.exists()


def test_a_run_under_way_and_one_of_older_rules_have_no_grade(browsers, school, ended):
    run = PracticeRun.objects.get(id=ended.id)
    old = {k: v for k, v in run.debrief.items() if k not in ("passed", "remarks", "done_well")}
    PracticeRun.objects.filter(id=run.id).update(debrief=old | {"left_out": []})
    told = browsers["student"].get(f"/api/runs/{ended.id}/debrief").json()
    assert told["grade"] is None
    assert weights(browsers, school, "/preview", PLACES).json()["rows"] == []


def test_runs_that_their_weights_fail_show_no_skill(browsers, school, ended):
    run = PracticeRun.objects.get(id=ended.id)
    assert weighing.failed_by_weights([run]) == set()
    PracticeRun.objects.filter(id=run.id).update(debrief=run.debrief | {"passed": True})
    run.refresh_from_db()
    weights(browsers, school, "", {"rubric": CLOSING, "based_on": 0})
    assert weighing.failed_by_weights([run]) == set()
    weights(browsers, school, "", {"rubric": PLACES, "based_on": 1})
    assert weighing.failed_by_weights([run]) == {run.id}


def test_no_query_for_each_run(browsers, school, ended, django_assert_max_num_queries):
    browsers.sign_in("instructor")
    with django_assert_max_num_queries(9):
        browsers["instructor"].get(f"/api/practice/{school.practice.id}/runs")


def test_a_practice_engine_that_nobody_ran_is_deleted_with_its_weights(browsers, school):
    weights(browsers, school, "", {"rubric": PLACES, "based_on": 0})
    PracticeRun.objects.all().delete()
    gone = browsers["instructor"].send("DELETE", f"/api/practice/{school.practice.id}", None)
    assert gone.status_code == 204
    assert not RunRubric.objects.exists()
