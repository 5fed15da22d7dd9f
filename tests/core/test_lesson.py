"""edrix-lesson/1: every fault at its path, written back the same, and as its schema says."""

import copy
import json
from pathlib import Path

import jsonschema
import pytest

from valvetrain.document import DocumentError
from valvetrain.lesson import lesson_schema, read_lesson, write_lesson

ROOT = Path(__file__).parents[2]
FILES = sorted((ROOT / "demo" / "lessons").glob("*.json"))
ENGINES = {
    json.loads(path.read_text())["name"] for path in (ROOT / "demo" / "engines").glob("*.json")
}
WHOLE = {
    "format": "edrix-lesson/1",
    "title": "Valves",
    "about": "An hour.",
    "steps": [
        {"kind": "text", "title": "Told", "text": "One.\nTwo.", "notes": "Show it.", "minutes": 5},
        {
            "kind": "bench", "title": "Turned", "engine": "Pump", "at_deg": 40,
            "view": "section", "cover": True,
        },
        {
            "kind": "question", "title": "Asked", "engine": "Pump", "question": "which-valves",
            "at_deg": 0, "seconds": 40,
        },
        {"kind": "drill", "title": "Drilled", "engine": "Pump"},
        {"kind": "practice", "title": "Practised", "named": "First run"},
        {"kind": "sheet", "title": "Measured", "named": "First measuring"},
    ],
}  # fmt: skip


@pytest.mark.parametrize("file", FILES, ids=lambda file: file.stem)
def test_ready_lessons_are_whole_and_name_what_the_demo_has(file):
    document = json.loads(file.read_text())
    lesson = read_lesson(document)
    assert write_lesson(lesson) == document
    jsonschema.validate(document, lesson_schema())
    assert {step.engine for step in lesson.steps if step.engine} <= ENGINES
    assert 30 <= lesson.minutes <= 90
    assert all(step.minutes for step in lesson.steps)


def test_there_are_five_ready_ones():
    assert len(FILES) == 5


def test_what_is_read_is_written_back_the_same():
    assert write_lesson(read_lesson(WHOLE)) == WHOLE
    jsonschema.validate(WHOLE, lesson_schema())


def test_the_checked_in_schema_is_the_one_that_is_made():
    made = json.loads((ROOT / "docs" / "lesson-file.schema.json").read_text())
    assert made == lesson_schema()


def test_a_place_by_chance_and_no_count_down_say_nothing_in_the_file():
    document = copy.deepcopy(WHOLE)
    document["steps"][2] |= {"at_deg": None, "seconds": None}
    step = read_lesson(document).steps[2]
    assert (step.at_deg, step.seconds) == (None, None)
    assert "at_deg" not in write_lesson(read_lesson(document))["steps"][2]
    document["steps"][1]["at_deg"] = -40
    assert read_lesson(document).steps[1].at_deg == 680


BAD = {
    "no lesson": ([], "$"),
    "another format": ({"format": "edrix-lesson/2"}, "$.format"),
    "no title": ({"title": " "}, "$.title"),
    "no steps": ({"steps": []}, "$.steps"),
    "too many": ({"steps": WHOLE["steps"][:1] * 61}, "$.steps"),
    "a field of nobody": ({"colour": "red"}, "$.colour"),
}


@pytest.mark.parametrize("name", BAD)
def test_what_is_no_lesson_is_told_at_its_path(name):
    change, path = BAD[name]
    document = change if isinstance(change, list) else WHOLE | change
    with pytest.raises(DocumentError) as refusal:
        read_lesson(document)
    assert path in [fault.path for fault in refusal.value.faults]
    assert not jsonschema.Draft202012Validator(lesson_schema()).is_valid(document) or path == (
        "$.title"
    )


BAD_STEPS = {
    "a kind of nobody": (0, {"kind": "film"}, "kind"),
    "no title": (0, {"title": ""}, "title"),
    "too long a talk": (0, {"text": "x" * 4001}, "text"),
    "half a minute": (0, {"minutes": 0.5}, "minutes"),
    "a text that has an engine": (0, {"engine": "Pump"}, "engine"),
    "an angle that no crank has": (1, {"at_deg": 1e9}, "at_deg"),
    "no such view": (1, {"view": "inside"}, "view"),
    "half covered": (1, {"cover": "half"}, "cover"),
    "no engine": (2, {"engine": ""}, "engine"),
    "no such question": (2, {"question": "why"}, "question"),
    "too short a count-down": (2, {"seconds": 1}, "seconds"),
    "no name": (4, {"named": " "}, "named"),
}


@pytest.mark.parametrize("name", BAD_STEPS)
def test_what_is_no_step_is_told_at_its_path(name):
    place, change, field = BAD_STEPS[name]
    document = copy.deepcopy(WHOLE)
    document["steps"][place] |= change
    with pytest.raises(DocumentError) as refusal:
        read_lesson(document)
    assert f"$.steps[{place}].{field}" in [fault.path for fault in refusal.value.faults]


def test_all_faults_at_once():
    document = copy.deepcopy(WHOLE)
    document["steps"][1]["view"] = "inside"
    document["steps"][2]["question"] = "why"
    document["steps"].append("a step")
    with pytest.raises(DocumentError) as refusal:
        read_lesson(document)
    assert [fault.path for fault in refusal.value.faults] == [
        "$.steps[1].view", "$.steps[2].question", "$.steps[6]",
    ]  # fmt: skip
