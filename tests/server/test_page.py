"""The page and its files: one document for every place, with a nonce, and nothing beside it."""

import re

import pytest
from django.conf import settings


@pytest.fixture(autouse=True)
def _template(tmp_path, settings):
    """A stand-in for the built page, so that this needs no build."""
    (tmp_path / "index.html").write_text(
        '<meta name="csp-nonce" content="{{ csp_nonce }}"><p>{{ known }}</p>'
    )
    settings.TEMPLATES = [{**settings.TEMPLATES[0], "DIRS": [str(tmp_path)]}]


@pytest.mark.parametrize("path", ["/", "/bench/1", "/sheet/7", "/no/such/place"])
def test_every_place_is_the_one_page(client, db, path):
    answer = client.get(path)
    assert answer.status_code == 200
    nonce = re.search(r'content="([^"]+)"', answer.content.decode())[1]
    assert f"'nonce-{nonce}'" in answer["Content-Security-Policy"]
    assert "no-store" in answer["Cache-Control"]
    assert "csrftoken" in answer.cookies


def test_it_says_whether_somebody_may_be_signed_in(client, db, django_user_model):
    assert "<p>no</p>" in client.get("/").content.decode()
    client.force_login(django_user_model.objects.create(sign_in_name="ines.falkner"))
    assert "<p>yes</p>" in client.get("/").content.decode()


def test_each_answer_has_a_nonce_of_its_own(client, db):
    assert client.get("/").content != client.get("/").content


@pytest.mark.parametrize(
    "path", ["/index.html", "/.edrix", "/assets/no-such-file.js", "/api/no-such-route", "/.env"]
)
def test_what_is_no_place_is_not_found(client, db, path):
    answer = client.get(path)
    assert answer.status_code == 404
    assert answer.json()["detail"] == "There is nothing at this address."


def test_a_host_name_that_is_not_ours_is_refused(client, db):
    answer = client.get("/", headers={"Host": "elsewhere.example"})
    assert answer.status_code == 400
    assert "traceback" not in answer.content.decode().lower()


def test_nothing_is_served_in_debug_mode():
    assert settings.DEBUG is False
