"""The address for phones, and QR codes to places here. Drawn here, by no outside service."""

import io
import re

import segno
from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema

from edrix.address import for_devices
from edrix.errors import FieldFault, InvalidError, NotFoundError
from edrix.problems import Problem

router = Router(tags=["server"])
PLACES = re.compile(
    r"/|/(sheet|bench|route|drill|methods|stand)/[0-9]{1,9}(\?[A-Za-z0-9=&.-]{0,200})?"
)
"""Only addresses of this application: a code must not lead a phone anywhere else."""


NO_PLACE = "The address is no place that a card leads to; give one like /sheet/12."
UNREACHED = (
    "Phones can't reach this Edrix: it listens on this machine only. Start it with --host and the "
    "machine's address in the house."
)


class AddressOut(Schema):
    """Where phones open this Edrix; null where only this machine can."""

    address: str | None


@router.get("/address", response=AddressOut, operation_id="addressForPhones")
def address_for_phones(request: HttpRequest) -> dict[str, str | None]:
    return {"address": for_devices(request)}


@router.get(
    "/qr.svg",
    response={200: None, 404: Problem, 422: Problem},
    operation_id="qrCode",
    openapi_extra={"responses": {200: {"content": {"image/svg+xml": {}}}}},
)
def qr_code(request: HttpRequest, path: str) -> HttpResponse:
    """The address of one place as a QR code (SVG)."""
    if not PLACES.fullmatch(path):
        raise InvalidError(NO_PLACE, [FieldFault("path", "give a path like /sheet/12")])
    address = for_devices(request, path)
    if address is None:
        raise NotFoundError(UNREACHED)
    return HttpResponse(_drawn(address), content_type="image/svg+xml")


def _drawn(address: str) -> bytes:
    drawn = io.BytesIO()
    segno.make(address, micro=False, error="m").save(drawn, kind="svg", border=2, scale=4)
    return drawn.getvalue()
