"""Signing in and out, and who is signed in."""

from django.conf import settings
from django.contrib.auth import authenticate, login, logout, update_session_auth_hash
from django.http import HttpRequest, HttpResponse
from django.middleware.csrf import get_token
from ninja import Router, Schema, Status
from ninja.errors import HttpError
from ninja.utils import check_csrf
from pydantic import Field

from edrix.accounts import devices, services
from edrix.accounts.models import User
from edrix.accounts.signed_in import user_of
from edrix.problems import Problem, csrf_failure
from edrix.shapes import In

router = Router(tags=["accounts"])


class SignIn(In):
    sign_in_name: str = Field(max_length=60)
    passcode: str = Field(max_length=200)


class NewPasscode(In):
    current: str = Field(max_length=200)
    new: str = Field(max_length=1000)


class Unit(In):
    unit: str = Field(max_length=10)


class Person(Schema):
    id: int
    sign_in_name: str
    display_name: str
    may_teach: bool
    is_head: bool
    unit: str


class SchoolOut(Schema):
    """What pages need to show times and names as this school does."""

    time_zone: str
    language: str


class Session(Schema):
    """Who is signed in; `person` is null for nobody."""

    person: Person | None
    school: SchoolOut


@router.get("/session", auth=None, response=Session, operation_id="getSession")
def get_session(request: HttpRequest) -> dict[str, object]:
    get_token(request)
    return _session(request.user if isinstance(request.user, User) else None)


def _session(person: User | None) -> dict[str, object]:
    school = {"time_zone": settings.TIME_ZONE, "language": settings.LANGUAGE}
    return {"person": person, "school": school}


@router.post(
    "/session",
    auth=None,
    response={200: Session, 401: Problem, 403: Problem, 429: Problem},
    operation_id="signIn",
)
def sign_in(
    request: HttpRequest, body: SignIn, response: HttpResponse
) -> dict[str, object] | HttpResponse:
    # Routes without auth are not CSRF-checked by ninja.
    if check_csrf(request) is not None:
        return csrf_failure(request)
    user = _checked(request, body)
    login(request, user)
    devices.remember(request, response, user.sign_in_name, settings.HTTPS)
    request.session.clear_expired()
    return _session(user)


def _checked(request: HttpRequest, body: SignIn) -> User:
    name = body.sign_in_name.strip().lower()
    devices.count_apart(request, name)
    user = authenticate(request, sign_in_name=name, password=body.passcode)
    # A name that is locked out is told so by the middleware, whatever is answered here.
    if not isinstance(user, User):
        raise HttpError(401, "Sign-in name or passcode is wrong; check both and try again.")
    return user


@router.delete("/session", response={204: None}, operation_id="signOut")
def sign_out(request: HttpRequest) -> Status[None]:
    logout(request)
    return Status(204, None)


@router.put(
    "/me/passcode",
    response={204: None, 401: Problem, 422: Problem, 429: Problem},
    operation_id="changePasscode",
)
def change_passcode(request: HttpRequest, body: NewPasscode) -> Status[None]:
    """A passcode of one's own. Ends every other session; wrong tries count as at signing in."""
    user = user_of(request)
    devices.count_apart(request, user.sign_in_name)
    known = authenticate(request, sign_in_name=user.sign_in_name, password=body.current)
    services.change_own_passcode(user, known == user, body.new)
    update_session_auth_hash(request, user)
    return Status(204, None)


@router.put("/me/unit", response=Person, operation_id="chooseUnit")
def choose_unit(request: HttpRequest, body: Unit) -> User:
    """The unit that this person reads first: mm or thou."""
    return services.choose_unit(user_of(request), body.unit)
