"""Least privilege: every row of `who_may_what.py`, and on refusal nothing has changed."""

from typing import Any

import pytest
from django.db import connection

from edrix.drills import services as drills
from edrix.marking import handing_in
from edrix.sheets.lines import TypedLine
from edrix.stands import services as stands
from tests.server.asking_table import TABLE as ASKING
from tests.server.conftest import KEY_MM, right_lines, worked
from tests.server.rota_table import TABLE as ROTAS
from tests.server.stand_table import TABLE as STANDS
from tests.server.who_may_what import TABLE, WHO, hand_in_body

OUR_TABLES = (
    "accounts_",
    "engines_",
    "classes_",
    "stands_",
    "sheets_",
    "marking_",
    "drills_",
    "safety_",
    "logbook_",
    "store_",
    "rota_",
    "jobs_",
    "practice_",
    "progress_",
    "asking_",
    "today_",
    "lessons_",
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
    ("act", "statuses"),
    [row[1:] for row in TABLE + STANDS + ROTAS + ASKING],
    ids=[row[0] for row in TABLE + STANDS + ROTAS + ASKING],
)
def test_who_may_do_what(school, browsers, who, act, statuses):
    method, path, body = act
    browser = browsers[who]
    address, sent = path(school), body(school)
    before = everything()
    answer = browser.send(method, address, sent)
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
    assert taken.status_code == (202 if status == 200 else status)
    worked(browser, taken)
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
        "rota_id": 1,
        "question_id": 1,
        "lesson_id": 1,
        "job_id": 1,
        "secret": "guessed",
        "hand_in_id": handed_in.id,
        "place": "paper-1",
        "drill_id": drills.start(school.ines, school.engine_id, None, "alone").id,
        "number": 1,
        "line_id": 1,
        "opening_id": 1,
        "practice_id": school.practice.id,
        "run_id": school.run_id,
        "try_id": 999,
        "shim_id": 999,
        "held_id": 999,
        "kind": "csv",
        "whose": "students",
        "person_id": school.rolf.id,
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
            text = answer.content.decode(errors="replace")
            asked += 1
            assert not [gap for gap in gaps if gap in text or gap.rstrip("0") in text], path
            assert "error_mm" not in text
            assert "instructor_says" not in text
    assert asked >= len(TABLE)
