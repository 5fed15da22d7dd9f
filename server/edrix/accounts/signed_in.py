"""Who asks: the person of a session, for every route that is not open to all."""

from django.http import HttpRequest
from ninja.security import SessionAuth

from edrix.accounts.models import User


class SignedIn(SessionAuth):
    """A session of an active person; ninja checks the CSRF token along with it."""

    def authenticate(self, request: HttpRequest, key: str | None) -> User | None:
        return request.user if isinstance(request.user, User) else None


def user_of(request: HttpRequest) -> User:
    """The signed-in person of a route that requires one."""
    if not isinstance(request.user, User):
        raise TypeError("this route is not behind SignedIn")
    return request.user
