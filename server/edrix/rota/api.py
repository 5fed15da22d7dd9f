"""Rotas over HTTP: for the instructors of a class, and each person's own."""

from typing import Any

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import File, Router, Status
from ninja.files import UploadedFile

from edrix.accounts.signed_in import user_of
from edrix.edge import as_file
from edrix.problems import Problem
from edrix.rota import by_hand, calendars, own, planning, schemas, services
from edrix.rota.schemas import PlanningOut, RotaLine, RotaOut

router = Router(tags=["rota"])
REFUSALS: dict[int, Any] = {403: Problem, 404: Problem, 409: Problem, 422: Problem}
CALENDAR: dict[str, Any] = {"responses": {200: {"content": {"text/calendar": {}}}}}


@router.get(
    "/classes/{class_id}/rotas",
    response={200: list[RotaLine], **REFUSALS},
    operation_id="listRotas",
)
def list_rotas(request: HttpRequest, class_id: int) -> list[dict[str, Any]]:
    return [RotaLine.of(one) for one in services.rotas_of(user_of(request), class_id)]


@router.post(
    "/classes/{class_id}/rotas",
    response={201: schemas.RotaMade, **REFUSALS},
    operation_id="createRota",
)
def create_rota(
    request: HttpRequest, class_id: int, body: schemas.NewRotaIn
) -> Status[services.Rota]:
    """An empty one, or what another asks for a week later."""
    made = services.create(user_of(request), class_id, body.title, body.based_on)
    return Status(201, made)


@router.get("/rotas/{rota_id}", response={200: RotaOut, **REFUSALS}, operation_id="getRota")
def get_rota(request: HttpRequest, rota_id: int) -> dict[str, Any]:
    """As it stands, with what is broken, what is missing and why, and how far planning is."""
    rota = services.get_rota(user_of(request), rota_id)
    return RotaOut.of(rota, services.standing(rota), planning.newest(rota_id))


@router.patch("/rotas/{rota_id}", response={204: None, **REFUSALS}, operation_id="changeRota")
def change_rota(request: HttpRequest, rota_id: int, body: schemas.RotaChanges) -> Status[None]:
    """Renames it, posts it or takes it down, puts it away or brings it back."""
    services.change(user_of(request), rota_id, **body.model_dump())
    return Status(204, None)


@router.delete("/rotas/{rota_id}", response={204: None, **REFUSALS}, operation_id="removeRota")
def remove_rota(request: HttpRequest, rota_id: int) -> Status[None]:
    services.remove(user_of(request), rota_id)
    return Status(204, None)


@router.put("/rotas/{rota_id}/wish", response={204: None, **REFUSALS}, operation_id="saveRotaWish")
def save_wish(request: HttpRequest, rota_id: int, body: schemas.WishIn) -> Status[None]:
    """Slots, places, tasks and who is away; asks before bookings go with them."""
    user = user_of(request)
    services.save_wish(user, rota_id, body.revision, body.wish, confirmed=body.confirmed)
    return Status(204, None)


@router.post(
    "/rotas/{rota_id}/plan", response={202: PlanningOut, **REFUSALS}, operation_id="planRota"
)
def plan_rota(request: HttpRequest, rota_id: int, body: schemas.PlanIn) -> Status[Any]:
    """Puts it in the queue; ask /planning how far it is."""
    job = planning.begin(user_of(request), rota_id, few_changes=body.few_changes)
    return Status(202, PlanningOut.of(job, 0))


@router.get(
    "/rotas/{rota_id}/planning",
    response={200: PlanningOut | None, **REFUSALS},
    operation_id="getPlanning",
)
def get_planning(request: HttpRequest, rota_id: int) -> dict[str, Any] | None:
    """How far planning is; cheap, for a page that waits."""
    rota = services.get_rota(user_of(request), rota_id)
    return PlanningOut.of(planning.newest(rota_id), rota.revision)


@router.post(
    "/rotas/{rota_id}/planning/stop", response={204: None, **REFUSALS}, operation_id="stopPlanning"
)
def stop_planning(request: HttpRequest, rota_id: int) -> Status[None]:
    """The best until then is the answer."""
    planning.stop(user_of(request), rota_id)
    return Status(204, None)


@router.post("/rotas/{rota_id}/keep", response={204: None, **REFUSALS}, operation_id="keepPlan")
def keep_plan(request: HttpRequest, rota_id: int, body: schemas.KeepIn) -> Status[None]:
    """Takes what planning found; /undo leads back."""
    planning.keep(user_of(request), rota_id, body.job_id)
    return Status(204, None)


@router.post("/rotas/{rota_id}/undo", response={204: None, **REFUSALS}, operation_id="undoPlan")
def undo_plan(request: HttpRequest, rota_id: int, body: schemas.RevisionIn) -> Status[None]:
    services.undo(user_of(request), rota_id, body.revision)
    return Status(204, None)


@router.post(
    "/rotas/{rota_id}/bookings/try",
    response={200: list[schemas.BrokenOut], **REFUSALS},
    operation_id="tryBooking",
)
def try_booking(
    request: HttpRequest, rota_id: int, body: schemas.BookingIn
) -> list[dict[str, Any]]:
    """What a change by hand would break; nothing is kept."""
    found = by_hand.try_change(user_of(request), rota_id, body.id, body.change())
    return [one._asdict() | {"bookings": []} for one in found]


@router.post(
    "/rotas/{rota_id}/bookings", response={204: None, **REFUSALS}, operation_id="changeBooking"
)
def change_booking(
    request: HttpRequest, rota_id: int, body: schemas.BookingChangeIn
) -> Status[None]:
    """Moves, books, pins or takes out; what breaks a rule is asked about first."""
    by_hand.change_booking(
        user_of(request), rota_id, body.revision, body.id, body.change(), confirmed=body.confirmed
    )
    return Status(204, None)


@router.post(
    "/rotas/{rota_id}/away",
    response={200: schemas.AwayFound, **REFUSALS},
    operation_id="readAwayCalendar",
)
def read_away(request: HttpRequest, rota_id: int, file: File[UploadedFile]) -> dict[str, list[str]]:
    """The slots that the events of a calendar touch, in whatever zones they are."""
    return {"slots": calendars.away_in_calendar(user_of(request), rota_id, file.read())}


@router.get("/my/rota", response=schemas.OwnRota, operation_id="getOwnRota")
def get_own_rota(request: HttpRequest) -> dict[str, Any]:
    """What a student has before them, and since when their calendar has its address."""
    person = user_of(request)
    bookings = own.own_bookings(person, since=timezone.now())
    return {
        "bookings": [one._asdict() for one in bookings],
        "feed_since": calendars.has_feed(person),
    }


@router.get(
    "/my/rota.ics", response={200: None}, operation_id="getOwnCalendar", openapi_extra=CALENDAR
)
def get_own_calendar(request: HttpRequest) -> HttpResponse:
    return _calendar(calendars.calendar_of(user_of(request)))


@router.post("/my/rota/feed", response={201: schemas.FeedMade}, operation_id="renewFeed")
def renew_feed(request: HttpRequest) -> Status[dict[str, str]]:
    """A new secret address; the one before ends."""
    secret = calendars.renew_feed(user_of(request))
    return Status(201, {"address": request.build_absolute_uri(f"/api/calendar/{secret}.ics")})


@router.delete("/my/rota/feed", response={204: None}, operation_id="endFeed")
def end_feed(request: HttpRequest) -> Status[None]:
    calendars.end_feed(user_of(request))
    return Status(204, None)


@router.get(
    "/calendar/{secret}.ics",
    auth=None,
    response={200: None, 404: Problem},
    operation_id="getFeed",
    openapi_extra=CALENDAR,
)
def get_feed(request: HttpRequest, secret: str) -> HttpResponse:
    """For calendar programs, which cannot sign in: whoever knows the address reads it."""
    return _calendar(calendars.of_secret(secret))


def _calendar(body: bytes) -> HttpResponse:
    return as_file(body, "text/calendar; charset=utf-8", "rota.ics")
