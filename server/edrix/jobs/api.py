"""Long work of one's own: how far it is, what came of it, stop."""

from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import Router, Status

from edrix.accounts.signed_in import user_of
from edrix.edge import as_file
from edrix.jobs import services
from edrix.jobs.schemas import JobOut
from edrix.problems import Problem

router = Router(tags=["jobs"])
REFUSALS: dict[int, Any] = {404: Problem}


@router.get("/jobs/{job_id}", response={200: JobOut, **REFUSALS}, operation_id="getJob")
def get_job(request: HttpRequest, job_id: int) -> services.Job:
    return services.own_job(user_of(request), job_id)


@router.post("/jobs/{job_id}/stop", response={204: None, **REFUSALS}, operation_id="stopJob")
def stop_job(request: HttpRequest, job_id: int) -> Status[None]:
    services.stop(services.own_job(user_of(request), job_id))
    return Status(204, None)


@router.get("/jobs/{job_id}/file", response={200: None, **REFUSALS}, operation_id="getJobFile")
def get_job_file(request: HttpRequest, job_id: int) -> HttpResponse:
    name, body = services.own_file(user_of(request), job_id)
    return as_file(body, "application/octet-stream", name)
