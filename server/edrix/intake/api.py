"""Readings taken in over HTTP: from a file, which is shown first, and from paper."""

from typing import Any

from django.http import HttpRequest
from ninja import File, Form, Router, Status
from ninja.files import UploadedFile

from edrix.accounts.signed_in import user_of
from edrix.intake import services, taking
from edrix.intake.schemas import ImportPreviewOut, PaperIn, PaperOut
from edrix.jobs.schemas import JobOut
from edrix.jobs.services import Job
from edrix.problems import Problem

router = Router(tags=["files"])
REFUSALS: dict[int, Any] = {400: Problem, 403: Problem, 404: Problem, 409: Problem, 422: Problem}


@router.post(
    "/sheets/{sheet_id}/import/preview",
    response={200: ImportPreviewOut, **REFUSALS},
    operation_id="previewImport",
)
def preview_import(request: HttpRequest, sheet_id: int, file: File[UploadedFile]) -> dict[str, Any]:
    """How a CSV, XLSX or edrix-sheet/1 file would be taken in; keeps nothing."""
    seen = services.preview(user_of(request), sheet_id, file.read())
    return ImportPreviewOut.of(seen, file.name or "")


@router.post("/sheets/{sheet_id}/import", response={202: JobOut, **REFUSALS}, operation_id="takeIn")
def take_in(
    request: HttpRequest,
    sheet_id: int,
    digest: Form[str],
    file: File[UploadedFile],
    confirmed: Form[bool] = False,
) -> Status[Job]:
    """A worker takes in what the preview with this digest showed, all of it or nothing; the job
    tells how many readings are in, and its result how many sheets."""
    return Status(
        202, taking.ask(user_of(request), sheet_id, file.read(), digest, confirmed=confirmed)
    )


@router.post(
    "/sheets/{sheet_id}/paper", response={201: PaperOut, **REFUSALS}, operation_id="takePaper"
)
def take_paper(request: HttpRequest, sheet_id: int, body: PaperIn) -> Status[dict[str, int]]:
    """Sheets typed from paper, one for each student: all are taken in, or none. A 409 with
    `confirm` names readings that look like slips."""
    typed = {one.student_id: one.lines for one in body.sheets}
    sheet = services.take_paper(
        user_of(request), sheet_id, typed, body.not_asked, confirmed=body.confirmed
    )
    return Status(201, {"sheet_id": sheet.id, "taken": len(typed)})
