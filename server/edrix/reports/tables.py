"""Readings and marks of a sheet as tables, for spreadsheets and grade books."""

from collections.abc import Iterable, Iterator, Mapping
from decimal import Decimal
from typing import Any

from edrix import clock
from edrix.accounts.models import User
from edrix.engines.services import core_engine
from edrix.marking.standing import Standing, StandingMark
from edrix.sheets.services import HandIn, Reading, Sheet
from valvetrain.grading import FURTHER, PARTS
from valvetrain.grading.weights import Grade

Marked = Iterable[tuple[HandIn, Standing]]
Row = list[Any]


def grade_rows(
    hand_ins: Marked, grades: Mapping[int, Grade], missing: Iterable[User]
) -> Iterator[Row]:
    """One row for each student, for a grade book; percent is by the sheet's rubric. missing are
    those who have not handed in: they stand at the end, with nothing behind their names."""
    yield [
        "student",
        "sign_in_name",
        "handed_in_at",
        "points",
        "out_of",
        "percent",
        "passed",
        "not_whole",
    ]
    for hand_in, marking in hand_ins:
        grade = grades[hand_in.id]
        points = [marking.points, marking.out_of]
        yield [
            *_who(hand_in),
            *points,
            grade.percent,
            "yes" if grade.passed else "no",
            " ".join(grade.fails),
        ]
    for student in missing:
        yield [student.display_name, student.sign_in_name, *[None] * 6]


def mark_rows(sheet: Sheet, hand_ins: Marked) -> Iterator[Row]:
    """One row for each student and valve, with every reason."""
    engine = core_engine(sheet.stand.engine_version)
    yield [
        "student",
        "sign_in_name",
        "handed_in_at",
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
    for hand_in, standing in hand_ins:
        typed = {reading.valve: reading for reading in hand_in.readings.all()}
        for marks in standing.valves:
            valve = engine.valve[marks.valve]
            reading = typed.get(valve.number)
            parts = [marks.parts.get(part) for part in PARTS]
            yield [
                *_who(hand_in),
                standing.points,
                standing.out_of,
                valve.number,
                valve.cylinder,
                valve.role.value,
                reading and reading.typed,
                reading and reading.unit,
                None if reading is None else _figure(reading.reading_mm),
                marks.error_mm,
                reading and reading.verdict,
                reading and reading.crank_deg,
                *_further(reading),
                *[None if mark is None else int(mark.right) for mark in parts],
                *[None if mark is None else _reason(mark) for mark in parts],
            ]


def reading_rows(sheet: Sheet, hand_ins: Iterable[HandIn]) -> Iterator[Row]:
    """What was handed in, as it was typed; reading it back gives the same."""
    version = sheet.stand.engine_version
    engine = core_engine(version)
    yield [
        "student",
        "sign_in_name",
        "engine",
        "engine_version",
        "valve",
        "reading",
        "unit",
        "crank_deg",
        "verdict",
        *FURTHER,
    ]
    for hand_in in hand_ins:
        typed = {reading.valve: reading for reading in hand_in.readings.all()}
        for reading in (typed[number] for number in engine.valve if number in typed):
            yield [
                hand_in.student.display_name,
                hand_in.student.sign_in_name,
                engine.name,
                version.number,
                reading.valve,
                reading.typed,
                reading.unit,
                reading.crank_deg,
                reading.verdict,
                *_further(reading),
            ]


def _figure(length_mm: Decimal | None) -> float | None:
    """0.355, not 0.3550: a number in a spreadsheet, and in a CSV as people write it."""
    return None if length_mm is None else float(length_mm)


def _who(hand_in: HandIn) -> Row:
    student = hand_in.student
    when = f"{clock.in_school(hand_in.handed_in_at):%Y-%m-%d %H:%M:%S}"
    return [student.display_name, student.sign_in_name, when]


def _further(reading: Reading | None) -> Row:
    if reading is None:
        return [None] * len(FURTHER)
    return [reading.further.get(name, {}).get("typed") for name in FURTHER]


def _reason(mark: StandingMark) -> str:
    if mark.override is None:
        return mark.instructor_says
    return f"{mark.instructor_says} Decided by {mark.override.by}: {mark.override.reason}"
