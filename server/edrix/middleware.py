"""What is settled before a request reaches the API, in the API's own format of errors."""

from collections.abc import Callable

from django.conf import settings
from django.http import HttpRequest, HttpResponse

from edrix.problems import method_problem, problem_response

TAKES_FILES = ("/import", "/import/preview")
"""Ends of addresses that take whole files."""
DRAIN_BYTES = 20_000_000
"""A body up to this size is read and dropped, so that the answer reaches the sender instead
of a reset connection."""


def client_address(
    get_response: Callable[[HttpRequest], HttpResponse],
) -> Callable[[HttpRequest], HttpResponse]:
    """Who asks, as our own front says; without it, who connects. A header that a client brings is
    never believed: the front writes its own, and only it reaches a server that has one."""

    def middleware(request: HttpRequest) -> HttpResponse:
        if settings.BEHIND_FRONT:
            request.META["REMOTE_ADDR"] = request.META.get("HTTP_X_REAL_IP", "")
        return get_response(request)

    return middleware


def body_limit(
    get_response: Callable[[HttpRequest], HttpResponse],
) -> Callable[[HttpRequest], HttpResponse]:
    """Refuses bodies that are too large before anything reads them."""

    def middleware(request: HttpRequest) -> HttpResponse:
        size = request.headers.get("Content-Length", "")
        is_file = request.path.rstrip("/").endswith(TAKES_FILES)
        most = settings.MOST_FILE_BYTES if is_file else settings.MOST_BODY_BYTES
        if not size.isdigit() or int(size) <= most:
            return get_response(request)
        left = min(int(size), DRAIN_BYTES)
        while left > 0 and (chunk := request.META["wsgi.input"].read(min(left, 65_536))):
            left -= len(chunk)
        most_kb = most // 1000
        return problem_response(
            413, f"What you sent has {int(size) // 1000} kB; send at most {most_kb} kB at once."
        )

    return middleware


def known_methods(
    get_response: Callable[[HttpRequest], HttpResponse],
) -> Callable[[HttpRequest], HttpResponse]:
    """Says which methods an address takes, where ninja says only that it does not take this one."""

    def middleware(request: HttpRequest) -> HttpResponse:
        response = get_response(request)
        if response.status_code == 405:
            return method_problem(request.method or "that", response.headers.get("Allow", ""))
        return response

    return middleware


def private_answers(
    get_response: Callable[[HttpRequest], HttpResponse],
) -> Callable[[HttpRequest], HttpResponse]:
    """What the API says is for the person who asks: no browser and no proxy keeps it, so that the
    next one at a shared tablet finds nothing."""

    def middleware(request: HttpRequest) -> HttpResponse:
        response = get_response(request)
        if request.path.startswith("/api/") and "Cache-Control" not in response:
            response["Cache-Control"] = "no-store"
        return response

    return middleware


def session_keys(
    get_response: Callable[[HttpRequest], HttpResponse],
) -> Callable[[HttpRequest], HttpResponse]:
    """Takes a session cookie for nobody's where it cannot be a key that Django made.

    Django looks up whatever the cookie holds, and PostgreSQL refuses a NUL in a text: without
    this a forged cookie is an error of ours instead of a visitor who is not signed in.
    """

    def middleware(request: HttpRequest) -> HttpResponse:
        key = request.COOKIES.get(settings.SESSION_COOKIE_NAME)
        if key is None or (key.isascii() and key.isalnum()):
            return get_response(request)
        del request.COOKIES[settings.SESSION_COOKIE_NAME]
        response = get_response(request)
        if settings.SESSION_COOKIE_NAME not in response.cookies:
            response.delete_cookie(settings.SESSION_COOKIE_NAME, samesite="Lax")
        return response

    return middleware
