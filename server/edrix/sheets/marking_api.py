"""Marks put right over HTTP: decisions of instructors, and marking anew by a corrected key."""

from datetime import datetime
from decimal import Decimal
from typing import Any, Literal

from django.http import HttpRequest
from ninja import Router, Schema, Status
from pydantic import Field

from edrix.edge import In, user_of
from edrix.problems import Problem
from edrix.sheets import next_key, services
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


class NextGapOut(Schema):
    """why says how it is known; moved is false where the valve was left as it was."""

    valve: int
    now_mm: Decimal
    becomes_mm: Decimal
    moved: bool
    why: str


class NextKeyOut(Schema):
    hand_in_id: int
    based_on: int
    gaps: list[NextGapOut]


class NextKeyIn(In):
    """this_sheet: who hands in from now on is marked by it."""

    based_on: int
    this_sheet: bool = True


class KeyMadeOut(Schema):
    number: int


@router.get(
    "/hand-ins/{hand_in_id}/next-key",
    response={200: NextKeyOut, **REFUSALS},
    operation_id="seeNextKey",
)
def see_next_key(request: HttpRequest, hand_in_id: int) -> dict[str, Any]:
    """What the stand's key becomes if this sheet's adjusting is taken for true."""
    seen = next_key.see(user_of(request), hand_in_id)
    return {
        "hand_in_id": hand_in_id,
        "based_on": seen.based_on,
        "gaps": [
            {
                "valve": gap.valve,
                "now_mm": gap.now_mm,
                "becomes_mm": gap.becomes_mm,
                "moved": bool(gap.why),
                "why": gap.why,
            }
            for gap in seen.gaps
        ],
    }


@router.post(
    "/hand-ins/{hand_in_id}/next-key",
    response={201: KeyMadeOut, **REFUSALS},
    operation_id="makeNextKey",
)
def make_next_key(request: HttpRequest, hand_in_id: int, body: NextKeyIn) -> Status[dict[str, int]]:
    """The stand is as this sheet left it: the next pair is marked against that."""
    key = next_key.move_on(user_of(request), hand_in_id, **body.model_dump())
    return Status(201, {"number": key.number})


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
