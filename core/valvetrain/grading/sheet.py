"""What a student writes for one valve of a reading sheet, read and checked."""

from dataclasses import dataclass
from decimal import Decimal
from enum import StrEnum

from valvetrain.angles import AngleError, typed_crank_deg
from valvetrain.engine import Engine
from valvetrain.errors import RefusedError
from valvetrain.units import LengthError, Unit, parse_figure, parse_length, to_mm, to_record_mm

MOST_READING_MM = Decimal(20)
"""No feeler gauge reaches further; a larger figure is a typing mistake."""


class SpecVerdict(StrEnum):
    TIGHT = "tight"
    WITHIN = "within"
    LOOSE = "loose"


@dataclass(frozen=True, slots=True)
class Entry:
    """One valve's line. None marks what was left blank; reading_text is kept as typed."""

    valve: int
    reading_text: str = ""
    unit: Unit = Unit.MM
    reading_mm: Decimal | None = None
    crank_deg: float | None = None
    verdict: SpecVerdict | None = None


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
) -> Entry:
    """A line as typed. Blank fields are allowed; wrong ones raise EntryError."""
    if valve not in engine.valve:
        raise EntryError(valve, "valve", "this engine has no such valve")
    if unit not in ("mm", "thou"):
        raise EntryError(valve, "unit", f"“{unit[:20]}” is not known here; use mm or thou")
    if verdict is not None and verdict not in SpecVerdict.__members__.values():
        wanted = "tight, within or loose"
        raise EntryError(valve, "verdict", f"“{verdict[:20]}” is none; say {wanted}")
    try:
        length_mm = _reading_mm(reading, Unit(unit)) if reading.strip() else None
    except LengthError as fault:
        raise EntryError(valve, "reading", str(fault)) from None
    if length_mm is not None and not 0 <= length_mm <= MOST_READING_MM:
        wanted = f"a gap from 0 to {MOST_READING_MM} mm"
        raise EntryError(valve, "reading", f"“{reading.strip()[:20]}” is outside {wanted}")
    try:
        angle = None if crank_deg is None else typed_crank_deg(crank_deg)
    except AngleError as fault:
        raise EntryError(valve, "stop", str(fault)) from None
    return Entry(
        valve=valve,
        reading_text=reading.strip(),
        unit=Unit(unit),
        reading_mm=length_mm,
        crank_deg=angle,
        verdict=SpecVerdict(verdict) if verdict else None,
    )


def spec_verdict(engine: Engine, valve: int, gap_mm: Decimal) -> SpecVerdict:
    """Where a gap lies against the spec of this valve; the limits themselves are within."""
    low_mm, high_mm = engine.limits_mm[engine.valve[valve].role]
    if gap_mm < low_mm:
        return SpecVerdict.TIGHT
    return SpecVerdict.LOOSE if gap_mm > high_mm else SpecVerdict.WITHIN


def _reading_mm(text: str, unit: Unit) -> Decimal:
    """The unit typed behind the figure wins over the one chosen beside it."""
    if text.strip()[-1].isalpha():
        return to_record_mm(parse_length(text).mm)
    return to_record_mm(to_mm(parse_figure(text), unit))
