"""Addresses: the API, and the one page that is the application."""

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.urls import path, re_path
from django.views.decorators.cache import never_cache
from django.views.decorators.csrf import ensure_csrf_cookie

from edrix.api import api


@never_cache
@ensure_csrf_cookie
def page(request: HttpRequest) -> HttpResponse:
    """The page for every place in the application; it carries the nonce for its styles."""
    return render(request, "index.html", {"csp_nonce": str(request.csp_nonce)})  # type: ignore[attr-defined]


urlpatterns = [
    path("api/", api.urls),
    # Files that do not exist, and addresses under /api, are not places in the application.
    re_path(r"^(?!api/|assets/)[^.]*$", page),
]
handler400 = "edrix.problems.bad_request"
handler404 = "edrix.problems.not_found"
handler500 = "edrix.problems.server_error"
