"""A curious student with dummy sheets: puts every answer together, and finds no key by it.

Two worlds are alike but for one gap of the key, which differs by less than the tolerance. After the
first sheet, whose marks are told at once, nothing that the student can ask may tell the two apart.
"""

import json
import re
from decimal import Decimal

import pytest

from edrix.engines.models import Engine
from edrix.marking import rubrics
from edrix.sheets import services as sheets
from edrix.stands import services as stands
from tests.server.conftest import right_lines

TOLERANCE_MM = Decimal("0.03")
KEY_MM = Decimal("0.25")
VALVE = 2
"""An intake: 0.22 to 0.28 mm."""
PROBES = [KEY_MM + Decimal(step) / 1000 for step in (-90, -45, -30, -15, 0, 15, 30, 45, 90)]
"""What the dummy sheets read at that valve, one sheet each."""


@pytest.fixture
def worlds(school):
    """Two stands with the same engine and sheets; the second's gap is 0.012 mm larger."""
    made = []
    for number, key_mm in enumerate((KEY_MM, KEY_MM + Decimal("0.012"))):
        engine = Engine.objects.get(id=school.engine_id)
        stand = stands.create_stand(school.tove, school.class_a, f"Bench {number}", engine.id)
        gaps = [
            stands.TypedGap(line["valve"], f"{key_mm if line['valve'] == VALVE else '0.30'}", "mm")
            for line in right_lines()
        ]
        stands.enter_key(school.tove, stand.id, gaps, "0.01")
        made.append(
            [
                sheets.set_sheet(
                    school.tove,
                    school.class_a,
                    sheets.NewSheet(stand.id, f"Trial {n}", "two-stop", "0.03", "mm"),
                )
                for n in range(len(PROBES) + 1)
            ]
        )
    return made


def told(browsers, school, sheet, reading, **line):
    """Everything that a student gets to read after handing this in."""
    lines = [
        {"valve": VALVE, "reading": f"{reading}", "crank_deg": 0.0, "verdict": "within", **line}
    ]
    body = {"lines": lines, "request_key": f"dummy-{sheet.id:05d}", "confirmed": True}
    student = browsers["student"]
    answers = [student.send("POST", f"/api/sheets/{sheet.id}/hand-in", body)]
    assert answers[0].status_code == 201, answers[0].content
    paths = ("/api/work", f"/api/sheets/{sheet.id}", f"/api/classes/{school.class_a}/progress")
    return [answers[0].json(), *(student.get(path).json() for path in paths)]


def alike(answers, sheet):
    """Without what differs between the two worlds by itself: ids, names, and times."""
    text = json.dumps(answers[:1] + answers[2:3] + [_of(answers[1], sheet), _skills(answers[3])])
    text = re.sub(r"Bench [01]", "Bench", text)
    text = re.sub(r'"(id|stand_id|sheet_id|ref)": \d+', "", text)
    return re.sub(r"\d{4}-\d\d-\d\dT[\d:.]+(Z|\+00:00)", "", text)


def _of(work, sheet):
    return next(row for row in work if row["id"] == sheet.id)


def _skills(progress):
    """A world's own sheets add to the skills of the other: what changed last is what counts."""
    return [(skill["skill"], skill["shares"][-1:]) for skill in progress["skills"]]


def test_dummy_sheets_do_not_narrow_a_key_below_the_tolerance(school, browsers, worlds):
    first = [told(browsers, school, world[0], KEY_MM) for world in worlds]
    assert alike(first[0], worlds[0][0]) == alike(first[1], worlds[1][0])
    assert "Agrees with the reference." in json.dumps(first[0][0])
    for place, probe in enumerate(PROBES, start=1):
        said = [
            alike(told(browsers, school, world[place], probe), world[place]) for world in worlds
        ]
        assert said[0] == said[1], f"{probe} tells the two keys apart"


def test_a_verdict_without_a_figure_is_no_way_round(school, browsers, worlds):
    """It would be judged on the key: on a further sheet it waits."""
    for world in worlds:
        told(browsers, school, world[0], KEY_MM)
    said = [alike(told(browsers, school, world[1], ""), world[1]) for world in worlds]
    assert said[0] == said[1]
    assert "no figure supports it" not in said[0]


def test_what_waits_is_told_when_it_is_released(school, browsers, worlds):
    world = worlds[0]
    told(browsers, school, world[0], KEY_MM)
    later = told(browsers, school, world[1], KEY_MM)[0]
    assert later["waits"] == ["Reading", "Verdict"]
    assert later["grade"] is None
    assert later["hints"] == []
    marks = next(valve for valve in later["valves"] if valve["valve"] == VALVE)["marks"]
    assert [mark["part"] for mark in marks] == ["position"]
    assert (later["points"], later["out_of"]) == (1, 8)
    rubrics.give_back(school.tove, world[1].id, confirmed=True)
    now = browsers["student"].get(f"/api/sheets/{world[1].id}").json()["result"]
    assert now["waits"] == []
    assert (now["points"], now["out_of"]) == (3, 24)


def test_gaps_that_somebody_adjusted_are_others(school, browsers, worlds):
    """Key 2 is what an adjusting left: to measure it is no second look at the gaps of key 1."""
    world = worlds[0]
    told(browsers, school, world[0], KEY_MM)
    gaps = [stands.TypedGap(line["valve"], "0.25", "mm") for line in right_lines()]
    stands.enter_key(school.tove, world[0].stand_id, gaps, adjusted_by="Ines")
    new = sheets.NewSheet(world[0].stand_id, "After adjusting", "two-stop", "0.03", "mm")
    after = sheets.set_sheet(school.tove, school.class_a, new)
    assert told(browsers, school, after, KEY_MM)[0]["waits"] == []
    # Measuring the same gaps once more makes another key, of the same gaps.
    stands.enter_key(school.tove, world[0].stand_id, gaps)
    new = sheets.NewSheet(world[0].stand_id, "Measured again", "two-stop", "0.03", "mm")
    again = sheets.set_sheet(school.tove, school.class_a, new)
    assert told(browsers, school, again, KEY_MM)[0]["waits"] == ["Reading", "Verdict"]


def test_a_released_grade_has_no_digits_to_solve_the_key_from(school, browsers, worlds):
    """A rubric whose reading falls with its error, released: two digits of a share, no more."""
    sheet = worlds[0][0]
    wish = {"items": [{"part": "reading", "weight": 1}], "pass_percent": 60, "zero_at_mm": 0.09}
    body = {"rubric": wish, "based_on": 0}
    path = f"/api/sheets/{sheet.id}/rubric"
    assert browsers["instructor"].send("POST", path, body).status_code == 201
    told(browsers, school, sheet, "0.3071")
    rubrics.give_back(school.tove, sheet.id, confirmed=True)
    (item,) = browsers["student"].get(f"/api/sheets/{sheet.id}").json()["result"]["grade"]["items"]
    assert item["share"] == round(item["share"], 2)
    assert item["percent"] == round(item["percent"], 1)


def test_grades_are_not_released_over_a_sheet_that_is_open(school, browsers, worlds):
    """Whoever knows what a reading was worth knows what to write on the sheet beside it."""
    first, *others = worlds[0]
    address = f"/api/sheets/{first.id}/give-back"
    tove = browsers["instructor"]
    asked = tove.send("POST", address, {})
    assert asked.status_code == 409
    assert asked.json()["confirm"] is True
    assert {field["path"] for field in asked.json()["fields"]} == {one.title for one in others}
    for one in others:
        tove.send("PATCH", f"/api/sheets/{one.id}", {"closes_at": "2026-01-01T00:00"})
    assert tove.send("POST", address, {}).status_code == 204
    # Or all the same, where the instructor says so.
    again = f"/api/sheets/{worlds[1][0].id}/give-back"
    assert tove.send("POST", again, {"confirmed": True}).status_code == 204
