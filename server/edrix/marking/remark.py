"""Re-marking: when a stand's key was corrected, whose marks move, and by how much."""

from dataclasses import dataclass

from django.db import transaction
from django.utils import timezone

from edrix.accounts.models import User
from edrix.errors import ConflictError
from edrix.marking import services
from edrix.marking.marks import Markers, marking_of
from edrix.marking.models import Marking, ReMarking
from edrix.marking.standing import standing_of, with_decisions
from edrix.sheets import services as sheets
from edrix.sheets.lines import entry_of
from edrix.sheets.services import HandIn, Sheet
from edrix.stands import services as stands
from edrix.stands.services import Key


@dataclass(frozen=True, slots=True)
class Move:
    """One hand-in's points by the key it has and by another. marking is not saved yet."""

    hand_in: HandIn
    before: int
    after: int
    marking: Marking


@dataclass(frozen=True, slots=True)
class Remark:
    """What re-marking a sheet by a key comes to, or came to."""

    sheet: Sheet
    key: Key
    moves: list[Move]


def preview(user: User, sheet_id: int) -> Remark:
    """Whose marks would move if a sheet were marked by the stand's newest key."""
    sheet = sheets.sheet_for_instructor(user, sheet_id)
    key = stands.newest_key(sheet.stand)
    # Those whose key the sheet has left behind were measured before the stand was adjusted.
    made = list(services.handed_in(sheet).filter(key_id=sheet.key_id))
    return Remark(sheet, key, _moves(sheet, key, made))


@transaction.atomic
def remark(user: User, sheet_id: int, key_number: int) -> Remark:
    """Re-marks every hand-in by the newest key. key_number is the one whose moves were seen.

    Raises ConflictError where the stand was measured again meanwhile.
    """
    sheets.sheet_for_instructor(user, sheet_id)
    # Who hands in at this moment waits, and is marked by the new key.
    sheets.locked(sheet_id)
    seen = preview(user, sheet_id)
    if seen.key.number != key_number:
        raise ConflictError(
            f"{seen.sheet.stand.name} has key {seen.key.number} by now; look at whose marks it "
            "moves first."
        )
    ReMarking.objects.create(
        sheet=seen.sheet, from_key=seen.sheet.key, to_key=seen.key, made_by=user
    )
    return _moved(seen)


def last_of(sheet: Sheet) -> ReMarking | None:
    """The re-marking that may be taken back: the newest, while the sheet still has its key."""
    last = sheet.re_markings.filter(taken_back_at__isnull=True).order_by("-id").first()
    return last if last is not None and last.to_key_id == sheet.key_id else None


@transaction.atomic
def take_back(user: User, sheet_id: int) -> Remark:
    """Marks the sheet by the key that it had before it was re-marked; what was handed in since is
    marked by that too. Raises ConflictError where there is nothing to take back."""
    sheets.sheet_for_instructor(user, sheet_id)
    sheets.locked(sheet_id)
    sheet = sheets.sheet_for_instructor(user, sheet_id)
    last = last_of(sheet)
    if last is None:
        raise ConflictError(
            f"“{sheet.title}” was not re-marked, or has another key since; there is nothing to "
            "take back."
        )
    made = list(services.handed_in(sheet).filter(key_id=last.to_key_id))
    last.taken_back_at = timezone.now()
    last.save(update_fields=["taken_back_at"])
    return _moved(Remark(sheet, last.from_key, _moves(sheet, last.from_key, made)))


def _moved(seen: Remark) -> Remark:
    """Keeps it, for a transaction that holds the sheet."""
    Marking.objects.bulk_create([move.marking for move in seen.moves])
    sheets.move_to_key(seen.sheet.id, seen.key.id, [move.hand_in.id for move in seen.moves])
    seen.sheet.key = seen.key
    return seen


def _moves(sheet: Sheet, key: Key, hand_ins: list[HandIn]) -> list[Move]:
    """Every hand-in as it would stand with another key; overrides are kept."""
    markers = Markers(sheet, key)
    moves = []
    for hand_in in hand_ins:
        entries = [entry_of(reading) for reading in hand_in.readings.all()]
        marks = markers.of(hand_in.not_asked).mark(entries)
        marking = marking_of(hand_in, marks)
        after = with_decisions(marking, hand_in.decisions.all())
        moves.append(Move(hand_in, standing_of(hand_in).points, after.points, marking))
    return moves
