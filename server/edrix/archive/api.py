"""A class as one file over HTTP: out, and back in. A worker does it; ask `/jobs` how far it is."""

from typing import Any

from django.http import HttpRequest
from ninja import File, Router, Status
from ninja.files import UploadedFile

from edrix.accounts.signed_in import user_of
from edrix.archive import packing
from edrix.jobs.schemas import JobOut
from edrix.jobs.services import Job
from edrix.problems import Problem

router = Router(tags=["classes"])
REFUSALS: dict[int, Any] = {400: Problem, 403: Problem, 404: Problem, 409: Problem, 422: Problem}


@router.post(
    "/classes/{class_id}/archive", response={202: JobOut, **REFUSALS}, operation_id="writeArchive"
)
def write_archive(request: HttpRequest, class_id: int) -> Status[Job]:
    """Everything of a class, with its keys: for its instructors. The job's file is the archive."""
    return Status(202, packing.ask_out(user_of(request), class_id))


@router.post("/archives/import", response={202: JobOut, **REFUSALS}, operation_id="readArchive")
def read_archive(request: HttpRequest, file: File[UploadedFile]) -> Status[Job]:
    """Makes a class of an archive, whole or not at all; the job's result names it (`class_id`)."""
    return Status(202, packing.ask_in(user_of(request), file.read()))
