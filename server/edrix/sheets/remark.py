"""Marking anew: when a stand's key was corrected, whose marks move, and by how much."""

from dataclasses import dataclass

from edrix.engines import services as engines
from edrix.sheets.lines import entry_of, marks_json
from edrix.sheets.models import HandIn, Marking, Sheet
from edrix.sheets.standing import standing_of, with_decisions
from edrix.stands import services as stands
from edrix.stands.services import Key
from valvetrain.grading import Marker, Terms


@dataclass(frozen=True, slots=True)
class Move:
    hand_in: HandIn
    before: int
    after: int
    marking: Marking
    """Not saved yet."""


def moves_of(sheet: Sheet, key: Key, hand_ins: list[HandIn]) -> list[Move]:
    """Every hand-in as it would stand with another key; decisions are kept."""
    engine = engines.core_engine(sheet.stand.engine_version)
    marker = Marker(engine, stands.key_gaps_mm(key.id), terms_of(sheet, key))
    moves = []
    for hand_in in hand_ins:
        marks = marker.mark([entry_of(reading) for reading in hand_in.readings.all()])
        marking = Marking(
            hand_in=hand_in,
            rules_version=marks.rules_version,
            points=marks.points,
            out_of=marks.out_of,
            valves=marks_json(marks),
        )
        after = with_decisions(marking, list(hand_in.decisions.all()))
        moves.append(Move(hand_in, standing_of(hand_in).points, after.points, marking))
    return moves


def terms_of(sheet: Sheet, key: Key) -> Terms:
    """What a sheet is marked by, besides the gaps of the key."""
    return Terms(
        sheet.tolerance_mm,
        key.uncertainty_mm,
        sheet.gauge_mm,
        frozenset(sheet.asks),
        stands.key_uncertainties_mm(key.id),
    )
