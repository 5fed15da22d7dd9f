"""Long forms that are not saved yet, each its person's own."""

from typing import Annotated, Any

from django.http import HttpRequest
from ninja import Path, Router, Schema, Status
from pydantic import Field

from edrix.accounts.signed_in import user_of
from edrix.longforms import services
from edrix.problems import Problem
from edrix.shapes import In

router = Router(tags=["long forms"])
REFUSALS: dict[int, Any] = {403: Problem, 409: Problem, 422: Problem}
Place = Annotated[str, Path(pattern=r"^[a-z]{3,12}-[a-z0-9-]{1,40}$")]


class LongFormIn(In):
    typed: dict[str, Any]
    revision: int = Field(ge=0)


class LongFormOut(Schema):
    """typed is null, and revision 0, where nothing waits to be saved."""

    typed: dict[str, Any] | None
    revision: int


@router.get("/long-forms/{place}", response={200: LongFormOut, **REFUSALS}, operation_id="longForm")
def read(request: HttpRequest, place: Place) -> dict[str, Any]:
    """What was last typed in a form, on whichever device."""
    found = services.read(user_of(request), place)
    if found is None:
        return {"typed": None, "revision": 0}
    return {"typed": found.typed, "revision": found.revision}


@router.put(
    "/long-forms/{place}", response={200: LongFormOut, **REFUSALS}, operation_id="keepLongForm"
)
def keep(request: HttpRequest, place: Place, body: LongFormIn) -> dict[str, Any]:
    """Keeps a form based on a revision; refused where another device was quicker."""
    kept = services.keep(user_of(request), place, body.typed, body.revision)
    return {"typed": kept.typed, "revision": kept.revision}


@router.delete(
    "/long-forms/{place}", response={204: None, **REFUSALS}, operation_id="forgetLongForm"
)
def forget(request: HttpRequest, place: Place) -> Status[None]:
    """Once it is saved, or given up."""
    services.forget(user_of(request), place)
    return Status(204, None)
