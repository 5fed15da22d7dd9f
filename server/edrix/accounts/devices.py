"""Devices that a person has signed in on, so that wrong tries elsewhere do not lock them out.

Tries are counted for a name, an address and a device. A class shares one address, and whoever types
a classmate's name with five wrong passcodes pauses that name there for ten minutes: on devices that
nobody knows. The classmate's own phone carries a signed cookie that says who has signed in on it;
its tries are counted apart.
"""

from django.core import signing
from django.http import HttpRequest, HttpResponse
from django.utils.crypto import get_random_string

COOKIE = "edrix_device"
MAX_AGE_S = 365 * 24 * 3600
MOST_PEOPLE = 12
"""Of a shared tablet: whoever signed in last."""
_SALT = "edrix.device"


def _read(request: HttpRequest) -> tuple[str, list[str]]:
    """The device's own word, and the sign-in names that were right on it; new where it has none."""
    try:
        word, names = signing.loads(request.COOKIES.get(COOKIE, ""), salt=_SALT, max_age=MAX_AGE_S)
        return str(word), [str(name) for name in names]
    except (signing.BadSignature, TypeError, ValueError):
        return "", []


def count_apart(request: HttpRequest, sign_in_name: str) -> None:
    """Tells axes by which device a try is counted. It goes by the browser's own name for itself,
    which anybody may write as they like; so ours stands there instead."""
    word, names = _read(request)
    known = sign_in_name in names
    request.META["HTTP_USER_AGENT"] = f"device {word}" if known else "no device we know"


def remember(request: HttpRequest, response: HttpResponse, sign_in_name: str, https: bool) -> None:
    """After somebody has signed in."""
    word, names = _read(request)
    word = word or get_random_string(16)
    names = [sign_in_name, *(name for name in names if name != sign_in_name)][:MOST_PEOPLE]
    response.set_cookie(
        COOKIE,
        signing.dumps([word, names], salt=_SALT, compress=True),
        max_age=MAX_AGE_S,
        httponly=True,
        samesite="Lax",
        secure=https,
    )
