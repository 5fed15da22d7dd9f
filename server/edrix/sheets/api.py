"""Reading sheets: a student's work, and the instructor's view of it."""

from collections import Counter
from typing import Any

from django.http import HttpRequest
from ninja import Router, Status

from edrix.accounts.models import User
from edrix.edge import user_of
from edrix.engines.services import core_engine
from edrix.problems import Problem
from edrix.sheets import grading, services
from edrix.sheets.findings import SheetFindings, hints_of
from edrix.sheets.models import HandIn, Sheet
from edrix.sheets.schemas import (
    BoardOut,
    DraftIn,
    FindingsOut,
    HandInIn,
    HandInOut,
    MarkAnswerIn,
    NewSheetIn,
    OwnResultOut,
    SheetOut,
    SheetRow,
    WorkRow,
)
from edrix.sheets.standing import open_answers, standing_of
from valvetrain.grading import PARTS
from valvetrain.grading.findings import Finding
from valvetrain.grading.rubric import Grade
from valvetrain.units import MM_PER_THOU

router = Router(tags=["sheets"])
REFUSALS: dict[int, Any] = {403: Problem, 404: Problem, 409: Problem, 422: Problem}


@router.get("/work", response=list[WorkRow], operation_id="listWork")
def list_work(request: HttpRequest) -> list[dict[str, Any]]:
    """The sheets set to the person who asks, as a student."""
    return [_work_row(sheet, made) for sheet, made in services.work_of(user_of(request))]


@router.get("/sheets/{sheet_id}", response={200: SheetOut, **REFUSALS}, operation_id="getSheet")
def get_sheet(request: HttpRequest, sheet_id: int) -> dict[str, Any]:
    user = user_of(request)
    sheet = services.sheet_for_student(user, sheet_id)
    made = services.own_hand_in(user, sheet)
    version = sheet.stand.engine_version
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
        "stops": [{"stop": n, "crank_deg": deg} for n, deg in services.stops_of(sheet)],
        "valves": _valves(sheet),
        "draft": services.draft_lines(user, sheet),
        "result": made and _own_result(made, sheet),
    }


@router.put("/sheets/{sheet_id}/draft", response={204: None, **REFUSALS}, operation_id="saveDraft")
def save_draft(request: HttpRequest, sheet_id: int, body: DraftIn) -> Status[None]:
    services.save_draft(user_of(request), sheet_id, [line.typed() for line in body.lines])
    return Status(204, None)


@router.post(
    "/sheets/{sheet_id}/hand-in", response={201: OwnResultOut, **REFUSALS}, operation_id="handIn"
)
def hand_in(request: HttpRequest, sheet_id: int, body: HandInIn) -> Status[dict[str, Any]]:
    """Hands in once; a 409 with `confirm` lists likely slips to confirm."""
    lines = [line.typed() for line in body.lines]
    made = services.hand_in(
        user_of(request),
        sheet_id,
        lines,
        request_key=body.request_key,
        confirmed=body.confirmed,
    )
    return Status(201, _own_result(made, made.sheet))


@router.post(
    "/sheets/{sheet_id}/answers",
    response={201: OwnResultOut, **REFUSALS},
    operation_id="answerMark",
)
def answer(request: HttpRequest, sheet_id: int, body: MarkAnswerIn) -> Status[dict[str, Any]]:
    """A student answers one mark, once."""
    made = services.answer(user_of(request), sheet_id, **body.model_dump())
    return Status(201, _own_result(made, made.sheet))


@router.get(
    "/classes/{class_id}/sheets",
    response={200: list[SheetRow], **REFUSALS},
    operation_id="listSheets",
)
def list_sheets(request: HttpRequest, class_id: int) -> list[dict[str, Any]]:
    found = services.sheets_of_class(user_of(request), class_id)
    return [_sheet_row(sheet, getattr(sheet, "handed_in", 0)) for sheet in found]


@router.post(
    "/classes/{class_id}/sheets", response={201: SheetRow, **REFUSALS}, operation_id="setSheet"
)
def set_sheet(request: HttpRequest, class_id: int, body: NewSheetIn) -> Status[dict[str, Any]]:
    new = services.NewSheet(**body.model_dump())
    return Status(201, _sheet_row(services.set_sheet(user_of(request), class_id, new), 0))


@router.get(
    "/sheets/{sheet_id}/board", response={200: BoardOut, **REFUSALS}, operation_id="getBoard"
)
def get_board(request: HttpRequest, sheet_id: int) -> dict[str, Any]:
    sheet, rows = services.board(user_of(request), sheet_id)
    version = sheet.stand.engine_version
    force = grading.rubric_of(sheet)
    handed_in = [row.hand_in for row in rows if row.hand_in is not None]
    grades = grading.grades_of(sheet, handed_in, force.rubric)
    return {
        "id": sheet.id,
        "rubric_number": force.number,
        "pass_percent": force.rubric.pass_percent,
        "waits": not grading.shown_to_students(sheet, force.rubric),
        "title": sheet.title,
        "class_id": sheet.teaching_class_id,
        "class_name": sheet.teaching_class.name,
        "stand": sheet.stand.name,
        "engine": version.engine.name,
        "tolerance_mm": sheet.tolerance_mm,
        "valves": len(core_engine(version).valves),
        "valve_numbers": list(core_engine(version).valve),
        "stops": [{"stop": n, "crank_deg": deg} for n, deg in services.stops_of(sheet)],
        "rows": [
            {
                "student_id": row.student.id,
                "display_name": row.student.display_name,
                "lines_begun": row.lines_begun,
                "hand_in_id": row.hand_in.id if row.hand_in else None,
                "handed_in_at": row.hand_in.handed_in_at if row.hand_in else None,
                "points": row.marking.points if row.marking else None,
                "out_of": row.marking.out_of if row.marking else None,
                "percent": grades[row.hand_in.id].percent if row.hand_in else None,
                "passed": grades[row.hand_in.id].passed if row.hand_in else None,
                "open_answers": open_answers(row.marking) if row.marking else 0,
            }
            for row in rows
        ],
    }


@router.get(
    "/hand-ins/{hand_in_id}", response={200: HandInOut, **REFUSALS}, operation_id="getHandIn"
)
def get_hand_in(request: HttpRequest, hand_in_id: int) -> dict[str, Any]:
    user = user_of(request)
    return hand_in_out(user, services.hand_in_for_instructor(user, hand_in_id))


def hand_in_out(user: User, made: HandIn) -> dict[str, Any]:
    """A hand-in for an instructor of its class."""
    return {
        "id": made.id,
        "sheet_id": made.sheet_id,
        "sheet_title": made.sheet.title,
        "student": made.student.display_name,
        "entered_by": made.entered_by and made.entered_by.display_name,
        "valves_of_engine": _valves(made.sheet),
        "record": grading.record_of(made),
        "result": _result(made, "instructor_says")
        | {"grade": grade_out(grading.grades_of(made.sheet, [made])[made.id])},
        "findings": _found(made, services.findings(user, made.sheet_id)[2]),
    }


@router.get(
    "/sheets/{sheet_id}/findings",
    response={200: FindingsOut, **REFUSALS},
    operation_id="getFindings",
)
def get_findings(request: HttpRequest, sheet_id: int) -> dict[str, Any]:
    """What explains the wrong figures of a class, for its instructors."""
    sheet, made, told = services.findings(user_of(request), sheet_id)
    rows: list[dict[str, Any]] = [
        {
            "hand_in_id": hand_in.id,
            "student": hand_in.student.display_name,
            "findings": _found(hand_in, told),
        }
        for hand_in in made
    ]
    kinds = Counter(kind for row in rows for kind in {one["kind"] for one in row["findings"]})
    return {
        "sheet_id": sheet.id,
        "title": sheet.title,
        "rows": rows,
        "kinds": [{"kind": kind, "students": count} for kind, count in kinds.most_common()],
    }


def _found(hand_in: HandIn, told: SheetFindings) -> list[dict[str, Any]]:
    """A hand-in's own findings, then whose sheet it equals."""
    rows = [_finding(finding) for finding in told.of[hand_in.id]]
    for one, other, finding in told.copied:
        if hand_in.id in (one.id, other.id):
            twin = other if hand_in.id == one.id else one
            rows.append(
                _finding(finding)
                | {"with_student": twin.student.display_name, "with_hand_in": twin.id}
            )
    return rows


def _finding(finding: Finding) -> dict[str, Any]:
    return {
        "kind": finding.kind.value,
        "valves": list(finding.valves),
        "log_odds": finding.log_odds,
        "says": finding.says,
        "arithmetic": list(finding.arithmetic),
    }


def _work_row(sheet: Sheet, made: HandIn | None) -> dict[str, Any]:
    marking = standing_of(made) if made else None
    return {
        "id": sheet.id,
        "title": sheet.title,
        "class_name": sheet.teaching_class.name,
        "stand": sheet.stand.name,
        "engine": sheet.stand.engine_version.engine.name,
        "set_at": sheet.set_at,
        "handed_in_at": made.handed_in_at if made else None,
        "points": marking.points if marking else None,
        "out_of": marking.out_of if marking else None,
    }


def _sheet_row(sheet: Sheet, handed_in: int) -> dict[str, Any]:
    return {
        "id": sheet.id,
        "title": sheet.title,
        "stand": sheet.stand.name,
        "engine": sheet.stand.engine_version.engine.name,
        "engine_id": sheet.stand.engine_version.engine_id,
        "engine_version": sheet.stand.engine_version.number,
        "method": sheet.method,
        "tolerance_mm": sheet.tolerance_mm,
        "gauge_mm": sheet.gauge_mm,
        "asks": sheet.asks,
        "key_number": sheet.key.number,
        "set_at": sheet.set_at,
        "handed_in": handed_in,
    }


def _valves(sheet: Sheet) -> list[dict[str, Any]]:
    engine = core_engine(sheet.stand.engine_version)
    rows = []
    for valve in engine.valves:
        spec = engine.clearance[valve.role]
        rows.append(
            {
                "number": valve.number,
                "cylinder": valve.cylinder,
                "role": valve.role.value,
                "low_mm": spec.low_mm,
                "high_mm": spec.high_mm,
                "low_thou": spec.low_mm / MM_PER_THOU,
                "high_thou": spec.high_mm / MM_PER_THOU,
            }
        )
    return rows


def _own_result(made: HandIn, sheet: Sheet) -> dict[str, Any]:
    grade = grading.own_grade(sheet, made)
    return _result(made, "student_says") | {
        "hints": hints_of(sheet, made),
        "grade": grade and grade_out(grade),
    }


def grade_out(grade: Grade) -> dict[str, Any]:
    return grade._asdict() | {"items": [item._asdict() for item in grade.items]}


def _result(made: HandIn, reasons: str) -> dict[str, Any]:
    """`reasons` chooses whose: a student's never hold a figure of the key."""
    marking = standing_of(made)
    return {
        "handed_in_at": made.handed_in_at,
        "points": marking.points,
        "out_of": marking.out_of,
        "lines": [
            {
                "valve": reading.valve,
                "reading": reading.typed,
                "unit": reading.unit,
                "crank_deg": reading.crank_deg,
                "verdict": reading.verdict or None,
                "further": {name: one["typed"] for name, one in reading.further.items()},
            }
            for reading in made.readings.all()
        ],
        "valves": [
            {
                "valve": valve["valve"],
                "points": valve["points"],
                **{
                    part: {
                        "right": valve[part]["right"],
                        "says": valve[part][reasons],
                        "answer": valve[part]["answer"],
                        "decided": valve[part]["decided"],
                    }
                    for part in PARTS
                    if part in valve
                },
            }
            for valve in marking.valves
        ],
    }
