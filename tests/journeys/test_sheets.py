"""Whole measurement sheets over HTTP: set, filled in, handed in, marked, queried, re-marked,
exported and printed, with every set of columns that an engine can be asked for, in both units.

Covered: every pair of engine, column set and unit with `./edrix journeys`; every value in CI.
"""

import json
from decimal import Decimal

import pytest

from tests.journeys.conftest import ALL
from tests.journeys.covering import every_pair, every_value
from tests.journeys.engines import demo_documents, demo_engines
from valvetrain.grading.columns import ASKS, asked_columns, columns_at
from valvetrain.sequences import make_plan
from valvetrain.units import MM_PER_THOU

DOCUMENTS, ENGINES = demo_documents(), demo_engines()
SETS = ((), *((name,) for name in ASKS), tuple(ASKS))
FACTORS = {"engine": tuple(DOCUMENTS), "asks": SETS, "unit": ("mm", "thou")}


def cases():
    return every_pair(FACTORS) if ALL else every_value(FACTORS)


def served(engine, asks):
    """Those that this engine can be asked for: the server names the others."""
    needs = {
        "nothing": True,
        "a screw": any(one.has_nut for one in engine.adjusters.values()),
        "a shim": any(one.has_shims for one in engine.adjusters.values()),
        "a closing rocker": bool(engine.closing),
        "a brake rocker": any(engine.clearance[r].running for r in engine.roles),
    }
    kept = [name for name in asks if needs.get(ASKS[name].needs, True)]
    changed = {"nut", "shims"} & set(kept)
    return [name for name in kept if ASKS[name].needs != "nut or shims" or changed]


class Journey:
    def __init__(self, school, browsers, texts, case):
        self.school, self.texts, self.case = school, texts, case
        self.instructor, self.student = browsers["instructor"], browsers["student"]
        self.engine = ENGINES[case["engine"]]
        self.asks = served(self.engine, case["asks"])

    def send(self, who, method, path, body=None, wanted=(200, 201, 204)):
        answer = who.send(method, path, body)
        assert answer.status_code in wanted, (path, answer.status_code, answer.content[:400])
        read = answer.json() if answer.content else None
        self.texts.check(read)
        return read

    def set_up(self):
        document = DOCUMENTS[self.case["engine"]]
        added = self.send(self.instructor, "POST", "/api/engines", document)["engine"]
        body = {"name": "Stand of the journey", "engine_id": added["id"]}
        path = f"/api/classes/{self.school.class_a}"
        stand = self.send(self.instructor, "POST", f"{path}/stands", body)
        key = {"gaps": [self.key_gap(v) for v in self.engine.valves]}
        self.send(self.instructor, "POST", f"/api/stands/{stand['id']}/keys", key)
        sheet = {
            "stand_id": stand["id"],
            "title": "A journey",
            "method": "lobe-away",
            "tolerance": "0.03",
            "asks": self.asks,
        }
        self.stand_id = stand["id"]
        self.sheet_id = self.send(self.instructor, "POST", f"{path}/sheets", sheet)["id"]

    def key_gap(self, valve):
        gap = {"valve": valve.number, "gap": self.middle(valve), "unit": "mm"}
        if valve.role in self.engine.closing:
            gap["closing"] = "0.03"
        return gap

    def middle(self, valve):
        return f"{self.engine.clearance[valve.role].middle_mm:.3f}"

    def in_unit(self, mm):
        if self.case["unit"] == "mm":
            return mm
        return f"{Decimal(mm) / MM_PER_THOU:.1f}"

    def lines(self):
        stops = make_plan(self.engine, "lobe-away").stops
        places = {valve: stop.crank_deg for stop in stops for valve in stop.valves}
        return [
            {
                "valve": valve.number,
                "reading": self.in_unit(self.middle(valve)),
                "unit": self.case["unit"],
                "crank_deg": places.get(valve.number),
                "verdict": "within",
                "further": self.further(valve),
            }
            for valve in self.engine.valves
        ]

    def further(self, valve):
        """What a student writes in each column that this line has."""
        texts = {
            "second": self.in_unit(self.middle(valve)),
            "final": self.in_unit(self.middle(valve)),
            "set": self.in_unit(self.middle(valve)),
            "after": self.in_unit(self.middle(valve)),
            "shim_fitted": "2.50",
            "shim_chosen": "2.50",
            "closing": self.in_unit("0.03"),
            "closing_fitted": "2.50",
            "closing_chosen": "2.50",
            "running": "within",
        }
        asked = columns_at(self.engine, valve.role, self.asks)
        return {column.name: texts[column.name] for column in asked if column.name in texts}


@pytest.mark.parametrize(
    "case", cases(), ids=lambda c: f"{c['engine']} {'+'.join(c['asks']) or 'plain'} {c['unit']}"
)
def test_a_sheet_from_its_setting_to_its_printing(school, browsers, texts, case):
    journey = Journey(school, browsers, texts, case)
    journey.set_up()
    sheet, student, instructor = journey.sheet_id, journey.student, journey.instructor
    shown = journey.send(student, "GET", f"/api/sheets/{sheet}")
    assert set(shown["asks"]) == set(journey.asks)
    body = {"lines": journey.lines(), "request_key": "journey-01", "confirmed": True}
    result = journey.send(student, "POST", f"/api/sheets/{sheet}/hand-in", body)
    assert result["out_of"] > 0
    readings = [mark for valve in result["valves"] for mark in valve["marks"]
                if mark["part"] == "reading"]  # fmt: skip
    assert readings
    assert all(mark["right"] for mark in readings)
    board = journey.send(instructor, "GET", f"/api/sheets/{sheet}/board")
    hand_in = next(row for row in board["rows"] if row["hand_in_id"])["hand_in_id"]
    told = journey.send(instructor, "GET", f"/api/hand-ins/{hand_in}")
    assert told["findings"] == [] or all(one["says"] for one in told["findings"])
    journey.send(instructor, "GET", f"/api/sheets/{sheet}/findings")
    journey.send(instructor, "GET", f"/api/sheets/{sheet}/class-view")
    valve = journey.engine.valves[0].number
    decision = {"valve": valve, "part": "reading", "right": False, "reason": "Seen at the stand."}
    journey.send(instructor, "POST", f"/api/hand-ins/{hand_in}/decisions", decision)
    again = journey.send(student, "GET", f"/api/sheets/{sheet}")
    texts.check(again)
    query = {"valve": valve, "part": "reading", "text": "I measured it twice."}
    journey.send(student, "POST", f"/api/sheets/{sheet}/answers", query, (200, 201, 204, 403, 409))
    key = {"gaps": [journey.key_gap(v) for v in journey.engine.valves]}
    journey.send(instructor, "POST", f"/api/stands/{journey.stand_id}/keys", key)
    journey.send(instructor, "GET", f"/api/sheets/{sheet}/remark")
    journey.send(instructor, "POST", f"/api/sheets/{sheet}/remark", {"key_number": 2})
    for path in (
        f"/api/sheets/{sheet}/readings.csv",
        f"/api/sheets/{sheet}/readings.xlsx",
        f"/api/sheets/{sheet}/marks.csv",
        f"/api/sheets/{sheet}/grades.csv",
        f"/api/hand-ins/{hand_in}/sheet.json",
        f"/api/hand-ins/{hand_in}/sheet.pdf",
        f"/api/sheets/{sheet}/report.pdf",
        f"/api/sheets/{sheet}/blank.pdf",
    ):
        file = instructor.get(path)
        assert file.status_code == 200, (path, file.content[:300])
        content = b"".join(file.streaming_content) if file.streaming else file.content
        assert len(content) > 50, path
        if path.endswith(".csv"):
            text = content.decode()
            assert "None" not in text
        if path.endswith("sheet.json"):
            assert json.loads(content)["format"] == "edrix-sheet/1"


def test_every_value_of_every_dimension_is_travelled():
    found = cases()
    for name, values in FACTORS.items():
        assert {case[name] for case in found} >= set(values), name
    assert asked_columns(tuple(ASKS))
