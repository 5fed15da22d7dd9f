"""The core's marks as they are stored, and what sheets are marked by."""

from typing import Any

from edrix.engines import services as engines
from edrix.marking.models import Marking
from edrix.sheets.services import HandIn, Sheet
from edrix.stands import services as stands
from edrix.stands.services import Key
from valvetrain.grading import Marker, SheetMarks, Terms, ValveMarks


def marker_of(sheet: Sheet, key: Key) -> Marker:
    """Marks sheets of this stand by a key."""
    engine = engines.core_engine(sheet.stand.engine_version)
    return Marker(engine, stands.key_gaps_mm(key.id), terms_of(sheet, key))


def terms_of(sheet: Sheet, key: Key) -> Terms:
    """What a sheet is marked by, besides the gaps of the key."""
    return Terms(
        sheet.tolerance_mm,
        key.uncertainty_mm,
        sheet.gauge_mm,
        frozenset(sheet.asks),
        stands.key_uncertainties_mm(key.id),
    )


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
