"""A sheet as it is being written, on one device or on several at once: nothing wipes anything.

Example: Ines has her sheet open on a tablet and on her phone. On the tablet she writes valve 3, on
the phone valve 5: each sends what it changed, with what it was based on, and both are kept. Then
both change valve 3: the first is kept, and the second is told what stands there now, and asks her.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from django.db import transaction

from edrix.accounts.models import User
from edrix.errors import ConflictError
from edrix.sheets.lines import TypedLine
from edrix.sheets.models import Draft, HandIn, Sheet
from edrix.sheets.services import draft_lines, locked, sheet_to_write


@dataclass(frozen=True, slots=True)
class Change:
    """A valve's line as it is now on a device, and as that device last had it from the server."""

    line: TypedLine
    based_on: TypedLine


@dataclass(frozen=True, slots=True)
class Clash:
    """A field that another device has changed to something else meanwhile: theirs is kept."""

    valve: int
    field: str
    mine: str
    theirs: str


@dataclass(frozen=True, slots=True)
class Merged:
    """lines: every line of the draft as it stands now."""

    lines: list[TypedLine]
    clashes: list[Clash]


@transaction.atomic
def save(user: User, sheet_id: int, changes: Iterable[Change]) -> Merged:
    """Keeps what was typed, right or wrong, valve by valve and field by field. Without changes it
    tells what stands. Raises ConflictError once the sheet is handed in."""
    sheet = sheet_to_write(user, sheet_id)
    if not (changed := list(changes)):
        return Merged(draft_lines(user, sheet), [])
    draft = _locked(user, sheet)
    if HandIn.objects.filter(sheet=sheet, student=user).exists():
        raise ConflictError("This sheet is handed in; it can no longer be changed.")
    known = {line["valve"]: TypedLine.model_validate(line) for line in draft.lines}
    clashes: list[Clash] = []
    before = dict(known)
    for change in changed:
        now = known.get(change.line.valve) or _line(change.line.valve, {})
        known[change.line.valve], found = merge(change, now)
        clashes += found
    if known != before:
        draft.lines = [known[valve].model_dump() for valve in sorted(known)]
        draft.save()
    return Merged([known[valve] for valve in sorted(known)], clashes)


def _locked(user: User, sheet: Sheet) -> Draft:
    """The draft, held until the transaction ends: two devices at once come one after the other.

    A first draft is made under the sheet's own lock, which a hand-in takes: else it could be made
    while the other device hands in, and stay behind after it.
    """
    own = Draft.objects.select_for_update().filter(sheet=sheet, student=user)
    draft = own.first()
    if draft is None:
        locked(sheet.id)
        # Made, or taken away by a hand-in, while this waited for the sheet.
        draft = own.first()
    return draft or Draft(sheet=sheet, student=user)


def merge(change: Change, now: TypedLine) -> tuple[TypedLine, list[Clash]]:
    """A line with what this device changed, where nobody else changed it to something else."""
    mine, base, theirs = _fields(change.line), _fields(change.based_on), _fields(now)
    kept, clashes = dict(theirs), []
    for field in dict.fromkeys((*mine, *base, *theirs)):
        own, was, there = mine.get(field), base.get(field), theirs.get(field)
        if own in (was, there):
            continue
        if there == was:
            kept[field] = own
        else:
            clashes.append(Clash(now.valve, field, _shown(own), _shown(there)))
    return _line(now.valve, kept), clashes


READING = "reading"
"""A figure and its unit are one field: half of each would be another gap."""
_FURTHER = "further."


def _fields(line: TypedLine) -> dict[str, Any]:
    """What is written, by field; what is blank is left out, so that blank equals blank."""
    told = {
        READING: (line.reading, line.unit) if line.reading else None,
        "crank_deg": line.crank_deg,
        "verdict": line.verdict or None,
        **{f"{_FURTHER}{name}": text or None for name, text in line.further.items()},
    }
    return {field: value for field, value in told.items() if value is not None}


def _line(valve: int, fields: dict[str, Any]) -> TypedLine:
    reading, unit = fields.get(READING) or ("", "mm")
    return TypedLine(
        valve=valve,
        reading=reading,
        unit=unit,
        crank_deg=fields.get("crank_deg"),
        verdict=fields.get("verdict"),
        further={
            name.removeprefix(_FURTHER): text
            for name, text in fields.items()
            if name.startswith(_FURTHER) and text is not None
        },
    )


def _shown(value: Any) -> str:
    """As people read it: `0.25 mm`, `90°`, `tight`; blank where it was taken out."""
    if value is None:
        return ""
    if isinstance(value, tuple):
        return " ".join(value)
    return f"{value:g}°" if isinstance(value, float) else str(value)
