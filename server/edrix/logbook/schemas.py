"""What of a logbook comes and goes over HTTP."""

from datetime import datetime
from decimal import Decimal
from typing import Any

from ninja import Schema
from pydantic import Field

from edrix.logbook import services
from edrix.logbook.importing import LogFile
from edrix.logbook.models import LogEntry
from edrix.shapes import In
from valvetrain.siblings import look_for
from valvetrain.trend import ValveTrend
from valvetrain.trend_words import rate_words, says


class LogGapOut(Schema):
    valve: int
    found_typed: str
    found_mm: Decimal | None
    left_typed: str
    left_mm: Decimal | None
    shim_mm: Decimal | None
    reason: str


class LogEntryOut(Schema):
    """what is one of the kinds; by is who did it. source says what filled it in by itself."""

    id: int
    what: str
    at: datetime
    meter: Decimal | None
    cold: bool | None
    by: str
    note: str
    source: str | None
    corrects: int | None
    corrected_by: int | None
    written_by: str
    written_at: datetime
    gaps: list[LogGapOut]

    @staticmethod
    def of(entry: LogEntry) -> dict[str, Any]:
        plain = ("id", "what", "at", "meter", "cold", "by", "note", "source", "written_at")
        corrected = getattr(entry, "corrected_by", None)
        return {name: getattr(entry, name) for name in plain} | {
            "corrects": entry.corrects_id,
            "corrected_by": None if corrected is None else corrected.id,
            "written_by": entry.written_by.display_name,
            "gaps": sorted(entry.gaps.all(), key=lambda gap: gap.valve),
        }


class LogPageOut(Schema):
    """A page of entries, newest first; total counts all that were asked for."""

    stand_id: int
    stand: str
    meter_unit: str
    total: int
    page: int
    entries: list[LogEntryOut]

    @staticmethod
    def of(told: services.LogPage) -> dict[str, Any]:
        return {
            "stand_id": told.stand.id,
            "stand": told.stand.name,
            "meter_unit": told.stand.meter,
            "total": told.total,
            "page": services.PAGE,
            "entries": [LogEntryOut.of(entry) for entry in told.entries],
        }


class LogGapIn(In):
    valve: int
    found: str = Field("", max_length=40)
    left: str = Field("", max_length=40)
    shim: str = Field("", max_length=40)
    unit: str = Field("mm", max_length=10)
    reason: str = Field("", max_length=120)


class LogEntryIn(In):
    """at without a zone is the school's time; null is now. corrects: the entry that this mends."""

    what: str = Field(max_length=10)
    at: datetime | None = None
    meter: str = Field("", max_length=20)
    cold: bool | None = None
    by: str = Field("", max_length=200)
    note: str = Field("", max_length=500)
    gaps: list[LogGapIn] = Field([], max_length=200)
    corrects: int | None = None

    def typed(self) -> services.TypedEntry:
        gaps = [services.TypedLogGap(**gap.model_dump()) for gap in self.gaps]
        return services.TypedEntry(**self.model_dump(exclude={"gaps"}), gaps=gaps)


class PointOut(Schema):
    meter: float
    found_mm: float | None
    left_mm: float | None


class StretchOut(Schema):
    from_h: float
    from_mm: float
    to_h: float
    to_mm: float


class ValveTrendOut(Schema):
    """Rates in µm per 100 of the meter's unit, negative where the gap closes. ahead is where the
    gap goes from here: the expected line and the fastest, each to the limit that it reaches."""

    valve: int
    cylinder: int
    role: str
    low_mm: float
    high_mm: float
    written_in: str
    """The unit of its spec."""
    rate: float | None
    rate_low: float | None
    rate_high: float | None
    rate_says: str
    last_meter: float
    last_mm: float
    side: str | None
    expected: float | None
    soonest: float | None
    outside: bool
    back_in: float | None = None
    """The meter at which a valve that is out of spec is in it again, at its rate."""
    points: list[PointOut]
    stretches: list[StretchOut]


class OddOut(Schema):
    valve: int
    odds: float
    look_for: str


class TrendOut(Schema):
    """next_look is null where nothing can be said; first are the valves that set it."""

    stand_id: int
    stand: str
    engine: str
    meter_unit: str
    meter_now: Decimal | None
    next_look: int | None
    first: list[int]
    says: list[str]
    odd: list[OddOut]
    valves: list[ValveTrendOut]

    @staticmethod
    def of(told: services.StandTrend) -> dict[str, Any]:
        engine, found = told.engine, told.found
        now = None if told.meter_now is None else float(told.meter_now)
        nothing = "The log has no gap at a known meter reading yet: measure, and write it down."
        return {
            "stand_id": told.stand.id,
            "stand": told.stand.name,
            "engine": told.stand.engine_version.engine.name,
            "meter_unit": told.stand.meter,
            "meter_now": told.meter_now,
            "next_look": found.next_look_h if found else None,
            "first": list(found.first) if found else [],
            "says": list(says(found, told.odd, engine, now, told.stand.meter))
            if found
            else [nothing],
            "odd": [
                {
                    "valve": one.valve,
                    "odds": one.odds,
                    "look_for": look_for(engine, engine.valve[one.valve].role, one.way),
                }
                for one in told.odd
            ],
            "valves": [_valve(told, of) for of in found.valves] if found else [],
        }


def _valve(told: services.StandTrend, of: ValveTrend) -> dict[str, Any]:
    valve = told.engine.valve[of.valve]
    spec = told.engine.clearance[valve.role]
    return {
        "valve": of.valve,
        "cylinder": valve.cylinder,
        "role": valve.role.value,
        "low_mm": float(spec.low_mm),
        "high_mm": float(spec.high_mm),
        "written_in": spec.unit.value,
        "rate": of.rate_um_per_100h,
        "rate_low": of.rate_low,
        "rate_high": of.rate_high,
        "rate_says": rate_words(of, told.stand.meter),
        "last_meter": of.last_hours,
        "last_mm": of.last_mm,
        "side": of.side,
        "expected": of.expected_h,
        "soonest": of.soonest_h,
        "outside": of.is_outside,
        "back_in": of.back_in_h,
        "points": [
            {"meter": look.hours, "found_mm": look.gap_mm, "left_mm": look.left_mm}
            for look in told.looks
            if look.valve == of.valve
        ],
        "stretches": [one._asdict() for one in of.stretches],
    }


class LogFaultOut(Schema):
    row: int
    problem: str


class LogFileOut(Schema):
    """What a file comes to, before anything is kept. Rows are counted as in the file."""

    rows: int
    entries: int
    from_at: datetime | None
    to_at: datetime | None
    faults: list[LogFaultOut]
    notes: list[str]

    @staticmethod
    def of(seen: LogFile) -> dict[str, Any]:
        times = [entry.at for entry, _ in seen.entries]
        return {
            "rows": seen.rows,
            "entries": len(seen.entries),
            "from_at": min(times, default=None),
            "to_at": max(times, default=None),
            "faults": [{"row": row, "problem": reason} for row, reason in seen.faults],
            "notes": seen.notes,
        }
