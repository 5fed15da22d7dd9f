"""Who asks: one statement, and the same answer as Django's own authentication gives."""

from datetime import timedelta
from http.cookies import SimpleCookie

import pytest
from django.contrib.auth import get_user
from django.test import RequestFactory
from django.utils import timezone

from edrix.accounts.middleware import who_asks
from edrix.accounts.models import Session, User
from edrix.accounts.sessions import SessionStore
from edrix.practice.models import PracticeEvent
from edrix.statements import insert
from tests.server.conftest import Browser


def nothing(_key: str, _person: User) -> None:
    """The session as it is."""


def expire(key: str, _person: User) -> None:
    Session.objects.filter(session_key=key).update(expire_date=timezone.now())


def sign_out(key: str, _person: User) -> None:
    Session.objects.get(session_key=key).delete()


def change_passcode(_key: str, person: User) -> None:
    person.set_password("another one")
    person.save()


def deactivate(_key: str, person: User) -> None:
    User.objects.filter(id=person.id).update(is_active=False)


def tamper(key: str, _person: User) -> None:
    kept = Session.objects.get(session_key=key)
    Session.objects.filter(session_key=key).update(session_data=kept.session_data[:-1] + "x")


@pytest.mark.parametrize(
    ("happened", "still"),
    [
        (nothing, True),
        (expire, False),
        (sign_out, False),
        (change_passcode, False),
        (deactivate, False),
        (tamper, False),
    ],
)
def test_who_asks_is_who_django_says(school, browsers, happened, still):
    """Reference: django.contrib.auth.get_user, which asks for the person apart."""
    key = browsers["student"].cookies["sessionid"].value
    happened(key, school.ines)

    def request():
        made = RequestFactory().get("/")
        made.session = SessionStore(key)
        return made

    found = []
    who_asks(lambda asked: found.append(asked.user) or asked)(ours := request())
    assert found[0].is_authenticated is still
    assert found[0].pk == (school.ines.pk if still else None)
    assert get_user(request()).pk == ours.user.pk
    assert browsers["student"].get("/api/work").status_code == (200 if still else 401)


def test_the_person_comes_whole(school, browsers):
    found = SessionStore(browsers["student"].cookies["sessionid"].value)
    found.load()
    kept = User.objects.get(id=school.ines.id)
    assert {k: v for k, v in vars(found.person).items() if k != "_state"} == {
        k: v for k, v in vars(kept).items() if k != "_state"
    }
    found.person.unit = "thou"
    found.person.save(update_fields=["unit"])
    assert User.objects.get(id=school.ines.id).unit == "thou"


def test_who_asks_takes_one_statement(school, browsers, django_assert_num_queries):
    browsers.sign_in("student")
    with django_assert_num_queries(1):
        browsers["student"].get("/api/session")


@pytest.mark.parametrize(
    "key",
    ["x" * 32, "short", "", "with\0a nul character", "' or 1=1; --", "zweiunddreißig", "9" * 4000],
)
def test_a_key_that_nobody_gave_out_is_nobody(school, key):
    browser = Browser()
    browser.cookies = SimpleCookie({"sessionid": key})
    assert browser.get("/api/session").json() == {"person": None}
    assert browser.cookies["sessionid"].value == ""  # the browser is told to drop it


def test_signing_in_sweeps_up_what_has_expired(school):
    old, young = Browser(), Browser()
    old.sign_in("ines.falkner")
    young.sign_in("bo.hallgrim")
    kept = Session.objects.get(person=school.ines)
    Session.objects.filter(pk=kept.pk).update(expire_date=timezone.now() - timedelta(hours=1))
    Browser().sign_in("tove")
    assert not Session.objects.filter(pk=kept.pk).exists()
    assert young.get("/api/work").status_code == 200


def test_a_person_who_is_deleted_takes_their_sessions_along(school):
    person = User.objects.create(sign_in_name="here.today", display_name="Here Today")
    browser = Browser()
    browser.force_login(person, "django.contrib.auth.backends.ModelBackend")
    assert browser.get("/api/session").json()["person"]["id"] == person.id
    person.delete()
    assert browser.get("/api/session").json() == {"person": None}


def test_a_row_is_written_as_the_orm_writes_it(school):
    """Reference: Model.save of Django."""
    fields = {"action": {"do": "turn", "by_deg": 10.5}, "says": "“It” – turns; 100 %", "facts": {}}
    insert(PracticeEvent(run_id=school.run_id, step=1, key="by-us-1", **fields))
    PracticeEvent(run_id=school.run_id, step=2, key="by-orm-2", **fields).save()
    ours, theirs = PracticeEvent.objects.order_by("step").values()
    for name in ("run_id", "action", "says", "facts"):
        assert ours[name] == theirs[name]
    assert abs(ours["at"] - theirs["at"]) < timedelta(seconds=5)
    assert (ours["step"], ours["key"]) == (1, "by-us-1")
