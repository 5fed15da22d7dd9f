"""The lines of a sheet between the edge, the core and the record."""

from collections.abc import Iterable
from dataclasses import asdict, dataclass, field
from decimal import Decimal
from typing import Any

from edrix.errors import FieldFault, InvalidError
from edrix.sheets.models import HandIn, Reading
from valvetrain.engine import Engine
from valvetrain.grading import (
    Entry,
    EntryError,
    SheetMarks,
    SpecVerdict,
    ValveMarks,
    Written,
    read_entry,
)
from valvetrain.units import Unit


@dataclass(frozen=True, slots=True)
class TypedLine:
    """One valve's line exactly as the student typed it."""

    valve: int
    reading: str
    unit: str
    crank_deg: float | None
    verdict: str | None
    further: dict[str, str] = field(default_factory=dict)
    """What was typed into the further columns, by their names."""

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
                    further=line.further,
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
            further={
                name: {"typed": written.text, "mm": str(written.mm)}
                for name, written in entry.further.items()
            },
        )
        for entry in entries
    ]


def entry_of(reading: Reading) -> Entry:
    """A line of the record, as the core marks and explains it."""
    return Entry(
        valve=reading.valve,
        reading_text=reading.typed,
        unit=Unit(reading.unit),
        reading_mm=reading.reading_mm,
        crank_deg=reading.crank_deg,
        verdict=SpecVerdict(reading.verdict) if reading.verdict else None,
        further={
            name: Written(written["typed"], Decimal(written["mm"]))
            for name, written in reading.further.items()
        },
    )


def marks_json(marks: SheetMarks) -> list[dict[str, Any]]:
    """The core's marks as they are stored; the instructor's reasons stay on the server."""
    return [valve_json(valve) for valve in marks.valves]


def valve_json(valve: ValveMarks) -> dict[str, Any]:
    return {
        "valve": valve.valve,
        "points": valve.points,
        "error_mm": None if valve.error_mm is None else str(valve.error_mm),
        **{
            part: {
                "right": mark.right,
                "student_says": mark.student_says,
                "instructor_says": mark.instructor_says,
            }
            for part, mark in valve.parts.items()
        },
    }
