"""Readings and marks as files over HTTP: what comes in is shown first, and taken in when seen."""

from typing import Any, Literal

from django.http import HttpRequest, HttpResponse
from ninja import File, Form, Router, Schema, Status
from ninja.files import UploadedFile
from pydantic import Field

from edrix.edge import In, user_of
from edrix.problems import Problem
from edrix.sheets import exports, imports
from edrix.sheets.exports import Made
from edrix.sheets.schemas import LineIn

router = Router(tags=["files"])
REFUSALS: dict[int, Any] = {403: Problem, 404: Problem, 409: Problem, 422: Problem}
MOST_SHOWN = 100
Kind = Literal["csv", "xlsx"]


class ImportColumnOut(Schema):
    """means is null where the column is not used."""

    title: str
    means: str | None
    unit: str | None
    note: str


class RefusedRowOut(Schema):
    row: int
    who: str
    problems: list[str]


class ComerOut(Schema):
    """left_out says why nothing of this student is taken in."""

    student_id: int
    student: str
    lines: int
    missing: list[int]
    left_out: str | None


class ImportPreviewOut(Schema):
    """refused holds the first hundred; refused_rows counts all."""

    sheet_id: int
    title: str
    file_name: str
    kind: str
    notes: list[str]
    columns: list[ImportColumnOut]
    rows: int
    refused_rows: int
    refused: list[RefusedRowOut]
    students: list[ComerOut]
    takes: int
    digest: str


class PaperSheetIn(In):
    student_id: int
    lines: list[LineIn] = Field(max_length=200)


class PaperIn(In):
    sheets: list[PaperSheetIn] = Field(max_length=200)


class PaperOut(Schema):
    sheet_id: int
    taken: int


@router.post(
    "/sheets/{sheet_id}/import/preview",
    response={200: ImportPreviewOut, 400: Problem, **REFUSALS},
    operation_id="previewImport",
)
def preview_import(request: HttpRequest, sheet_id: int, file: File[UploadedFile]) -> dict[str, Any]:
    """How a CSV, XLSX or edrix-sheet/1 file would be taken in; keeps nothing."""
    return _preview(imports.preview(user_of(request), sheet_id, file.read()), file.name or "")


@router.post(
    "/sheets/{sheet_id}/import",
    response={201: ImportPreviewOut, 400: Problem, **REFUSALS},
    operation_id="takeIn",
)
def take_in(
    request: HttpRequest, sheet_id: int, digest: Form[str], file: File[UploadedFile]
) -> Status[dict[str, Any]]:
    """Takes in what the preview with this digest showed, or refuses."""
    taken = imports.take_in(user_of(request), sheet_id, file.read(), digest)
    return Status(201, _preview(taken, file.name or ""))


@router.post(
    "/sheets/{sheet_id}/paper", response={201: PaperOut, **REFUSALS}, operation_id="takePaper"
)
def take_paper(request: HttpRequest, sheet_id: int, body: PaperIn) -> Status[dict[str, int]]:
    """Sheets typed from paper, one for each student: all are taken in, or none."""
    typed = {one.student_id: [line.typed() for line in one.lines] for one in body.sheets}
    sheet = imports.take_paper(user_of(request), sheet_id, typed)
    return Status(201, {"sheet_id": sheet.id, "taken": len(typed)})


@router.get(
    "/sheets/{sheet_id}/readings.{kind}",
    response={200: str, **REFUSALS},
    operation_id="getReadingsFile",
)
def get_readings_file(request: HttpRequest, sheet_id: int, kind: Kind) -> HttpResponse:
    return _file(exports.readings_file(user_of(request), sheet_id, kind))


@router.get(
    "/sheets/{sheet_id}/marks.{kind}", response={200: str, **REFUSALS}, operation_id="getMarksFile"
)
def get_marks_file(request: HttpRequest, sheet_id: int, kind: Kind) -> HttpResponse:
    """Every mark with its reason; as XLSX with a page of one row for each student."""
    return _file(exports.marks_file(user_of(request), sheet_id, kind))


@router.get(
    "/sheets/{sheet_id}/grades.csv", response={200: str, **REFUSALS}, operation_id="getGradesFile"
)
def get_grades_file(request: HttpRequest, sheet_id: int) -> HttpResponse:
    """One row for each student, for a grade book."""
    return _file(exports.grades_file(user_of(request), sheet_id))


@router.get(
    "/hand-ins/{hand_in_id}/sheet.json",
    response={200: dict[str, Any], **REFUSALS},
    operation_id="getSheetFile",
)
def get_sheet_file(request: HttpRequest, hand_in_id: int) -> HttpResponse:
    """One hand-in as edrix-sheet/1, with engine and key: for instructors only."""
    return _file(exports.sheet_file(user_of(request), hand_in_id))


def _file(made: Made) -> HttpResponse:
    response = HttpResponse(made.body, content_type=made.content_type)
    response["Content-Disposition"] = f'attachment; filename="{made.name}"'
    return response


def _preview(seen: imports.Preview, name: str) -> dict[str, Any]:
    return {
        "sheet_id": seen.sheet.id,
        "title": seen.sheet.title,
        "file_name": name[:120],
        "kind": seen.kind,
        "notes": seen.notes,
        "columns": [
            {
                "title": column.title,
                "means": imports.meaning(column),
                "unit": column.unit,
                "note": column.note,
            }
            for column in seen.columns
        ],
        "rows": seen.rows,
        "refused_rows": len(seen.refused),
        "refused": [
            {"row": row.row, "who": row.who, "problems": row.problems}
            for row in seen.refused[:MOST_SHOWN]
        ],
        "students": [
            {
                "student_id": comer.student.id,
                "student": comer.student.name,
                "lines": len(comer.entries),
                "missing": comer.missing,
                "left_out": comer.left_out,
            }
            for comer in seen.comers
        ],
        "takes": len(seen.taken),
        "digest": seen.digest,
    }
