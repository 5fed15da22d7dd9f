"""The logbook of a stand, for instructors who teach with it: written, read, corrected, and what its
gaps say of wear."""

from bisect import bisect_right
from collections.abc import Collection, Iterable
from dataclasses import dataclass, field
from datetime import datetime
from decimal import Decimal
from typing import NamedTuple

from django.db import transaction
from django.db.models import QuerySet
from django.utils import timezone

from edrix import clock
from edrix.accounts.models import User
from edrix.engines import services as engines
from edrix.errors import ConflictError, FieldFault, InvalidError, NotFoundError
from edrix.logbook.models import LogEntry as LogEntry
from edrix.logbook.models import LogGap as LogGap
from edrix.stands import services as stands
from edrix.stands.services import Stand
from valvetrain.constants import MOST_HOURS, NOT_A_GAP_MM
from valvetrain.engine import Engine
from valvetrain.gauges import Spec
from valvetrain.siblings import Odd, odd_ones
from valvetrain.trend import LogLook, Trend, TrendError, trend
from valvetrain.units import LengthError, Unit, parse_figure, parse_mm, to_record_mm

PAGE = 50
WRITTEN = (
    LogEntry.What.MEASURED,
    LogEntry.What.ADJUSTED,
    LogEntry.What.SERVICE,
    LogEntry.What.RUN,
    LogEntry.What.FAULT_IN,
    LogEntry.What.FAULT_OUT,
    LogEntry.What.NOTE,
)
"""What a person writes; the rest is filled in by itself."""


@dataclass(frozen=True, slots=True)
class TypedLogGap:
    valve: int
    found: str = ""
    left: str = ""
    shim: str = ""
    unit: str = "mm"
    reason: str = ""
    """Why it was left out of its spec."""


@dataclass(frozen=True, slots=True)
class TypedEntry:
    """An entry as somebody typed it; at is now where it is None, by is who writes where blank."""

    what: str
    at: datetime | None = None
    meter: str = ""
    cold: bool | None = None
    by: str = ""
    note: str = ""
    gaps: list[TypedLogGap] = field(default_factory=list)
    corrects: int | None = None


class LogPage(NamedTuple):
    stand: Stand
    entries: list[LogEntry]
    total: int


def log_of(user: User, stand_id: int, *, skip: int = 0, whats: Collection[str] = ()) -> LogPage:
    """A page of the log, newest first; whats are the kinds of entry, all where there are none."""
    stand = stands.get_stand(user, stand_id)
    found = LogEntry.objects.filter(stand=stand)
    if whats:
        # What is no kind of entry finds nothing, and is not asked of the database.
        found = found.filter(what__in=[what for what in whats if what in LogEntry.What.values])
    page = found.order_by("-at", "-id").select_related("corrects", "corrected_by", "written_by")
    return LogPage(stand, list(page.prefetch_related("gaps")[skip : skip + PAGE]), found.count())


def whole_log(user: User, stand_id: int) -> tuple[Stand, QuerySet[LogEntry]]:
    """Every entry, oldest first."""
    stand = stands.get_stand(user, stand_id)
    found = LogEntry.objects.filter(stand=stand).order_by("at", "id")
    return stand, found.select_related("corrects", "corrected_by").prefetch_related("gaps")


@transaction.atomic
def write(user: User, stand_id: int, typed: TypedEntry) -> LogEntry:
    """A new entry, or one that corrects an earlier one. Raises InvalidError with every fault."""
    stand = stands.get_stand(user, stand_id)
    entry, gaps = read_entry(user, stand, typed)
    if typed.corrects is not None:
        entry.corrects = _to_correct(stand, typed.corrects)
    keep((entry, gaps))
    if any(gap.left_mm is not None for gap in gaps):
        stands.was_adjusted(stand.id, entry.at, entry.by)
    if entry.what == LogEntry.What.RUN:
        stands.warm_from(stand, entry.at)
    return entry


class Meters:
    """What the log says of a stand's meter, read once for as many entries as are to be judged."""

    def __init__(self, stand: Stand, without: int | None = None):
        known = LogEntry.objects.filter(stand=stand, meter__isnull=False, corrected_by__isnull=True)
        rows = known.exclude(id=without or 0).order_by("at", "id").values_list("at", "meter")
        self._rows = [(at, meter) for at, meter in rows if meter is not None]
        self._times = [at for at, _ in self._rows]

    def newest(self, at: datetime) -> Decimal | None:
        upto = bisect_right(self._times, at)
        return self._rows[upto - 1][1] if upto else None

    def around(self, at: datetime) -> tuple[tuple[datetime, Decimal] | None, ...]:
        """The largest reading up to then, and the smallest after it."""
        upto = bisect_right(self._times, at)
        before = max(self._rows[:upto], key=lambda row: row[1], default=None)
        return before, min(self._rows[upto:], key=lambda row: row[1], default=None)


def read_entry(
    user: User, stand: Stand, typed: TypedEntry, known: Meters | None = None
) -> tuple[LogEntry, list[LogGap]]:
    """An entry as it would be kept; keeps nothing. known saves asking for each of many."""
    faults: list[FieldFault] = []
    if typed.what not in WRITTEN:
        faults.append(FieldFault("what", f"choose one of {', '.join(WRITTEN)}"))
    at, meter = timezone.now(), None
    try:
        at = at if typed.at is None else clock.given(typed.at, "at")
        if at > timezone.now():
            faults.append(FieldFault("at", "lies in the future; write down what was done"))
        meter = read_meter(stand, typed.meter, at, known or Meters(stand, typed.corrects))
    except InvalidError as fault:
        faults += fault.faults
    gaps = _gaps(engines.core_engine(stand.engine_version), typed.gaps, faults)
    if not gaps and not typed.note.strip() and typed.what in _NEEDS_WORDS:
        faults.append(FieldFault("note", "say what was done, or write a gap down"))
    if faults:
        told = "; ".join(f"{fault.path}: {fault.problem}" for fault in faults[:3])
        raise InvalidError(f"The entry was not kept. {told}.", faults)
    entry = LogEntry(
        stand=stand,
        what=typed.what,
        at=at,
        meter=meter,
        cold=typed.cold,
        by=(" ".join(typed.by.split()) or user.display_name)[:200],
        note=" ".join(typed.note.split()),
        written_by=user,
    )
    return entry, gaps


_NEEDS_WORDS = frozenset(WRITTEN) - {LogEntry.What.RUN}


def keep(*entries: tuple[LogEntry, list[LogGap]]) -> None:
    LogEntry.objects.bulk_create([entry for entry, _ in entries], batch_size=1000)
    for entry, gaps in entries:
        for gap in gaps:
            gap.entry = entry
    LogGap.objects.bulk_create([gap for _, gaps in entries for gap in gaps], batch_size=5000)


def shim_fitted(user: User, stand: Stand, valve: int, shim_mm: Decimal) -> None:
    """A shim of the store went into a valve: its gap is another, and keys before are stale."""
    now = timezone.now()
    entry = LogEntry(
        stand=stand,
        what=LogEntry.What.ADJUSTED,
        at=now,
        meter=newest_meter(stand, now),
        by=user.display_name,
        note="A shim of the store fitted.",
        written_by=user,
    )
    keep((entry, [LogGap(valve=valve, shim_mm=shim_mm)]))
    stands.was_adjusted(stand.id, now, user.display_name)


def forget_filled(stand_id: int) -> None:
    """What was filled in by itself, of a stand that goes with it."""
    LogEntry.objects.filter(stand_id=stand_id, source__isnull=False).delete()


def newest_meter(stand: Stand, at: datetime) -> Decimal | None:
    """What the meter read last, as of then."""
    return Meters(stand).newest(at)


def newest_meters(stand_ids: Collection[int]) -> dict[int, Decimal]:
    """The same of many stands, as of now."""
    known = LogEntry.objects.filter(
        stand_id__in=stand_ids, meter__isnull=False, corrected_by__isnull=True
    )
    rows = known.order_by("stand_id", "-at", "-id").distinct("stand_id")
    return {
        stand_id: meter
        for stand_id, meter in rows.values_list("stand_id", "meter")
        if meter is not None
    }


def read_meter(
    stand: Stand, typed: str, at: datetime, known: Meters | None = None
) -> Decimal | None:
    """What the meter read, or what it read last where nobody looked. Raises InvalidError for one
    that goes back against an entry before, or ahead of one after."""
    known = known or Meters(stand)
    if not typed.strip():
        return known.newest(at)
    try:
        meter = parse_figure(typed).quantize(Decimal("0.1"))
    except LengthError as fault:
        raise InvalidError(f"The meter: {fault}.", [FieldFault("meter", str(fault))]) from None
    if not 0 <= meter <= MOST_HOURS:
        raise _bad_meter(f"{meter} is no meter reading; give 0 to {MOST_HOURS:,}")
    before, after = known.around(at)
    if before is not None and before[1] > meter:
        raise _bad_meter(
            f"{meter} {stand.meter} lies behind {before[1]} {stand.meter} of "
            f"{clock.day(before[0])}, and a meter never goes back; mend the figure, the day, or "
            "correct that entry"
        )
    if after is not None and after[1] < meter:
        raise _bad_meter(
            f"{meter} {stand.meter} lies ahead of {after[1]} {stand.meter} of "
            f"{clock.day(after[0])}, which is later; mend the figure or the day"
        )
    return meter


def _bad_meter(problem: str) -> InvalidError:
    return InvalidError(f"The meter: {problem}.", [FieldFault("meter", problem)])


def _to_correct(stand: Stand, entry_id: int) -> LogEntry:
    """Raises NotFoundError, or ConflictError where it is corrected already."""
    found = LogEntry.objects.select_for_update(of=("self",)).filter(stand=stand, id=entry_id)
    entry = found.first()
    if entry is None:
        raise NotFoundError(f"There is no entry {entry_id} in this logbook.")
    if LogEntry.objects.filter(corrects=entry).exists():
        raise ConflictError("That entry is corrected already; correct the entry that corrects it.")
    return entry


def _gaps(engine: Engine, typed: Iterable[TypedLogGap], faults: list[FieldFault]) -> list[LogGap]:
    gaps: dict[int, LogGap] = {}
    for one in typed:
        path = f"valve {one.valve}"
        if one.valve not in engine.valve:
            faults.append(FieldFault(path, "is not on this engine"))
        elif one.valve in gaps:
            faults.append(FieldFault(path, "is given twice"))
        elif gap := _gap(one, path, faults):
            gaps[one.valve] = gap
    return list(gaps.values())


def _gap(typed: TypedLogGap, path: str, faults: list[FieldFault]) -> LogGap | None:
    """None where all of it is blank."""
    lengths: dict[str, Decimal] = {}
    for name, text in (("found", typed.found), ("left", typed.left), ("shim", typed.shim)):
        if not text.strip():
            continue
        try:
            length = to_record_mm(parse_mm(text.strip(), Unit(typed.unit)))
        except (LengthError, ValueError) as fault:
            faults.append(FieldFault(path, f"{name}: {fault}"))
            continue
        if not 0 <= length <= NOT_A_GAP_MM:
            faults.append(FieldFault(path, f"{name}: {length} mm; give 0 to {NOT_A_GAP_MM} mm"))
            continue
        lengths[name] = length
    if not lengths:
        return None
    return LogGap(
        valve=typed.valve,
        found_typed=_as_typed(typed.found, typed.unit) if "found" in lengths else "",
        found_mm=lengths.get("found"),
        left_typed=_as_typed(typed.left, typed.unit) if "left" in lengths else "",
        left_mm=lengths.get("left"),
        shim_mm=lengths.get("shim"),
        reason=typed.reason.strip(),
    )


def _as_typed(text: str, unit: str) -> str:
    text = text.strip()
    return text if text[-1:].isalpha() else f"{text} {unit}"


@dataclass(frozen=True, slots=True)
class StandTrend:
    """found is None where the log has no gap at a known meter reading yet."""

    stand: Stand
    engine: Engine
    found: Trend | None
    odd: tuple[Odd, ...]
    looks: list[LogLook]
    meter_now: Decimal | None


def trend_of(user: User, stand_id: int, *, with_sheets: bool = False) -> StandTrend:
    """How the gaps of a stand move. Keys and instructors' entries count; with_sheets also what
    students found. What anybody left a valve at always begins a new stretch."""
    stand = stands.get_stand(user, stand_id)
    engine = engines.core_engine(stand.engine_version)
    looks = _looks(stand, with_sheets)
    every = None
    if engine.interval is not None:
        every = engine.interval.hours if stand.meter == "h" else engine.interval.km
    specs = {
        valve.number: Spec(
            engine.clearance[valve.role].low_mm, engine.clearance[valve.role].high_mm
        )
        for valve in engine.valves
    }
    roles = {valve.number: valve.role.value for valve in engine.valves}
    now = newest_meter(stand, timezone.now())
    if not looks:
        return StandTrend(stand, engine, None, (), [], now)
    try:
        found = trend(looks, specs, every)
    except TrendError as refusal:
        raise ConflictError(f"No trend can be made of this log: {refusal}.") from None
    return StandTrend(stand, engine, found, odd_ones(found.valves, roles), looks, now)


def _looks(stand: Stand, with_sheets: bool) -> list[LogLook]:
    rows = (
        LogGap.objects.filter(
            entry__stand=stand, entry__meter__isnull=False, entry__corrected_by__isnull=True
        )
        .order_by("entry__meter", "entry__at", "entry_id", "valve")
        .values_list("entry__meter", "valve", "found_mm", "left_mm", "entry__what")
    )
    looks = []
    for line, (meter, valve, found_mm, left_mm, what) in enumerate(rows, start=1):
        counts = with_sheets or what != LogEntry.What.SHEET
        gap_mm = float(found_mm) if found_mm is not None and counts else None
        if meter is not None and (gap_mm is not None or left_mm is not None):
            left = None if left_mm is None else float(left_mm)
            looks.append(LogLook(line, float(meter), valve, gap_mm, left))
    return looks
