"""Refuses bodies that are too large before anything reads them."""

from collections.abc import Callable

from django.conf import settings
from django.http import HttpRequest, HttpResponse

from edrix.problems import problem_response

DRAIN_BYTES = 20_000_000
"""A body up to this size is read and dropped, so that the answer reaches the sender instead
of a reset connection."""


def body_limit(
    get_response: Callable[[HttpRequest], HttpResponse],
) -> Callable[[HttpRequest], HttpResponse]:
    def middleware(request: HttpRequest) -> HttpResponse:
        size = request.headers.get("Content-Length", "")
        if not size.isdigit() or int(size) <= settings.MOST_BODY_BYTES:
            return get_response(request)
        left = min(int(size), DRAIN_BYTES)
        while left > 0 and (chunk := request.META["wsgi.input"].read(min(left, 65_536))):
            left -= len(chunk)
        most_kb = settings.MOST_BODY_BYTES // 1000
        return problem_response(
            413, f"What you sent has {int(size) // 1000} kB; send at most {most_kb} kB at once."
        )

    return middleware
