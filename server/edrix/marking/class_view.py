"""A sheet of a whole class at a glance: students by valves, what explains them, keys in doubt."""

from dataclasses import dataclass

from edrix.engines import services as engines
from edrix.marking.findings import SheetFindings
from edrix.marking.marks import terms_by_key
from edrix.marking.standing import standing_of
from edrix.sheets.lines import entry_of
from edrix.sheets.services import HandIn, Sheet
from edrix.stands import services as stands
from valvetrain.grading.class_view import (
    ClassView,
    KeyGapSeen,
    SheetOutcome,
    ValveOutcome,
    see_class,
)


@dataclass(frozen=True, slots=True)
class SheetView:
    """hand_ins and sheets in the order of the view's rows: as they were handed in."""

    hand_ins: list[HandIn]
    sheets: list[SheetOutcome]
    key: dict[int, KeyGapSeen]
    view: ClassView


def view_of(sheet: Sheet, hand_ins: list[HandIn], told: SheetFindings) -> SheetView:
    """For instructors. The hand-ins come with their readings and what stands of their marks."""
    made = sorted(hand_ins, key=lambda one: (one.handed_in_at, one.id))
    key = _key(sheet)
    seen = [_seen(sheet, hand_in, told) for hand_in in made]
    # What an instructor took in came in the order of a file or of a stack.
    in_time = all(hand_in.entered_by_id is None for hand_in in made)
    return SheetView(made, seen, key, see_class(key, seen, in_time=in_time))


def _key(sheet: Sheet) -> dict[int, KeyGapSeen]:
    """The sheet's key as it is now, in the order of the head."""
    gaps_mm = stands.key_gaps_mm(sheet.key_id)
    terms = terms_by_key(sheet, {sheet.key_id})[sheet.key_id]
    engine = engines.core_engine(sheet.stand.engine_version)
    return {
        v.number: KeyGapSeen(
            float(gaps_mm[v.number]), float(terms.allowed_mm(v.number)), engine.clearance[v.role]
        )
        for v in engine.valves
    }


def _seen(sheet: Sheet, hand_in: HandIn, told: SheetFindings) -> SheetOutcome:
    entries = {reading.valve: entry_of(reading) for reading in hand_in.readings.all()}
    valves = {
        marks.valve: ValveOutcome(
            entries[marks.valve].gap_mm if marks.valve in entries else None,
            marks.error_mm,
            {part: mark.right for part, mark in marks.parts.items()},
        )
        for marks in standing_of(hand_in).valves
    }
    return SheetOutcome(valves, told.of[hand_in.id], hand_in.key_id == sheet.key_id)
