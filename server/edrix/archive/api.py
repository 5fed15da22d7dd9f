"""A class as one file over HTTP: out, and back in."""

from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import File, Router, Schema, Status
from ninja.files import UploadedFile

from edrix.accounts.signed_in import user_of
from edrix.archive import services
from edrix.problems import Problem

router = Router(tags=["classes"])
REFUSALS: dict[int, Any] = {400: Problem, 403: Problem, 404: Problem, 422: Problem}


class ArchiveRead(Schema):
    class_id: int


@router.get(
    "/classes/{class_id}/archive.zip",
    response={200: None, **REFUSALS},
    operation_id="writeArchive",
)
def write_archive(request: HttpRequest, class_id: int) -> HttpResponse:
    """Everything of a class, with its keys: for its instructors."""
    name, body = services.write_archive(user_of(request), class_id)
    response = HttpResponse(body, content_type="application/zip")
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


@router.post(
    "/archives/import", response={201: ArchiveRead, **REFUSALS}, operation_id="readArchive"
)
def read_archive(request: HttpRequest, file: File[UploadedFile]) -> Status[dict[str, int]]:
    """Makes a class of an archive, whole or not at all."""
    return Status(201, {"class_id": services.read_archive(user_of(request), file.read())})
