"""Least privilege as one table: who x what, and on refusal nothing has changed."""

from collections.abc import Callable
from typing import Any

import pytest
from django.db import connection

from edrix.drills import services as drills
from edrix.marking import handing_in
from edrix.sheets.lines import TypedLine
from edrix.stands import services as stands
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


def rubric_body(_school: School) -> dict[str, Any]:
    return {"items": [{"part": "reading", "weight": 2}], "pass_percent": 70}


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
        ("PATCH", lambda s: f"/api/sheets/{s.sheet.id}", lambda _: {"title": "First look"}),
        (401, 204, 404, 403, 403, 404),
    ),
    (
        "rename a practice engine",
        ("PATCH", lambda s: f"/api/practice/{s.practice.id}", lambda _: {"title": "New title"}),
        (401, 204, 404, 403, 403, 404),
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
        ("POST", lambda s: f"/api/sheets/{s.sheet.id}/give-back", nothing),
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


OUR_TABLES = (
    "accounts_",
    "engines_",
    "classes_",
    "stands_",
    "sheets_",
    "marking_",
    "drills_",
    "safety_",
    "practice_",
    "progress_",
)


def everything() -> dict[str, list[Any]]:
    """All rows of all the application's tables."""
    found = {}
    with connection.cursor() as cursor:
        for table in connection.introspection.table_names():
            if table.startswith(OUR_TABLES):
                cursor.execute(f'SELECT * FROM "{table}" ORDER BY 1')  # noqa: S608 (our own table names)
                found[table] = cursor.fetchall()
    return found


@pytest.mark.parametrize("who", WHO)
@pytest.mark.parametrize(
    ("act", "statuses"), [row[1:] for row in TABLE], ids=[row[0] for row in TABLE]
)
def test_who_may_do_what(school, browsers, who, act, statuses):
    method, path, body = act
    browser = browsers[who]
    before = everything()
    answer = browser.send(method, path(school), body(school))
    assert answer.status_code == statuses[WHO.index(who)], answer.content
    if answer.status_code >= 400:
        assert answer["Content-Type"] == "application/problem+json"
        assert answer.json()["detail"].endswith((".", "again."))
        assert everything() == before


@pytest.fixture
def handed_in(school):
    lines = [TypedLine(**line) for line in right_lines()]
    return handing_in.hand_in(
        school.ines, school.sheet.id, lines, request_key="k-12345678", confirmed=True
    )


@pytest.mark.parametrize(
    ("who", "status"), list(zip(WHO, (401, 200, 404, 403, 403, 404), strict=True))
)
def test_who_may_open_a_hand_in(handed_in, browsers, who, status):
    assert browsers[who].get(f"/api/hand-ins/{handed_in.id}").status_code == status


@pytest.mark.parametrize(
    ("who", "status"), list(zip(WHO, (401, 200, 404, 403, 403, 404), strict=True))
)
def test_who_may_decide_a_mark(handed_in, browsers, who, status):
    body = {"valve": 1, "part": "reading", "right": False, "reason": "Seen at the stand."}
    browser = browsers[who]
    before = everything()
    answer = browser.send("POST", f"/api/hand-ins/{handed_in.id}/decisions", body)
    assert answer.status_code == status
    assert (everything() == before) is (status != 200)


@pytest.mark.parametrize(
    ("who", "status"), list(zip(WHO, (401, 200, 404, 403, 403, 404), strict=True))
)
def test_who_may_have_a_sheet_with_its_key(handed_in, browsers, who, status):
    for name in ("sheet.json", "sheet.pdf", "sheet.pdf?whose=instructor"):
        assert browsers[who].get(f"/api/hand-ins/{handed_in.id}/{name}").status_code == status


@pytest.mark.parametrize(
    ("who", "status"), list(zip(WHO, (401, 200, 404, 403, 403, 404), strict=True))
)
def test_who_may_take_readings_in(school, browsers, who, status):
    data = b"student,valve,reading\nBo Hallgrim,1,0.25\n"
    path = f"/api/sheets/{school.sheet.id}/import"
    browser = browsers[who]
    before = everything()
    seen = browser.send_file(f"{path}/preview", data)
    assert seen.status_code == status
    assert everything() == before
    digest = seen.json()["digest"] if status == 200 else "0" * 32
    taken = browser.send_file(path, data, digest=digest)
    assert taken.status_code == status
    b"".join(taken)  # what is streamed is done as it is read
    assert (everything() == before) is (status != 200)


def test_a_student_sees_only_their_own_work(handed_in, school, browsers):
    mine = browsers["student"].get(f"/api/sheets/{school.sheet.id}").json()
    theirs = browsers["classmate"].get(f"/api/sheets/{school.sheet.id}").json()
    assert mine["result"]["points"] == 24
    assert theirs["result"] is None
    assert theirs["draft"] == []


def test_nothing_a_student_can_reach_holds_the_key(handed_in, school, browsers):
    """Every address of the API, asked as the student after marking: no figure of the key."""
    from edrix.api import api

    ids = {
        "engine_id": school.engine_id,
        "class_id": school.class_a,
        "student_id": school.bo.id,
        "stand_id": school.stand.id,
        "sheet_id": school.sheet.id,
        "hand_in_id": handed_in.id,
        "drill_id": drills.start(school.ines, school.engine_id, None, "alone").id,
        "number": 1,
        "opening_id": 1,
        "practice_id": school.practice.id,
        "run_id": school.run_id,
        "kind": "csv",
    }
    gaps = [str(gap) for gap in stands.key_gaps_mm(school.sheet.key_id).values()]
    assert set(gaps) == set(KEY_MM.values())
    asked = 0
    for path, methods in api.get_openapi_schema()["paths"].items():
        for method in methods:
            body = hand_in_body(school) if path.endswith("/hand-in") else {}
            answer = browsers["student"].send(method.upper(), path.format(**ids), body)
            if method == "delete":
                browsers["student"].sign_in("ines.falkner")
            text = answer.content.decode()
            asked += 1
            assert not [gap for gap in gaps if gap in text or gap.rstrip("0") in text], path
            assert "error_mm" not in text
            assert "instructor_says" not in text
    assert asked >= len(TABLE)
