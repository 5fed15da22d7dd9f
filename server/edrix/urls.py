"""Addresses: the API, and the one page that is the application."""

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.urls import path, re_path
from django.views.decorators.cache import never_cache
from django.views.decorators.csrf import ensure_csrf_cookie

from edrix.api import api


@never_cache
@ensure_csrf_cookie
def page(request: HttpRequest) -> HttpResponse:
    """The page for every place in the application; it carries the nonce for its styles, and says
    whether somebody may be signed in: where not, nobody is asked for before the sign-in page."""
    told = {
        "csp_nonce": str(request.csp_nonce),  # type: ignore[attr-defined]
        "known": "yes" if settings.SESSION_COOKIE_NAME in request.COOKIES else "no",
    }
    return render(request, "index.html", told)


urlpatterns = [
    path("api/", api.urls),
    # Files that do not exist, and addresses under /api, are not places in the application.
    re_path(r"^(?!api/|assets/)[^.]*$", page),
]
handler400 = "edrix.problems.bad_request"
handler404 = "edrix.problems.not_found"
handler500 = "edrix.problems.server_error"
