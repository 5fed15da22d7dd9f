"""Blind feel over HTTP: a gap is told only once it was guessed."""

from typing import Any, Literal

from django.http import HttpRequest
from ninja import Router, Schema, Status
from pydantic import Field

from edrix.accounts.signed_in import user_of
from edrix.practice import blind
from edrix.practice.blind import Opened, SeenGap
from edrix.problems import Problem
from edrix.shapes import In

router = Router(tags=["practice"])
REFUSALS: dict[int, Any] = {403: Problem, 404: Problem, 409: Problem, 422: Problem}


class ThresholdOut(Schema):
    """Of the last twenty: how far two gaps must lie apart to be told apart three times in four,
    with its 95 per cent interval; off_mm is the mean error of the guesses. threshold_mm is null
    where the guesses do not follow the gap, high_mm where they may not."""

    tries: int
    words_right: int
    off_mm: float
    threshold_mm: float | None
    low_mm: float | None
    high_mm: float | None


class BlindOut(Schema):
    id: int
    leaf_um: int
    tries: int
    hand: ThresholdOut | None


class BlindPushOut(Schema):
    pull: float
    is_in: bool


class BlindGuessIn(In):
    named: str = Field(max_length=8)
    gap: str = Field(max_length=20)
    unit: Literal["mm", "thou"] = "mm"


class BlindSeenOut(Schema):
    gap_mm: float
    word: str
    right_word: bool
    off_mm: float
    tries: int
    hand: ThresholdOut | None


@router.post(
    "/classes/{class_id}/blind-feel",
    response={200: BlindOut, **REFUSALS},
    operation_id="openBlind",
)
def open_blind(request: HttpRequest, class_id: int) -> Opened:
    """The student's open gap, or a new one."""
    return blind.open_try(user_of(request), class_id)


@router.post(
    "/blind-feel/{try_id}/pushes",
    response={200: BlindPushOut, **REFUSALS},
    operation_id="pushBlind",
)
def push_blind(request: HttpRequest, try_id: int) -> dict[str, Any]:
    return blind.push(user_of(request), try_id)._asdict()


@router.post(
    "/blind-feel/{try_id}/guess",
    response={201: BlindSeenOut, **REFUSALS},
    operation_id="guessBlind",
)
def guess_blind(request: HttpRequest, try_id: int, body: BlindGuessIn) -> Status[SeenGap]:
    """Names and guesses it, once; then it is told."""
    return Status(201, blind.guess(user_of(request), try_id, **body.model_dump()))
