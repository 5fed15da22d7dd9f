"""Who asks: Django's own sessions, and what ends them."""

from datetime import timedelta
from http.cookies import SimpleCookie

import pytest
from django.contrib.sessions.models import Session
from django.utils import timezone

from edrix.accounts.models import User
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
def test_a_session_ends_with_what_it_rests_on(school, browsers, happened, still):
    key = browsers["student"].cookies["sessionid"].value
    happened(key, school.ines)
    assert browsers["student"].get("/api/work").status_code == (200 if still else 401)


@pytest.mark.parametrize(
    "key",
    ["x" * 32, "short", "", "with\0a nul character", "' or 1=1; --", "zweiunddreißig", "9" * 4000],
)
def test_a_key_that_nobody_gave_out_is_nobody(school, key):
    browser = Browser()
    browser.cookies = SimpleCookie({"sessionid": key})
    assert browser.get("/api/session").json()["person"] is None
    assert browser.cookies["sessionid"].value == ""  # the browser is told to drop it


def test_signing_in_sweeps_up_what_has_expired(school):
    old, young = Browser(), Browser()
    old.sign_in("ines.falkner")
    young.sign_in("bo.hallgrim")
    kept = Session.objects.get(pk=old.cookies["sessionid"].value)
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
    assert browser.get("/api/session").json()["person"] is None
