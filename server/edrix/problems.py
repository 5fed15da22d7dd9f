"""Every error as one format: problem details for HTTP APIs (RFC 9457), in words for people."""

import logging
import math
import sys
from datetime import timedelta
from typing import Any

from axes.handlers.database import AxesDatabaseHandler
from axes.helpers import get_cool_off
from django.core.exceptions import (
    ObjectDoesNotExist,
    RequestDataTooBig,
    TooManyFieldsSent,
    TooManyFilesSent,
)
from django.db import IntegrityError, InterfaceError, OperationalError
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse, UnreadablePostError
from django.http.multipartparser import MultiPartParserError
from django.utils import timezone
from ninja import NinjaAPI, Schema
from ninja.errors import AuthenticationError, HttpError, ValidationError
from pydantic import Field

from edrix.errors import (
    ConflictError,
    FieldFault,
    InvalidError,
    NotAllowedError,
    NotFoundError,
    QuestionsError,
    ServiceError,
)

log = logging.getLogger(__name__)

STATUS: dict[type[ServiceError], int] = {
    NotFoundError: 404,
    NotAllowedError: 403,
    ConflictError: 409,
    InvalidError: 422,
    QuestionsError: 409,
}


class FieldProblem(Schema):
    path: str
    problem: str


class Problem(Schema):
    """What every error answer looks like; `detail` is a sentence to show as it is."""

    status: int
    title: str
    detail: str
    fields: list[FieldProblem] = Field(default_factory=list)
    confirm: bool = False
    """True where the same request with the questions confirmed would be accepted."""


TITLES = {
    400: "Cannot be read",
    401: "Not signed in",
    403: "Not allowed",
    404: "Not found",
    405: "Not possible here",
    409: "In conflict",
    413: "Too large",
    422: "Cannot be used",
    429: "Too many tries",
    500: "Our fault",
    503: "Away for a moment",
}
RETRY_AFTER_S = 2
"""How soon a client may ask again while the database is away: it is started again by then."""
DATABASE_AWAY = (OperationalError, InterfaceError)


def problem(
    status: int, detail: str, faults: list[FieldFault] | None = None, *, confirm: bool = False
) -> dict[str, Any]:
    """A problem as it is sent."""
    return {
        "status": status,
        "title": TITLES.get(status, "Error"),
        "detail": detail,
        "fields": [{"path": f.path, "problem": f.problem} for f in faults or []],
        "confirm": confirm,
    }


def locked_out(
    request: HttpRequest, _answer: HttpResponse | None = None, given: dict[str, Any] | None = None
) -> JsonResponse:
    """Too many wrong passcodes for one name: axes answers in our format, and says how long."""
    asked = given or getattr(request, "axes_credentials", None)
    (attempts,) = AxesDatabaseHandler().get_user_attempts(request, asked)
    last = attempts.order_by("-attempt_time").first()
    pause = get_cool_off(request) or timedelta()
    left = pause if last is None else last.attempt_time + pause - timezone.now()
    minutes = max(1, math.ceil(left.total_seconds() / 60))
    words = (
        f"Five wrong passcodes for this name. Wait {minutes} minute{'' if minutes == 1 else 's'}, "
        "then try again; more tries do not make it longer."
    )
    answer = JsonResponse(problem(429, words), status=429)
    answer["Retry-After"] = str(minutes * 60)
    return answer


def problem_of(refusal: ServiceError) -> dict[str, Any]:
    """What a service refused, with its status."""
    faults = getattr(refusal, "faults", None)
    asks = isinstance(refusal, QuestionsError)
    return problem(STATUS[type(refusal)], str(refusal), faults, confirm=asks)


def problem_response(
    status: int, detail: str, faults: list[FieldFault] | None = None
) -> JsonResponse:
    return _response(problem(status, detail, faults))


def _response(body: dict[str, Any]) -> JsonResponse:
    return JsonResponse(body, status=body["status"], content_type="application/problem+json")


def install_handlers(api: NinjaAPI) -> None:
    @api.exception_handler(ServiceError)
    def service(request: HttpRequest, exc: ServiceError) -> HttpResponse:
        return _response(problem_of(exc))

    @api.exception_handler(ValidationError)
    def validation(request: HttpRequest, exc: ValidationError) -> HttpResponse:
        faults = [_field_fault(error) for error in exc.errors]
        sentence = "; ".join(f"{f.path}: {f.problem}" for f in faults[:3])
        return problem_response(422, sentence, faults)

    @api.exception_handler(AuthenticationError)
    def authentication(request: HttpRequest, exc: AuthenticationError) -> HttpResponse:
        return problem_response(401, "You are not signed in; sign in and try again.")

    @api.exception_handler(HttpError)
    def http(request: HttpRequest, exc: HttpError) -> HttpResponse:
        # ninja puts a sentence of its own over what the body parser said.
        said = exc.__cause__ if isinstance(exc.__cause__, HttpError) else exc
        if exc.status_code == 403:
            return csrf_failure(request)
        return problem_response(exc.status_code, str(said))

    @api.exception_handler(Http404)
    def missing(request: HttpRequest, exc: Http404) -> HttpResponse:
        return problem_response(404, "There is nothing at this address.")

    @api.exception_handler(MultiPartParserError)
    def broken_form(request: HttpRequest, exc: Exception) -> HttpResponse:
        return problem_response(400, "This form is broken in the middle; send the file once more.")

    @api.exception_handler(UnreadablePostError)
    def cut_off(request: HttpRequest, exc: Exception) -> HttpResponse:
        return problem_response(400, "What you sent broke off; send it once more.")

    @api.exception_handler(TooManyFilesSent)
    @api.exception_handler(RequestDataTooBig)
    @api.exception_handler(TooManyFieldsSent)
    def too_much(request: HttpRequest, exc: Exception) -> HttpResponse:
        return problem_response(413, "That is more than this address takes at once.")

    @api.exception_handler(OperationalError)
    @api.exception_handler(InterfaceError)
    def database(request: HttpRequest, exc: Exception) -> HttpResponse:
        return _database_away(exc)

    @api.exception_handler(IntegrityError)
    def clash(request: HttpRequest, exc: Exception) -> HttpResponse:
        log.warning("two at once at %s", request.path, exc_info=exc)
        return problem_response(409, TWO_AT_ONCE)

    @api.exception_handler(ObjectDoesNotExist)
    def gone(request: HttpRequest, exc: Exception) -> HttpResponse:
        log.warning("removed meanwhile at %s", request.path, exc_info=exc)
        return problem_response(404, GONE)

    @api.exception_handler(Exception)
    def unexpected(request: HttpRequest, exc: Exception) -> HttpResponse:
        log.error("unexpected error at %s", request.path, exc_info=exc)
        return problem_response(500, OUR_FAULT)


TWO_AT_ONCE = (
    "Somebody else changed the same thing at this moment, so nothing of yours was kept. Look at it "
    "as it is now, and do it again if it is still wanted."
)
GONE = "Somebody removed this while you were at it; nothing was changed. Go back and look again."
OUR_FAULT = (
    "Something went wrong on our side and was noted; nothing was changed. Try again, and tell "
    "the person who runs this server if it happens twice."
)


def method_problem(method: str, allowed: str) -> HttpResponse:
    # Django gives them in the order of a set, which is another one in every process.
    methods = ", ".join(sorted(word.strip() for word in allowed.split(",")))
    response = problem_response(405, f"This address does not take {method}; it takes {methods}.")
    response["Allow"] = methods
    return response


def csrf_failure(_request: HttpRequest, reason: str = "") -> HttpResponse:
    sentence = "This page is out of date, so the request was refused for safety; reload it."
    return problem_response(403, sentence)


def not_found(_request: HttpRequest, exception: Exception) -> HttpResponse:
    return problem_response(404, "There is nothing at this address.")


def bad_request(_request: HttpRequest, exception: Exception) -> HttpResponse:
    return problem_response(400, "This request cannot be read; check its address and its body.")


def server_error(_request: HttpRequest) -> HttpResponse:
    fault = sys.exc_info()[1]
    if isinstance(fault, DATABASE_AWAY):
        return _database_away(fault)
    return problem_response(500, OUR_FAULT)


def _database_away(fault: BaseException) -> HttpResponse:
    """The connection broke or cannot be made. Nothing was changed: whatever was under way is
    undone by the database itself."""
    log.warning("the database does not answer: %s", str(fault).splitlines()[:1])
    response = problem_response(
        503, "The database does not answer at the moment; nothing was changed. Wait a little."
    )
    response["Retry-After"] = str(RETRY_AFTER_S)
    return response


WORDS = {
    "missing": "is missing",
    "extra_forbidden": "is not known here; leave it out",
    "string_type": "give a text",
    "string_too_long": "give at most {max_length} characters",
    "string_too_short": "give at least {min_length} characters",
    "too_long": "give at most {max_length} entries",
    "list_type": "give a list",
    "bool_parsing": "give true or false",
    "bool_type": "give true or false",
    "int_parsing": "give a whole number",
    "int_type": "give a whole number",
    "int_from_float": "give a whole number",
    "float_parsing": "give a number",
    "float_type": "give a number",
    "finite_number": "give a finite number",
    "less_than_equal": "give at most {le:g}",
    "greater_than_equal": "give at least {ge:g}",
    "union_tag_invalid": "give one of {expected_tags}",
    "union_tag_not_found": "has no {discriminator}; say what is done",
    "literal_error": "give {expected}",
}
"""What would be right, for the kinds of error that pydantic finds at the edge."""


def _field_fault(error: dict[str, Any]) -> FieldFault:
    """pydantic's error in our words: the path without the part that names the parameter."""
    path = ".".join(str(step) for step in error["loc"][2:]) or str(error["loc"][-1])
    own = str(error["msg"]).removeprefix("Value error, ")
    if (words := WORDS.get(error["type"])) is None:
        # Not a template of ours: it may have braces of its own.
        return FieldFault(path, own[:1].lower() + own[1:])
    # pydantic quotes what is expected as Python does.
    given = {
        k: v.replace("'", "") if isinstance(v, str) else v for k, v in error.get("ctx", {}).items()
    }
    return FieldFault(path, words.format(**given))
