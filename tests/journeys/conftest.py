"""The school of the journeys, and how much of them is travelled.

`./edrix journeys` sets EDRIX_JOURNEYS=all. Without it a part is run that holds every value of every
dimension: every engine, level, box, fault, column, unit and kind of question.
"""

import os
from typing import Any

import pytest

from tests.journeys.ports import HttpRun
from tests.journeys.texts import Texts
from tests.server.conftest import (  # noqa: F401 (fixtures)
    Browsers,
    School,
    another_school,
    browsers,
    dealt_alike,
    school,
)

ALL = os.environ.get("EDRIX_JOURNEYS") == "all"


@pytest.fixture
def texts() -> Texts:
    return Texts()


@pytest.fixture
def begin(school: School, browsers: Browsers, texts: Texts) -> Any:  # noqa: F811
    """Sets a practice engine as an instructor does, and begins a student's run on it."""

    def start(document: dict[str, Any], **fields: Any) -> HttpRun:
        instructor, student = browsers["instructor"], browsers["student"]
        added = instructor.send("POST", "/api/engines", document)
        assert added.status_code == 201, added.content
        body = {"engine_id": added.json()["engine"]["id"], "title": "A journey", **fields}
        made = instructor.send("POST", f"/api/classes/{school.class_a}/practice", body)
        assert made.status_code == 201, made.content
        opened = student.send("POST", f"/api/practice/{made.json()['id']}/runs")
        assert opened.status_code == 200, opened.content
        return HttpRun(student, opened.json()["id"], texts)

    return start
