"""Rubrics of sheets, and what every hand-in comes to by them.

A grade is worked out when it is read, from the marking that stands, the rubric that is the newest,
and the safety record: it cannot be stale.
"""

from collections.abc import Collection, Iterable, Mapping
from dataclasses import dataclass
from typing import Any

from django.db import transaction
from django.utils import timezone

from edrix import weights
from edrix.accounts.models import User
from edrix.engines import services as engines
from edrix.errors import ConflictError, FieldFault, QuestionsError
from edrix.marking import services
from edrix.marking.marks import Markers, terms_by_key
from edrix.marking.models import Rubric
from edrix.marking.standing import Standing, standing_of
from edrix.safety import services as safety
from edrix.safety.services import Opening
from edrix.sheets import services as sheets
from edrix.sheets.lines import entry_of
from edrix.sheets.services import HandIn, Sheet
from edrix.stands import services as stands
from edrix.weights import InForce, rubric_from_json, rubric_json
from valvetrain.engine import Engine
from valvetrain.grading import Entry, Terms
from valvetrain.grading.rubric import (
    Circumstances,
    Judged,
    WrittenParts,
    check_rubric,
    default_rubric,
    grade,
    judged,
    parts_asked,
    sample_entries,
    templates,
)
from valvetrain.grading.weights import Grade, Part, Template
from valvetrain.grading.weights import Rubric as CoreRubric


@dataclass(frozen=True, slots=True)
class Regraded:
    """One hand-in by the rubric in force and by another."""

    hand_in: HandIn
    before: Grade
    after: Grade


def rubric_of(sheet: Sheet) -> InForce:
    newest = (
        Rubric.objects.filter(sheet=sheet).select_related("made_by").order_by("-number").first()
    )
    if newest is None:
        tolerance_mm = float(sheet.tolerance_mm)
        return InForce(0, default_rubric(sheet.asks, tolerance_mm, sheet.weights_version))
    by = newest.made_by.display_name
    return InForce(newest.number, rubric_from_json(newest.document), by, newest.made_at)


def templates_of(sheet: Sheet) -> tuple[Template, ...]:
    return templates(sheet.asks, float(sheet.tolerance_mm))


def parts_of(sheet: Sheet) -> tuple[Part, ...]:
    """What this sheet can be weighed by."""
    return parts_asked(sheet.asks)


def grades_of(
    sheet: Sheet, hand_ins: Iterable[HandIn], rubric: CoreRubric | None = None
) -> dict[int, Grade]:
    """Grades by hand-in. They come with their readings and `what_stands`."""
    made = list(hand_ins)
    weighed = rubric or rubric_of(sheet).rubric
    engine = engines.core_engine(sheet.stand.engine_version)
    stops = sheets.stop_of_valves(sheet)
    terms = terms_by_key(sheet, {hand_in.key_id for hand_in in made})
    grades = {}
    for hand_in, opening in zip(made, records_of(sheet.stand_id, made), strict=True):
        entries = {reading.valve: entry_of(reading) for reading in hand_in.readings.all()}
        about = Circumstances()
        if opening is not None:
            took = hand_in.handed_in_at - opening.opened_at
            minutes = None if hand_in.entered_by_id else took.total_seconds() / 60
            about = Circumstances(True, opening.closed_at is not None, minutes)
        judged_now = _judged(standing_of(hand_in), terms[hand_in.key_id])
        written = _written(sheet, engine, judged_now, entries, stops, hand_in.not_asked)
        grades[hand_in.id] = grade(written, weighed, about)
    return grades


def record_of(hand_in: HandIn) -> Opening | None:
    """The safety lists that belong to a hand-in."""
    return records_of(hand_in.sheet.stand_id, [hand_in])[0]


def records_of(stand_id: int, made: list[HandIn]) -> list[Opening | None]:
    """The same of many, of one stand."""
    handed_in = [(h.student_id, h.handed_in_at, h.entered_by_id is not None) for h in made]
    return safety.records(stand_id, handed_in)


def sample(sheet: Sheet, rubric: CoreRubric) -> Grade:
    """What a made-up sheet with a few usual mistakes comes to, before anybody hands in."""
    engine = engines.core_engine(sheet.stand.engine_version)
    key_mm, stops = stands.key_gaps_mm(sheet.key_id), sheets.stop_of_valves(sheet)
    entries = sample_entries(engine, key_mm, stops, sheet.tolerance_mm)
    marker = Markers(sheet, sheet.key).of()
    marks = judged(marker.mark(entries.values()), marker.terms)
    written = _written(sheet, engine, marks, entries, stops)
    return grade(written, rubric, Circumstances(opened=True, closed=False, minutes=45))


def look(user: User, sheet_id: int, document: dict[str, Any]) -> tuple[Grade, list[Regraded]]:
    """What another rubric would make of a sample and of every hand-in; keeps nothing."""
    sheet = sheets.sheet_for_instructor(user, sheet_id)
    rubric = checked(document, sheet)
    made = list(services.handed_in(sheet))
    before, after = grades_of(sheet, made), grades_of(sheet, made, rubric)
    moved = [Regraded(hand_in, before[hand_in.id], after[hand_in.id]) for hand_in in made]
    return sample(sheet, rubric), moved


@transaction.atomic
def set_rubric(user: User, sheet_id: int, document: dict[str, Any], based_on: int) -> Sheet:
    """Sets the weights of a sheet. Raises ConflictError where somebody else did since based_on."""
    sheets.sheet_for_instructor(user, sheet_id)
    sheet = sheets.locked(sheet_id)
    rubric = checked(document, sheet)
    now = rubric_of(sheet).number
    if now != based_on:
        raise ConflictError(
            f"This sheet has rubric {now} by now, made while you looked; see what it does first."
        )
    Rubric.objects.create(sheet=sheet, number=now + 1, document=rubric_json(rubric), made_by=user)
    return sheets.sheet_for_instructor(user, sheet_id)


def shown_to_students(sheet: Sheet, rubric: CoreRubric) -> bool:
    """Whether students see their grade. Where a reading's worth falls with its error, the grade
    tells how far the key lies from it: such grades wait until they are given back."""
    return rubric.zero_at_mm is None or sheet.given_back_at is not None


def own_grade(sheet: Sheet, hand_in: HandIn) -> Grade | None:
    """A student's grade; None while it waits to be given back."""
    rubric = rubric_of(sheet).rubric
    if not shown_to_students(sheet, rubric):
        return None
    return grades_of(sheet, [hand_in], rubric)[hand_in.id]


def give_back(user: User, sheet_id: int, *, confirmed: bool = False) -> Sheet:
    """Shows students their grades, once and for all. Raises QuestionsError while another sheet on
    these gaps is open, until that is confirmed: whoever is told what a reading was worth knows more
    of the key than its gauge tells."""
    sheet = sheets.sheet_for_instructor(user, sheet_id)
    if sheet.given_back_at is None:
        others = [
            one
            for one in sheets.sheets_on_key(sheet.stand, sheet.key_id)
            if one.id != sheet.id and not sheets.closed(one)
        ]
        if others and not confirmed:
            raise QuestionsError(
                "Other sheets on this key are still open; close them first, or anybody who has "
                "read their grade knows what to write there.",
                [
                    FieldFault(
                        one.title
                        if one.teaching_class_id == sheet.teaching_class_id
                        else "a sheet of another class",
                        "is open and marked by the same key",
                    )
                    for one in others
                ],
            )
        sheet.given_back_at = timezone.now()
        sheet.save(update_fields=["given_back_at"])
    return sheet


def checked(document: dict[str, Any], sheet: Sheet) -> CoreRubric:
    """A rubric of this sheet. Raises InvalidError for one that cannot be used."""
    tolerance_mm = float(sheet.tolerance_mm)
    return weights.checked(document, lambda rubric: check_rubric(rubric, tolerance_mm))


def _judged(standing: Standing, terms: Terms) -> list[Judged]:
    """Marks as they stand; where an instructor decided the reading, its error counts no more."""
    told = []
    for valve in standing.valves:
        reading = valve.parts.get("reading")
        error_mm = None if reading is None or reading.override else valve.error_mm
        right = {part: mark.right for part, mark in valve.parts.items()}
        told.append(Judged(right, error_mm, float(terms.allowed_mm(valve.valve))))
    return told


def _written(
    sheet: Sheet,
    engine: Engine,
    valves: Iterable[Judged],
    entries: dict[int, Entry],
    stops: Mapping[int, float],
    not_asked: Collection[str] = (),
) -> WrittenParts:
    return WrittenParts(
        engine,
        tuple(valves),
        entries,
        frozenset(sheet.asks),
        stops,
        float(sheet.tolerance_mm),
        frozenset(not_asked),
    )
