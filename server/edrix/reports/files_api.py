"""Readings and marks as files of other programs over HTTP, for instructors."""

from typing import Any, Literal

from django.http import HttpRequest, HttpResponse
from ninja import Router

from edrix.accounts.signed_in import user_of
from edrix.edge import as_file
from edrix.problems import Problem
from edrix.reports import files
from edrix.reports.files import Made

router = Router(tags=["files"])
REFUSALS: dict[int, Any] = {403: Problem, 404: Problem, 409: Problem, 422: Problem}
Kind = Literal["csv", "xlsx"]


@router.get(
    "/sheets/{sheet_id}/readings.{kind}",
    response={200: str, **REFUSALS},
    operation_id="getReadingsFile",
)
def get_readings_file(request: HttpRequest, sheet_id: int, kind: Kind) -> HttpResponse:
    return _file(files.readings_file(user_of(request), sheet_id, kind))


@router.get(
    "/sheets/{sheet_id}/marks.{kind}", response={200: str, **REFUSALS}, operation_id="getMarksFile"
)
def get_marks_file(request: HttpRequest, sheet_id: int, kind: Kind) -> HttpResponse:
    """Every mark with its reason; as XLSX with a page of one row for each student."""
    return _file(files.marks_file(user_of(request), sheet_id, kind))


@router.get(
    "/sheets/{sheet_id}/grades.csv", response={200: str, **REFUSALS}, operation_id="getGradesFile"
)
def get_grades_file(request: HttpRequest, sheet_id: int) -> HttpResponse:
    """One row for each student, for a grade book."""
    return _file(files.grades_file(user_of(request), sheet_id))


@router.get(
    "/hand-ins/{hand_in_id}/sheet.json",
    response={200: dict[str, Any], **REFUSALS},
    operation_id="getSheetFile",
)
def get_sheet_file(request: HttpRequest, hand_in_id: int) -> HttpResponse:
    """One hand-in as edrix-sheet/1, with engine and key: for instructors only."""
    return _file(files.sheet_file(user_of(request), hand_in_id))


@router.get(
    "/runs/{run_id}/run.json",
    response={200: dict[str, Any], **REFUSALS},
    operation_id="getRunFile",
)
def get_run_file(request: HttpRequest, run_id: int) -> HttpResponse:
    """One practice run as edrix-run/1, with everything that it hides: for instructors only."""
    return _file(files.run_file(user_of(request), run_id))


def _file(made: Made) -> HttpResponse:
    return as_file(made.body, made.content_type, made.name)
