"""Reading sheets over HTTP: setting them as work, and drafts. Handing in is marked at once, so it
is among the routes of `marking`."""

from typing import Any

from django.http import HttpRequest
from ninja import Router, Status

from edrix.accounts.signed_in import user_of
from edrix.problems import Problem
from edrix.sheets import drafts, services
from edrix.sheets.schemas import AskOut, DraftIn, DraftOut, NewSheetIn, SheetRow
from valvetrain.grading import ASKS, Ask

router = Router(tags=["sheets"])
REFUSALS: dict[int, Any] = {403: Problem, 404: Problem, 409: Problem, 422: Problem}


@router.get("/sheet-asks", response=list[AskOut], operation_id="listAsks")
def list_asks(request: HttpRequest) -> list[Ask]:
    """What a sheet may ask for, in the order in which it is written."""
    return list(ASKS.values())


@router.patch(
    "/sheets/{sheet_id}/draft", response={200: DraftOut, **REFUSALS}, operation_id="saveDraft"
)
def save_draft(request: HttpRequest, sheet_id: int, body: DraftIn) -> drafts.Merged:
    """Keeps what one device changed, beside what others did; two that clash are told."""
    changes = [drafts.Change(one.line, one.based_on) for one in body.changes]
    return drafts.save(user_of(request), sheet_id, changes)


@router.get(
    "/classes/{class_id}/sheets",
    response={200: list[SheetRow], **REFUSALS},
    operation_id="listSheets",
)
def list_sheets(request: HttpRequest, class_id: int) -> list[dict[str, Any]]:
    return [SheetRow.of(one) for one in services.sheets_of_class(user_of(request), class_id)]


@router.post(
    "/classes/{class_id}/sheets", response={201: SheetRow, **REFUSALS}, operation_id="setSheet"
)
def set_sheet(request: HttpRequest, class_id: int, body: NewSheetIn) -> Status[dict[str, Any]]:
    new = services.NewSheet(**body.model_dump())
    return Status(201, SheetRow.of(services.set_sheet(user_of(request), class_id, new)))
