"""What fills the logbook in by itself: keys as they are measured, sheets as they are handed in,
lists as they are ticked. Each once, in the transaction in which it happens."""

from collections.abc import Iterator
from datetime import datetime
from decimal import Decimal
from typing import Any, NamedTuple

from edrix.accounts.models import User
from edrix.logbook.models import LogEntry, LogGap
from edrix.logbook.services import keep, newest_meter, read_meter
from edrix.safety.services import Opening
from edrix.safety.signals import list_ticked
from edrix.stands import services as stands
from edrix.stands.services import Key, Stand
from edrix.stands.signals import key_entered


class Left(NamedTuple):
    """One valve as a sheet says that it was found, and left where it was adjusted."""

    valve: int
    found_typed: str
    found_mm: Decimal | None
    left_typed: str
    left_mm: Decimal | None
    shim_mm: Decimal | None
    reason: str = ""
    """Why it was left as it was, where the sheet says so."""


def listen() -> None:
    key_entered.connect(_key, dispatch_uid="logbook")
    list_ticked.connect(_lists, dispatch_uid="logbook")


def _key(sender: type[Key], *, key: Key, meter: str, **_: Any) -> None:
    stand = key.stand
    entry = LogEntry(
        stand=stand,
        what=LogEntry.What.KEY,
        at=key.made_at,
        meter=read_meter(stand, meter, key.made_at),
        cold=stand.warm_until is None or stand.warm_until <= key.made_at,
        by=key.note or key.made_by.display_name,
        note=f"Key {key.number}{_ORIGINS.get(key.origin, '')}",
        source=f"key {key.id}",
        written_by=key.made_by,
    )
    keep((entry, list(_key_gaps(key))))


_ORIGINS = {"passes": ", of several passes", "adjusted": ", as a checked sheet left it"}


def _key_gaps(key: Key) -> Iterator[LogGap]:
    """What was measured was found so. A key that follows an adjusting says what was left, and only
    of the valves that moved."""
    gaps = list(key.gaps.all())
    if key.origin != "adjusted":
        for gap in gaps:
            typed = f"{gap.typed} {gap.unit}"
            yield LogGap(valve=gap.valve, found_typed=typed, found_mm=gap.gap_mm)
        return
    before = stands.gaps_before(key)
    for gap in gaps:
        if before.get(gap.valve) != gap.gap_mm:
            typed = f"{gap.typed} {gap.unit}"
            yield LogGap(valve=gap.valve, left_typed=typed, left_mm=gap.gap_mm)


def _lists(sender: type[Opening], *, opening: Opening, closing: bool, **_: Any) -> None:
    if opening.stand is None:
        return
    lines = (opening.closed if closing else opening.opened) or []
    at = (opening.closed_at if closing else None) or opening.opened_at
    called = "Closing" if closing else "Isolation"
    entry = LogEntry(
        stand=opening.stand,
        what=LogEntry.What.LISTS,
        at=at,
        meter=newest_meter(opening.stand, at),
        by=opening.person.display_name,
        note=f"{called} list ticked, {len(lines)} lines",
        source=f"{'closing' if closing else 'opening'} {opening.id}",
        written_by=opening.person,
    )
    keep((entry, []))


class HandedIn(NamedTuple):
    """A sheet as it came in: who by, when, and its valves."""

    hand_in_id: int
    student: User
    at: datetime
    valves: list[Left]


def sheets_handed_in(stand: Stand, title: str, made: list[HandedIn]) -> None:
    """Some hand-ins at once. Where one adjusted, every key that was measured before is stale."""
    if not made:
        return
    meter = newest_meter(stand, made[-1].at)
    entries = [
        LogEntry(
            stand=stand,
            what=LogEntry.What.SHEET,
            at=one.at,
            meter=meter,
            by=one.student.display_name,
            note=title,
            source=f"hand-in {one.hand_in_id}",
            written_by=one.student,
        )
        for one in made
    ]
    LogEntry.objects.bulk_create(entries)
    LogGap.objects.bulk_create(
        (
            LogGap(entry=entry, **valve._asdict())
            for entry, one in zip(entries, made, strict=True)
            for valve in one.valves
        ),
        batch_size=2000,
    )
    adjusting = [one for one in made if any(valve.left_mm is not None for valve in one.valves)]
    if adjusting:
        last = max(adjusting, key=lambda one: one.at)
        stands.was_adjusted(stand.id, last.at, f"{last.student.display_name}, {title}")
