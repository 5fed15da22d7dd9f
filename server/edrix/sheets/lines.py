"""The two shapes of a sheet's line: as typed (`TypedLine`), and as read (the core's `Entry`).

A line comes in as typed, is kept so in a draft, and goes out so again. Reading it gives the
core's entry, which is what is marked, explained, exported and kept on record.
"""

from collections.abc import Iterable
from decimal import Decimal
from typing import Annotated

from pydantic import Field

from edrix.errors import FieldFault, InvalidError
from edrix.shapes import In
from edrix.sheets.models import HandIn, Reading
from valvetrain.engine import Engine
from valvetrain.grading import FURTHER, Entry, EntryError, SpecVerdict, Written, read_entry
from valvetrain.units import Unit

MOST_DEG = 1e12
"""The largest angle that a draft keeps, in crank degrees."""
ShortText = Annotated[str, Field(max_length=40)]


class TypedLine(In):
    """One valve's line exactly as somebody typed it."""

    valve: int
    reading: str = Field("", max_length=40)
    unit: str = Field("mm", max_length=10)
    crank_deg: float | None = Field(None, allow_inf_nan=False, ge=-MOST_DEG, le=MOST_DEG)
    verdict: str | None = Field(None, max_length=20)
    further: dict[ShortText, ShortText] = Field(default_factory=dict, max_length=len(FURTHER))
    """What was typed or chosen in the further columns, by their names."""


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
                    verdict=line.verdict or None,
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


def record_of(hand_in: HandIn, entry: Entry) -> Reading:
    """The row that keeps a line; not saved yet."""
    return Reading(
        hand_in=hand_in,
        valve=entry.valve,
        typed=entry.reading_text,
        unit=entry.unit.value,
        reading_mm=entry.reading_mm,
        crank_deg=entry.crank_deg,
        verdict=entry.verdict.value if entry.verdict else "",
        further={
            name: {"typed": written.text, "mm": None if written.mm is None else str(written.mm)}
            for name, written in entry.further.items()
        },
    )


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
            name: Written(
                written["typed"], None if written["mm"] is None else Decimal(written["mm"])
            )
            for name, written in reading.further.items()
        },
    )


def typed_of(reading: Reading) -> TypedLine:
    """A line of the record as it was typed."""
    return TypedLine(
        valve=reading.valve,
        reading=reading.typed,
        unit=reading.unit,
        crank_deg=reading.crank_deg,
        verdict=reading.verdict or None,
        further={name: one["typed"] for name, one in reading.further.items()},
    )
