"""Sheets, drafts and hand-ins that come back with a class: whether they can have been."""

from collections import defaultdict
from decimal import Decimal

from edrix.engines import services as engines
from edrix.sheets.lines import TypedLine, entry_of, read_lines, typed_of
from edrix.sheets.models import Draft, HandIn, Reading, Sheet
from valvetrain.engine import Engine
from valvetrain.grading import ASKS, COLUMNS, Entry, Written


def prove(class_id: int) -> None:
    """Raises ValueError, or what refuses such a thing when it is typed, for a sheet of another
    stand's key, a line that nobody could have handed in, or a draft that is none."""
    of_sheet: dict[int, Engine] = {}
    sheets = Sheet.objects.filter(teaching_class_id=class_id)
    for sheet in sheets.select_related("stand__engine_version", "key"):
        of_sheet[sheet.id] = engines.core_engine(sheet.stand.engine_version)
        engines.plan(sheet.stand.engine_version, sheet.method)
        _names(sheet.asks, set(ASKS))
        if sheet.key.stand_id != sheet.stand_id:
            raise ValueError("a sheet is marked by another stand's key")
    for draft in Draft.objects.filter(sheet__in=of_sheet):
        lines = [TypedLine.model_validate(line) for line in draft.lines]
        if len({line.valve for line in lines}) != len(lines):
            raise ValueError("a valve stands twice in a draft")
    _prove_hand_ins(of_sheet)


def _prove_hand_ins(of_sheet: dict[int, Engine]) -> None:
    readings: defaultdict[int, list[Reading]] = defaultdict(list)
    for reading in Reading.objects.filter(hand_in__sheet__in=of_sheet).order_by("id"):
        readings[reading.hand_in_id].append(reading)
    hand_ins = HandIn.objects.filter(sheet__in=of_sheet)
    for hand_in in hand_ins.select_related("key", "sheet"):
        _names(hand_in.not_asked, set(COLUMNS))
        if hand_in.key.stand_id != hand_in.sheet.stand_id:
            raise ValueError("a hand-in is marked by another stand's key")
        # Read once more as they were typed: by whatever refuses a line refuses these.
        typed = [typed_of(reading) for reading in readings[hand_in.id]]
        read = read_lines(of_sheet[hand_in.sheet_id], typed)
        kept = [entry_of(reading) for reading in readings[hand_in.id]]
        if _lengths(read) != _lengths(kept):
            raise ValueError("a reading is not what was typed")


def _lengths(entries: list[Entry]) -> dict[int, tuple[Decimal | None, dict[str, Written]]]:
    """By valve: the reading in mm, and the further columns."""
    return {entry.valve: (entry.reading_mm, dict(entry.further)) for entry in entries}


def _names(given: object, known: set[str]) -> None:
    """A list of names that there are."""
    if not isinstance(given, list) or not set(given) <= known:
        raise ValueError(f"{given} are none of {known}")
