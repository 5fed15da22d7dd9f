"""The lines of a sheet between the edge, the core and the record."""

from collections.abc import Iterable
from dataclasses import asdict, dataclass
from typing import Any

from edrix.errors import FieldFault, InvalidError
from edrix.sheets.models import HandIn, Reading
from valvetrain.engine import Engine
from valvetrain.grading import Entry, EntryError, SheetMarks, read_entry


@dataclass(frozen=True, slots=True)
class TypedLine:
    """One valve's line exactly as the student typed it."""

    valve: int
    reading: str
    unit: str
    crank_deg: float | None
    verdict: str | None

    def as_json(self) -> dict[str, Any]:
        return asdict(self)


def read_lines(engine: Engine, lines: Iterable[TypedLine]) -> list[Entry]:
    """Entries for the core. Raises InvalidError naming each valve and field that is wrong."""
    entries: list[Entry] = []
    faults: list[FieldFault] = []
    seen: set[int] = set()
    for line in lines:
        if line.valve in seen:
            faults.append(FieldFault(f"valve {line.valve}", "stands twice on the sheet"))
        seen.add(line.valve)
        try:
            entries.append(
                read_entry(
                    engine,
                    valve=line.valve,
                    reading=line.reading,
                    unit=line.unit,
                    crank_deg=line.crank_deg,
                    verdict=line.verdict,
                )
            )
        except EntryError as fault:
            faults.append(FieldFault(f"valve {fault.valve}.{fault.field}", fault.problem))
    if faults:
        told = "; ".join(f"{fault.path}: {fault.problem}" for fault in faults[:3])
        raise InvalidError(f"The sheet was not handed in, and nothing is lost. {told}.", faults)
    in_place = {number: place for place, number in enumerate(engine.valve)}
    return sorted(entries, key=lambda entry: in_place[entry.valve])


def readings(hand_in: HandIn, entries: Iterable[Entry]) -> list[Reading]:
    return [
        Reading(
            hand_in=hand_in,
            valve=entry.valve,
            typed=entry.reading_text,
            unit=entry.unit.value,
            reading_mm=entry.reading_mm,
            crank_deg=entry.crank_deg,
            verdict=entry.verdict.value if entry.verdict else "",
        )
        for entry in entries
    ]


def marks_json(marks: SheetMarks) -> list[dict[str, Any]]:
    """The core's marks as they are stored; the instructor's reasons stay on the server."""
    return [
        {
            "valve": valve.valve,
            "points": valve.points,
            "error_mm": None if valve.error_mm is None else str(valve.error_mm),
            **{
                part: {
                    "right": mark.right,
                    "student_says": mark.student_says,
                    "instructor_says": mark.instructor_says,
                }
                for part, mark in (
                    ("reading", valve.reading),
                    ("verdict", valve.verdict),
                    ("position", valve.position),
                )
            },
        }
        for valve in marks.valves
    ]
