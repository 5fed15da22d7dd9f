"""Yesterday's data comes along: the version before said this, and so do we.

`part-11.sql.gz` is the demo school as the version before kept it, with practice runs played on it;
`part-11.said.json.gz` is what that version said of it; `part-11.class.zip` is a class as that
version wrote it out. README.md tells how they are made again.
"""

import gzip
import json
import os
import re
from pathlib import Path

import pytest

from ops.cluster import Cluster
from ops.console import run
from ops.paths import PYTHON, ROOT
from ops.server import manage, server_environment
from tests.yesterday.say import everything
from valvetrain.practice import PRACTICE_VERSION

HERE = Path(__file__).parent
VERSION = "part-11"
STORED = {"says", "student_says", "instructor_says"}
"""Sentences of marks and events are stored: they stay to the letter."""


def _unzipped(kind):
    return gzip.decompress((HERE / f"{VERSION}.{kind}").read_bytes()).decode()


@pytest.fixture(scope="module")
def said():
    return json.loads(_unzipped("said.json.gz"))


@pytest.fixture(scope="module")
def cluster():
    made = Cluster(f"tests{os.environ.get('PYTEST_XDIST_WORKER', '')}", durable=False)
    made.start()
    yield made
    made.stop()


@pytest.fixture(scope="module")
def environment(cluster):
    """A database restored from the dump, and migrated by today's code."""
    url = cluster.fresh_database("yesterday")
    cluster.restore("yesterday", _unzipped("sql.gz"))
    found = server_environment(url, "only-for-tests")
    manage(found, "migrate", "--verbosity=0")
    path = os.pathsep.join(str(ROOT / folder) for folder in ("core", "server", "."))
    return found | {"PYTHONPATH": path}


@pytest.fixture(scope="module")
def now(environment):
    return say(environment)


def say(environment, *arguments):
    program = [PYTHON, "-m", "tests.yesterday.say", *arguments]
    # What the server logs of refusals comes first.
    return json.loads(run(program, env=environment, cwd=ROOT).splitlines()[-1])


@pytest.mark.parametrize(
    "what",
    [
        "hand_ins",
        "own",
        "boards",
        "findings",
        "studies",
        "progress",
        "logs",
        "store",
        "rotas",
        "asked",
        "lessons",
    ],
)
def test_marks_grades_findings_and_progress_are_what_they_were(said, now, what):
    before, after = said[what], as_before(now[what])
    if what == "progress":
        before, after = without_skills_of_runs(before, said), without_skills_of_runs(after, said)
        assert any("skills" in one for one in before.values())
    assert differences(before, after) == []


def without_skills_of_runs(progress, said):
    """Without the skills of whoever has ended a practice run: part 12 counts only what was done
    alone, and failures too, on purpose."""
    ran = {one["run"]["student"] for one in said["debriefs"].values()}
    return {
        number: {n: v for n, v in one.items() if n != "skills" or one["student"] not in ran}
        for number, one in progress.items()
    }


def test_debriefs_are_what_they_were(said, now):
    """Those of runs that had ended. One that was open under rules of before is told as it was
    observed, and judged by none."""
    for number, before in said["debriefs"].items():
        after = now["debriefs"][number]
        assert after["rules_version"] == before["rules_version"]
        if told_anew(before):
            assert "other practice rules" in after["headline"]
            assert (after["valves"], after["consequences"]) == ([], [])
        else:
            assert differences(before, as_before(after)) == []


def told_anew(debrief):
    """Whether a run was open, under practice rules that are no longer today's."""
    return debrief["run"]["ended_at"] is None and debrief["rules_version"] != PRACTICE_VERSION


def test_events_of_runs_stand_to_the_letter(said, now):
    for number, one in said["runs"].items():
        if now["runs"][number] == {"status": 409}:
            # Nobody goes on with a run of other rules; what was noticed in it is told as it was.
            # The debrief of one that had ended tells more than its student heard.
            if said["debriefs"][number]["run"]["ended_at"] is not None:
                continue
            told = [moment["says"] for moment in now["debriefs"][number]["moments"]]
            assert told == [event["says"] for event in one["events"]]
            continue
        for before, after in zip(one["events"], now["runs"][number]["events"], strict=True):
            assert (before["says"], before["facts"]) == (after["says"], after["facts"])
            assert before["action"].items() <= after["action"].items()
        assert differences(one["view"], now["runs"][number]["view"]) == []


def test_a_class_that_was_written_out_comes_back_the_same(said, environment, now):
    """Read back beside the class that it was made of: every hand-in and run stands twice."""
    twice = say(environment, str(HERE / f"{VERSION}.class.zip"))
    for what in ("hand_ins", "debriefs"):
        came = [twice[what][number] for number in sorted(twice[what], key=int)]
        came = as_before(came[len(said[what]) :])
        was = [said[what][number] for number in sorted(said[what], key=int)]
        # The archive is of the first class only.
        was = [one for one in was if len(was) == len(came) or of_first_class(one, said)]
        assert len(came) == len(was) > 0
        for one, again in zip(was, came, strict=True):
            if "run" not in one or not told_anew(one):
                assert differences(without_ids(one), again) == []


def of_first_class(row, said):
    sheet = row.get("sheet_id")
    return sheet is None or said["boards"][str(sheet)]["class_id"] == 1


def without_ids(row):
    kept = {name: value for name, value in row.items() if name not in ("id", "sheet_id", "run")}
    return kept | {"engine_id": None} if "engine_id" in row else kept


def as_before(value):
    """Today's answers in the shape that the version before gave them: a part of a rubric said only
    whether all of it must be right."""
    if isinstance(value, list):
        return [as_before(one) for one in value]
    if not isinstance(value, dict):
        return value
    shaped = {name: as_before(one) for name, one in value.items()}
    if "least_percent" in shaped:
        shaped["must_be_whole"] = shaped.pop("least_percent") == 100
    return shaped


def differences(before, after, path="$"):
    """Where what was said is said no more. Of sentences, what was stored must stand to the letter;
    of others, which may be put better, the figures."""
    if isinstance(before, dict):
        if not isinstance(after, dict):
            return [f"{path}: {before!r} is {after!r}"]
        return [
            row
            for name, value in before.items()
            if name != "engine_id" or value is not None
            for row in differences(value, after.get(name), f"{path}.{name}")
        ]
    if isinstance(before, list):
        if not isinstance(after, list) or len(before) != len(after):
            return [f"{path}: {before!r} is {after!r}"]
        return [
            row
            for place, pair in enumerate(zip(before, after, strict=True))
            for row in differences(*pair, f"{path}[{place}]")
        ]
    if isinstance(before, str) and isinstance(after, str) and " " in before:
        stored = path.rsplit(".", 1)[-1] in STORED and re.search(
            r"\.(reading|verdict|position|adjusted|shim)\.says$", path
        )
        same = before == after if stored else figures(before) == figures(after)
        return [] if same else [f"{path}: {before!r} is {after!r}"]
    if isinstance(before, float) and isinstance(after, int | float):
        return (
            []
            if before == pytest.approx(after, rel=1e-9, abs=1e-12)
            else [f"{path}: {before} is {after}"]
        )
    return [] if before == after else [f"{path}: {before!r} is {after!r}"]


def figures(sentence):
    """As numbers: 0.300 and 0.3 are one figure."""
    return [float(one) for one in re.findall(r"\d+(?:\.\d+)?", sentence)]


def test_what_is_compared_is_everything_there_is(said, now):
    assert said.keys() == now.keys()
    assert callable(everything)


def test_a_difference_is_seen():
    """The comparison itself: a figure, a sentence's figure, a list that grew."""
    assert differences({"a": 1}, {"a": 1, "b": 2}) == []
    assert differences({"a": 1}, {"a": 2}) == ["$.a: 1 is 2"]
    assert differences({"says": "off by 0.03 mm"}, {"says": "it is 0.03 mm off"}) == []
    assert len(differences({"says": "off by 0.03 mm"}, {"says": "off by 0.04 mm"})) == 1
    assert len(differences({"reading": {"says": "a b"}}, {"reading": {"says": "b a"}})) == 1
    assert len(differences([1], [1, 2])) == 1
