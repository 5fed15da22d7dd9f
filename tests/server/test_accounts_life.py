"""A passcode of one's own; and the command line, for when everybody is locked out."""

import pytest
from django.core.management import CommandError, call_command

from edrix.accounts.models import User
from tests.server.conftest import PASSCODE, Browser

NEW = "seven geese over Corrie"


def change(browser, current=PASSCODE, new=NEW):
    return browser.send("PUT", "/api/me/passcode", {"current": current, "new": new})


def test_a_passcode_of_ones_own(school, browsers):
    """This session goes on; another one at another tablet has ended; the old one is refused."""
    here, elsewhere = Browser(), Browser()
    for browser in (here, elsewhere):
        assert browser.sign_in("ines.falkner").status_code == 200
    assert change(here).status_code == 204
    assert here.get("/api/session").json()["person"]["sign_in_name"] == "ines.falkner"
    assert elsewhere.get("/api/session").json()["person"] is None
    assert Browser().sign_in("ines.falkner").status_code == 401
    assert Browser().sign_in("ines.falkner", NEW).status_code == 200


@pytest.mark.parametrize(
    ("new", "says"),
    [
        ("short", "has 5 characters; give 8 at least"),
        ("x" * 300, "has 300 characters"),
        ("ines.falkner", "holds your own name"),
        ("12ines.falkner!", "holds your own name"),
        ("ines falkner", "holds your own name"),
        ("aaaaaaaaaaaa", "one letter over and over"),
        # Both stand in Django's list of common passwords.
        ("12345678", "many people use"),
        ("Football", "many people use"),
    ],
)
def test_what_is_no_passcode(school, browsers, new, says):
    answer = change(browsers["student"], new=new)
    assert answer.status_code == 422
    (fault,) = answer.json()["fields"]
    assert fault["path"] == "new"
    assert says in fault["problem"]
    assert Browser().sign_in("ines.falkner").status_code == 200


def test_a_new_passcode_ends_the_pause_of_that_name(school, browsers):
    """Who has typed five wrong ones asks for a new one, and is to use it now."""
    for _ in range(6):
        last = Browser().sign_in("ines.falkner", "a guess")
    assert last.status_code == 429
    path = f"/api/classes/{school.class_a}/students/{school.ines.id}/passcode"
    given = browsers["instructor"].send("POST", path).json()["passcode"]
    assert Browser().sign_in("ines.falkner", given).status_code == 200


def test_who_does_not_know_the_old_one_changes_nothing(school, browsers):
    """A tablet that was left signed in is no way to take an account over; tries are counted."""
    browser = Browser()
    browser.sign_in("ines.falkner")
    answer = change(browser, current="a guess")
    assert answer.status_code == 422
    assert answer.json()["fields"] == [
        {"path": "current", "problem": "is not the one that you have now"}
    ]
    for _ in range(6):
        last = change(browser, current="another guess")
    assert last.status_code == 429
    assert User.objects.get(sign_in_name="ines.falkner").check_password(PASSCODE)


def test_nobody_changes_nothing(school, browsers):
    assert change(browsers["nobody"]).status_code == 401


class TestAtTheCommandLine:
    def run(self, capsys, *arguments):
        call_command("account", *arguments)
        return capsys.readouterr().out

    def test_everybody_is_listed_who_teaches_first(self, school, capsys):
        lines = self.run(capsys, "list").splitlines()
        assert [line.split()[:2] for line in lines[:3]] == [
            ["rolf", "teaches"],
            ["tove", "teaches"],
            ["bo.hallgrim", "student"],
        ]

    def test_a_new_passcode_is_told_once_and_works(self, school, capsys):
        for _ in range(6):
            Browser().sign_in("tove", "forgotten")
        assert Browser().sign_in("tove").status_code == 429
        passcode = self.run(capsys, "passcode", "Tove ").split()[-1]
        assert Browser().sign_in("tove", passcode).status_code == 200

    def test_an_instructor_is_added(self, school, capsys):
        name, passcode = self.run(capsys, "add", "Maren  Ruud").split()[-2:]
        browser = Browser()
        assert browser.sign_in(name, passcode).json()["person"]["may_teach"] is True
        assert User.objects.get(sign_in_name=name).display_name == "Maren Ruud"

    def test_the_right_to_teach_is_given_and_taken(self, school, capsys):
        assert "Bo Hallgrim teaches now" in self.run(capsys, "teach", "bo.hallgrim")
        assert User.objects.get(sign_in_name="bo.hallgrim").may_teach
        assert "does not teach" in self.run(capsys, "no-teach", "bo.hallgrim")
        assert not User.objects.get(sign_in_name="bo.hallgrim").may_teach

    @pytest.mark.parametrize("arguments", [("passcode", "nobody.here"), ("teach",)])
    def test_a_wrong_name_is_told(self, school, arguments):
        with pytest.raises(CommandError, match=r"nobody signs in as|say who"):
            call_command("account", *arguments)
