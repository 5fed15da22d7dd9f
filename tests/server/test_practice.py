"""Practice runs over HTTP: applied once, refused in words, resumed, and nothing hidden told."""

import threading

import pytest
from django.db import connections

from edrix.classes import services as classes
from edrix.engines import services as engines
from edrix.errors import ConflictError
from edrix.practice import acting, debriefs, live, moving
from edrix.practice import services as practice
from edrix.practice.models import PracticeEvent, PracticeRun
from tests.core.conftest import engine_document
from tests.server.conftest import SCREW, new_practice
from valvetrain.practice import read_action, replay
from valvetrain.practice.run_file import read_run, replay_file


@pytest.fixture
def run(school, browsers):
    return Run(browsers["student"], school.run_id)


class Run:
    """One run through the API, as the student's tablet drives it."""

    def __init__(self, browser, run_id):
        self.browser, self.id, self.step = browser, run_id, 0

    def post(self, document, *, key=None, step=None, sure=False):
        body = {
            "key": key or f"key-{self.step:05d}",
            "step": self.step if step is None else step,
            "action": document,
            "sure": sure,
        }
        return self.browser.send("POST", f"/api/runs/{self.id}/actions", body)

    def do(self, do, **fields):
        answer = self.post({"do": do, **fields})
        assert answer.status_code == 200, answer.content
        self.step = answer.json()["step"]
        return answer.json()


def test_a_whole_run_from_cover_off_to_first_start(run, browsers, school):
    told = run.do("look", at="marks")
    assert told["view"]["step"] == 1
    run.do("turn", by_deg=90)
    felt = run.do("try", valve=1, leaves_um=[250])
    assert felt["facts"]["is_in"] in (True, False)
    assert "feel" not in felt["facts"], "on their own nobody is told the word"
    run.do("write", valve=1, column="first", text="0.25")
    for name in ("count-tools", "tool-off"):
        run.do(name)
    run.do("cover", on=True)
    ended = run.do("start")
    assert ended["view"]["started"]
    told = run.browser.get(f"/api/runs/{run.id}/debrief").json()
    assert told["outcome"] == ended["facts"]["start"]
    assert [fault["kind"] for fault in told["faults"]] == ["wrong-setting", "worn-pad"]
    assert told["valves"][0]["first"] == "0.25"
    assert len(told["moments"]) == run.step
    rows = browsers["instructor"].get(f"/api/practice/{school.practice.id}/runs").json()
    assert [(row["student"], row["outcome"]) for row in rows] == [
        ("Ines Falkner", ended["facts"]["start"])
    ]
    assert browsers["instructor"].get(f"/api/runs/{run.id}/debrief").status_code == 200


def test_a_retry_gets_the_same_answer_and_nothing_twice(run):
    first = run.post({"do": "turn", "by_deg": 30}, key="same-key-1")
    again = run.post({"do": "turn", "by_deg": 30}, key="same-key-1")
    assert again.status_code == 200
    assert again.json() == first.json()
    assert PracticeEvent.objects.filter(run_id=run.id).count() == 1


def test_out_of_order_is_refused(run):
    run.do("rock")
    for step in (0, 5):
        late = run.post({"do": "rock"}, key=f"late-key-{step}", step=step)
        assert late.status_code == 409
        assert "stands at step 1" in late.json()["detail"]


@pytest.mark.django_db(transaction=True)
def test_a_key_cannot_serve_two_actions(run):
    run.post({"do": "rock"}, key="same-key-1")
    second = run.post({"do": "rock"}, key="same-key-1", step=1)
    assert second.status_code == 409
    assert PracticeEvent.objects.filter(run_id=run.id).count() == 1


@pytest.mark.parametrize(
    ("document", "says"),
    [
        ({"do": "screw", "valve": 1, "by_deg": 10}, "The lock nut of valve 1 is still tight."),
        ({"do": "try", "valve": 1, "leaves_um": [253]}, "no leaf of 0.253 mm in your box"),
        ({"do": "try", "valve": 99, "leaves_um": [250]}, "no valve 99"),
        ({"do": "turn", "by_deg": "far"}, "give a number"),
        ({"do": "fly"}, "give one of turn"),
        ({}, "has no do; say what is done"),
        ({"do": "try", "valve": 1, "leaves_um": {"a": 1}}, "give a list"),
        ({"do": "tighten", "valve": 1, "torque_nm": -1}, "a torque in N·m"),
    ],
)
def test_what_cannot_be_done_is_said_and_changes_nothing(run, document, says):
    before = PracticeRun.objects.values().get(id=run.id)
    answer = run.post(document)
    assert answer.status_code == 422
    assert says in answer.json()["detail"]
    assert PracticeRun.objects.values().get(id=run.id) == before
    assert not PracticeEvent.objects.exists()


@pytest.mark.parametrize(
    "body",
    [
        None,
        {"key": "short", "step": 0, "action": {"do": "rock"}},
        {"key": "long-enough", "step": -1, "action": {"do": "rock"}},
        {"key": "long-enough", "step": 0, "action": "rock"},
        {"key": "long\x00enough", "step": 0, "action": {"do": "rock"}},
        {"key": "long-enough", "step": 0, "action": {"do": "write\x00"}},
    ],
)
def test_bodies_that_are_no_action(run, body):
    answer = run.browser.send("POST", f"/api/runs/{run.id}/actions", body)
    assert answer.status_code in (400, 422)
    assert not PracticeEvent.objects.exists()


def test_nan_is_refused_in_words(run):
    path = f"/api/runs/{run.id}/actions"
    body = b'{"key": "nan-key-1", "step": 0, "action": {"do": "turn", "by_deg": NaN}}'
    headers = {"X-CSRFToken": run.browser.cookies["csrftoken"].value}
    answer = run.browser.generic(
        "POST", path, body, content_type="application/json", headers=headers
    )
    assert answer.status_code in (400, 422)
    assert not PracticeEvent.objects.exists()


def test_resuming_reads_everything_that_was_done(run, school, browsers):
    run.do("turn", by_deg=45)
    run.do("write", valve=2, column="first", text="0.30")
    again = browsers["student"].send("POST", f"/api/practice/{school.practice.id}/runs").json()
    assert again["id"] == run.id
    read = browsers["student"].get(f"/api/runs/{run.id}").json()
    assert read["view"]["step"] == 2
    assert [event["action"]["do"] for event in read["events"]] == ["turn", "write"]
    assert read["view"]["notes"] == [{"valve": 2, "column": "first", "text": "0.30"}]


def test_what_was_kept_is_what_a_replay_gives(run):
    for document in (
        {"do": "turn", "by_deg": 100},
        {"do": "loosen", "valve": 1},
        {"do": "set", "valve": 1, "leaves_um": [350]},
        {"do": "tighten", "valve": 1},
    ):
        run.do(**document)
    stored = PracticeRun.objects.select_related("practice").get(id=run.id)
    events = list(live.events_of(run.id))
    state, seen = replay(live.setup_of(stored), [read_action(event.action) for event in events])
    assert [event.says for event in events] == [one.says for one in seen]
    assert live.live(run.id).state == state
    live.forget_all()
    assert live.live(run.id).state == state


@pytest.mark.django_db(transaction=True)
def test_a_process_that_is_behind_catches_up(run):
    """Two processes: what one has kept of the run is older than what the other has stored."""
    run.do("turn", by_deg=100)
    behind = live.live(run.id)
    run.do("loosen", valve=1)
    live.forget_all()
    live.keep(behind)
    # A retry whose first answer was lost, a question or refusal judged from too old a state, and
    # the next step.
    lost = run.post({"do": "loosen", "valve": 1}, key="key-00001", step=1)
    assert lost.json()["says"] == "The lock nut of valve 1 is loose."
    live.forget_all()
    live.keep(behind)
    old = run.post({"do": "screw", "valve": 1, "by_deg": 10}, key="another-key", step=1)
    assert old.status_code == 409
    assert "stands at step 2" in old.json()["detail"]
    live.forget_all()
    live.keep(behind)
    assert run.do("screw", valve=1, by_deg=10)["step"] == 3


def test_a_second_attempt_after_the_end(run, school, browsers):
    run.do("start")
    path = f"/api/practice/{school.practice.id}/runs"
    second = browsers["student"].send("POST", path).json()
    assert (second["attempt"], second["step"]) == (2, 0)
    runs = [PracticeRun.objects.get(id=one) for one in (run.id, second["id"])]
    assert live.setup_of(runs[0]).hidden != live.setup_of(runs[1]).hidden
    answer = run.post({"do": "rock"})
    assert answer.status_code == 422
    assert "over" in answer.json()["detail"]


def make(school, **fields):
    engine_id = fields.pop("engine_id", school.engine_id)
    made = practice.create(school.tove, school.class_a, new_practice(engine_id, **fields))
    return practice.open_run(school.ines, made.id)


def test_a_careful_colleague_asks_first_where_that_is_wanted(school, browsers):
    run = Run(browsers["student"], make(school, title="Asked", level="prompted").id)
    asked = run.post({"do": "loosen", "valve": 1}).json()
    assert "written down" in asked["asks"]
    assert asked["step"] == 0
    done = run.post({"do": "loosen", "valve": 1}, sure=True).json()
    assert (done["asks"], done["step"]) == (None, 1)


def test_the_next_leaf_is_shown_where_that_is_wanted(school, browsers):
    run = Run(browsers["student"], make(school, title="Shown", level="shown").id)
    path = f"/api/runs/{run.id}/advice?valve=1"
    first = browsers["student"].get(path).json()
    assert first["leaves_mm"]
    leaves_um = [round(leaf * 1000) for leaf in first["leaves_mm"]]
    run.post({"do": "try", "valve": 1, "leaves_um": leaves_um}, sure=True)
    then = browsers["student"].get(path).json()
    assert (then["low_mm"], then["high_mm"]) != (0, None)
    assert browsers["student"].get(f"/api/runs/{run.id}/advice?valve=99").status_code == 404


def test_what_is_found_on_the_engine(school, browsers):
    """Bridges and marks as they are on this engine; its maker's marks stay in its file."""
    document = engine_document([1, 3, 4, 2], adjuster=SCREW, name="Odd", bridges=["exhaust"])
    version, _ = engines.add_engine(school.tove, document)
    made = make(school, title="Odd", engine_id=version.engine_id, faults=[("false-mark", None)])
    read = browsers["student"].get(f"/api/runs/{made.id}").json()
    table = browsers["student"].get(f"/api/engines/{version.engine_id}/cycle").json()
    exhaust = [v["number"] for v in table["engine"]["valves"] if v["role"] == "exhaust"]
    assert read["bridged"] == exhaust
    lies = [mark for mark in read["marks"] if mark["means"] == "tdc"]
    true = [mark for mark in table["engine"]["marks"] if mark["means"] == "tdc"]
    assert [mark["deg"] for mark in lies] == [(mark["deg"] - 18) % 360 for mark in true]
    run = Run(browsers["student"], made.id)
    # Where it stands at first is dealt; cylinder 1 fires at 0, and there valve 1 is on its heel.
    run.do("turn", by_deg=720 - live.live(made.id).state.crank_deg)
    run.do("try", valve=1, leaves_um=[250], how="one-side")
    run.do("start")
    told = browsers["student"].get(f"/api/runs/{made.id}/debrief").json()
    assert any("one side of the bridge" in (one["wrong"] or "") for one in told["moments"])
    assert told["left_out"] == []


def test_a_stack_is_found_where_that_help_is_allowed(school, browsers):
    helped = make(school, title="Helped", box="stepped", stack_help=True)
    path = f"/api/runs/{helped.id}/stack?target="
    found = browsers["student"].get(f"{path}0,85").json()
    assert (sum(found["leaves_um"]), found["error_mm"]) == (850, 0)
    assert browsers["student"].get(f"{path}11&unit=thou").json()["total_mm"] == 0.3
    for bad in ("", "thick", "-1", "9", "nan"):
        answer = browsers["student"].get(path + bad)
        assert answer.status_code == 422
        assert "No stack was looked for" in answer.json()["detail"]
    refused = browsers["student"].get(f"/api/runs/{school.run_id}/stack?target=0.28")
    assert refused.status_code == 403


def test_each_student_another_engine(school):
    same = practice.create(school.tove, school.class_a, new_practice(school.engine_id, title="A"))
    own = practice.create(
        school.tove, school.class_a, new_practice(school.engine_id, title="B", same_for_all=False)
    )
    for made, alike in ((same, True), (own, False)):
        setups = [
            live.setup_of(practice.open_run(who, made.id)) for who in (school.ines, school.bo)
        ]
        assert (setups[0].hidden == setups[1].hidden) is alike


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"faults": [{"kind": "worn-stamp", "valve": 1}]}, "has no shim"),
        ({"faults": [{"kind": "decompressor", "valve": 1}]}, "whole engine"),
        ({"faults": [{"kind": "wrong-setting", "valve": 77}]}, "none 77"),
        ({"faults": [{"kind": "cracked", "valve": 1}]}, "faults"),
        ({"level": "easy"}, "level"),
        ({"box": "golden"}, "box"),
        ({"minutes": 0}, "minutes"),
        ({"title": "  "}, "no title"),
        ({"title": "First run"}, "already"),
        ({"engine_id": 999}, "999"),
        ({"faults": [{"kind": "warm-engine", "valve": 1}]}, "whole engine"),
    ],
)
def test_practice_engines_that_cannot_be(school, browsers, change, says):
    body = {"engine_id": school.engine_id, "title": "New"} | change
    answer = browsers["instructor"].send("POST", f"/api/classes/{school.class_a}/practice", body)
    assert answer.status_code in (404, 409, 422)
    assert says in answer.content.decode()
    assert len(practice.of_class(school.tove, school.class_a)) == 1


def test_nothing_hidden_reaches_a_student_during_a_run(run, school, browsers):
    """Every address of the API, and every kind of action: no clearance, creep, fault or seed."""
    from edrix.api import api

    hidden = live.setup_of(PracticeRun.objects.get(id=run.id)).hidden
    secrets = [str(school.practice.seed), "wrong-setting", "worn-pad", "clearance_mm", "creep_mm"]
    for valve in hidden:
        secrets += [str(abs(valve.clearance_mm))[:7], str(abs(valve.creep_mm))[:7]]
    told = []
    for document in (
        {"do": "rock"},
        {"do": "wiggle", "valve": 1},
        *({"do": "look", "at": at} for at in ("marks", "rotor", "lobes", "threads", "engine")),
        {"do": "turn", "by_deg": 10},
        {"do": "try", "valve": 1, "leaves_um": [250]},
        {"do": "loosen", "valve": 1},
        {"do": "zero", "valve": 1},
        {"do": "screw", "valve": 1, "by_deg": -20},
        {"do": "set", "valve": 1, "leaves_um": [250]},
        {"do": "tighten", "valve": 1, "torque_nm": 20},
        {"do": "done", "valve": 1},
    ):
        told.append(str(run.do(**document)))
    ids = {
        "engine_id": school.engine_id,
        "class_id": school.class_a,
        "student_id": school.bo.id,
        "stand_id": school.stand.id,
        "sheet_id": school.sheet.id,
        "rota_id": 1,
        "question_id": 1,
        "lesson_id": 1,
        "job_id": 1,
        "secret": "guessed",
        "hand_in_id": 1,
        "shim_id": 1,
        "held_id": 1,
        "drill_id": 1,
        "number": 1,
        "line_id": 1,
        "opening_id": 1,
        "practice_id": school.practice.id,
        "run_id": run.id,
        "try_id": 1,
        "kind": "csv",
        "whose": "students",
        "person_id": 1,
        "place": "paper-1",
    }
    for path, methods in api.get_openapi_schema()["paths"].items():
        for method in methods:
            if method != "delete":
                answer = browsers["student"].send(method.upper(), path.format(**ids), {})
                told.append(answer.content.decode(errors="replace"))
    assert len(told) > 50
    for text in told:
        assert not [secret for secret in secrets if secret in text], text[:300]


@pytest.mark.django_db(transaction=True)
def test_six_taps_at_once_are_one_action(school):
    """A barrier holds six requests of one step together; the table decides."""
    barrier = threading.Barrier(6, timeout=20)
    outcomes = []

    def tap(number):
        try:
            barrier.wait()
            acted = acting.act(
                school.ines,
                school.run_id,
                key=f"tap-{number:06d}",
                step=0,
                document={"do": "turn", "by_deg": 10},
                sure=False,
            )
            outcomes.append(acted.step)
        except ConflictError:
            outcomes.append("refused")
        finally:
            connections.close_all()

    threads = [threading.Thread(target=tap, args=(number,)) for number in range(6)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join(30)
    assert sorted(outcomes, key=str) == [1, *["refused"] * 5]
    assert PracticeEvent.objects.filter(run_id=school.run_id).count() == 1


def test_a_run_is_not_gone_on_with_after_leaving_the_class(run, school):
    run.do("rock")
    classes.change_student(school.tove, school.class_a, school.ines.id, left=True)
    answer = run.post({"do": "turn", "by_deg": 10})
    assert answer.status_code == 403
    assert answer.json()["detail"].startswith("You have left this class")
    assert PracticeEvent.objects.filter(run_id=school.run_id).count() == 1


def test_an_action_takes_few_queries(run, django_assert_max_num_queries):
    run.do("rock")
    # Who asks (the session, then its person), whether they have left, and the action.
    with django_assert_max_num_queries(4):
        run.do("turn", by_deg=10)


def test_listing_takes_no_query_for_each_row(school, browsers, django_assert_max_num_queries):
    for number in range(8):
        make(school, title=f"Run {number}")
    browsers.sign_in("student")
    with django_assert_max_num_queries(10):
        browsers["student"].get(f"/api/classes/{school.class_a}/practice")


class TestOtherRules:
    """A run keeps the version of the practice rules that it was made under."""

    @pytest.fixture
    def old(self, run):
        run.do("look", at="marks")
        run.do("turn", by_deg=90)
        run.do("try", valve=1, leaves_um=[250])
        PracticeRun.objects.filter(id=run.id).update(rules_version="edrix-practice/0")
        live.forget_all()
        return run

    def test_nothing_more_is_done_by_today_s_rules(self, old):
        answer = old.post({"do": "rock"})
        assert answer.status_code == 409
        assert "other practice rules" in answer.json()["detail"]
        assert old.browser.get(f"/api/runs/{old.id}").status_code == 409
        assert PracticeEvent.objects.filter(run_id=old.id).count() == 3

    def test_it_is_told_as_it_was_observed_and_judged_by_nothing(self, old, browsers):
        told = browsers["instructor"].get(f"/api/runs/{old.id}/debrief").json()
        assert told["rules_version"] == "edrix-practice/0"
        assert "as it was observed then" in told["headline"]
        kept = list(PracticeEvent.objects.filter(run_id=old.id).order_by("step"))
        assert [moment["says"] for moment in told["moments"]] == [event.says for event in kept]
        assert {moment["wrong"] for moment in told["moments"]} == {None}
        assert (told["valves"], told["turned_deg"]) == ([], None)

    def test_the_next_run_is_a_new_one(self, old, school):
        fresh = practice.open_run(school.ines, school.practice.id)
        assert fresh.id != old.id
        ended = PracticeRun.objects.get(id=old.id)
        assert ended.ended_at is not None
        assert ended.outcome == "rules-changed"

    def test_a_changed_figure_changes_no_debrief_that_was_told(self, run, monkeypatch):
        run.do("try", valve=1, leaves_um=[250])
        for name in ("count-tools", "tool-off"):
            run.do(name)
        run.do("cover", on=True)
        run.do("start")
        before = run.browser.get(f"/api/runs/{run.id}/debrief").json()
        kept = PracticeRun.objects.get(id=run.id)
        assert kept.debrief is not None
        assert before["outcome"] == "ticks", "the engine that this seed deals"
        monkeypatch.setattr("valvetrain.practice.closing.TICKS_MM", 0.5)
        assert debriefs.told_now(kept) != kept.debrief, "today's figures would tell it otherwise"
        assert run.browser.get(f"/api/runs/{run.id}/debrief").json() == before


def test_what_a_run_is_dealt_from_stays_the_same_for_good():
    """A run that came from an old archive must be the engine that was begun: these are the seeds
    of runs that have been played."""
    assert moving.former_seed(1000, 1, None) == 1000
    assert moving.former_seed(1000, 2, None) == 105_729
    assert moving.former_seed(1000, 1, 7) == 56_433
    assert moving.former_seed(1000, 3, 7) == 265_891


def test_what_a_new_run_is_dealt_from_needs_the_servers_secret(settings):
    # Another attempt, and another student, is another engine.
    dealt = {live.new_seed(5, n, who) for n in range(1, 30) for who in range(1, 60)}
    assert len(dealt) == 29 * 59
    assert max(dealt) < 2**63
    before = live.new_seed(5, 1, None)
    assert live.new_seed(5, 1, None) == before
    settings.SECRET_KEY = "another"
    assert live.new_seed(5, 1, None) != before


def test_a_run_is_taken_away_as_a_file_that_replays_to_the_same(school, browsers, run):
    """By instructors only: everything hidden is in it."""
    run.do("turn", by_deg=90)
    run.do("try", valve=1, leaves_um=[250])
    answer = browsers["instructor"].get(f"/api/runs/{school.run_id}/run.json")
    assert "attachment" in answer["Content-Disposition"]
    file = read_run(answer.json())
    known = live.live(school.run_id)
    assert file.setup.hidden == known.setup.hidden
    told = replay_file(file)
    assert [one.says for one in told.observations][-1].startswith("0.25 mm")
    refused = browsers["student"].get(f"/api/runs/{school.run_id}/run.json")
    assert refused.status_code == 403
    PracticeRun.objects.filter(id=school.run_id).update(rules_version="edrix-practice/2")
    other = browsers["instructor"].get(f"/api/runs/{school.run_id}/run.json")
    assert other.status_code == 409
    assert "other practice rules" in other.json()["detail"]


def test_the_shown_job_is_told_step_by_step_and_at_no_other_level(run, school, browsers):
    path = f"/api/runs/{run.id}/walk"
    refused = browsers["student"].get(path)
    assert refused.status_code == 403
    assert "that is for you to find" in refused.json()["detail"]
    run = Run(browsers["student"], make(school, title="The whole job", level="shown").id)
    path = f"/api/runs/{run.id}/walk"
    first = browsers["student"].get(path).json()
    assert first["why"]
    run.do(first["action"].pop("do"), **first["action"])
    second = browsers["student"].get(path).json()
    assert second["says"] != first["says"]
