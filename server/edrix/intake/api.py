"""Readings taken in over HTTP: from a file, which is shown first, and from paper."""

import json
import logging
from collections.abc import Iterator
from typing import Any

from django.http import HttpRequest, StreamingHttpResponse
from ninja import File, Form, Router, Status
from ninja.files import UploadedFile

from edrix.accounts.signed_in import user_of
from edrix.errors import ServiceError
from edrix.intake import services
from edrix.intake.schemas import ImportPreviewOut, PaperIn, PaperOut, TakeInStep
from edrix.problems import Problem, our_fault, problem_of

log = logging.getLogger(__name__)

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


@router.post(
    "/sheets/{sheet_id}/import", response={200: TakeInStep, **REFUSALS}, operation_id="takeIn"
)
def take_in(
    request: HttpRequest, sheet_id: int, digest: Form[str], file: File[UploadedFile]
) -> StreamingHttpResponse:
    """Takes in what the preview with this digest showed, or refuses. The answer is one JSON object
    a line (NDJSON), a line each time that some more are in; whoever hangs up takes nothing in."""
    taking = services.take_in(user_of(request), sheet_id, file.read(), digest)
    lines = _lines(taking, file.name or "")
    answer = StreamingHttpResponse(lines, content_type="application/x-ndjson")
    answer["X-Accel-Buffering"] = "no"  # the front passes each line on as it comes
    return answer


@router.post(
    "/sheets/{sheet_id}/paper", response={201: PaperOut, **REFUSALS}, operation_id="takePaper"
)
def take_paper(request: HttpRequest, sheet_id: int, body: PaperIn) -> Status[dict[str, int]]:
    """Sheets typed from paper, one for each student: all are taken in, or none."""
    typed = {one.student_id: one.lines for one in body.sheets}
    sheet = services.take_paper(user_of(request), sheet_id, typed, body.not_asked)
    return Status(201, {"sheet_id": sheet.id, "taken": len(typed)})


def _lines(taking: services.Taking, file_name: str) -> Iterator[str]:
    """The status line is out before the work begins, so what goes wrong is told on a line."""
    at = services.Progress(0, taking.readings)
    try:
        for at in taking.progress():
            yield _line(at)
        taken = ImportPreviewOut.of(taking.seen, file_name)
        yield _line(at, taken=ImportPreviewOut.model_validate(taken).model_dump(mode="json"))
    except ServiceError as refusal:
        yield _line(at, problem=problem_of(refusal))
    except Exception as fault:
        log.error("unexpected error while taking a file in", exc_info=fault)
        yield _line(at, problem=our_fault())


def _line(at: services.Progress, **outcome: Any) -> str:
    return (
        json.dumps({"done": at.done, "of": at.of, "taken": None, "problem": None, **outcome}) + "\n"
    )
