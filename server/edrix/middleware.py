"""Two answers that are given outside the API's own error handling, in the same format."""

from collections.abc import Callable

from django.conf import settings
from django.http import HttpRequest, HttpResponse

from edrix.problems import method_problem, problem_response

TAKES_FILES = ("/import", "/import/preview")
"""Ends of addresses that take whole files."""
DRAIN_BYTES = 20_000_000
"""A body up to this size is read and dropped, so that the answer reaches the sender instead
of a reset connection."""


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
