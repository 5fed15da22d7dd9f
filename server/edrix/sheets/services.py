"""Reading sheets: setting them as work, drafts, handing in exactly once, marks.

Who sees what, by example. Ines and Bo are students of class A, Tove its instructor, Rolf
instructor of class B. Ines sees sheet 7 of class A, her own draft, hand-in and marks; of
Bo's she sees nothing at all. Tove sees everybody's. For Rolf sheet 7 does not exist.
"""

from dataclasses import dataclass
from decimal import Decimal
from typing import Any

from django.db import IntegrityError, transaction
from django.db.models import Count, Prefetch, QuerySet

from edrix.accounts.models import User
from edrix.classes import services as classes
from edrix.engines import services as engines
from edrix.errors import (
    ConflictError,
    FieldFault,
    InvalidError,
    NotFoundError,
    QuestionsError,
)
from edrix.safety import services as safety
from edrix.sheets.findings import SheetFindings, findings_of
from edrix.sheets.lines import TypedLine, marks_json, read_lines, readings
from edrix.sheets.models import Answer, Decision, Draft, Marking
from edrix.sheets.models import HandIn as HandIn
from edrix.sheets.models import Reading as Reading
from edrix.sheets.models import Sheet as Sheet
from edrix.sheets.new_sheet import NewSheet as NewSheet
from edrix.sheets.new_sheet import asks_of, length_mm
from edrix.sheets.remark import Move, moves_of, terms_of
from edrix.sheets.standing import Standing, standing_of, what_stands
from edrix.sheets.studies import StandStudy, study_of
from edrix.stands import services as stands
from edrix.stands.services import Key, Stand
from valvetrain.grading import mark_sheet, questions


@dataclass(frozen=True, slots=True)
class BoardRow:
    """How far one student is with a sheet."""

    student: User
    hand_in: HandIn | None
    marking: Standing | None
    lines_begun: int


def set_sheet(user: User, class_id: int, new: NewSheet) -> Sheet:
    """Sets a sheet as work for a class, marked by the stand's newest key."""
    teaching_class = classes.require_instructor(user, class_id)
    stand = stands.get_stand(user, new.stand_id)
    if stand.teaching_class_id != class_id:
        raise NotFoundError(f"There is no stand {new.stand_id} in this class; choose one of its.")
    title = " ".join(new.title.split())
    if not title:
        raise InvalidError("The sheet has no title.", [FieldFault("title", "give it a title")])
    engines.plan(stand.engine_version, new.method)  # refuses an unknown school
    return Sheet.objects.create(
        teaching_class=teaching_class,
        stand=stand,
        key=stands.newest_key(stand),
        title=title,
        method=new.method,
        tolerance_mm=length_mm(new, "tolerance"),
        gauge_mm=length_mm(new, "gauge") if new.gauge.strip() else Decimal(0),
        asks=asks_of(new, engines.core_engine(stand.engine_version)),
        set_by=user,
    )


def sheets_of_class(user: User, class_id: int) -> QuerySet[Sheet]:
    """For instructors: the sheets of a class with the number of hand-ins, newest first."""
    classes.require_instructor(user, class_id)
    sheets = Sheet.objects.filter(teaching_class_id=class_id)
    sheets = sheets.select_related("stand__engine_version__engine", "key")
    return sheets.annotate(handed_in=Count("hand_ins")).order_by("-set_at", "-id")


def work_of(user: User) -> list[tuple[Sheet, HandIn | None]]:
    """For students: every sheet set to them, newest first, with their hand-in if there is one."""
    mine = Prefetch(
        "hand_ins",
        HandIn.objects.filter(student=user).prefetch_related(*what_stands()),
        to_attr="mine",
    )
    sheets = Sheet.objects.filter(teaching_class_id__in=classes.class_ids_of(user, "student"))
    sheets = sheets.select_related("stand__engine_version__engine", "teaching_class")
    found = sheets.prefetch_related(mine).order_by("-set_at", "-id")
    return [(sheet, next(iter(getattr(sheet, "mine", [])), None)) for sheet in found]


def sheet_for_student(user: User, sheet_id: int) -> Sheet:
    """A sheet of one of this student's classes. Raises NotFoundError for any other."""
    sheet = _sheet(user, sheet_id)
    classes.require_student(user, sheet.teaching_class_id)
    return sheet


def sheet_for_instructor(user: User, sheet_id: int) -> Sheet:
    sheet = _sheet(user, sheet_id)
    classes.require_instructor(user, sheet.teaching_class_id)
    return sheet


def draft_lines(user: User, sheet: Sheet) -> list[dict[str, Any]]:
    draft = Draft.objects.filter(sheet=sheet, student=user).first()
    # Drafts of older sheets know no further columns.
    return [{"further": {}, **line} for line in draft.lines] if draft else []


def own_hand_in(user: User, sheet: Sheet) -> HandIn | None:
    found = HandIn.objects.filter(sheet=sheet, student=user)
    return found.prefetch_related("readings", *what_stands()).first()


def save_draft(user: User, sheet_id: int, lines: list[TypedLine]) -> None:
    """Keeps what was typed, right or wrong. Raises ConflictError once it is handed in."""
    sheet = sheet_for_student(user, sheet_id)
    if HandIn.objects.filter(sheet=sheet, student=user).exists():
        raise ConflictError("This sheet is handed in; it can no longer be changed.")
    typed = [line.as_json() for line in lines]
    Draft.objects.update_or_create(sheet=sheet, student=user, defaults={"lines": typed})


def hand_in(
    user: User, sheet_id: int, lines: list[TypedLine], *, request_key: str, confirmed: bool
) -> HandIn:
    """Hands a sheet in, exactly once, and marks it at once.

    The same request_key again (a double click, a retry after a lost answer) gives the same
    hand-in; another one raises ConflictError. Raises InvalidError for lines that cannot be
    read, and QuestionsError while likely slips are not confirmed. Nothing is half-saved.
    """
    sheet = sheet_for_student(user, sheet_id)
    if (before := own_hand_in(user, sheet)) is not None:
        return _the_same(before, request_key)
    engine = engines.core_engine(sheet.stand.engine_version)
    entries = read_lines(engine, lines)
    faults = [
        *_record_gaps(user, sheet),
        *(
            FieldFault(f"valve {q.valve}.{q.field}", q.says)
            for q in questions(engine, entries, sheet.asks)
        ),
    ]
    if faults and not confirmed:
        raise QuestionsError("Look at these once more before handing in.", faults)
    try:
        with transaction.atomic():
            # Nobody corrects the key between the marking and its record (see `remark`).
            locked = Sheet.objects.select_for_update(of=("self",)).select_related("key")
            key = locked.get(id=sheet.id).key
            marks = mark_sheet(engine, stands.key_gaps_mm(key.id), terms_of(sheet, key), entries)
            made = HandIn.objects.create(
                sheet=sheet, student=user, request_key=request_key, key=key
            )
            Reading.objects.bulk_create(readings(made, entries))
            Marking.objects.create(
                hand_in=made,
                rules_version=marks.rules_version,
                points=marks.points,
                out_of=marks.out_of,
                valves=marks_json(marks),
            )
            Draft.objects.filter(sheet=sheet, student=user).delete()
    except IntegrityError:
        # Another request of this student was quicker between our look and our write.
        return _the_same(HandIn.objects.get(sheet=sheet, student=user), request_key)
    return made


def _record_gaps(user: User, sheet: Sheet) -> list[FieldFault]:
    """What the safety record of this work lacks: asked about, never a reason to refuse."""
    engine_id = sheet.stand.engine_version.engine_id
    opening = safety.current(user, engine_id=engine_id, stand_id=sheet.stand_id)
    if opening is None:
        return [FieldFault("record", "the isolation list of this stand is not ticked today.")]
    if opening.closed_at is None:
        said = "the closing list is not ticked: lock nuts, tools counted, turning tool off."
        return [FieldFault("record", said)]
    return []


def board(user: User, sheet_id: int) -> tuple[Sheet, list[BoardRow]]:
    """For instructors: every student of the class and how far they are."""
    sheet = sheet_for_instructor(user, sheet_id)
    made = HandIn.objects.filter(sheet=sheet).prefetch_related(*what_stands())
    hand_ins = {hand_in.student_id: hand_in for hand_in in made}
    drafts = dict(Draft.objects.filter(sheet=sheet).values_list("student_id", "lines"))
    rows = []
    for student in classes.students_of(sheet.teaching_class_id):
        done = hand_ins.get(student.id)
        begun = sum(1 for line in drafts.get(student.id, []) if line.get("reading"))
        rows.append(BoardRow(student, done, standing_of(done) if done else None, begun))
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
    made = made.select_related("sheet__stand__engine_version__engine")
    return made.prefetch_related("readings", *what_stands()).order_by("handed_in_at", "id")


def stands_with_sheets(class_id: int) -> list[Stand]:
    """The stands that a class measures on, the one of the newest sheet first."""
    sheets = Sheet.objects.filter(teaching_class_id=class_id)
    sheets = sheets.select_related("stand__engine_version__engine").order_by("-set_at", "-id")
    return list(dict.fromkeys(sheet.stand for sheet in sheets))


def findings(user: User, sheet_id: int) -> tuple[Sheet, list[HandIn], SheetFindings]:
    """For instructors: every hand-in of a sheet, by name, with what explains its figures."""
    sheet = sheet_for_instructor(user, sheet_id)
    made = list(handed_in(sheet))
    return sheet, made, findings_of(sheet, made)


def study(user: User, stand_id: int) -> StandStudy:
    """For instructors: the class as an instrument, from the sheets set on a stand's newest key."""
    made = HandIn.objects.select_related("student").prefetch_related("readings")
    return study_of(stands.get_stand(user, stand_id), made)


def roles_of(stand: Stand) -> dict[int, str]:
    """The role of every valve of a stand's engine."""
    engine = engines.core_engine(stand.engine_version)
    return {valve.number: valve.role.value for valve in engine.valves}


def decide(
    user: User, hand_in_id: int, *, valve: int, part: str, right: bool, reason: str
) -> HandIn:
    """An instructor counts one mark otherwise than the core did, and says why."""
    made = hand_in_for_instructor(user, hand_in_id)
    said = " ".join(reason.split())
    if valve not in engines.core_engine(made.sheet.stand.engine_version).valve:
        raise InvalidError(
            f"This engine has no valve {valve}.", [FieldFault("valve", "is not of this engine")]
        )
    standing = {marks["valve"]: marks for marks in standing_of(made).valves}
    if part not in standing[valve]:
        asked = "this sheet does not ask for it"
        raise InvalidError(f"Valve {valve} has no mark for that.", [FieldFault("part", asked)])
    if not said:
        raise InvalidError(
            "A decision needs its reason.", [FieldFault("reason", "say why in a few words")]
        )
    Decision.objects.create(
        hand_in=made, valve=valve, part=part, right=right, reason=said, made_by=user
    )
    return hand_in_for_instructor(user, hand_in_id)


def answer(user: User, sheet_id: int, *, valve: int, part: str, text: str) -> HandIn:
    """A student answers one mark of their own sheet, once; the instructor decides."""
    sheet = sheet_for_student(user, sheet_id)
    made = own_hand_in(user, sheet)
    if made is None:
        raise ConflictError("This sheet is not handed in yet; there is no mark to answer.")
    said = " ".join(text.split())
    if not said:
        raise InvalidError("The answer is empty.", [FieldFault("text", "write what you think")])
    marks = {marked["valve"]: marked for marked in standing_of(made).valves}.get(valve, {})
    if part not in marks:
        raise InvalidError(
            f"Valve {valve} has no mark for that.", [FieldFault("part", "is not on this sheet")]
        )
    try:
        with transaction.atomic():
            Answer.objects.create(hand_in=made, valve=valve, part=part, text=said)
    except IntegrityError:
        raise ConflictError(
            "You have answered this mark already; speak with your instructor."
        ) from None
    return own_hand_in(user, sheet) or made


def remark_preview(user: User, sheet_id: int) -> tuple[Sheet, Key, list[Move]]:
    """Whose marks would move if a sheet were marked by the stand's newest key."""
    sheet = sheet_for_instructor(user, sheet_id)
    key = stands.newest_key(sheet.stand)
    # Those whose key the sheet has left behind were measured before the stand was adjusted.
    made = list(handed_in(sheet).filter(key_id=sheet.key_id))
    return sheet, key, moves_of(sheet, key, made)


@transaction.atomic
def remark(user: User, sheet_id: int, key_number: int) -> tuple[Sheet, Key, list[Move]]:
    """Marks every hand-in anew by the newest key. key_number is the one whose moves were seen.

    Raises ConflictError where the stand was measured again meanwhile.
    """
    sheet_for_instructor(user, sheet_id)
    # Who hands in at this moment waits, and is marked by the new key.
    Sheet.objects.select_for_update().get(id=sheet_id)
    sheet, key, moves = remark_preview(user, sheet_id)
    if key.number != key_number:
        raise ConflictError(
            f"{sheet.stand.name} has key {key.number} by now; look at whose marks it moves first."
        )
    Marking.objects.bulk_create([move.marking for move in moves])
    HandIn.objects.filter(id__in=[move.hand_in.id for move in moves]).update(key=key)
    Sheet.objects.filter(id=sheet.id).update(key=key)
    sheet.key = key
    return sheet, key, moves


def stops_of(sheet: Sheet) -> list[tuple[int, float]]:
    """The numbers and crank angles of the stops that the sheet offers."""
    plan = engines.plan(sheet.stand.engine_version, sheet.method)
    return [(stop.stop, stop.crank_deg) for stop in plan.stops]


def stop_of_valves(sheet: Sheet) -> dict[int, float]:
    """The crank angle at which the sheet's school has each valve, the first if it has several."""
    stops: dict[int, float] = {}
    for stop in engines.plan(sheet.stand.engine_version, sheet.method).stops:
        for valve in stop.valves:
            stops.setdefault(valve, stop.crank_deg)
    return stops


def _sheet(user: User, sheet_id: int) -> Sheet:
    """A sheet that this person's membership lets them know of."""
    sheet = (
        Sheet.objects.select_related("stand__engine_version__engine", "teaching_class", "key")
        .filter(id=sheet_id, teaching_class__memberships__user=user)
        .first()
    )
    if sheet is None:
        raise NotFoundError(
            f"There is no sheet {sheet_id} for you; open one from your list of sheets."
        )
    return sheet


def _the_same(made: HandIn, request_key: str) -> HandIn:
    if made.request_key != request_key:
        when = f"{made.handed_in_at:%d %B %Y, %H:%M} UTC"
        raise ConflictError(
            f"You handed this sheet in on {when}, and a sheet is handed in once. "
            "Ask your instructor if something in it must be put right."
        )
    return made
