"""Marks over HTTP: a student's own sheet, and what their instructors see and change."""

from typing import Any

from django.http import HttpRequest
from ninja import Router, Status

from edrix.accounts.signed_in import user_of
from edrix.marking import handing_in, next_key, remark, services
from edrix.marking.findings_schemas import ClassViewOut, FindingsOut
from edrix.marking.schemas import (
    BoardOut,
    DecisionIn,
    HandInIn,
    HandInOut,
    KeyMadeOut,
    MarkAnswerIn,
    NextKeyIn,
    NextKeyOut,
    OwnResultOut,
    RemarkIn,
    RemarkOut,
    SheetOut,
    WorkRow,
)
from edrix.problems import Problem
from edrix.sheets import services as sheets
from edrix.sheets.schemas import SheetChanges

router = Router(tags=["marking"])
REFUSALS: dict[int, Any] = {403: Problem, 404: Problem, 409: Problem, 422: Problem}


@router.get("/work", response=list[WorkRow], operation_id="listWork")
def list_work(request: HttpRequest) -> list[dict[str, Any]]:
    """The sheets set to the person who asks, as a student."""
    return [WorkRow.of(row) for row in services.work_of(user_of(request))]


@router.get("/sheets/{sheet_id}", response={200: SheetOut, **REFUSALS}, operation_id="getSheet")
def get_sheet(request: HttpRequest, sheet_id: int) -> dict[str, Any]:
    user = user_of(request)
    return SheetOut.of(user, sheets.sheet_for_student(user, sheet_id))


@router.patch("/sheets/{sheet_id}", response={204: None, **REFUSALS}, operation_id="changeSheet")
def change_sheet(request: HttpRequest, sheet_id: int, body: SheetChanges) -> Status[None]:
    """Renames a sheet, sets when it opens and closes, puts it away or brings it back."""
    times = body.times()
    sheets.change(user_of(request), sheet_id, name=body.name, away=body.away, times=times)
    return Status(204, None)


@router.delete("/sheets/{sheet_id}", response={204: None, **REFUSALS}, operation_id="removeSheet")
def remove_sheet(request: HttpRequest, sheet_id: int) -> Status[None]:
    """Where no student has written on it."""
    services.remove_sheet(user_of(request), sheet_id)
    return Status(204, None)


@router.post(
    "/sheets/{sheet_id}/hand-in", response={201: OwnResultOut, **REFUSALS}, operation_id="handIn"
)
def hand_in(request: HttpRequest, sheet_id: int, body: HandInIn) -> Status[dict[str, Any]]:
    """Hands in once; a 409 with `confirm` lists likely slips to confirm."""
    key, sure = body.request_key, body.confirmed
    made = handing_in.hand_in(
        user_of(request), sheet_id, body.lines, request_key=key, confirmed=sure
    )
    return Status(201, OwnResultOut.of_own(made))


@router.post(
    "/sheets/{sheet_id}/answers",
    response={201: OwnResultOut, **REFUSALS},
    operation_id="answerMark",
)
def answer(request: HttpRequest, sheet_id: int, body: MarkAnswerIn) -> Status[dict[str, Any]]:
    """A student answers one mark, once."""
    made = services.answer(user_of(request), sheet_id, **body.model_dump())
    return Status(201, OwnResultOut.of_own(made))


@router.get(
    "/sheets/{sheet_id}/board", response={200: BoardOut, **REFUSALS}, operation_id="getBoard"
)
def get_board(request: HttpRequest, sheet_id: int) -> dict[str, Any]:
    return BoardOut.of(*services.board(user_of(request), sheet_id))


@router.get(
    "/hand-ins/{hand_in_id}", response={200: HandInOut, **REFUSALS}, operation_id="getHandIn"
)
def get_hand_in(request: HttpRequest, hand_in_id: int) -> dict[str, Any]:
    user = user_of(request)
    return HandInOut.of(user, services.hand_in_for_instructor(user, hand_in_id))


@router.get(
    "/sheets/{sheet_id}/findings",
    response={200: FindingsOut, **REFUSALS},
    operation_id="getFindings",
)
def get_findings(request: HttpRequest, sheet_id: int) -> dict[str, Any]:
    """What explains the wrong figures of a class, for its instructors."""
    return FindingsOut.of(*services.findings(user_of(request), sheet_id))


@router.get(
    "/sheets/{sheet_id}/class-view",
    response={200: ClassViewOut, **REFUSALS},
    operation_id="getClassView",
)
def get_class_view(request: HttpRequest, sheet_id: int) -> dict[str, Any]:
    """Students by valves for their instructors, what explains them, and keys in doubt."""
    return ClassViewOut.of(*services.class_view(user_of(request), sheet_id))


@router.post(
    "/hand-ins/{hand_in_id}/decisions",
    response={200: HandInOut, **REFUSALS},
    operation_id="decide",
)
def decide(request: HttpRequest, hand_in_id: int, body: DecisionIn) -> dict[str, Any]:
    """Overrides one mark, with the reason; the student reads both."""
    user = user_of(request)
    return HandInOut.of(user, services.decide(user, hand_in_id, **body.model_dump()))


@router.get(
    "/sheets/{sheet_id}/remark", response={200: RemarkOut, **REFUSALS}, operation_id="seeRemark"
)
def see_remark(request: HttpRequest, sheet_id: int) -> dict[str, Any]:
    """Whose marks would move with the stand's newest key, and by how much."""
    return RemarkOut.of(remark.preview(user_of(request), sheet_id))


@router.post(
    "/sheets/{sheet_id}/remark", response={200: RemarkOut, **REFUSALS}, operation_id="remark"
)
def make_remark(request: HttpRequest, sheet_id: int, body: RemarkIn) -> dict[str, Any]:
    """Re-marks every hand-in by the newest key; overrides stay."""
    return RemarkOut.of(remark.remark(user_of(request), sheet_id, body.key_number))


@router.delete(
    "/sheets/{sheet_id}/remark", response={200: RemarkOut, **REFUSALS}, operation_id="takeBack"
)
def take_back(request: HttpRequest, sheet_id: int) -> dict[str, Any]:
    """Undoes the last re-marking: everybody is marked by the key that the sheet had before."""
    return RemarkOut.of(remark.take_back(user_of(request), sheet_id))


@router.get(
    "/hand-ins/{hand_in_id}/next-key",
    response={200: NextKeyOut, **REFUSALS},
    operation_id="seeNextKey",
)
def see_next_key(request: HttpRequest, hand_in_id: int) -> next_key.NextKey:
    """What the stand's key becomes if this sheet's adjusting is taken for true."""
    return next_key.see(user_of(request), hand_in_id)


@router.post(
    "/hand-ins/{hand_in_id}/next-key",
    response={201: KeyMadeOut, **REFUSALS},
    operation_id="makeNextKey",
)
def make_next_key(request: HttpRequest, hand_in_id: int, body: NextKeyIn) -> Status[Any]:
    """The stand is as this sheet left it: the next pair is marked against that."""
    return Status(201, next_key.move_on(user_of(request), hand_in_id, **body.model_dump()))
