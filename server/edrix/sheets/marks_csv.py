"""The marks of a sheet as CSV (RFC 4180, UTF-8): one row for each student and valve."""

import csv
import io
from collections.abc import Iterable
from typing import Any

from edrix.sheets.models import HandIn, Reading, Sheet
from edrix.sheets.standing import Standing
from valvetrain.engine import Engine
from valvetrain.grading import FURTHER, PARTS

HEADER = [
    "student",
    "sign_in_name",
    "handed_in_at_utc",
    "points",
    "out_of",
    "valve",
    "cylinder",
    "role",
    "reading_typed",
    "unit",
    "reading_mm",
    "error_mm",
    "verdict",
    "crank_deg",
    *FURTHER,
    *[f"{part}_right" for part in PARTS],
    *[f"{part}_reason" for part in PARTS],
]


def marks_csv(sheet: Sheet, engine: Engine, hand_ins: Iterable[tuple[HandIn, Standing]]) -> str:
    out = io.StringIO()
    # The byte order mark lets spreadsheets read names in UTF-8.
    out.write("\ufeff")
    table = csv.writer(out)
    table.writerow(HEADER)
    for hand_in, marking in hand_ins:
        typed = {reading.valve: reading for reading in hand_in.readings.all()}
        for marks in marking.valves:
            valve = engine.valve[marks["valve"]]
            reading = typed.get(valve.number)
            table.writerow(
                [
                    _text(hand_in.student.display_name),
                    _text(hand_in.student.sign_in_name),
                    f"{hand_in.handed_in_at:%Y-%m-%d %H:%M:%S}",
                    marking.points,
                    marking.out_of,
                    valve.number,
                    valve.cylinder,
                    valve.role.value,
                    _text(reading.typed) if reading else "",
                    reading.unit if reading else "",
                    "" if reading is None or reading.reading_mm is None else reading.reading_mm,
                    marks["error_mm"] or "",
                    reading.verdict if reading else "",
                    "" if reading is None or reading.crank_deg is None else reading.crank_deg,
                    *[_text(_written(reading, name)) for name in FURTHER],
                    *[int(marks[part]["right"]) if part in marks else "" for part in PARTS],
                    *[_text(_reason(marks[part])) if part in marks else "" for part in PARTS],
                ]
            )
    return out.getvalue()


def _written(reading: Reading | None, name: str) -> str:
    return reading.further[name]["typed"] if reading and name in reading.further else ""


def _reason(part: dict[str, Any]) -> str:
    decided = part["decided"]
    if decided is None:
        return str(part["instructor_says"])
    return f"{part['instructor_says']} Decided by {decided['by']}: {decided['reason']}"


def _text(value: str) -> str:
    """A spreadsheet runs cells that begin like a formula; a quote in front keeps them text."""
    return f"'{value}" if value[:1] in "=+-@\t\r" and value else value
