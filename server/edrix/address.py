"""Where other devices open this Edrix: for codes and addresses that are printed or shown.

What leads to 127.0.0.1 leads a phone to itself, so it is never printed: the place for it is left to
be filled in by hand.
"""

import ipaddress
from urllib.parse import urlsplit

from django.conf import settings
from django.http import HttpRequest


def for_devices(request: HttpRequest, path: str = "/") -> str | None:
    """The address of a place here, as a phone opens it; None where only this machine can."""
    if settings.ADDRESS:
        return f"{settings.ADDRESS}{path}"
    asked = request.build_absolute_uri(path)
    return None if _is_only_here(urlsplit(asked).hostname or "") else asked


def _is_only_here(host: str) -> bool:
    try:
        return ipaddress.ip_address(host).is_loopback
    except ValueError:
        return host == "localhost"
