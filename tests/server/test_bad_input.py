"""Wrong input of every kind: a sentence that names the field, the right status, nothing saved."""

import json

import pytest
from django.core.management import call_command

from edrix.accounts.models import User
from edrix.engines.models import Engine
from edrix.stands.models import Key
from tests.core.conftest import engine_document
from tests.server.conftest import KEY_MM, right_lines


@pytest.mark.parametrize(
    ("document", "path", "says"),
    [
        (engine_document([1, 3, 4]) | {"cylinders": 4}, "$.firing_order", "cylinder 2 is missing"),
        (engine_document([1], ramp_deg=-2), "$.ramp_deg", "above 0 to 180"),
        (engine_document([1], format="other/3"), "$.format", "edrix-engine/1"),
        ([], "$", "give an object"),
        (engine_document([1], name="a\x00b"), "$.name", "control characters"),
    ],
)
def test_bad_engine_files(school, browsers, document, path, says):
    answer = browsers["instructor"].send("POST", "/api/engines", document)
    assert answer.status_code == 422
    named = {field["path"]: field["problem"] for field in answer.json()["fields"]}
    assert says in named[path]
    assert Engine.objects.count() == 1


@pytest.mark.parametrize(
    ("body", "says"),
    [
        (b"{not json", "is not JSON"),
        (b"\xff\xfe{}", "not UTF-8"),
        (b"[" * 60_000, "nested too deep"),
        (b"9" * 5_000, "too long a number"),
    ],
)
@pytest.mark.parametrize("path", ["/api/engines", "/api/classes"])
def test_bodies_that_cannot_be_read(school, browsers, path, body, says):
    browser = browsers["instructor"]
    token = browser.cookies["csrftoken"].value
    answer = browser.generic(
        "POST", path, body, content_type="application/json", headers={"X-CSRFToken": token}
    )
    assert answer.status_code == 400
    assert says in answer.json()["detail"]


def test_ten_megabytes_are_refused(school, browsers):
    answer = browsers["instructor"].send("POST", "/api/classes", {"name": "x" * 10_000_000})
    assert answer.status_code == 413
    assert answer.json()["detail"] == "What you sent has 10000 kB; send at most 1000 kB at once."


@pytest.mark.parametrize(
    ("text", "path", "says"),
    [
        ("", "list", "is empty; write one name on each line"),
        ("Ines Falkner, ines.falkner", "ines.falkner", "is in this class already"),
        ("Rolf, rolf", "rolf", "is a teacher's sign-in name"),
        ("Pim\n12345", "line 2", "has no name in it"),
        ("Pim, Ann, Extra, More", "line 1", "has 4 parts"),
        ("Pim Ostrander, pö.o", "line 1", "use 3 to 60 of a–z"),
        ("A B, crew.one\nC D, crew.one", "line 2", "stands twice in the list"),
        ("\n".join(f"Crew {n}" for n in range(61)), "list", "paste at most 60 at once"),
    ],
)
def test_bad_class_lists_add_nobody(school, browsers, text, path, says):
    before = User.objects.count()
    answer = browsers["instructor"].send(
        "POST", f"/api/classes/{school.class_a}/students", {"text": text}
    )
    assert answer.status_code == 422
    named = {field["path"]: field["problem"] for field in answer.json()["fields"]}
    assert says in named[path]
    assert answer.json()["detail"].startswith("Nobody was added: ")
    assert User.objects.count() == before


def test_pasted_names_become_accounts(school, browsers):
    text = "Åse Brække\nInes Falkner\tines.two\n\nInes Falkner\n王小明"
    answer = browsers["instructor"].send(
        "POST", f"/api/classes/{school.class_a}/students", {"text": text}
    )
    assert answer.status_code == 201
    rows = answer.json()
    assert [row["sign_in_name"] for row in rows] == [
        "ase.braekke",
        "ines.two",
        "ines.falkner2",
        "wangxiaoming",
    ]
    assert all(len(row["passcode"]) == 9 for row in rows)


def test_an_existing_student_joins_another_class(school, browsers):
    path = f"/api/classes/{school.class_b}/students"
    answer = browsers["other instructor"].send("POST", path, {"text": "Ines, ines.falkner"})
    assert answer.json()[0] | {"id": 0} == {
        "id": 0,
        "display_name": "Ines Falkner",
        "sign_in_name": "ines.falkner",
        "passcode": None,
    }


@pytest.mark.parametrize(
    ("change", "path", "says"),
    [
        ({"reading": "zero"}, "valve 1.reading", "is not a length"),
        ({"reading": "-0.2"}, "valve 1.reading", "outside a gap from 0 to 20 mm"),
        ({"reading": "5 cm"}, "valve 1.reading", "the unit “cm” is not known here"),
        ({"unit": "cm"}, "valve 1.unit", "use mm or thou"),
        ({"verdict": "ok"}, "valve 1.verdict", "say tight, within, loose or cannot-tell"),
        ({"crank_deg": 1e9}, "valve 1.stop", "give crank degrees, 0 up to 720"),
        ({"valve": 99}, "valve 99.valve", "this engine has no such valve"),
        ({"valve": 2}, "valve 2", "stands twice on the sheet"),
        ({"crank_deg": "north"}, "lines.0.crank_deg", "give a number"),
        ({"reading": "x" * 41}, "lines.0.reading", "give at most 40 characters"),
        ({"colour": "red"}, "lines.0.colour", "is not known here; leave it out"),
        ({"reading": "0.2\x005"}, "lines", "control characters"),
    ],
)
def test_bad_readings(school, browsers, change, path, says):
    lines = right_lines()
    lines[0] |= change
    answer = browsers["student"].send(
        "POST",
        f"/api/sheets/{school.sheet.id}/hand-in",
        {"lines": lines, "request_key": "bad-reading"},
    )
    assert answer.status_code == 422, answer.content
    fields = answer.json()["fields"]
    assert any(path in field["path"] or path in "lines" for field in fields)
    assert any(says in field["problem"] for field in fields)


def test_nan_in_a_body(school, browsers):
    body = '{"lines": [{"valve": 1, "crank_deg": NaN}], "request_key": "not-a-number"}'
    browser = browsers["student"]
    answer = browser.generic(
        "POST",
        f"/api/sheets/{school.sheet.id}/hand-in",
        body.encode(),
        content_type="application/json",
        headers={"X-CSRFToken": browser.cookies["csrftoken"].value},
    )
    assert answer.status_code == 422
    assert "finite number" in answer.json()["detail"]


@pytest.mark.parametrize(
    ("gaps", "says"),
    [
        ({}, "valve 1 is missing; a key has every valve"),
        (KEY_MM | {3: ""}, "valve 3 has no gap"),
        (KEY_MM | {3: "2.5 furlongs"}, "valve 3 the unit “furlongs” is not known"),
        (KEY_MM | {99: "0.2"}, "valve 99 this engine has no such valve"),
    ],
)
def test_bad_keys_are_not_saved(school, browsers, gaps, says):
    body = {"gaps": [{"valve": v, "gap": g, "unit": "mm"} for v, g in gaps.items()]}
    answer = browsers["instructor"].send("POST", f"/api/stands/{school.stand.id}/keys", body)
    assert answer.status_code == 422
    assert f"The key was not saved: {says}" in answer.json()["detail"]
    assert Key.objects.count() == 1


@pytest.mark.parametrize(
    ("change", "status", "says"),
    [
        ({"method": "by-ear"}, 422, "the method is “by-ear”; give one of each-cylinder"),
        ({"tolerance": "0"}, 422, "give more than 0 and at most 1 mm"),
        ({"tolerance": "wide"}, 422, "is not a number"),
        ({"tolerance_unit": "ell"}, 422, "give mm or thou"),
        ({"title": "  "}, 422, "The sheet has no title."),
        ({"stand_id": 999_999}, 404, "There is no stand 999999 for you"),
    ],
)
def test_bad_sheets(school, browsers, change, status, says):
    body = {
        "stand_id": school.stand.id,
        "title": "T",
        "method": "two-stop",
        "tolerance": "0.03",
        **change,
    }
    answer = browsers["instructor"].send("POST", f"/api/classes/{school.class_a}/sheets", body)
    assert answer.status_code == status
    assert says in answer.json()["detail"]


def test_a_stand_without_a_key_sets_no_sheet(school, browsers):
    stand = browsers["instructor"].send(
        "POST",
        f"/api/classes/{school.class_a}/stands",
        {"name": "Stand 4", "engine_id": school.engine_id},
    )
    body = {"stand_id": stand.json()["id"], "title": "T", "method": "two-stop", "tolerance": "0.03"}
    answer = browsers["instructor"].send("POST", f"/api/classes/{school.class_a}/sheets", body)
    assert answer.status_code == 409
    assert answer.json()["detail"] == "Stand 4 has no key yet; enter its key first."


@pytest.mark.parametrize(
    ("query", "status", "says"),
    [
        ("method=by-ear", 422, "by-ear"),
        ("method=two-stop&start_deg=1e9", 422, "start_deg: give at most 100000"),
        ("method=two-stop&start_deg=nan", 422, "start_deg: give a"),
        ("method=two-stop&direction=up", 422, "give running or reverse"),
        ("method=two-stop&version=99", 404, "There is no engine"),
        ("", 422, "method: is missing"),
    ],
)
def test_bad_routes(school, browsers, query, status, says):
    answer = browsers["student"].get(f"/api/engines/{school.engine_id}/route?{query}")
    assert answer.status_code == status
    assert says in answer.json()["detail"]


@pytest.mark.parametrize(
    "path",
    [
        "/api/engines/999999/cycle",
        "/api/engines/99999999999999999999999/cycle",
        "/api/sheets/999999",
        "/api/hand-ins/0",
        "/api/nowhere",
    ],
)
def test_addresses_of_nothing(school, browsers, path):
    answer = browsers["instructor"].get(path)
    assert answer.status_code == 404
    assert answer.json()["detail"].endswith(".")


def test_the_demo_fills_an_empty_database_once(db, tmp_path, capsys):
    kept = tmp_path / "accounts.json"
    kept.touch()
    call_command("demo_data", str(kept))
    first = capsys.readouterr().out
    people = User.objects.count()
    call_command("demo_data", str(kept))
    assert capsys.readouterr().out == first
    assert User.objects.count() == people
    account = json.loads(kept.read_text())[0]
    assert f"{account['sign_in_name']:<16} {account['passcode']}" in first


def test_a_new_school_gets_its_first_account_once(db, capsys):
    call_command("first_account", "unused")
    assert "instructor" in capsys.readouterr().out
    call_command("first_account", "unused")
    assert capsys.readouterr().out == ""
    assert User.objects.get().may_teach


def test_a_method_that_an_address_does_not_take(school, browsers):
    answer = browsers["instructor"].send("PATCH", "/api/classes", {})
    assert answer.status_code == 405
    assert answer.json()["detail"] == "This address does not take PATCH; it takes GET, POST."
