"""Hand-ins and their marks: who may read which, decisions of instructors, answers of students."""

from dataclasses import dataclass

from django.db import IntegrityError, transaction
from django.db.models import Prefetch, QuerySet

from edrix import life
from edrix.accounts.models import User
from edrix.classes import services as classes
from edrix.engines import services as engines
from edrix.errors import ConflictError, FieldFault, InvalidError, NotFoundError
from edrix.marking.class_view import SheetView, view_of
from edrix.marking.findings import SheetFindings, findings_of
from edrix.marking.models import Answer, Decision, ReMarking, Rubric
from edrix.marking.standing import Standing, standing_of, what_stands
from edrix.marking.telling import waiting_parts
from edrix.sheets import services as sheets
from edrix.sheets.services import HandIn, Sheet


@dataclass(frozen=True, slots=True)
class BoardRow:
    """How far one student is with a sheet."""

    student: User
    hand_in: HandIn | None
    standing: Standing | None
    lines_begun: int


@dataclass(frozen=True, slots=True)
class WorkOf:
    """A sheet that is set to a student, their hand-in, and the kinds of its marks that wait."""

    sheet: Sheet
    hand_in: HandIn | None
    waits: frozenset[str]


def work_of(user: User) -> list[WorkOf]:
    """For students: every sheet set to them, newest first, with their hand-in if there is one."""
    own = HandIn.objects.filter(student=user).select_related("key", "sheet")
    mine = Prefetch("hand_ins", own.prefetch_related(*what_stands()), to_attr="mine")
    found = [
        (sheet, next(iter(getattr(sheet, "mine", [])), None))
        for sheet in sheets.sheets_for_student(user).prefetch_related(mine)
    ]
    waits = waiting_parts(made for _, made in found if made is not None)
    return [WorkOf(sheet, made, waits[made.id] if made else frozenset()) for sheet, made in found]


def own_hand_in(user: User, sheet: Sheet) -> HandIn | None:
    found = HandIn.objects.filter(sheet=sheet, student=user).select_related("key")
    return found.prefetch_related("readings", *what_stands()).first()


def board(user: User, sheet_id: int) -> tuple[Sheet, list[BoardRow]]:
    """For instructors: every student of the class and how far they are."""
    sheet = sheets.sheet_for_instructor(user, sheet_id)
    # Their readings too: the grades on the board are worked out from them.
    made = HandIn.objects.filter(sheet=sheet).prefetch_related("readings", *what_stands())
    hand_ins = {hand_in.student_id: hand_in for hand_in in made}
    begun = sheets.lines_begun(sheet)
    rows = []
    for student in classes.students_of(sheet.teaching_class_id, and_left=set(hand_ins)):
        done = hand_ins.get(student.id)
        standing = standing_of(done) if done else None
        rows.append(BoardRow(student, done, standing, begun.get(student.id, 0)))
    return sheet, rows


def hand_in_for_instructor(user: User, hand_in_id: int) -> HandIn:
    found = (
        HandIn.objects.filter(id=hand_in_id)
        .select_related("student", "entered_by", "sheet__stand__engine_version__engine")
        .prefetch_related("readings", *what_stands())
        .first()
    )
    refused = NotFoundError(f"There is no hand-in {hand_in_id} for you; open it from its sheet.")
    if found is None:
        raise refused
    try:
        classes.require_instructor(user, found.sheet.teaching_class_id)
    except NotFoundError:
        raise refused from None
    return found


def handed_in(sheet: Sheet) -> QuerySet[HandIn]:
    """Every hand-in of a sheet with readings and marks, by name; for the export."""
    made = HandIn.objects.filter(sheet=sheet).select_related("student")
    made = made.prefetch_related("readings", *what_stands())
    return made.order_by("student__display_name", "id")


def hand_ins_of(class_id: int, student_id: int) -> QuerySet[HandIn]:
    """A student's hand-ins in a class with readings and marks; the caller has asked who may see."""
    made = HandIn.objects.filter(sheet__teaching_class_id=class_id, student_id=student_id)
    made = made.select_related("sheet__stand__engine_version__engine", "key")
    return made.prefetch_related("readings", *what_stands()).order_by("handed_in_at", "id")


def remove_sheet(user: User, sheet_id: int) -> None:
    """With its rubrics, where no student has written on it. Raises ConflictError."""
    sheet = sheets.sheet_for_instructor(user, sheet_id)
    life.remove(
        sheet,
        sheet.title,
        Rubric.objects.filter(sheet=sheet),
        ReMarking.objects.filter(sheet=sheet),
    )


def findings(user: User, sheet_id: int) -> tuple[Sheet, list[HandIn], SheetFindings]:
    """For instructors: every hand-in of a sheet, by name, with what explains its figures."""
    sheet = sheets.sheet_for_instructor(user, sheet_id)
    made = list(handed_in(sheet))
    return sheet, made, findings_of(sheet, made)


def class_view(user: User, sheet_id: int) -> tuple[Sheet, SheetView, int]:
    """For instructors: a sheet's hand-ins valve by valve, and how many students still write."""
    sheet, made, told = findings(user, sheet_id)
    there = {hand_in.student_id for hand_in in made}
    waits = {one.id for one in classes.students_of(sheet.teaching_class_id)} - there
    return sheet, view_of(sheet, made, told), len(waits)


def decide(
    user: User, hand_in_id: int, *, valve: int, part: str, right: bool, reason: str
) -> HandIn:
    """An instructor overrides one mark, and says why."""
    made = hand_in_for_instructor(user, hand_in_id)
    said = " ".join(reason.split())
    if valve not in engines.core_engine(made.sheet.stand.engine_version).valve:
        raise InvalidError(
            f"This engine has no valve {valve}.", [FieldFault("valve", "is not of this engine")]
        )
    _need_mark(made, valve, part, "this sheet does not ask for it")
    if not said:
        raise InvalidError(
            "An override needs its reason.", [FieldFault("reason", "say why in a few words")]
        )
    Decision.objects.create(
        hand_in=made, valve=valve, part=part, right=right, reason=said, made_by=user
    )
    return hand_in_for_instructor(user, hand_in_id)


def answer(user: User, sheet_id: int, *, valve: int, part: str, text: str) -> HandIn:
    """A student answers one mark of their own sheet, once; the instructor decides."""
    sheet = sheets.sheet_to_write(user, sheet_id)
    made = own_hand_in(user, sheet)
    if made is None:
        raise ConflictError("This sheet is not handed in yet; there is no mark to answer.")
    said = " ".join(text.split())
    if not said:
        raise InvalidError("The answer is empty.", [FieldFault("text", "write what you think")])
    _need_mark(made, valve, part, "is not on this sheet")
    try:
        with transaction.atomic():
            Answer.objects.create(hand_in=made, valve=valve, part=part, text=said)
    except IntegrityError:
        raise ConflictError(
            "You have answered this mark already; speak with your instructor."
        ) from None
    return own_hand_in(user, sheet) or made


def _need_mark(made: HandIn, valve: int, part: str, problem: str) -> None:
    """Raises InvalidError where this sheet has no such mark."""
    marked = {marks.valve: marks for marks in standing_of(made).valves}
    if valve not in marked or part not in marked[valve].parts:
        raise InvalidError(f"Valve {valve} has no mark for that.", [FieldFault("part", problem)])
