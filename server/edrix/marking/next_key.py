"""A stand that was adjusted: what a checked sheet left becomes its next key."""

from dataclasses import dataclass
from decimal import Decimal

from django.db import transaction

from edrix.accounts.models import User
from edrix.engines import services as engines
from edrix.errors import ConflictError
from edrix.marking import services
from edrix.sheets import services as sheets
from edrix.sheets.services import HandIn, Reading
from edrix.stands import services as stands
from edrix.stands.services import Key
from valvetrain.adjusters import gap_with_shim, moved_by


@dataclass(frozen=True, slots=True)
class NextGap:
    """why is how the new gap is known; empty where the valve was left as it was."""

    valve: int
    now_mm: Decimal
    becomes_mm: Decimal
    why: str
    closing_mm: Decimal | None = None
    """What its closing gap becomes; None where it has none that was measured."""

    @property
    def moved(self) -> bool:
        return bool(self.why)


@dataclass(frozen=True, slots=True)
class NextKey:
    """based_on is the number of the stand's newest key, from which it moves on."""

    hand_in: HandIn
    based_on: int
    gaps: list[NextGap]

    @property
    def hand_in_id(self) -> int:
        return self.hand_in.id


def see(user: User, hand_in_id: int) -> NextKey:
    """What the stand's key would be after this sheet's adjusting; keeps nothing."""
    made = services.hand_in_for_instructor(user, hand_in_id)
    key = stands.newest_key(made.sheet.stand)
    now_mm = stands.key_gaps_mm(key.id)
    written = {reading.valve: reading for reading in made.readings.all()}
    order = engines.core_engine(made.sheet.stand.engine_version).valve
    closing_mm = stands.closing_gaps_mm(key.id)
    gaps = [
        _next(valve, now_mm[valve], closing_mm.get(valve), written.get(valve)) for valve in order
    ]
    return NextKey(made, key.number, gaps)


@transaction.atomic
def move_on(user: User, hand_in_id: int, *, based_on: int, this_sheet: bool) -> Key:
    """Makes it the stand's key; with this_sheet, those who hand in from now on are marked by it.

    Raises ConflictError where nothing was adjusted, or the stand has another key than was seen.
    """
    seen = see(user, hand_in_id)
    stand = seen.hand_in.sheet.stand
    if seen.based_on != based_on:
        raise ConflictError(
            f"{stand.name} has key {seen.based_on} by now; look at what becomes of it first."
        )
    if not any(gap.moved for gap in seen.gaps):
        raise ConflictError("By this sheet nothing was adjusted; the key stays as it is.")
    gaps = [
        stands.TypedGap(
            gap.valve,
            f"{gap.becomes_mm:f}",
            "mm",
            "" if gap.closing_mm is None else f"{gap.closing_mm:f}",
        )
        for gap in seen.gaps
    ]
    before = stands.newest_key(stand)
    key = stands.enter_key(
        user,
        stand.id,
        gaps,
        f"{before.uncertainty_mm:f}",
        adjusted_by=f"{seen.hand_in.student.display_name}, {seen.hand_in.sheet.title}"[:200],
    )
    if this_sheet:
        sheets.move_to_key(seen.hand_in.sheet_id, key.id)
    return key


def _next(
    valve: int, now_mm: Decimal, closing_mm: Decimal | None, reading: Reading | None
) -> NextGap:
    if reading is None:
        return NextGap(valve, now_mm, now_mm, "", closing_mm)
    after = reading.further.get("after")
    if after is not None:
        why = f"reads {after['typed']} now"
        return NextGap(valve, now_mm, Decimal(after["mm"]), why, closing_mm)
    becomes_mm, whys = now_mm, []
    for kind, called in (("closing", "closing shim"), ("shim", "shim")):
        fitted, chosen = (reading.further.get(f"{kind}_{name}") for name in ("fitted", "chosen"))
        if not fitted or not chosen or fitted["mm"] == chosen["mm"]:
            continue
        sizes = Decimal(fitted["mm"]), Decimal(chosen["mm"])
        whys.append(f"{called} {chosen['typed']} in place of {fitted['typed']}")
        # A closing shim moves where the valve rests, and so both gaps.
        if kind == "closing":
            becomes_mm += moved_by(*sizes)
            closing_mm = None if closing_mm is None else gap_with_shim(closing_mm, *sizes)
        else:
            becomes_mm = gap_with_shim(becomes_mm, *sizes)
    return NextGap(valve, now_mm, max(Decimal(0), becomes_mm), ", ".join(whys), closing_mm)
