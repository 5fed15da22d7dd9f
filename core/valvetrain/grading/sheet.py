"""What a student writes for one valve of a reading sheet, read and checked."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from decimal import Decimal
from enum import StrEnum
from typing import NamedTuple

from valvetrain.adjusters import typed_size
from valvetrain.angles import AngleError, typed_crank_deg
from valvetrain.constants import NOT_A_GAP_MM
from valvetrain.engine import Engine
from valvetrain.errors import RefusedError
from valvetrain.grading.columns import FINAL, FURTHER, READING, RUNNING, Column
from valvetrain.units import LengthError, Unit, parse_mm, to_record_mm


class SpecVerdict(StrEnum):
    TIGHT = "tight"
    WITHIN = "within"
    LOOSE = "loose"
    CANNOT_TELL = "cannot-tell"
    """So near a limit that the gauge cannot tell; said by people, never by a figure."""


class Written(NamedTuple):
    """A length as typed, and what it is; or the value of a choice, which has no length."""

    text: str
    mm: Decimal | None


@dataclass(frozen=True, slots=True)
class Entry:
    """One valve's line as it was read; what was left blank is None. reading_text is kept as typed.

    further holds what was written of the further columns, by their names.
    """

    valve: int
    reading_text: str = ""
    unit: Unit = Unit.MM
    reading_mm: Decimal | None = None
    crank_deg: float | None = None
    verdict: SpecVerdict | None = None
    further: Mapping[str, Written] = field(default_factory=dict)

    @staticmethod
    def of_figures(
        valve: int,
        lengths_mm: Mapping[str, float | None],
        crank_deg: float | None = None,
        verdict: str | None = None,
    ) -> "Entry":
        """A line whose lengths are known in millimetres, by the names of their columns."""
        written = {
            name: Written(f"{mm:g}", Decimal(repr(float(mm))))
            for name, mm in lengths_mm.items()
            if mm is not None
        }
        reading = written.pop(READING.name, None)
        return Entry(
            valve,
            reading.text if reading else "",
            reading_mm=reading.mm if reading else None,
            crank_deg=crank_deg,
            verdict=SpecVerdict(verdict) if verdict else None,
            further=written,
        )

    def length_mm(self, column: Column) -> Decimal | None:
        """What was written in a column of lengths."""
        if column is READING:
            return self.reading_mm
        written = self.further.get(column.name)
        return written.mm if written else None

    def choice(self, column: Column) -> str | None:
        """What was chosen in a column of choices."""
        written = self.further.get(column.name)
        return written.text if written else None

    @property
    def settled_mm(self) -> Decimal | None:
        """The gap that counts: the figure settled on, where one is written, else the reading."""
        final_mm = self.length_mm(FINAL)
        return self.reading_mm if final_mm is None else final_mm

    @property
    def gap_mm(self) -> float | None:
        """The same as a float, as findings work it out."""
        settled_mm = self.settled_mm
        return None if settled_mm is None else float(settled_mm)

    @property
    def first_mm(self) -> float | None:
        """The reading of the first pass, whatever was settled on."""
        return None if self.reading_mm is None else float(self.reading_mm)

    def mm(self, column: Column) -> float | None:
        """A column's length as a float."""
        length = self.length_mm(column)
        return None if length is None else float(length)


class EntryError(RefusedError):
    """A line that cannot be read: which valve, which field, what would be right."""

    def __init__(self, valve: int, field: str, problem: str):
        self.valve = valve
        self.field = field
        self.problem = problem
        super().__init__(f"valve {valve}, {field}: {problem}")


def read_entry(
    engine: Engine,
    *,
    valve: int,
    reading: str,
    unit: str,
    crank_deg: float | None,
    verdict: str | None,
    further: Mapping[str, str] | None = None,
) -> Entry:
    """A line as typed. Blank fields are allowed; wrong ones raise EntryError.

    further holds lengths and choices by the names of FURTHER; lengths of shims are in mm unless
    typed otherwise.
    Raises EntryError.
    """
    if valve not in engine.valve:
        raise EntryError(valve, "valve", "this engine has no such valve")
    if unit not in ("mm", "thou"):
        raise EntryError(valve, "unit", f"“{unit[:20]}” is not known here; use mm or thou")
    if verdict is not None and verdict not in SpecVerdict.__members__.values():
        wanted = "tight, within, loose or cannot-tell"
        raise EntryError(valve, "verdict", f"“{verdict[:20]}” is none; say {wanted}")
    gap_mm = _length_mm(valve, READING, reading, Unit(unit))
    besides = {}
    for name, text in (further or {}).items():
        column = FURTHER.get(name)
        if column is None:
            raise EntryError(valve, name[:20], f"is not a column of a sheet; {', '.join(FURTHER)}")
        if column.holds == "choice":
            if text.strip():
                besides[name] = Written(_choice_of(engine, valve, column, text, Unit(unit)), None)
            continue
        plain = _stamp_read(engine, valve, column, text)
        in_mm = _length_mm(valve, column, plain, Unit(unit))
        if in_mm is not None:
            besides[name] = Written(text.strip(), in_mm)
    try:
        angle = None if crank_deg is None else typed_crank_deg(crank_deg)
    except AngleError as fault:
        raise EntryError(valve, "stop", str(fault)) from None
    return Entry(
        valve=valve,
        reading_text=reading.strip(),
        unit=Unit(unit),
        reading_mm=gap_mm,
        crank_deg=angle,
        verdict=SpecVerdict(verdict) if verdict else None,
        further=besides,
    )


def _choice_of(engine: Engine, valve: int, column: Column, text: str, unit: Unit) -> str:
    """One of the column's words. A running range may also be given as the figure that was found
    there, in the line's unit or with its own behind it: `25 thou`."""
    limits_mm = engine.clearance[engine.valve[valve].role].running_mm
    if column is RUNNING and column.chosen(text) is None and limits_mm is not None:
        try:
            found_mm = to_record_mm(parse_mm(text.strip(), unit))
        except LengthError:
            return _chosen(valve, column, text)
        low_mm, high_mm = (to_record_mm(limit) for limit in limits_mm)
        return verdict_between(found_mm, (low_mm, high_mm)).value
    return _chosen(valve, column, text)


def _chosen(valve: int, column: Column, text: str) -> str:
    option = column.chosen(text)
    if option is None:
        wanted = " or ".join(one.value for one in column.options)
        raise EntryError(valve, column.name, f"“{text.strip()[:20]}” is none; say {wanted}")
    return option.value


def _stamp_read(engine: Engine, valve: int, column: Column, text: str) -> str:
    """A shim's stamped code as a size in mm; anything else as it was typed."""
    if column.holds != "shim":
        return text
    role = engine.valve[valve].role
    is_closing = column.name.startswith("closing")
    adjuster = engine.closing_adjuster_of(role) if is_closing else engine.adjuster_of(role)
    shim = adjuster.shim
    return text if shim is None else typed_size(text, shim.codes, shim.sizes)


def spec_verdict(engine: Engine, valve: int, gap_mm: Decimal) -> SpecVerdict:
    """Where a gap lies against the spec of this valve; the limits themselves are within."""
    return verdict_between(gap_mm, engine.limits_mm[engine.valve[valve].role])


def verdict_between(gap_mm: Decimal, limits_mm: tuple[Decimal, Decimal]) -> SpecVerdict:
    """The same against limits at hand, as those of a closing gap."""
    low_mm, high_mm = limits_mm
    if gap_mm < low_mm:
        return SpecVerdict.TIGHT
    return SpecVerdict.LOOSE if gap_mm > high_mm else SpecVerdict.WITHIN


def _length_mm(valve: int, column: Column, text: str, unit: Unit) -> Decimal | None:
    """A length of a line; None where it is blank."""
    text = text.strip()
    if not text:
        return None
    unit = Unit.MM if column.holds == "shim" else unit
    try:
        in_mm = to_record_mm(parse_mm(text, unit))
    except LengthError as fault:
        raise EntryError(valve, column.name, str(fault)) from None
    if not 0 <= in_mm <= NOT_A_GAP_MM:
        raise EntryError(
            valve, column.name, f"“{text[:20]}” is outside a gap from 0 to {NOT_A_GAP_MM} mm"
        )
    if column.holds == "shim" and in_mm == 0:
        raise EntryError(
            valve, column.name, f"“{text[:20]}” is no shim; give its thickness above 0"
        )
    return in_mm
