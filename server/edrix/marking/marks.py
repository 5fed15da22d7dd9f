"""The core's marks as they are stored, and what sheets are marked by."""

from collections.abc import Collection
from dataclasses import replace
from typing import Any

from edrix.engines import services as engines
from edrix.marking.models import Marking
from edrix.sheets.services import HandIn, Sheet
from edrix.stands import services as stands
from edrix.stands.services import Key
from valvetrain.grading import Marker, SheetMarks, Terms, ValveMarks


class Markers:
    """Mark sheets of one stand by one key: one for each set of columns that was not asked."""

    def __init__(self, sheet: Sheet, key: Key):
        self._engine = engines.core_engine(sheet.stand.engine_version)
        self._key_mm = stands.key_gaps_mm(key.id)
        self._terms = terms_by_key(sheet, {key.id})[key.id]
        self._made: dict[frozenset[str], Marker] = {}

    def of(self, not_asked: Collection[str] = ()) -> Marker:
        left_out = frozenset(not_asked)
        if left_out not in self._made:
            terms = replace(self._terms, not_asked=left_out)
            self._made[left_out] = Marker(self._engine, self._key_mm, terms)
        return self._made[left_out]


def terms_by_key(sheet: Sheet, key_ids: Collection[int]) -> dict[int, Terms]:
    """The same for each of several keys: hand-ins keep the one that they were marked by."""
    return {
        known.key_id: Terms(
            sheet.tolerance_mm,
            known.of_key_mm,
            sheet.gauge_mm,
            frozenset(sheet.asks),
            known.of_valve_mm,
            closing_mm=known.closing_mm,
        )
        for known in stands.key_uncertainties(key_ids)
    }


def marking_of(hand_in: HandIn, marks: SheetMarks) -> Marking:
    """The row that keeps a sheet's marks; not saved yet."""
    return Marking(
        hand_in=hand_in,
        rules_version=marks.rules_version,
        points=marks.points,
        out_of=marks.out_of,
        valves=[_valve_json(valve) for valve in marks.valves],
    )


def _valve_json(valve: ValveMarks) -> dict[str, Any]:
    """One valve's marks; the instructor's reasons stay on the server."""
    return {
        "valve": valve.valve,
        "points": valve.points,
        "error_mm": None if valve.error_mm is None else str(valve.error_mm),
        **{part: mark._asdict() for part, mark in valve.parts.items()},
    }
