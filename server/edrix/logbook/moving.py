"""Log entries that come back with a class: whether they can have been, and what filled them in."""

from collections.abc import Mapping
from typing import Any

from edrix.engines import services as engines
from edrix.logbook.models import LogEntry, LogGap

FILLED_BY = {
    "key": "stands.Key",
    "hand-in": "sheets.HandIn",
    "opening": "safety.Opening",
    "closing": "safety.Opening",
}


def renumber(entries: list[dict[str, Any]], ids: Mapping[str, Mapping[int, int]]) -> None:
    """What filled an entry in has another id now; what did not come with it is forgotten."""
    known = {entry["id"] for entry in entries}
    for entry in entries:
        if entry["corrects_id"] not in known:
            entry["corrects_id"] = None
        if entry["source"] is None:
            continue
        kind, _, old = str(entry["source"]).partition(" ")
        if kind == "file":
            continue
        new = ids[FILLED_BY[kind]].get(int(old))
        entry["source"] = None if new is None else f"{kind} {new}"


def prove(class_id: int) -> None:
    """Raises ValueError for an entry of a kind or a valve that cannot be."""
    entries = LogEntry.objects.filter(stand__uses__teaching_class_id=class_id)
    for entry in entries.select_related("corrects"):
        LogEntry.What(entry.what)
        if entry.corrects is not None and entry.corrects.stand_id != entry.stand_id:
            raise ValueError("an entry corrects one of another stand")
    gaps = LogGap.objects.filter(entry__in=entries).select_related("entry__stand__engine_version")
    for gap in gaps:
        if gap.valve not in engines.core_engine(gap.entry.stand.engine_version).valve:
            raise ValueError(f"valve {gap.valve} is not on {gap.entry.stand.name}")
