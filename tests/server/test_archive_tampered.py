"""Archives that somebody wrote into: refused whole, or of no harm to any page that shows them.

Every JSON column, and every place inside its documents, is spoilt in turn; whatever is taken in all
the same is looked at as its instructor and its students do, and no page may fail.
"""

import json
import os
import random

import pytest
from django.apps import apps
from django.conf import settings as django_settings
from django.db import models

from edrix.accounts.models import User
from edrix.archive.tables import PARTS, VERSION
from edrix.classes.models import TeachingClass
from edrix.practice import live
from tests.server.conftest import Browser
from tests.server.test_archive import full, packed, read, spoiled  # noqa: F401 (a fixture)

JUNK = (None, "x", -1, 7.5, True, [], {}, [None], {"a": 1}, "9" * 400, 10**12)
SHORT = 12
LONG = bool(os.environ.get("EDRIX_LONG"))


def places(value, path=()):
    """Every place in a document; of a list only its first and last."""
    yield path
    if isinstance(value, dict):
        for key, inside in value.items():
            yield from places(inside, (*path, key))
    elif isinstance(value, list) and value:
        for at in {0, len(value) - 1}:
            yield from places(value[at], (*path, at))


def with_junk(value, path, junk):
    if not path:
        return junk
    copy = dict(value) if isinstance(value, dict) else list(value)
    copy[path[0]] = with_junk(copy[path[0]], path[1:], junk)
    return copy


def cases(tables):
    """(table, row, column, path, junk): JSON columns in depth, all other columns as a whole."""
    found = []
    for label in [part.label for part in PARTS] + [VERSION]:
        if not (rows := tables[label]):
            continue
        row = rows[0]
        for field in apps.get_model(label)._meta.concrete_fields:
            value = row[field.attname]
            deep = isinstance(field, models.JSONField) and label != VERSION
            for path in places(value) if deep else [()]:
                found += [(label, field.attname, path, junk) for junk in JUNK]
    return found


def get_all(browser, ids):
    """Asks for every address of the API that can be filled in, and gives those that failed."""
    from tests.server.test_no_way_to_break_it import OPERATIONS

    failed = []
    for method, path, _ in OPERATIONS:
        if method != "GET" or "archive" in path:
            continue
        try:
            address = path.format(**ids, kind="csv", whose="student")
        except KeyError:
            continue
        answer = browser.get(address)
        if answer.status_code >= 500:
            failed.append((address, answer.status_code))
    return failed


def ids_of(class_id):
    """What stands in addresses, of a class."""
    wanted = {
        "stand_id": "stands.Stand",
        "sheet_id": "sheets.Sheet",
        "hand_in_id": "sheets.HandIn",
        "practice_id": "practice.PracticeEngine",
        "run_id": "practice.PracticeRun",
        "drill_id": "drills.Drill",
    }
    ids = {"class_id": class_id, "number": 1}
    for name, label in wanted.items():
        part = next(part for part in PARTS if part.label == label)
        row = part.model.objects.filter(**{part.of_class: class_id}).order_by("id").first()
        if row is not None:
            ids[name] = row.id
            if label == "stands.Stand":
                ids["engine_id"] = row.engine_version.engine_id
    return ids


@pytest.fixture
def quiet_client(monkeypatch):
    """A page that fails is to be counted, not raised in the test's face."""
    monkeypatch.setattr(Browser, "raise_request_exception", False, raising=False)


@pytest.mark.django_db(transaction=True)
def test_no_page_fails_over_what_was_let_in(full, browsers, quiet_client):  # noqa: F811
    whole = packed(full)
    tables = {}
    spoiled(whole, lambda t, _m: tables.update(json.loads(json.dumps(t))))
    chosen = cases(tables)
    assert len(chosen) > 1500
    if not LONG:
        chosen = random.Random(20261127).sample(chosen, SHORT)  # noqa: S311 (not a secret)
    browsers["instructor"].raise_request_exception = False
    let_in, bad = 0, []
    for label, column, path, junk in chosen:

        def change(t, _m, label=label, column=column, path=path, junk=junk):
            row = t[label][0]
            row[column] = with_junk(row[column], path, junk)

        before = set(TeachingClass.objects.values_list("id", flat=True))
        answer = read(browsers, spoiled(whole, change))
        if answer.status_code != 201:
            assert answer.status_code == 422, (label, column, path, junk, answer.content)
            assert set(TeachingClass.objects.values_list("id", flat=True)) == before
            continue
        let_in += 1
        live.forget_all()
        ids = ids_of(answer.json()["class_id"])
        failed = get_all(browsers["instructor"], ids)
        members = {"memberships__teaching_class_id": ids["class_id"]}
        for student in User.objects.filter(**members, memberships__role="student")[:1]:
            visitor = Browser()
            visitor.raise_request_exception = False
            visitor.force_login(student, django_settings.AUTHENTICATION_BACKENDS[-1])
            failed += get_all(visitor, ids)
        if failed:
            bad.append((label, column, path, junk, failed))
    assert not bad
    assert let_in < len(chosen) / 2, "most of them are refused"
