"""Every kind of question on every demo engine, asked of a class from the first tap to the proof.

Each option is answered once; the class sees the votes and the proof; the student's own phone is
told right or wrong. Nothing but the proof tells the answer.
"""

import pytest

from tests.journeys.conftest import ALL
from tests.journeys.covering import every_value
from tests.journeys.engines import demo_documents
from valvetrain.drill import KINDS

DOCUMENTS = demo_documents()
FACTORS = {"engine": tuple(DOCUMENTS), "kind": tuple(kind.id for kind in KINDS)}


def cases():
    if ALL:
        return [{"engine": e, "kind": k} for e in FACTORS["engine"] for k in FACTORS["kind"]]
    return every_value(FACTORS) + [{"engine": "01", "kind": kind} for kind in FACTORS["kind"]]


class Lesson:
    """Class A with one question after another; every answer is read and checked."""

    def __init__(self, school, browsers, texts):
        self.school, self.texts = school, texts
        self.instructor, self.phone = browsers["instructor"], browsers["student"]

    def post(self, path, body, *, allow=()):
        answer = self.instructor.send("POST", path, body)
        assert answer.status_code < 300 or answer.status_code in allow, answer.content
        self.texts.check(answer.json())
        return answer

    def step(self, question_id, to):
        return self.post(f"/api/questions/{question_id}/step", {"to": to}).json()["question"]

    def told(self):
        read = self.phone.get("/api/my/now").json()
        self.texts.check(read)
        (question,) = read["questions"]
        return question

    def give(self, question_id, given):
        path = f"/api/questions/{question_id}/answer"
        answer = self.phone.send("PUT", path, {"given": given, "sure": 2})
        assert answer.status_code == 200, answer.content


@pytest.mark.parametrize("case", cases(), ids=lambda case: f"{case['engine']} {case['kind']}")
def test_a_question_from_the_first_tap_to_the_proof(school, browsers, texts, case):
    lesson = Lesson(school, browsers, texts)
    added = lesson.post("/api/engines", DOCUMENTS[case["engine"]]).json()["engine"]
    body = {"engine_id": added["id"], "kind": case["kind"], "request_key": "press-0001"}
    asked = lesson.post(f"/api/classes/{school.class_a}/questions", body, allow=(422,))
    if asked.status_code == 422:
        # This engine cannot be asked that: it says so, and names what it lacks.
        assert len(asked.json()["detail"]) > 20
        return
    question = asked.json()["question"]
    before = lesson.told()
    assert before["answer"] is before["because"] is None
    options = [option["id"] for option in before["options"]]
    assert len(options) == len(set(options)) >= 2
    assert len({option["says"] for option in before["options"]}) == len(options)
    for option in options:
        lesson.give(question["id"], [option])
    lesson.step(question["id"], "close")
    spread = lesson.step(question["id"], "spread")
    assert sum(spread["spread"]["votes"].values()) == 1
    proof = lesson.step(question["id"], "proof")["proof"]
    assert proof["answer"]
    assert set(proof["answer"]) <= set(options)
    after = lesson.told()
    is_right = [options[-1]] == after["answer"]
    assert after["own"]["right"] is is_right
    assert after["answer"] == proof["answer"]
    if not is_right:
        assert after["because"]
    assert lesson.step(question["id"], "end") is None


def test_every_kind_and_engine_is_asked():
    found = cases()
    for name, values in FACTORS.items():
        assert {case[name] for case in found} >= set(values)
