"""A whole live lesson on every demo engine: each kind of step is held, is on the student's phone,
is opened there and worked at, and is gone with the next one.

Questions are asked and proved in test_questions.py. Covered: every engine with `./edrix journeys`;
in CI those on which the kinds of gear and adjuster differ most.
"""

import pytest

from tests.journeys.conftest import ALL
from tests.journeys.engines import demo_documents, demo_engines
from tests.journeys.test_sheets import Journey

DOCUMENTS, ENGINES = demo_documents(), demo_engines()
IN_CI = ("03", "10", "11", "13", "17")
"""A single, a boxer with a pin, one that adjusts itself, shims, and rockers that pull shut."""
VIEWS = ("whole", "overlap", "clearance", "section")


def steps_for(name):
    engine = {"engine": name}
    benches = [
        {"kind": "bench", "title": f"See {view}", **engine, "at_deg": 20 * at, "view": view}
        for at, view in enumerate(VIEWS)
    ]
    return [
        {"kind": "text", "title": "Why", "text": "A tight valve burns."},
        *benches,
        {"kind": "question", "title": "Where?", **engine, "question": "which-stroke", "at_deg": 10},
        {"kind": "drill", "title": "Ten questions", **engine},
        {"kind": "practice", "title": "At the engine", "named": "A journey's run"},
        {"kind": "sheet", "title": "Write it down", "named": "A journey"},
    ]


class LiveLesson(Journey):
    """A class with a stand, a sheet and a practice engine of this kind, and its lesson."""

    def begin(self):
        self.set_up()
        name = DOCUMENTS[self.case["engine"]]["name"]
        self.engine_id = next(
            one["id"]
            for one in self.send(self.instructor, "GET", "/api/engines")
            if one["name"] == name
        )
        self.at = f"/api/classes/{self.school.class_a}"
        practice = {"engine_id": self.engine_id, "title": "A journey's run", "level": "prompted"}
        self.send(self.instructor, "POST", f"{self.at}/practice", practice)
        document = {"format": "edrix-lesson/1", "title": "A lesson", "steps": steps_for(name)}
        made = self.send(self.instructor, "POST", "/api/lessons", {"document": document})
        self.lesson_id = made["id"]
        path = f"/api/lessons/{self.lesson_id}?class_id={self.school.class_a}"
        self.held = self.send(self.instructor, "GET", path)["held"]

    def hold(self, number):
        body = {"lesson_id": self.lesson_id, "step": number}
        leads = self.send(self.instructor, "PUT", f"{self.at}/held", body)["leads"]
        opens = self.on_the_phone()
        assert bool(opens) is leads
        return opens[0] if opens else None

    def on_the_phone(self):
        return self.send(self.student, "GET", "/api/my/now")["opens"]

    # Where a step leads ---------------------------------------------------------------------------

    def drill(self, of_id):
        """All ten, each by its first option; then each says which was right."""
        drill = self.send(self.student, "POST", "/api/drills", {"engine_id": of_id})
        for question in drill["questions"]:
            path = f"/api/drills/{drill['id']}/answers/{question['number']}"
            drill = self.send(self.student, "POST", path, {"given": [question["options"][0]["id"]]})
        for question in drill["questions"]:
            assert question["answer"]
            assert question["because"]
            assert question["right"] is (question["given"] == question["answer"])
        (score,) = self.send(self.instructor, "GET", f"{self.at}/drills")
        assert score["answered"] == len(drill["questions"])

    def practice(self, of_id):
        run = self.send(self.student, "POST", f"/api/practice/{of_id}/runs")
        body = {"key": "lesson-0001", "step": 0, "action": {"do": "look", "at": "engine"}}
        seen = self.send(self.student, "POST", f"/api/runs/{run['id']}/actions", body)
        assert seen["says"]

    def sheet(self, of_id):
        assert of_id == self.sheet_id
        body = {"lines": self.lines(), "request_key": "k-lesson-1", "confirmed": True}
        self.send(self.student, "POST", f"/api/sheets/{of_id}/hand-in", body)
        marked = self.send(self.student, "GET", f"/api/sheets/{of_id}")["result"]
        assert marked["points"] == marked["out_of"]


@pytest.mark.parametrize("name", list(DOCUMENTS) if ALL else IN_CI)
def test_a_lesson_from_its_first_step_to_its_end(school, browsers, texts, name):
    case = {"engine": name, "asks": (), "unit": "mm"}
    lesson = LiveLesson(school, browsers, texts, case)
    lesson.begin()
    assert [step["missing"] for step in lesson.held] == [""] * len(lesson.held)
    led = []
    for number, step in enumerate(lesson.held, start=1):
        opens = lesson.hold(number)
        if opens is None:
            assert step["kind"] in ("text", "bench", "question")
            continue
        assert (opens["kind"], opens["title"]) == (step["kind"], step["title"])
        getattr(lesson, opens["kind"])(opens["of_id"])
        led.append(opens["kind"])
    assert led == ["drill", "practice", "sheet"]
    lesson.send(lesson.instructor, "DELETE", f"{lesson.at}/held")
    assert lesson.on_the_phone() == []
