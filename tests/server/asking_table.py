"""Least privilege in a live class, as rows of the table in `who_may_what.py`."""

from typing import Any

from edrix.asking import services as asking
from edrix.asking.services import ClassQuestion, NewQuestion
from edrix.lessons import services as lessons
from edrix.today import services as today
from tests.core.test_lesson import WHOLE
from tests.server.conftest import School

OF_THE_CLASS = (404, 403, 403, 404)
"""The other instructor, two students of the class, and one of another."""


def question_body(school: School, **more: Any) -> dict[str, Any]:
    return {
        "engine_id": school.engine_id,
        "kind": "which-valves",
        "crank_deg": 0,
        "request_key": "press-0001",
        **more,
    }


def asked(school: School, **more: Any) -> ClassQuestion:
    """A question that is open in class A: at firing TDC of 1, which valves may be set?"""
    new = NewQuestion(**({"version": None} | question_body(school, **more)))
    return asking.ask(school.tove, school.class_a, new)


def nothing(_school: School) -> None:
    return None


def at_question(path: str) -> Any:
    return lambda school: f"/api/questions/{asked(school).id}/{path}"


def hand_up(school: School) -> str:
    today.raise_hand(school.ines, school.class_a, up=True)
    return f"/api/classes/{school.class_a}/hands/{school.ines.id}"


def lesson(school: School) -> str:
    made = lessons.create(school.tove, WHOLE)
    return f"/api/lessons/{made.id}"


TEACHERS = (401, 200, 200, 403, 403, 403)


TABLE: list[Any] = [
    ("see the lessons", ("GET", lambda _: "/api/lessons", nothing), TEACHERS),
    (
        "write a lesson",
        ("POST", lambda _: "/api/lessons", lambda _: {"document": WHOLE}),
        (401, 201, 201, 403, 403, 403),
    ),
    (
        "change a lesson",
        ("PUT", lesson, lambda _: {"document": WHOLE, "revision": 1}),
        (401, 200, 403, 403, 403, 403),
    ),
    (
        "put a lesson away",
        ("PATCH", lesson, lambda _: {"away": True}),
        (401, 204, 403, 403, 403, 403),
    ),
    ("delete a lesson", ("DELETE", lesson, nothing), (401, 204, 403, 403, 403, 403)),
    ("print a lesson", ("GET", lambda s: lesson(s) + "/lesson.pdf", nothing), TEACHERS),
    (
        "hold a step",
        (
            "PUT",
            lambda s: f"/api/classes/{s.class_a}/held",
            lambda s: {"lesson_id": lessons.create(s.tove, WHOLE).id, "step": 1},
        ),
        (401, 200, *OF_THE_CLASS),
    ),
    (
        "end a lesson",
        ("DELETE", lambda s: f"/api/classes/{s.class_a}/held", nothing),
        (401, 204, *OF_THE_CLASS),
    ),
    (
        "ask a class",
        ("POST", lambda s: f"/api/classes/{s.class_a}/questions", question_body),
        (401, 201, *OF_THE_CLASS),
    ),
    (
        "see what a class was asked",
        ("GET", lambda s: f"/api/classes/{s.class_a}/questions", nothing),
        (401, 200, *OF_THE_CLASS),
    ),
    (
        "see the wall",
        ("GET", lambda s: f"/api/classes/{s.class_a}/question", nothing),
        (401, 200, *OF_THE_CLASS),
    ),
    (
        "show the spread",
        ("POST", at_question("step"), lambda _: {"to": "spread"}),
        (401, 200, *OF_THE_CLASS),
    ),
    (
        "answer",
        ("PUT", at_question("answer"), lambda _: {"given": ["1"], "sure": 2}),
        (401, 404, 404, 200, 200, 404),
    ),
    (
        "know the kinds of question",
        ("GET", lambda _: "/api/question-kinds", nothing),
        (401, 200, 200, 200, 200, 200),
    ),
    (
        "print a guide",
        ("GET", lambda _: "/api/guide/students.pdf", nothing),
        (401, 200, 200, 200, 200, 200),
    ),
    (
        "see one's own day",
        ("GET", lambda _: "/api/my/now", nothing),
        (401, 200, 200, 200, 200, 200),
    ),
    (
        "see how far a class is",
        ("GET", lambda s: f"/api/classes/{s.class_a}/now", nothing),
        (401, 200, *OF_THE_CLASS),
    ),
    (
        "put a hand up",
        ("PUT", lambda s: f"/api/classes/{s.class_a}/hand", lambda _: {"up": True}),
        (401, 403, 404, 204, 204, 404),
    ),
    (
        "take a hand down",
        ("DELETE", hand_up, nothing),
        (401, 204, *OF_THE_CLASS),
    ),
]  # fmt: skip
