"""The school's instructors and its heads, on screen and at the command line."""

import io

import pytest
from django.core.management import call_command

from edrix.accounts import services as accounts
from edrix.accounts.models import User
from tests.server.conftest import Browser


@pytest.fixture
def head(school, browsers):
    accounts.make_head(school.tove, True)
    return browsers["instructor"]


def staff_of(browser):
    return {one["sign_in_name"]: one for one in browser.get("/api/instructors").json()}


def test_a_head_adds_an_instructor_who_signs_in(head):
    made = head.send("POST", "/api/instructors", {"name": "  Łucja   Żak "})
    assert made.status_code == 201
    told = made.json()
    assert (told["display_name"], told["sign_in_name"]) == ("Łucja Żak", "lucja.zak")
    browser = Browser()
    person = browser.sign_in("lucja.zak", told["passcode"]).json()["person"]
    assert (person["may_teach"], person["is_head"]) == (True, False)
    assert browser.get("/api/instructors").status_code == 403


def test_a_head_renews_a_passcode_and_ends_sessions(head, school, browsers):
    rolf = browsers["other instructor"]
    fresh = head.send("POST", f"/api/instructors/{school.rolf.id}/passcode").json()
    assert rolf.get("/api/classes").status_code == 401
    assert Browser().sign_in("rolf", fresh["passcode"]).status_code == 200


def test_rights_are_taken_and_given_back(head, school, browsers):
    address = f"/api/instructors/{school.rolf.id}"
    rolf = browsers["other instructor"]
    assert head.send("PATCH", address, {"may_teach": False}).status_code == 204
    assert rolf.send("POST", "/api/classes", {"name": "New"}).status_code == 403
    assert staff_of(head)["rolf"]["may_teach"] is False, "still listed: it can be given back"
    assert rolf.get(f"/api/classes/{school.class_b}").status_code == 200, "his classes stay his"
    head.send("PATCH", address, {"may_teach": True})
    assert rolf.send("POST", "/api/classes", {"name": "New"}).status_code == 201


def test_the_last_head_stays_head(head, school):
    own = f"/api/instructors/{school.tove.id}"
    for change in ({"is_head": False}, {"may_teach": False}):
        refused = head.send("PATCH", own, change)
        assert refused.status_code == 409
        assert "only head; make somebody else head first" in refused.json()["detail"]
    head.send("PATCH", f"/api/instructors/{school.rolf.id}", {"is_head": True})
    assert head.send("PATCH", own, {"is_head": False}).status_code == 204
    assert head.get("/api/instructors").status_code == 403


def test_students_are_none_of_a_heads_business_here(head, school):
    for method, address in (
        ("POST", f"/api/instructors/{school.ines.id}/passcode"),
        ("PATCH", f"/api/instructors/{school.ines.id}"),
    ):
        assert head.send(method, address, {"may_teach": True}).status_code in (404, 422)
    assert not User.objects.get(id=school.ines.id).may_teach


def test_at_the_command_line(school):
    out = io.StringIO()
    call_command("account", "head", "rolf", stdout=out)
    call_command("account", "list", stdout=out)
    assert "Rolf is head of the school now." in out.getvalue()
    assert [line.split()[1] for line in out.getvalue().splitlines() if line.startswith("rolf")] == [
        "head"
    ]
    call_command("account", "no-teach", "rolf", stdout=out)
    person = User.objects.get(sign_in_name="rolf")
    assert (person.may_teach, person.is_head) == (False, False)


def test_the_first_account_of_a_school_is_its_head(db):
    call_command("first_account", "kept", stdout=io.StringIO())
    assert User.objects.get().is_head
