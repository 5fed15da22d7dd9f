"""Why the figures of handed-in sheets are wrong, as the core explains them.

Worked out when they are read: a thousand sheets take a second and a half, and what is kept cannot
be stale.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from typing import NamedTuple

from edrix.engines import services as engines
from edrix.sheets import services as sheets
from edrix.sheets.lines import entry_of
from edrix.sheets.services import HandIn, Sheet
from edrix.stands import services as stands
from valvetrain.grading.findings import (
    Case,
    Finding,
    Kind,
    Pair,
    Reference,
    copied_pairs,
    explain,
    learn,
)


@dataclass(frozen=True, slots=True)
class SheetFindings:
    """Findings by hand-in, and pairs of hand-ins whose figures are equal beyond chance."""

    of: dict[int, list[Finding]]
    copied: list[tuple[HandIn, HandIn, Finding]]


def findings_of(sheet: Sheet, hand_ins: Iterable[HandIn]) -> SheetFindings:
    """For instructors. The hand-ins come with their readings."""
    made = list(hand_ins)
    cases = _cases(sheet, made)
    pairs: list[Pair] = copied_pairs(cases)
    return SheetFindings(
        {hand_in.id: explain(case) for hand_in, case in zip(made, cases, strict=True)},
        [(made[pair.one], made[pair.other], pair.finding) for pair in pairs],
    )


def explanations_of(sheet: Sheet, hand_ins: list[HandIn]) -> list[list[Finding]]:
    """What explains the figures of each; of sheets of one stand, whoever wrote them."""
    return [explain(case) for case in _cases(sheet, hand_ins)]


def _cases(sheet: Sheet, hand_ins: list[HandIn]) -> list[Case]:
    """Each by the hand that wrote it: what is known of that from all its sheets on this stand, and
    from those of the class."""
    every = sheets.hand_ins_of_class(sheet.teaching_class_id, sheet.stand_id)
    wanted = {made.id for made in hand_ins}
    others = [made for made in every if made.id not in wanted]
    made = [*hand_ins, *others]
    places: dict[int, list[int]] = {}
    for at, one in enumerate(made):
        places.setdefault(one.student_id, []).append(at)
    known = _plain_cases(sheet, made)
    learned = learn([[known[at] for at in own] for own in places.values()])
    for own, scatters in zip(places.values(), learned, strict=True):
        for at, scatter in zip(own, scatters, strict=True):
            known[at] = known[at].by(scatter)
    return known[: len(hand_ins)]


def _plain_cases(sheet: Sheet, hand_ins: list[HandIn]) -> list[Case]:
    references = {key_id: _reference(sheet, key_id) for key_id in {h.key_id for h in hand_ins}}
    return [
        Case.of(references[made.key_id], [entry_of(reading) for reading in made.readings.all()])
        for made in hand_ins
    ]


class RoomFinding(NamedTuple):
    """What explains figures of several sheets; student_ids are whose."""

    kind: Kind
    student_ids: tuple[int, ...]


MOST_KNOWN = 256
_kinds_known: dict[tuple[tuple[int, int], ...], list[set[Kind]]] = {}
"""By hand-in and key: what a set of them is explained by. Readings never change."""


def of_room(hand_ins: Iterable[HandIn]) -> list[RoomFinding]:
    """What explains these sheets of a class, the commonest first; they come with their readings. A
    page that looks every other second asks for it, so a set of sheets is explained once."""
    by_sheet: dict[int, list[HandIn]] = {}
    for made in hand_ins:
        by_sheet.setdefault(made.sheet_id, []).append(made)
    whose: dict[Kind, dict[int, None]] = {}
    for together in by_sheet.values():
        for hand_in, kinds in zip(together, _kinds_of(together), strict=True):
            for kind in kinds:
                whose.setdefault(kind, {})[hand_in.student_id] = None
    found = [RoomFinding(kind, tuple(students)) for kind, students in whose.items()]
    return sorted(found, key=lambda one: (-len(one.student_ids), one.kind))


def _kinds_of(made: list[HandIn]) -> list[set[Kind]]:
    known = tuple((hand_in.id, hand_in.key_id) for hand_in in made)
    if known not in _kinds_known:
        if len(_kinds_known) >= MOST_KNOWN:
            _kinds_known.clear()
        told = explanations_of(made[0].sheet, made)
        _kinds_known[known] = [{finding.kind for finding in one} for one in told]
    return _kinds_known[known]


def hints_of(sheet: Sheet, hand_in: HandIn) -> list[str]:
    """What a student may be told: where to look, and no figure of the key."""
    (found,) = explanations_of(sheet, [hand_in])
    return [finding.hint for finding in found if finding.hint is not None]


def _reference(sheet: Sheet, key_id: int) -> Reference:
    key = stands.stated_key(key_id)
    engine = engines.core_engine(sheet.stand.engine_version)
    return Reference(engine, key.gaps, closing_mm=key.closing_mm)
