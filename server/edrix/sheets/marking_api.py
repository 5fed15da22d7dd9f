"""Marks put right over HTTP: decisions of instructors, and marking anew by a corrected key."""

from datetime import datetime
from typing import Any, Literal

from django.http import HttpRequest
from ninja import Router, Schema
from pydantic import Field

from edrix.edge import In, user_of
from edrix.problems import Problem
from edrix.sheets import services
from edrix.sheets.api import hand_in_out
from edrix.sheets.models import Sheet
from edrix.sheets.remark import Move
from edrix.sheets.schemas import HandInOut
from edrix.stands.services import Key

router = Router(tags=["sheets"])
REFUSALS: dict[int, Any] = {403: Problem, 404: Problem, 409: Problem, 422: Problem}


class DecisionIn(In):
    valve: int
    part: Literal["reading", "verdict", "position", "adjusted", "shim"]
    right: bool
    reason: str = Field(max_length=300)


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


@router.post(
    "/hand-ins/{hand_in_id}/decisions",
    response={200: HandInOut, **REFUSALS},
    operation_id="decide",
)
def decide(request: HttpRequest, hand_in_id: int, body: DecisionIn) -> dict[str, Any]:
    """Counts one mark otherwise, with the reason; the student reads both."""
    user = user_of(request)
    return hand_in_out(user, services.decide(user, hand_in_id, **body.model_dump()))


@router.get(
    "/sheets/{sheet_id}/remark", response={200: RemarkOut, **REFUSALS}, operation_id="seeRemark"
)
def see_remark(request: HttpRequest, sheet_id: int) -> dict[str, Any]:
    """Whose marks would move with the stand's newest key, and by how much."""
    return _remark(*services.remark_preview(user_of(request), sheet_id))


@router.post(
    "/sheets/{sheet_id}/remark", response={200: RemarkOut, **REFUSALS}, operation_id="remark"
)
def remark(request: HttpRequest, sheet_id: int, body: RemarkIn) -> dict[str, Any]:
    """Marks every hand-in anew by the newest key; decisions stay."""
    return _remark(*services.remark(user_of(request), sheet_id, body.key_number))


def _remark(sheet: Sheet, key: Key, moves: list[Move]) -> dict[str, Any]:
    return {
        "sheet_id": sheet.id,
        "key_number": sheet.key.number,
        "newest_key_number": key.number,
        "newest_made_at": key.made_at,
        "hand_ins": len(moves),
        "moves": [
            {
                "hand_in_id": move.hand_in.id,
                "student": move.hand_in.student.display_name,
                "before": move.before,
                "after": move.after,
            }
            for move in moves
            if move.before != move.after
        ],
    }
