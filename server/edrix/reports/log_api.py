"""A stand's logbook as files and on paper, and its label, for instructors."""

from typing import Any, Literal

from django.http import HttpRequest, HttpResponse
from ninja import Router

from edrix.accounts.signed_in import user_of
from edrix.address import for_devices
from edrix.edge import as_file
from edrix.problems import Problem
from edrix.reports import logs

router = Router(tags=["files"])
REFUSALS: dict[int, Any] = {403: Problem, 404: Problem, 409: Problem, 422: Problem}
PDF: dict[str, Any] = {"responses": {200: {"content": {"application/pdf": {}}}}}


@router.get(
    "/stands/{stand_id}/log.{kind}", response={200: str, **REFUSALS}, operation_id="getLogFile"
)
def get_log_file(
    request: HttpRequest, stand_id: int, kind: Literal["csv", "xlsx", "pdf"]
) -> HttpResponse:
    """The whole log as a table that can be taken in again, or the page for the wall."""
    made = logs.log_file(user_of(request), stand_id, kind)
    return as_file(made.body, made.content_type, made.name, shown=kind == "pdf")


@router.get(
    "/stands/{stand_id}/label.pdf",
    response={200: None, **REFUSALS},
    operation_id="getStandLabel",
    openapi_extra=PDF,
)
def get_stand_label(request: HttpRequest, stand_id: int) -> HttpResponse:
    """To hang on the stand, with a QR code that leads to its page."""
    address = for_devices(request, f"/stand/{stand_id}")
    made = logs.label(user_of(request), stand_id, address)
    return as_file(made.body, made.content_type, made.name, shown=True)
