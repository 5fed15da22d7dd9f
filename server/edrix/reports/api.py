"""Printed pages over HTTP, as PDF."""

from typing import Any, Literal

from django.http import HttpRequest, HttpResponse
from ninja import Router
from pydantic import Field

from edrix.accounts.signed_in import user_of
from edrix.address import for_devices
from edrix.edge import as_file
from edrix.problems import Problem
from edrix.reports import services
from edrix.reports.services import Printed
from edrix.shapes import In

router = Router(tags=["reports"])
MOST_SLIPS = 500
REFUSALS: dict[int, Any] = {403: Problem, 404: Problem, 422: Problem}


class SlipIn(In):
    id: int
    passcode: str = Field(max_length=40)


class SlipsIn(In):
    people: list[SlipIn] = Field(max_length=MOST_SLIPS)


@router.get(
    "/hand-ins/{hand_in_id}/sheet.pdf",
    response={200: None, **REFUSALS},
    operation_id="printMarkedSheet",
)
def print_marked_sheet(
    request: HttpRequest, hand_in_id: int, whose: Literal["student", "instructor"] = "student"
) -> HttpResponse:
    """A marked sheet; only the instructor's copy holds figures of the key."""
    return _pdf(services.marked(user_of(request), hand_in_id, f"{whose}_says"))


@router.get(
    "/sheets/{sheet_id}/report.pdf", response={200: None, **REFUSALS}, operation_id="printReport"
)
def print_report(request: HttpRequest, sheet_id: int) -> HttpResponse:
    return _pdf(services.report(user_of(request), sheet_id))


@router.get(
    "/sheets/{sheet_id}/blank.pdf", response={200: None, **REFUSALS}, operation_id="printBlanks"
)
def print_blanks(request: HttpRequest, sheet_id: int) -> HttpResponse:
    """A blank sheet for each student, with a QR code that leads to the sheet."""
    address = for_devices(request, f"/sheet/{sheet_id}")
    return _pdf(services.blanks(user_of(request), sheet_id, address))


@router.post(
    "/classes/{class_id}/slips.pdf", response={200: None, **REFUSALS}, operation_id="printSlips"
)
def print_slips(request: HttpRequest, class_id: int, body: SlipsIn) -> HttpResponse:
    """Passcodes that were just made, as slips to cut."""
    given = [(one.id, one.passcode) for one in body.people]
    address = for_devices(request)
    return _pdf(services.slips(user_of(request), class_id, given, address))


@router.get(
    "/engines/{engine_id}/shims.pdf", response={200: None, **REFUSALS}, operation_id="printShims"
)
def print_shims(request: HttpRequest, engine_id: int, version: int | None = None) -> HttpResponse:
    return _pdf(services.shims(engine_id, version))


def _pdf(printed: Printed) -> HttpResponse:
    return as_file(printed.body, "application/pdf", printed.name, shown=True)
