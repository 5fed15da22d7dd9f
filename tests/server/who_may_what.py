"""Least privilege as one table: who x what, with the status that each gets."""

from collections.abc import Callable
from typing import Any

from tests.core.conftest import engine_document
from tests.server.conftest import DIESEL_LINES, KEY_MM, School, right_lines
from tests.server.test_drafts import changes

WHO = ("nobody", "instructor", "other instructor", "student", "classmate", "other student")

Act = tuple[str, Callable[[School], str], Callable[[School], Any]]


def fixed(path: str) -> Callable[[School], str]:
    return lambda _school: path


def nothing(_school: School) -> None:
    return None


def key_body(_school: School) -> dict[str, Any]:
    return {"gaps": [{"valve": v, "gap": g, "unit": "mm"} for v, g in KEY_MM.items()]}


def passes_body(school: School) -> dict[str, Any]:
    return {"passes": [{"by": "Rolf", **key_body(school)}]}


def sheet_body(school: School) -> dict[str, Any]:
    return {
        "stand_id": school.stand.id,
        "title": "Second measuring",
        "method": "two-stop",
        "tolerance": "0.03",
    }


def opening_body(school: School) -> dict[str, Any]:
    return {
        "engine_id": school.engine_id,
        "stand_id": school.stand.id,
        "start": "diesel",
        "ticked": DIESEL_LINES,
    }


def hand_in_body(_school: School) -> dict[str, Any]:
    return {"lines": right_lines(), "request_key": "table-0001", "confirmed": True}


def run_rubric_body(_school: School) -> dict[str, Any]:
    return {"items": [{"part": "place", "weight": 2}], "pass_percent": 70}


def rubric_body(_school: School) -> dict[str, Any]:
    return {"items": [{"part": "reading", "weight": 2}], "pass_percent": 70}


HEADS = (401, 403, 403, 403, 403, 403)
# what, (method, path, body), the status for each of WHO
TABLE: list[tuple[str, Act, tuple[int, ...]]] = [
    ("see the shelf", ("GET", fixed("/api/engines"), nothing), (401, 200, 200, 200, 200, 200)),
    (
        "turn an engine on the Bench",
        ("GET", lambda s: f"/api/engines/{s.engine_id}/cycle", nothing),
        (401, 200, 200, 200, 200, 200),
    ),
    (
        "shelve an engine",
        ("POST", fixed("/api/engines"), lambda _: engine_document([1])),
        (401, 201, 201, 403, 403, 403),
    ),
    (
        "change an engine",
        (
            "POST",
            lambda s: f"/api/engines/{s.engine_id}/versions?based_on=1",
            lambda _: engine_document([1, 2, 4, 3]),
        ),
        (401, 201, 201, 403, 403, 403),
    ),
    (
        "preview an engine that is being written",
        ("POST", fixed("/api/engine-preview"), lambda _: engine_document([1])),
        (401, 200, 200, 403, 403, 403),
    ),
    (
        "compare the methods",
        ("GET", lambda s: f"/api/engines/{s.engine_id}/methods", nothing),
        (401, 200, 200, 200, 200, 200),
    ),
    (
        "see what a clearance does",
        ("GET", lambda s: f"/api/engines/{s.engine_id}/effect?valve=1&gap=0.2", nothing),
        (401, 200, 200, 200, 200, 200),
    ),
    (
        "work out shims",
        (
            "POST",
            lambda s: f"/api/engines/{s.engine_id}/shims",
            lambda _: {"valves": [{"valve": 1, "fitted": "2.5", "measured": "0.2"}]},
        ),
        # Everybody may ask; this engine has screws, and says so.
        (401, 422, 422, 422, 422, 422),
    ),
    (
        "drill alone",
        ("POST", fixed("/api/drills"), lambda s: {"engine_id": s.engine_id}),
        (401, 201, 201, 201, 201, 201),
    ),
    (
        "read a long form of one's own",
        ("GET", fixed("/api/long-forms/paper-1"), nothing),
        (401, 200, 200, 403, 403, 403),
    ),
    (
        "keep a long form of one's own",
        ("PUT", fixed("/api/long-forms/paper-1"), lambda _: {"typed": {"a": "1"}, "revision": 0}),
        (401, 200, 200, 403, 403, 403),
    ),
    (
        "give a long form up",
        ("DELETE", fixed("/api/long-forms/paper-1"), nothing),
        (401, 204, 204, 403, 403, 403),
    ),
    (
        "ask a whole class",
        ("POST", fixed("/api/drills"), lambda s: {"engine_id": s.engine_id, "held": "class"}),
        (401, 201, 201, 403, 403, 403),
    ),
    (
        "see a class's drills",
        ("GET", lambda s: f"/api/classes/{s.class_a}/drills", nothing),
        (401, 200, 404, 403, 403, 404),
    ),
    (
        "open a stand for work",
        ("POST", fixed("/api/openings"), opening_body),
        (401, 201, 404, 201, 201, 404),
    ),
    (
        "see the school's own lines on the lists",
        ("GET", lambda s: f"/api/engines/{s.engine_id}/own-lines", nothing),
        (401, 200, 200, 403, 403, 403),
    ),
    (
        "put a line on the lists",
        (
            "POST",
            lambda s: f"/api/engines/{s.engine_id}/own-lines",
            lambda _: {"on": "opening", "says": "Floor drain covered."},
        ),
        (401, 201, 201, 403, 403, 403),
    ),
    (
        "take a line off the lists",
        ("DELETE", fixed("/api/own-lines/1"), nothing),
        (401, 404, 404, 403, 403, 403),
    ),
    (
        "see the shop tolerance",
        ("GET", fixed("/api/shop"), nothing),
        (401, 200, 200, 200, 200, 200),
    ),
    (
        "state the shop tolerance",
        ("PUT", fixed("/api/shop"), lambda _: {"tolerance_mm": "0.01", "tolerance_thou": "1"}),
        (401, 403, 403, 403, 403, 403),
    ),
    (
        "see what a class practises on",
        ("GET", lambda s: f"/api/classes/{s.class_a}/practice", nothing),
        (401, 200, 404, 200, 200, 404),
    ),
    (
        "set a practice engine",
        (
            "POST",
            lambda s: f"/api/classes/{s.class_a}/practice",
            lambda s: {"engine_id": s.engine_id, "title": "Another"},
        ),
        (401, 201, 404, 403, 403, 404),
    ),
    (
        "see everybody's runs",
        ("GET", lambda s: f"/api/practice/{s.practice.id}/runs", nothing),
        (401, 200, 404, 403, 403, 404),
    ),
    (
        "open a run",
        ("POST", lambda s: f"/api/practice/{s.practice.id}/runs", nothing),
        (401, 403, 404, 200, 200, 404),
    ),
    (
        "read a run",
        ("GET", lambda s: f"/api/runs/{s.run_id}", nothing),
        (401, 404, 404, 200, 404, 404),
    ),
    (
        "act in a run",
        (
            "POST",
            lambda s: f"/api/runs/{s.run_id}/actions",
            lambda _: {"key": "table-0002", "step": 0, "action": {"do": "rock"}},
        ),
        (401, 404, 404, 200, 404, 404),
    ),
    (
        "be told the next leaf where nobody tells it",
        ("GET", lambda s: f"/api/runs/{s.run_id}/advice?valve=1", nothing),
        (401, 404, 404, 403, 404, 404),
    ),
    (
        "see the next step of the shown job",
        ("GET", lambda s: f"/api/runs/{s.run_id}/walk", nothing),
        (401, 404, 404, 403, 404, 404),
    ),
    (
        "be helped with a stack where nobody helps",
        ("GET", lambda s: f"/api/runs/{s.run_id}/stack?target=0.28", nothing),
        (401, 404, 404, 403, 404, 404),
    ),
    (
        "read the debrief of a run that goes on",
        ("GET", lambda s: f"/api/runs/{s.run_id}/debrief", nothing),
        (401, 200, 404, 409, 404, 404),
    ),
    (
        "take a run away as a file, with what it hides",
        ("GET", lambda s: f"/api/runs/{s.run_id}/run.json", nothing),
        (401, 200, 404, 403, 404, 404),
    ),
    (
        "see one's own progress",
        ("GET", lambda s: f"/api/classes/{s.class_a}/progress", nothing),
        (401, 403, 404, 200, 200, 404),
    ),
    (
        "see a student's progress",
        ("GET", lambda s: f"/api/classes/{s.class_a}/students/{s.bo.id}/progress", nothing),
        (401, 200, 404, 403, 403, 404),
    ),
    (
        "sign a skill off",
        (
            "POST",
            lambda s: f"/api/classes/{s.class_a}/students/{s.bo.id}/sign-offs",
            lambda _: {"skill": "measure"},
        ),
        (401, 200, 404, 403, 403, 404),
    ),
    (
        "make a class",
        ("POST", fixed("/api/classes"), lambda _: {"name": "New"}),
        (401, 201, 201, 403, 403, 403),
    ),
    (
        "see a class's students",
        ("GET", lambda s: f"/api/classes/{s.class_a}", nothing),
        (401, 200, 404, 403, 403, 404),
    ),
    (
        "add students",
        ("POST", lambda s: f"/api/classes/{s.class_a}/students", lambda _: {"text": "Pim"}),
        (401, 201, 404, 403, 403, 404),
    ),
    (
        "reset a passcode",
        (
            "POST",
            lambda s: f"/api/classes/{s.class_a}/students/{s.bo.id}/passcode",
            nothing,
        ),
        (401, 200, 404, 403, 403, 404),
    ),
    (
        "rename a class",
        ("PATCH", lambda s: f"/api/classes/{s.class_a}", lambda _: {"name": "New name"}),
        (401, 204, 404, 403, 403, 404),
    ),
    (
        "put a student's name right",
        (
            "PATCH",
            lambda s: f"/api/classes/{s.class_a}/students/{s.bo.id}",
            lambda _: {"name": "Bo Hallgrím"},
        ),
        (401, 204, 404, 403, 403, 404),
    ),
    (
        "rename a stand",
        ("PATCH", lambda s: f"/api/stands/{s.stand.id}", lambda _: {"name": "Stand 3, rear"}),
        (401, 204, 404, 403, 403, 404),
    ),
    (
        "rename a sheet",
        ("PATCH", lambda s: f"/api/sheets/{s.sheet.id}", lambda _: {"name": "First look"}),
        (401, 204, 404, 403, 403, 404),
    ),
    (
        "feel a gap blind",
        ("POST", lambda s: f"/api/classes/{s.class_a}/blind-feel", lambda _: {}),
        (401, 403, 404, 200, 200, 404),
    ),
    (
        "push a leaf into somebody's gap",
        ("POST", lambda _s: "/api/blind-feel/999/pushes", lambda _: {}),
        (401, 404, 404, 404, 404, 404),
    ),
    (
        "guess somebody's gap",
        (
            "POST",
            lambda _s: "/api/blind-feel/999/guess",
            lambda _: {"named": "drag", "gap": "0.25"},
        ),
        (401, 404, 404, 404, 404, 404),
    ),
    (
        "see what runs are worth",
        ("GET", lambda s: f"/api/practice/{s.practice.id}/rubric", nothing),
        (401, 200, 404, 403, 403, 404),
    ),
    (
        "look at what weights do to runs",
        ("POST", lambda s: f"/api/practice/{s.practice.id}/rubric/preview", run_rubric_body),
        (401, 200, 404, 403, 403, 404),
    ),
    (
        "set what runs are worth",
        (
            "POST",
            lambda s: f"/api/practice/{s.practice.id}/rubric",
            lambda s: {"rubric": run_rubric_body(s), "based_on": 0},
        ),
        (401, 201, 404, 403, 403, 404),
    ),
    (
        "rename a practice engine",
        ("PATCH", lambda s: f"/api/practice/{s.practice.id}", lambda _: {"name": "New title"}),
        (401, 204, 404, 403, 403, 404),
    ),
    (
        "put a class away",
        ("PATCH", lambda s: f"/api/classes/{s.class_a}", lambda _: {"away": True}),
        (401, 204, 404, 403, 403, 404),
    ),
    (
        "delete a class that is in use",
        ("DELETE", lambda s: f"/api/classes/{s.class_a}", nothing),
        (401, 409, 404, 403, 403, 404),
    ),
    (
        "let a student leave",
        (
            "PATCH",
            lambda s: f"/api/classes/{s.class_a}/students/{s.bo.id}",
            lambda _: {"left": True},
        ),
        (401, 204, 404, 403, 403, 404),
    ),
    (
        "take out who was added by mistake",
        ("DELETE", lambda s: f"/api/classes/{s.class_a}/students/{s.bo.id}/membership", nothing),
        (401, 204, 404, 403, 403, 404),
    ),
    (
        "look at a pasted list",
        ("POST", lambda s: f"/api/classes/{s.class_a}/roll/preview", lambda _: {"text": "Pim"}),
        (401, 200, 404, 403, 403, 404),
    ),
    (
        "renew everybody's passcode",
        ("POST", lambda s: f"/api/classes/{s.class_a}/passcodes", nothing),
        (401, 200, 404, 403, 403, 404),
    ),
    (
        "print slips of passcodes",
        (
            "POST",
            lambda s: f"/api/classes/{s.class_a}/slips.pdf",
            lambda s: {"people": [{"id": s.bo.id, "passcode": "bcdf-ghjk"}]},
        ),
        (401, 200, 404, 403, 403, 404),
    ),
    (
        "put a stand away",
        ("PATCH", lambda s: f"/api/stands/{s.stand.id}", lambda _: {"away": True}),
        (401, 204, 404, 403, 403, 404),
    ),
    (
        "delete a stand that is in use",
        ("DELETE", lambda s: f"/api/stands/{s.stand.id}", nothing),
        (401, 409, 404, 403, 403, 404),
    ),
    (
        "close a sheet",
        (
            "PATCH",
            lambda s: f"/api/sheets/{s.sheet.id}",
            lambda _: {"closes_at": "2026-01-01T12:00"},
        ),
        (401, 204, 404, 403, 403, 404),
    ),
    (
        "delete a sheet that nobody has written on",
        ("DELETE", lambda s: f"/api/sheets/{s.sheet.id}", nothing),
        (401, 204, 404, 403, 403, 404),
    ),
    (
        "take a re-marking back that was never made",
        ("DELETE", lambda s: f"/api/sheets/{s.sheet.id}/remark", nothing),
        (401, 409, 404, 403, 403, 404),
    ),
    (
        "put a practice engine away",
        ("PATCH", lambda s: f"/api/practice/{s.practice.id}", lambda _: {"away": True}),
        (401, 204, 404, 403, 403, 404),
    ),
    (
        "delete a practice engine that has runs",
        ("DELETE", lambda s: f"/api/practice/{s.practice.id}", nothing),
        (401, 409, 404, 403, 403, 404),
    ),
    (
        "rename an engine",
        ("PATCH", lambda s: f"/api/engines/{s.engine_id}", lambda _: {"name": "Pump"}),
        (401, 204, 204, 403, 403, 403),
    ),
    (
        "delete an engine that is in use",
        ("DELETE", lambda s: f"/api/engines/{s.engine_id}", nothing),
        (401, 409, 409, 403, 403, 403),
    ),
    # Tove, Rolf and everybody else: heads only, and the school of these tests has none.
    ("see the school's instructors", ("GET", fixed("/api/instructors"), nothing), HEADS),
    ("add an instructor", ("POST", fixed("/api/instructors"), lambda _: {"name": "Una"}), HEADS),
    (
        "make oneself head",
        ("PATCH", lambda s: f"/api/instructors/{s.tove.id}", lambda _: {"is_head": True}),
        HEADS,
    ),
    (
        "renew an instructor's passcode",
        ("POST", lambda s: f"/api/instructors/{s.rolf.id}/passcode", nothing),
        HEADS,
    ),
    (
        "see what a gauge study may compare",
        ("GET", lambda s: f"/api/stands/{s.stand.id}/trials", nothing),
        (401, 200, 404, 403, 403, 404),
    ),
    (
        "see stands and keys",
        ("GET", lambda s: f"/api/classes/{s.class_a}/stands", nothing),
        (401, 200, 404, 403, 403, 404),
    ),
    (
        "make a stand",
        (
            "POST",
            lambda s: f"/api/classes/{s.class_a}/stands",
            lambda s: {"name": "Stand 9", "engine_id": s.engine_id},
        ),
        (401, 201, 404, 403, 403, 404),
    ),
    (
        "enter a key",
        ("POST", lambda s: f"/api/stands/{s.stand.id}/keys", key_body),
        (401, 201, 404, 403, 403, 404),
    ),
    (
        "look at a key of several passes",
        ("POST", lambda s: f"/api/stands/{s.stand.id}/passes/preview", passes_body),
        (401, 200, 404, 403, 403, 404),
    ),
    (
        "enter a key of several passes",
        ("POST", lambda s: f"/api/stands/{s.stand.id}/passes", passes_body),
        (401, 201, 404, 403, 403, 404),
    ),
    (
        "set a sheet",
        ("POST", lambda s: f"/api/classes/{s.class_a}/sheets", sheet_body),
        (401, 201, 404, 403, 403, 404),
    ),
    (
        "list a class's sheets",
        ("GET", lambda s: f"/api/classes/{s.class_a}/sheets", nothing),
        (401, 200, 404, 403, 403, 404),
    ),
    (
        "open a sheet as a student",
        ("GET", lambda s: f"/api/sheets/{s.sheet.id}", nothing),
        (401, 403, 404, 200, 200, 404),
    ),
    (
        "save a draft",
        ("PATCH", lambda s: f"/api/sheets/{s.sheet.id}/draft", lambda _: changes(right_lines())),
        (401, 403, 404, 200, 200, 404),
    ),
    (
        "hand in",
        ("POST", lambda s: f"/api/sheets/{s.sheet.id}/hand-in", hand_in_body),
        (401, 403, 404, 201, 201, 404),
    ),
    (
        "answer a mark of a sheet that is not handed in",
        (
            "POST",
            lambda s: f"/api/sheets/{s.sheet.id}/answers",
            lambda _: {"valve": 1, "part": "reading", "text": "It was warm."},
        ),
        (401, 403, 404, 409, 409, 404),
    ),
    (
        "see the board",
        ("GET", lambda s: f"/api/sheets/{s.sheet.id}/board", nothing),
        (401, 200, 404, 403, 403, 404),
    ),
    (
        "see what explains a class's figures",
        ("GET", lambda s: f"/api/sheets/{s.sheet.id}/findings", nothing),
        (401, 200, 404, 403, 403, 404),
    ),
    (
        "see a class at a glance",
        ("GET", lambda s: f"/api/sheets/{s.sheet.id}/class-view", nothing),
        (401, 200, 404, 403, 403, 404),
    ),
    (
        "see whose marks a new key moves",
        ("GET", lambda s: f"/api/sheets/{s.sheet.id}/remark", nothing),
        (401, 200, 404, 403, 403, 404),
    ),
    (
        "re-mark",
        ("POST", lambda s: f"/api/sheets/{s.sheet.id}/remark", lambda _s: {"key_number": 1}),
        (401, 200, 404, 403, 403, 404),
    ),
    (
        "see a sheet's rubric",
        ("GET", lambda s: f"/api/sheets/{s.sheet.id}/rubric", nothing),
        (401, 200, 404, 403, 403, 404),
    ),
    (
        "look at what a rubric does",
        ("POST", lambda s: f"/api/sheets/{s.sheet.id}/rubric/preview", rubric_body),
        (401, 200, 404, 403, 403, 404),
    ),
    (
        "weigh a sheet anew",
        (
            "POST",
            lambda s: f"/api/sheets/{s.sheet.id}/rubric",
            lambda s: {"rubric": rubric_body(s), "based_on": 0},
        ),
        (401, 201, 404, 403, 403, 404),
    ),
    (
        "give grades back",
        ("POST", lambda s: f"/api/sheets/{s.sheet.id}/give-back", lambda _: {}),
        (401, 204, 404, 403, 403, 404),
    ),
    (
        "print a class's report",
        ("GET", lambda s: f"/api/sheets/{s.sheet.id}/report.pdf", nothing),
        (401, 200, 404, 403, 403, 404),
    ),
    (
        "print blank sheets",
        ("GET", lambda s: f"/api/sheets/{s.sheet.id}/blank.pdf", nothing),
        (401, 200, 404, 403, 403, 404),
    ),
    (
        "print a shim table",
        ("GET", lambda s: f"/api/engines/{s.engine_id}/shims.pdf", nothing),
        # Everybody may ask; this engine has screws, and says so.
        (401, 404, 404, 404, 404, 404),
    ),
    (
        "read the gauge study of a stand",
        ("GET", lambda s: f"/api/stands/{s.stand.id}/study", nothing),
        (401, 409, 404, 403, 403, 404),
    ),
    (
        "export marks",
        ("GET", lambda s: f"/api/sheets/{s.sheet.id}/marks.csv", nothing),
        (401, 200, 404, 403, 403, 404),
    ),
    (
        "export marks as a workbook",
        ("GET", lambda s: f"/api/sheets/{s.sheet.id}/marks.xlsx", nothing),
        (401, 200, 404, 403, 403, 404),
    ),
    (
        "export readings",
        ("GET", lambda s: f"/api/sheets/{s.sheet.id}/readings.csv", nothing),
        (401, 200, 404, 403, 403, 404),
    ),
    (
        "export grades",
        ("GET", lambda s: f"/api/sheets/{s.sheet.id}/grades.csv", nothing),
        (401, 200, 404, 403, 403, 404),
    ),
]
