"""A log of the past from a CSV or XLSX file: looked at first, then taken whole or not at all.

One row for each valve that was looked at; rows of one day, meter, person and note are one entry.
"""

import hashlib
import re
from collections.abc import Sequence
from datetime import datetime, time
from typing import Any, NamedTuple

from django.db import transaction

from edrix import clock
from edrix.accounts.models import User
from edrix.errors import ConflictError, FieldFault, InvalidError
from edrix.jobs import services as jobs
from edrix.jobs.services import Done, Job, Working
from edrix.logbook.models import LogEntry, LogGap
from edrix.logbook.services import (
    WRITTEN,
    Meters,
    TypedEntry,
    TypedLogGap,
    keep,
    read_entry,
)
from edrix.stands import services as stands
from edrix.stands.services import Stand
from edrix.table_file import read_table

COLUMNS: dict[str, tuple[str, ...]] = {
    "day": ("day", "date", "when", "at"),
    "meter": ("meter", "hours", "h", "km", "hour meter"),
    "valve": ("valve", "valve no", "number"),
    "found": ("found", "gap", "gap_mm", "found_mm", "reading"),
    "left": ("left", "left_mm", "left at", "set to"),
    "shim": ("shim", "shim_mm", "shim in it"),
    "unit": ("unit",),
    "reason": ("reason", "left because"),
    "what": ("what", "kind"),
    "by": ("by", "who", "by whom"),
    "note": ("note", "notes", "remark"),
    "cold": ("cold", "engine"),
    "corrected": ("corrected",),
}
"""What a column may be called. Common practice."""
KIND = "log-in"
NEEDED = ("day", "meter", "valve")
NOON = time(12)
"""A row that gives a day only was done in the middle of it."""
_DAY_FIRST = re.compile(r"(\d{1,2})\.(\d{1,2})\.(\d{4})")
"""With points the day comes first everywhere; with slashes, here the day and there the month."""


class LogFile(NamedTuple):
    """What a file comes to; faults are (row in the file, reason). Nothing is kept."""

    rows: int
    entries: list[tuple[LogEntry, list[LogGap]]]
    faults: list[tuple[int, str]]
    notes: list[str]


def look(user: User, stand_id: int, data: bytes) -> LogFile:
    """For instructors. Raises InvalidError for what is no table of a log at all."""
    stand = stands.get_stand(user, stand_id)
    table = read_table(data)
    at = _understood(table.rows[0])
    faults = [(row + 1, reason) for (row, _), reason in sorted(table.faults.items())]
    groups = _groups(table.rows, at, faults)
    entries = _entries(user, stand, groups, faults)
    return LogFile(len(table.rows) - 1, entries, sorted(faults), table.notes)


def ask(user: User, stand_id: int, data: bytes) -> Job:
    """A worker takes it in. Who may not is told at once."""
    stands.get_stand(user, stand_id)
    return jobs.ask(user, KIND, about=f"stand {stand_id}", given={"stand": stand_id}, file=data)


@transaction.atomic
def work(working: Working) -> Done:
    entries = take(working.asked_by, working.given["stand"], working.file)
    return working.finish(Done({"entries": entries}))


@transaction.atomic
def take(user: User, stand_id: int, data: bytes) -> int:
    """Keeps every row of a file, or none; gives how many entries. Raises InvalidError with every
    row that is wrong, and ConflictError for a file that was taken before."""
    seen = look(user, stand_id, data)
    if seen.faults:
        told = "; ".join(f"row {row}: {reason}" for row, reason in seen.faults[:3])
        raise InvalidError(
            f"Nothing was taken. {told}.",
            [FieldFault(f"row {row}", reason) for row, reason in seen.faults],
        )
    digest = hashlib.sha256(data).hexdigest()[:16]
    if LogEntry.objects.filter(stand_id=stand_id, source=f"file {digest} 1").exists():
        raise ConflictError("This file is in the log already; correct its entries there.")
    for number, (entry, _) in enumerate(seen.entries, start=1):
        entry.source = f"file {digest} {number}"
    keep(*seen.entries)
    adjusted = [e for e, gaps in seen.entries if any(g.left_mm is not None for g in gaps)]
    if adjusted:
        last = max(adjusted, key=lambda entry: entry.at)
        stands.was_adjusted(stand_id, last.at, last.by)
    return len(seen.entries)


def _understood(heading: Sequence[str]) -> dict[str, int]:
    """Column by name. Raises InvalidError where one that is needed is missing."""
    called = {name: at for at, name in enumerate(" ".join(h.lower().split()) for h in heading)}
    at = {
        column: called[name]
        for column, names in COLUMNS.items()
        for name in reversed(names)
        if name in called
    }
    missing = [column for column in NEEDED if column not in at]
    if missing:
        problem = f"has no column {missing[0]}; the first row names {', '.join(COLUMNS)}"
        raise InvalidError(f"This file {problem}.", [FieldFault("file", problem)])
    return at


class _Group(NamedTuple):
    row: int
    at: datetime
    gaps: list[TypedLogGap]
    cold: bool | None


_Key = tuple[str, str, str, str, str]


def _groups(
    rows: Sequence[Sequence[str]], at: dict[str, int], faults: list[tuple[int, str]]
) -> dict[_Key, _Group]:
    groups: dict[_Key, _Group] = {}
    for number, row in enumerate(rows[1:], start=2):
        cell = {name: row[place].strip() if place < len(row) else "" for name, place in at.items()}
        if cell.get("corrected", "").lower() == "yes":
            # A later entry of the same file stands in its place.
            continue
        moment = _moment(cell["day"])
        if moment is None:
            says = "may be read as two days" if "/" in cell["day"] else "is no day"
            wanted = "give a day like 2030-11-26, or 2030-11-26 14:30"
            faults.append((number, f"“{cell['day'][:20]}” {says}; {wanted}"))
            continue
        is_valve = cell["valve"].isascii() and cell["valve"].isdigit()
        if not is_valve and cell["valve"]:
            faults.append((number, f"the valve “{cell['valve'][:20]}” is no whole number"))
            continue
        what, by, note = (cell.get(name, "") for name in ("what", "by", "note"))
        key = (cell["day"], cell["meter"], what, by, note)
        cold = {"cold": True, "warm": False}.get(cell.get("cold", "").lower())
        group = groups.setdefault(key, _Group(number, moment, [], cold))
        if not is_valve:
            # A row without a valve: what was done, in words.
            continue
        group.gaps.append(
            TypedLogGap(
                int(cell["valve"][:9]),
                cell.get("found", ""),
                cell.get("left", ""),
                cell.get("shim", ""),
                cell.get("unit") or "mm",
                cell.get("reason", "")[:120],
            )
        )
    return groups


def _moment(text: str) -> datetime | None:
    day_first = _DAY_FIRST.fullmatch(text)
    if day_first:
        text = "-".join(part.zfill(2) for part in reversed(day_first.groups()))
    try:
        found = datetime.fromisoformat(text)
    except ValueError:
        return None
    return datetime.combine(found, NOON) if len(text) <= len("2030-11-26") else found


def _entries(
    user: User, stand: Stand, groups: dict[_Key, _Group], faults: list[tuple[int, str]]
) -> list[tuple[LogEntry, list[LogGap]]]:
    """Each as if it had been typed; the meter must not go back within the file either."""
    entries: list[tuple[LogEntry, list[LogGap]]] = []
    before: tuple[int, Any] | None = None
    known = Meters(stand)
    for (_, meter, what, by, note), group in groups.items():
        adjusted = any(gap.left for gap in group.gaps)
        kind = what if what in WRITTEN else "adjusted" if adjusted else "measured"
        typed = TypedEntry(
            kind,
            group.at,
            meter,
            cold=group.cold,
            by=by,
            note=note or "From the log of before.",
            gaps=group.gaps,
        )
        try:
            entry, gaps = read_entry(user, stand, typed, known)
        except InvalidError as fault:
            faults += [(group.row, f"{one.path}: {one.problem}") for one in fault.faults]
            continue
        fault_words = _against(before, entry)
        if fault_words:
            faults.append((group.row, fault_words))
            continue
        before = group.row, entry
        entries.append((entry, gaps))
    return entries


def _against(before: tuple[int, Any] | None, entry: LogEntry) -> str:
    if before is None:
        return ""
    row, last = before
    if entry.at < last.at:
        return (
            f"{clock.day(entry.at)} comes after {clock.day(last.at)} (row {row}); put the rows in "
            "order of time"
        )
    if entry.meter is not None and last.meter is not None and entry.meter < last.meter:
        return (
            f"{entry.meter} on the meter comes after {last.meter} (row {row}); it never goes back"
        )
    return ""
