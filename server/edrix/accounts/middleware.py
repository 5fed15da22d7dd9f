"""Who asks, from the session: in place of Django's own, which fetches the person apart."""

from collections.abc import Callable
from typing import cast

from django.contrib.auth import HASH_SESSION_KEY
from django.contrib.auth.models import AnonymousUser
from django.http import HttpRequest, HttpResponse
from django.utils.crypto import constant_time_compare
from django.utils.functional import SimpleLazyObject

from edrix.accounts.models import User
from edrix.accounts.sessions import SessionStore


def who_asks(
    get_response: Callable[[HttpRequest], HttpResponse],
) -> Callable[[HttpRequest], HttpResponse]:
    """Sets `request.user`, found when it is first looked at."""

    def middleware(request: HttpRequest) -> HttpResponse:
        request.user = SimpleLazyObject(lambda: _person(request))  # type: ignore[assignment]
        return get_response(request)

    return middleware


def _person(request: HttpRequest) -> User | AnonymousUser:
    """The session's person; nobody once they are inactive or have another passcode, which ends
    the session."""
    session = cast(SessionStore, request.session)
    passcode_hash = session.get(HASH_SESSION_KEY, "")
    person = session.person
    if person is None or not person.is_active:
        return AnonymousUser()
    if not constant_time_compare(passcode_hash, person.get_session_auth_hash()):
        session.flush()
        return AnonymousUser()
    return person
