"""Logbooks of stands and their trends, for instructors."""

from typing import Annotated, Any

from django.http import HttpRequest
from ninja import File, Query, Router, Status
from ninja.files import UploadedFile

from edrix.accounts.signed_in import user_of
from edrix.jobs.schemas import JobOut
from edrix.jobs.services import Job
from edrix.logbook import importing, services
from edrix.logbook.schemas import (
    LogEntryIn,
    LogEntryOut,
    LogFileOut,
    LogPageOut,
    TrendOut,
)
from edrix.problems import Problem

router = Router(tags=["logbook"])
REFUSALS: dict[int, Any] = {400: Problem, 403: Problem, 404: Problem, 409: Problem, 422: Problem}


@router.get(
    "/stands/{stand_id}/log", response={200: LogPageOut, **REFUSALS}, operation_id="readLog"
)
def read_log(
    request: HttpRequest,
    stand_id: int,
    skip: Annotated[int, Query(ge=0, le=1_000_000)] = 0,
    what: Annotated[list[str], Query(max_length=12)] = [],  # noqa: B006 (ninja's)
) -> dict[str, Any]:
    """A page, newest first; what are the kinds of entry that are wanted."""
    return LogPageOut.of(services.log_of(user_of(request), stand_id, skip=skip, whats=what))


@router.post(
    "/stands/{stand_id}/log", response={201: LogEntryOut, **REFUSALS}, operation_id="writeLog"
)
def write_log(request: HttpRequest, stand_id: int, body: LogEntryIn) -> Status[dict[str, Any]]:
    """A new entry; with `corrects`, one that takes the place of an earlier one."""
    entry = services.write(user_of(request), stand_id, body.typed())
    return Status(201, LogEntryOut.of(entry))


@router.get(
    "/stands/{stand_id}/trend", response={200: TrendOut, **REFUSALS}, operation_id="standTrend"
)
def stand_trend(request: HttpRequest, stand_id: int, with_sheets: bool = False) -> dict[str, Any]:
    """How its gaps move, and when to look next. Keys and instructors' entries count, and with
    with_sheets what students found."""
    return TrendOut.of(services.trend_of(user_of(request), stand_id, with_sheets=with_sheets))


@router.post(
    "/stands/{stand_id}/log/look",
    response={200: LogFileOut, **REFUSALS},
    operation_id="lookIntoLog",
)
def look_into_log(request: HttpRequest, stand_id: int, file: File[UploadedFile]) -> dict[str, Any]:
    """How a CSV or XLSX of the past would come into the log; keeps nothing."""
    return LogFileOut.of(importing.look(user_of(request), stand_id, file.read()))


@router.post(
    "/stands/{stand_id}/log/file",
    response={202: JobOut, **REFUSALS},
    operation_id="takeLog",
)
def take_log(request: HttpRequest, stand_id: int, file: File[UploadedFile]) -> Status[Job]:
    """A worker takes every row of the file in, or none; the job's result is how many entries."""
    return Status(202, importing.ask(user_of(request), stand_id, file.read()))
