"""What goes out of marking over HTTP, made from what its services give."""

from collections.abc import Collection
from datetime import datetime
from decimal import Decimal
from typing import Any, Literal

from ninja import Schema
from pydantic import Field

from edrix.engines.services import core_engine
from edrix.marking import rubrics, services
from edrix.marking.findings import hints_of
from edrix.marking.findings_schemas import FindingOut
from edrix.marking.remark import Remark, last_of
from edrix.marking.standing import StandingMark, standing_of
from edrix.marking.telling import told, waiting_parts
from edrix.shapes import In
from edrix.sheets import services as sheets
from edrix.sheets.lines import TypedLine, typed_of
from edrix.sheets.schemas import MOST_LINES, ColumnOut, SheetValve, StopChoice
from edrix.sheets.services import HandIn, Sheet, draft_lines
from edrix.weights_schemas import GradeOut
from edrix.workshop import services as workshop
from valvetrain.grading import PARTS
from valvetrain.grading.rubric import part_label
from valvetrain.grading.weights import Grade

Reasons = Literal["student_says", "instructor_says"]
"""Whose reasons: a student's never hold a figure of the key."""


class HandInIn(In):
    lines: list[TypedLine] = Field(max_length=MOST_LINES)
    request_key: str = Field(min_length=8, max_length=64)
    confirmed: bool = False


class MarkAnswerIn(In):
    valve: int
    part: str = Field(max_length=20)
    text: str = Field(max_length=400)


class DecisionIn(In):
    valve: int
    part: str = Field(max_length=20)
    right: bool
    reason: str = Field(max_length=300)


class WorkRow(Schema):
    """One sheet in a student's list; points are null until it is handed in. waits: some of its
    marks are told later, and points count the others."""

    id: int
    title: str
    class_name: str
    stand: str
    engine: str
    set_at: datetime
    closes_at: datetime | None
    closed: bool
    handed_in_at: datetime | None
    points: int | None
    out_of: int | None
    waits: bool

    @staticmethod
    def of(row: services.WorkOf) -> dict[str, Any]:
        sheet, made = row.sheet, row.hand_in
        standing = told(standing_of(made), row.waits) if made else None
        return {
            "id": sheet.id,
            "title": sheet.title,
            "class_name": sheet.teaching_class.name,
            "stand": sheet.stand.name,
            "engine": sheet.stand.engine_version.engine.name,
            "set_at": sheet.set_at,
            "closes_at": sheet.closes_at,
            "closed": sheets.closed(sheet),
            "handed_in_at": made and made.handed_in_at,
            "points": standing and standing.points,
            "out_of": standing and standing.out_of,
            "waits": bool(row.waits),
        }


class DecidedOut(Schema):
    by: str
    at: datetime
    reason: str


class AnsweredOut(Schema):
    text: str
    at: datetime


class MarkSays(Schema):
    """part names the kind of mark, label what people call it. decided is set where an instructor
    overrode it, answer where the student said something to it."""

    part: str
    label: str
    right: bool
    says: str
    answer: AnsweredOut | None
    decided: DecidedOut | None

    @staticmethod
    def of(part: str, mark: StandingMark, reasons: Reasons) -> dict[str, Any]:
        return {
            "part": part,
            "label": part_label(part),
            "right": mark.right,
            "says": getattr(mark, reasons),
            "answer": mark.reply,
            "decided": mark.override,
        }


class ValveMarksOut(Schema):
    """marks: one for each thing that the sheet asks of this valve."""

    valve: int
    points: int
    marks: list[MarkSays]


class ResultOut(Schema):
    """grade is null for a student while it waits to be given back."""

    handed_in_at: datetime
    points: int
    out_of: int
    grade: GradeOut | None
    lines: list[TypedLine]
    valves: list[ValveMarksOut]

    @staticmethod
    def of(
        made: HandIn, reasons: Reasons, grade: Grade | None, waits: Collection[str] = ()
    ) -> dict[str, Any]:
        standing = told(standing_of(made), waits)
        return {
            "handed_in_at": made.handed_in_at,
            "points": standing.points,
            "out_of": standing.out_of,
            "grade": grade
            and GradeOut.of(grade, part_label, for_student=reasons == "student_says"),
            "lines": [typed_of(reading) for reading in made.readings.all()],
            "valves": [
                {
                    "valve": valve.valve,
                    "points": valve.points,
                    "marks": [MarkSays.of(*mark, reasons) for mark in valve.parts.items()],
                }
                for valve in standing.valves
            ],
        }


class OwnResultOut(ResultOut):
    hints: list[str]
    """Where to look again; no figure of the key is in them."""
    waits: list[str]
    """Kinds of mark that are told when the instructor releases them, by their labels."""

    @staticmethod
    def of_own(made: HandIn) -> dict[str, Any]:
        waits = waiting_parts([made])[made.id]
        grade = None if waits else rubrics.own_grade(made.sheet, made)
        return ResultOut.of(made, "student_says", grade, waits) | {
            "hints": [] if waits else hints_of(made.sheet, made),
            "waits": [kind.label for name, kind in PARTS.items() if name in waits],
        }


class SheetOut(Schema):
    """A student's own sheet: what to do, what was written, and once handed in the marks."""

    id: int
    title: str
    class_name: str
    stand: str
    stand_id: int
    engine: str
    engine_id: int
    engine_version: int
    measured: str
    method: str
    tolerance_mm: Decimal
    gauge_mm: Decimal
    asks: list[str]
    columns: list[ColumnOut]
    stops: list[StopChoice]
    valves: list[SheetValve]
    closes_at: datetime | None
    closed: bool
    notices: list[str]
    """What to know of the stand before measuring it."""
    draft: list[TypedLine]
    result: OwnResultOut | None

    @staticmethod
    def of(user: Any, sheet: Sheet) -> dict[str, Any]:
        version = sheet.stand.engine_version
        made = services.own_hand_in(user, sheet)
        return {
            "id": sheet.id,
            "title": sheet.title,
            "class_name": sheet.teaching_class.name,
            "stand": sheet.stand.name,
            "stand_id": sheet.stand_id,
            "engine": version.engine.name,
            "engine_id": version.engine_id,
            "engine_version": version.number,
            "measured": core_engine(version).measured,
            "method": sheet.method,
            "tolerance_mm": sheet.tolerance_mm,
            "gauge_mm": sheet.gauge_mm,
            "asks": sheet.asks,
            "columns": ColumnOut.all_of(sheet),
            "stops": StopChoice.all_of(sheet),
            "valves": SheetValve.all_of(sheet),
            "closes_at": sheet.closes_at,
            "closed": sheets.closed(sheet),
            "notices": [] if made else workshop.notices(sheet.stand, sheet.key),
            "draft": draft_lines(user, sheet),
            "result": made and OwnResultOut.of_own(made),
        }


class BoardRowOut(Schema):
    student_id: int
    display_name: str
    lines_begun: int
    hand_in_id: int | None
    handed_in_at: datetime | None
    points: int | None
    out_of: int | None
    percent: float | None
    passed: bool | None
    open_answers: int
    """Answers of the student that no decision has followed yet."""

    @staticmethod
    def of(row: services.BoardRow, grade: Grade | None) -> dict[str, Any]:
        return {
            "student_id": row.student.id,
            "display_name": row.student.display_name,
            "lines_begun": row.lines_begun,
            "hand_in_id": row.hand_in and row.hand_in.id,
            "handed_in_at": row.hand_in and row.hand_in.handed_in_at,
            "points": row.standing and row.standing.points,
            "out_of": row.standing and row.standing.out_of,
            "percent": grade and grade.percent,
            "passed": grade and grade.passed,
            "open_answers": row.standing.open_answers if row.standing else 0,
        }


class BoardOut(Schema):
    """waits says that students' grades are not shown to them yet."""

    id: int
    rubric_number: int
    pass_percent: float
    waits: bool
    title: str
    class_id: int
    class_name: str
    stand: str
    engine: str
    stale: str
    """Since when the stand is another than the key says; empty where it is not."""
    tolerance_mm: Decimal
    valves: int
    valve_numbers: list[int]
    stops: list[StopChoice]
    columns: list[ColumnOut]
    """The further columns that the sheet asks for."""
    rows: list[BoardRowOut]

    @staticmethod
    def of(sheet: Sheet, rows: list[services.BoardRow]) -> dict[str, Any]:
        engine = core_engine(sheet.stand.engine_version)
        force = rubrics.rubric_of(sheet)
        handed_in = [row.hand_in for row in rows if row.hand_in is not None]
        grades = rubrics.grades_of(sheet, handed_in, force.rubric)
        return {
            "id": sheet.id,
            "rubric_number": force.number,
            "pass_percent": force.rubric.pass_percent,
            "waits": not rubrics.shown_to_students(sheet, force.rubric),
            "title": sheet.title,
            "class_id": sheet.teaching_class_id,
            "class_name": sheet.teaching_class.name,
            "stand": sheet.stand.name,
            "engine": sheet.stand.engine_version.engine.name,
            "stale": "" if sheets.closed(sheet) else workshop.stale_words(sheet.stand, sheet.key),
            "tolerance_mm": sheet.tolerance_mm,
            "valves": len(engine.valves),
            "valve_numbers": list(engine.valve),
            "stops": StopChoice.all_of(sheet),
            "columns": ColumnOut.all_of(sheet),
            "rows": [
                BoardRowOut.of(row, grades[row.hand_in.id] if row.hand_in else None) for row in rows
            ],
        }


class RecordOut(Schema):
    start: str
    opened_at: datetime
    closed_at: datetime | None


class HandInOut(Schema):
    """One student's sheet as its instructor sees it, with all figures.

    entered_by is the instructor who took it in from a file or from paper.
    """

    id: int
    sheet_id: int
    sheet_title: str
    student: str
    entered_by: str | None
    valves_of_engine: list[SheetValve]
    columns: list[ColumnOut]
    record: RecordOut | None
    """The isolation and closing lists that this student ticked for the stand."""
    result: ResultOut
    findings: list[FindingOut]

    @staticmethod
    def of(user: Any, made: HandIn) -> dict[str, Any]:
        _, _, told = services.findings(user, made.sheet_id)
        grade = rubrics.grades_of(made.sheet, [made])[made.id]
        return {
            "id": made.id,
            "sheet_id": made.sheet_id,
            "sheet_title": made.sheet.title,
            "student": made.student.display_name,
            "entered_by": made.entered_by and made.entered_by.display_name,
            "valves_of_engine": SheetValve.all_of(made.sheet),
            "columns": ColumnOut.all_of(made.sheet),
            "record": rubrics.record_of(made),
            "result": ResultOut.of(made, "instructor_says", grade),
            "findings": FindingOut.all_of(made, told),
        }


class RemarkIn(In):
    key_number: int


class MoveOut(Schema):
    hand_in_id: int
    student: str
    before: int
    after: int


class RemarkOut(Schema):
    """moves holds only those whose points change."""

    sheet_id: int
    key_number: int
    newest_key_number: int
    newest_made_at: datetime
    hand_ins: int
    moves: list[MoveOut]
    may_take_back: bool
    """Whether the last re-marking can still be undone."""

    @staticmethod
    def of(told: Remark) -> dict[str, Any]:
        return {
            "sheet_id": told.sheet.id,
            "key_number": told.sheet.key.number,
            "newest_key_number": told.key.number,
            "newest_made_at": told.key.made_at,
            "hand_ins": len(told.moves),
            "may_take_back": last_of(told.sheet) is not None,
            "moves": [
                {
                    "hand_in_id": move.hand_in.id,
                    "student": move.hand_in.student.display_name,
                    "before": move.before,
                    "after": move.after,
                }
                for move in told.moves
                if move.before != move.after
            ],
        }


class NextGapOut(Schema):
    """why says how it is known; moved is false where the valve was left as it was."""

    valve: int
    now_mm: Decimal
    becomes_mm: Decimal
    moved: bool
    why: str


class NextKeyOut(Schema):
    hand_in_id: int
    based_on: int
    gaps: list[NextGapOut]


class NextKeyIn(In):
    """this_sheet: who hands in from now on is marked by it."""

    based_on: int
    this_sheet: bool = True


class KeyMadeOut(Schema):
    number: int
