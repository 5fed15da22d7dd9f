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
from valvetrain.adjusters import gap_with_shim


@dataclass(frozen=True, slots=True)
class NextGap:
    """why is how the new gap is known; empty where the valve was left as it was."""

    valve: int
    now_mm: Decimal
    becomes_mm: Decimal
    why: str

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
    gaps = [_next(valve, now_mm[valve], written.get(valve)) for valve in order]
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
    gaps = [stands.TypedGap(gap.valve, f"{gap.becomes_mm:f}", "mm") for gap in seen.gaps]
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


def _next(valve: int, now_mm: Decimal, reading: Reading | None) -> NextGap:
    if reading is not None:
        after = reading.further.get("after")
        if after is not None:
            return NextGap(valve, now_mm, Decimal(after["mm"]), f"reads {after['typed']} now")
        fitted, chosen = (reading.further.get(f"shim_{name}") for name in ("fitted", "chosen"))
        if fitted and chosen and fitted["mm"] != chosen["mm"]:
            becomes = gap_with_shim(now_mm, Decimal(fitted["mm"]), Decimal(chosen["mm"]))
            why = f"shim {chosen['typed']} in place of {fitted['typed']}"
            return NextGap(valve, now_mm, becomes, why)
    return NextGap(valve, now_mm, now_mm, "")
