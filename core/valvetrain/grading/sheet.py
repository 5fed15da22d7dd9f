"""What a student writes for one valve of a reading sheet, read and checked."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from decimal import Decimal
from enum import StrEnum
from typing import NamedTuple

from valvetrain.angles import AngleError, typed_crank_deg
from valvetrain.engine import Engine
from valvetrain.errors import RefusedError
from valvetrain.units import LengthError, Unit, parse_figure, parse_length, to_mm, to_record_mm

MOST_READING_MM = Decimal(20)
"""No feeler gauge reaches further; a larger figure is a typing mistake."""


FURTHER = ("second", "set", "after", "shim_fitted", "shim_chosen")
"""What a line may hold besides: a second pass, before and after the lock nut, two shims."""
SHIMS = frozenset({"shim_fitted", "shim_chosen"})


class SpecVerdict(StrEnum):
    TIGHT = "tight"
    WITHIN = "within"
    LOOSE = "loose"
    CANNOT_TELL = "cannot-tell"
    """So near a limit that the gauge cannot tell; said by people, never by a figure."""


class Written(NamedTuple):
    """A length as typed, and what it is."""

    text: str
    mm: Decimal


@dataclass(frozen=True, slots=True)
class Entry:
    """One valve's line. None marks what was left blank; reading_text is kept as typed.

    further holds by their names what of FURTHER was written.
    """

    valve: int
    reading_text: str = ""
    unit: Unit = Unit.MM
    reading_mm: Decimal | None = None
    crank_deg: float | None = None
    verdict: SpecVerdict | None = None
    further: Mapping[str, Written] = field(default_factory=dict)

    def further_mm(self, name: str) -> Decimal | None:
        written = self.further.get(name)
        return written.mm if written else None


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

    further holds lengths by the names of FURTHER; those of shims are in mm unless typed otherwise.
    """
    if valve not in engine.valve:
        raise EntryError(valve, "valve", "this engine has no such valve")
    if unit not in ("mm", "thou"):
        raise EntryError(valve, "unit", f"“{unit[:20]}” is not known here; use mm or thou")
    if verdict is not None and verdict not in SpecVerdict.__members__.values():
        wanted = "tight, within, loose or cannot-tell"
        raise EntryError(valve, "verdict", f"“{verdict[:20]}” is none; say {wanted}")
    gap_mm = _gap_mm(valve, "reading", reading, Unit(unit))
    besides = {}
    for name, text in (further or {}).items():
        if name not in FURTHER:
            raise EntryError(valve, name[:20], f"is not a column of a sheet; {', '.join(FURTHER)}")
        in_mm = _gap_mm(valve, name, text, Unit.MM if name in SHIMS else Unit(unit))
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


def spec_verdict(engine: Engine, valve: int, gap_mm: Decimal) -> SpecVerdict:
    """Where a gap lies against the spec of this valve; the limits themselves are within."""
    low_mm, high_mm = engine.limits_mm[engine.valve[valve].role]
    if gap_mm < low_mm:
        return SpecVerdict.TIGHT
    return SpecVerdict.LOOSE if gap_mm > high_mm else SpecVerdict.WITHIN


def _gap_mm(valve: int, name: str, text: str, unit: Unit) -> Decimal | None:
    """A length of a line; None where it is blank. The unit typed behind the figure wins over the
    one chosen beside it."""
    text = text.strip()
    if not text:
        return None
    try:
        with_unit = text[-1].isalpha()
        in_mm = to_record_mm(
            parse_length(text).mm if with_unit else to_mm(parse_figure(text), unit)
        )
    except LengthError as fault:
        raise EntryError(valve, name, str(fault)) from None
    if not 0 <= in_mm <= MOST_READING_MM:
        raise EntryError(
            valve, name, f"“{text[:20]}” is outside a gap from 0 to {MOST_READING_MM} mm"
        )
    if name in SHIMS and in_mm == 0:
        raise EntryError(valve, name, f"“{text[:20]}” is no shim; give its thickness above 0")
    return in_mm
