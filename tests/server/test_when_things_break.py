"""The database goes away, a form breaks off, a proxy asks for https: sentences, never a 500."""

import threading
from contextlib import contextmanager
from types import SimpleNamespace

import pglock
import pytest
from django.core.exceptions import ObjectDoesNotExist
from django.core.management import call_command
from django.db import IntegrityError, InterfaceError, OperationalError, connection
from django.test import Client, override_settings

from tests.server.conftest import Browser


@contextmanager
def down(error):
    """The database refuses: every statement fails as it does when it was killed."""

    def refuse(*_arguments, **_named):
        raise error("server closed the connection unexpectedly")

    with pytest.MonkeyPatch.context() as patch:
        patch.setattr("django.db.backends.utils.CursorWrapper.execute", refuse)
        wrapper = "django.db.backends.postgresql.base.DatabaseWrapper"
        patch.setattr(f"{wrapper}.is_usable", lambda _self: False)
        yield


@pytest.mark.parametrize("error", [OperationalError, InterfaceError])
@pytest.mark.parametrize(
    ("method", "path"),
    [
        ("GET", "/api/session"),
        ("GET", "/api/work"),
        ("GET", "/api/engines"),
        ("POST", "/api/session"),
        ("GET", "/api/ready"),
    ],
)
def test_while_the_database_is_away_it_says_so(school, browsers, error, method, path):
    browser = browsers["student"]
    browser.get("/api/session")
    browser.raise_request_exception = False
    body = {"sign_in_name": "tove", "passcode": "whatever"}
    with down(error):
        answer = browser.get(path) if method == "GET" else browser.send(method, path, body)
    assert answer.status_code == 503, answer.content
    assert answer["Retry-After"] == "2"
    assert answer["Content-Type"] == "application/problem+json"
    assert "nothing was changed" in answer.json()["detail"]


@pytest.mark.parametrize(
    ("fault", "status", "says"),
    [
        (IntegrityError("duplicate key"), 409, "Somebody else changed the same thing"),
        (ObjectDoesNotExist("no such row"), 404, "Somebody removed this while you were at it"),
    ],
)
def test_two_at_once_are_no_fault_of_ours(school, browsers, monkeypatch, fault, status, says):
    """Two heads who add one name; who writes what somebody deletes: told, not a 500."""

    def fail(*_given, **_named):
        raise fault

    monkeypatch.setattr("edrix.accounts.staff.add", fail)
    school.tove.is_head = True
    school.tove.save(update_fields=["is_head"])
    browsers["instructor"].raise_request_exception = False
    answer = browsers["instructor"].send("POST", "/api/instructors", {"name": "Oda Lund"})
    assert (answer.status_code, answer["Content-Type"]) == (status, "application/problem+json")
    assert answer.json()["detail"].startswith(says)


def test_health_is_of_the_process_and_answers(school, browsers):
    with down(OperationalError):
        assert browsers["nobody"].get("/api/health").status_code == 200


@pytest.mark.parametrize(
    ("body", "says"),
    [
        (b'--x\r\nContent-Disposition: form-data; name="file"; filename="a"\r\n\r\nab', None),
        (b"no boundary at all", None),
        (b"", None),
    ],
)
@pytest.mark.parametrize("kind", ["multipart/form-data; boundary=x", "multipart/form-data"])
def test_a_form_that_is_broken_is_no_fault_of_ours(school, browsers, body, says, kind):
    tove = browsers["instructor"]
    tove.get("/api/session")
    token = {"X-CSRFToken": tove.cookies["csrftoken"].value}
    path = f"/api/sheets/{school.sheet.id}/import/preview"
    answer = tove.generic("POST", path, body, content_type=kind, headers=token)
    assert 400 <= answer.status_code < 500, answer.content
    assert answer.json()["detail"]


def test_nothing_private_is_kept_by_browsers(school, browsers):
    for path in ("/api/session", "/api/work", f"/api/sheets/{school.sheet.id}", "/api/nowhere"):
        assert browsers["student"].get(path)["Cache-Control"] == "no-store", path


@override_settings(SECURE_SSL_REDIRECT=True, SECURE_HSTS_SECONDS=1000)
def test_with_https_in_front_plain_requests_are_sent_there(db):
    browser = Client()
    answer = browser.get("/api/session")
    assert (answer.status_code, answer["Location"]) == (301, "https://testserver/api/session")
    safe = browser.get("/api/session", secure=True)
    assert safe["Strict-Transport-Security"].startswith("max-age=1000")
    assert browser.get("/api/health").status_code == 200


def test_a_full_disk_is_not_ready(school, settings, monkeypatch):
    settings.DISK = "/"
    monkeypatch.setattr("shutil.disk_usage", lambda _path: SimpleNamespace(free=1_000))
    answer = Browser().get("/api/ready")
    assert answer.status_code == 503
    assert "disk is full" in answer.json()["detail"]
    monkeypatch.setattr("shutil.disk_usage", lambda _path: SimpleNamespace(free=10**10))
    assert Browser().get("/api/ready").status_code == 200


@pytest.mark.django_db(transaction=True)
def test_two_who_migrate_at_once_follow_each_other():
    """Two servers that start on one database: both end well."""
    failed = []

    def migrate():
        try:
            call_command("migrate", verbosity=0)
        except Exception as fault:
            failed.append(fault)
        finally:
            connection.close()

    both = [threading.Thread(target=migrate) for _ in range(2)]
    for one in both:
        one.start()
    for one in both:
        one.join()
    assert not failed


@pytest.mark.django_db(transaction=True)
def test_who_finds_another_migrating_waits(monkeypatch):
    monkeypatch.setattr("edrix.starting.management.commands.migrate.PATIENCE_S", 0)
    holding, done = threading.Event(), threading.Event()

    def hold():
        with pglock.advisory("edrix.migrate"):
            holding.set()
            done.wait(10)
        connection.close()

    other = threading.Thread(target=hold)
    other.start()
    holding.wait(10)
    with pytest.raises(OperationalError):
        call_command("migrate", verbosity=0)
    done.set()
    other.join()
