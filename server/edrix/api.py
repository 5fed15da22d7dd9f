"""The whole API in one place: the routers of every app, one error format, one document."""

import shutil

from django.conf import settings
from django.db import OperationalError, connection
from django.http import HttpRequest
from ninja import Schema
from ninja.errors import HttpError

from edrix.accounts.api import router as accounts
from edrix.accounts.signed_in import SignedIn
from edrix.accounts.staff_api import router as staff
from edrix.archive.api import router as archives
from edrix.asking.api import router as asking
from edrix.classes.api import router as classes
from edrix.drills.api import router as drills
from edrix.edge import new_api
from edrix.engines.api import router as engines
from edrix.intake.api import router as intake
from edrix.jobs.api import router as jobs
from edrix.lessons.api import router as lessons
from edrix.logbook.api import router as logbook
from edrix.longforms.api import router as longforms
from edrix.marking.api import router as marking
from edrix.marking.rubric_api import router as rubrics
from edrix.practice.api import router as practice
from edrix.practice.blind_api import router as blind_feel
from edrix.practice.weights_api import router as practice_weights
from edrix.problems import install_handlers
from edrix.progress.api import router as progress
from edrix.qr import router as qr
from edrix.reports.api import router as reports
from edrix.reports.files_api import router as files
from edrix.reports.guide_api import router as guide_files
from edrix.reports.lesson_api import router as lesson_files
from edrix.reports.log_api import router as log_files
from edrix.reports.rota_api import router as rota_files
from edrix.reports.store_api import router as orders
from edrix.rota.api import router as rotas
from edrix.safety.api import router as safety
from edrix.sheets.api import router as sheets
from edrix.shop.api import router as shop
from edrix.stands.api import router as stands
from edrix.store.api import router as store
from edrix.study.api import router as studies
from edrix.today.api import router as today
from edrix.workshop.api import router as workshop

api = new_api(SignedIn())
install_handlers(api)
ROUTERS = (
    accounts, staff, shop, longforms, jobs, engines, classes, stands, drills, safety, logbook,
    workshop, store, practice, practice_weights, blind_feel, sheets,
    marking, asking, rubrics, intake, studies, files, log_files, orders,
    reports, archives, progress, rotas, rota_files, today, lessons,
    lesson_files, guide_files, qr,
)  # fmt: skip
for router in ROUTERS:
    api.add_router("", router)


LEAST_FREE_BYTES = 64_000_000


class Health(Schema):
    ok: bool


@api.get("/health", auth=None, response=Health, operation_id="health", tags=["server"])
def health(request: HttpRequest) -> dict[str, bool]:
    """Whether the server answers; asked by the start command."""
    return {"ok": True}


@api.get("/ready", auth=None, response=Health, operation_id="ready", tags=["server"])
def ready(request: HttpRequest) -> dict[str, bool]:
    """Whether work can be kept: the database answers (Django's own look, one SELECT), and the disk
    that it writes to has room."""
    connection.ensure_connection()
    if not connection.is_usable():
        # Django leaves those alone in which no statement failed: a new one, or it is away.
        connection.close()
        connection.ensure_connection()
        if not connection.is_usable():
            raise OperationalError("the connection to the database is broken")
    if settings.DISK and shutil.disk_usage(settings.DISK).free < LEAST_FREE_BYTES:
        raise HttpError(503, "The server's disk is full; nothing can be kept. Make room on it.")
    return {"ok": True}
