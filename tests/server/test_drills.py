"""Drills over HTTP: the answer stays hidden until it is given, and is given once."""

import threading

import pytest
from django.db import connections

from edrix.drills import services as drills
from edrix.drills.models import Drill, DrillAnswer


@pytest.fixture
def drill(school, browsers):
    answer = browsers["student"].send("POST", "/api/drills", {"engine_id": school.engine_id})
    assert answer.status_code == 201
    return answer.json()


def right_answer(drill_id, number):
    return tuple(Drill.objects.get(id=drill_id).questions[number - 1]["answer"])


def give(browser, drill, number, given):
    return browser.send("POST", f"/api/drills/{drill['id']}/answers/{number}", {"given": given})


def test_ten_questions_without_their_answers(drill):
    assert len(drill["questions"]) == 10
    for question in drill["questions"]:
        assert question["answer"] is None
        assert question["because"] is None
        assert not question["answered"]


def test_an_answer_is_scored_and_told(drill, browsers, school):
    given = list(right_answer(drill["id"], 1))
    after = give(browsers["student"], drill, 1, given).json()["questions"]
    assert after[0]["right"] is True
    assert after[0]["answer"] == given
    assert after[0]["because"]
    assert after[1]["answer"] is None
    wrong = [o["id"] for o in after[1]["options"] if o["id"] not in right_answer(drill["id"], 2)]
    again = give(browsers["student"], drill, 2, wrong[:1]).json()["questions"][1]
    assert again["right"] is False
    scores = browsers["instructor"].get(f"/api/classes/{school.class_a}/drills").json()
    assert [(s["person"], s["right"], s["answered"]) for s in scores] == [("Ines Falkner", 1, 2)]
    mine = browsers["student"].get("/api/drills").json()
    assert [(s["right"], s["answered"], s["questions"]) for s in mine] == [(1, 2, 10)]


def test_the_first_answer_stands(drill, browsers):
    right = list(right_answer(drill["id"], 1))
    options = [option["id"] for option in drill["questions"][0]["options"]]
    wrong = next([o] for o in options if [o] != right)
    give(browsers["student"], drill, 1, wrong)
    after = give(browsers["student"], drill, 1, right).json()["questions"][0]
    assert (after["given"], after["right"]) == (wrong, False)


@pytest.mark.parametrize("given", [[], ["no such option"], ["1", "\x00"], "1", None, [{}]])
def test_what_is_no_answer_is_refused(drill, browsers, given):
    answer = give(browsers["student"], drill, 1, given)
    assert answer.status_code == 422
    assert not DrillAnswer.objects.exists()


def test_there_is_no_eleventh_question(drill, browsers):
    assert give(browsers["student"], drill, 11, ["1"]).status_code == 404
    assert give(browsers["student"], drill, 0, ["1"]).status_code == 404


@pytest.mark.parametrize("who", ["classmate", "instructor", "other student"])
def test_a_drill_is_its_persons_own(drill, browsers, who):
    path = f"/api/drills/{drill['id']}"
    assert browsers[who].get(path).status_code == 404
    assert give(browsers[who], drill, 1, ["1"]).status_code == 404
    assert browsers[who].send("POST", f"{path}/reveal/1").status_code == 404


def test_a_student_cannot_reveal_instead_of_answering(drill, browsers):
    answer = browsers["student"].send("POST", f"/api/drills/{drill['id']}/reveal/1")
    assert answer.status_code == 409
    assert "answered alone" in answer.json()["detail"]


def test_before_a_class_it_is_revealed_then_scored(school, browsers):
    tove = browsers["instructor"]
    body = {"engine_id": school.engine_id, "held": "class"}
    path = f"/api/drills/{tove.send('POST', '/api/drills', body).json()['id']}"
    early = tove.send("PUT", f"{path}/score/1", {"right": True})
    assert early.status_code == 409
    shown = tove.send("POST", f"{path}/reveal/1").json()["questions"][0]
    assert all([shown["answer"], shown["because"], shown["right"] is None])
    assert tove.send("PUT", f"{path}/score/1", {"right": True}).json()["questions"][0]["right"]
    changed = tove.send("PUT", f"{path}/score/1", {"right": False}).json()["questions"][0]
    assert changed["right"] is False
    # A class's drill is no student's score.
    assert browsers["instructor"].get(f"/api/classes/{school.class_a}/drills").json() == []


@pytest.mark.django_db(transaction=True)
def test_two_taps_at_once_are_one_answer(school):
    made = drills.start(school.ines, school.engine_id, None, "alone")
    options = [option["id"] for option in made.questions[0]["options"]]
    barrier = threading.Barrier(2)
    seen = []

    def tap(option):
        barrier.wait(timeout=10)
        try:
            seen.append(drills.answer(school.ines, made.id, 1, [option]).answers.get().given)
        finally:
            connections.close_all()

    threads = [threading.Thread(target=tap, args=[option]) for option in options[:2]]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join(timeout=20)
    assert len(seen) == 2
    assert seen[0] == seen[1]
    assert DrillAnswer.objects.count() == 1


def test_a_drill_is_named_put_away_and_brought_back_by_its_person(drill, browsers, school):
    path, ines = f"/api/drills/{drill['id']}", browsers["student"]
    give(ines, drill, 1, list(right_answer(drill["id"], 1)))
    named = ines.send("PATCH", path, {"name": "  Before the  test "}).json()
    assert (named["title"], named["away"]) == ("Before the test", False)
    ines.send("PATCH", path, {"away": True})
    assert [(d["title"], d["away"]) for d in ines.get("/api/drills").json()] == [
        ("Before the test", True)
    ]
    scores = browsers["instructor"].get(f"/api/classes/{school.class_a}/drills").json()
    assert [(s["title"], s["right"]) for s in scores] == [("Before the test", 1)]
    assert ines.send("PATCH", path, {"away": False, "name": ""}).json()["title"] == ""
    for other in ("classmate", "instructor"):
        assert browsers[other].send("PATCH", path, {"away": True}).status_code == 404
