"""A rota on the wall and as files, for the instructors of its class."""

from typing import Any, Literal

from django.http import HttpRequest, HttpResponse
from ninja import Router

from edrix.accounts.signed_in import user_of
from edrix.edge import as_file
from edrix.problems import Problem
from edrix.reports import rota_pages

router = Router(tags=["files"])
REFUSALS: dict[int, Any] = {403: Problem, 404: Problem, 422: Problem}


@router.get(
    "/rotas/{rota_id}/rota.{kind}", response={200: str, **REFUSALS}, operation_id="getRotaFile"
)
def get_rota_file(
    request: HttpRequest, rota_id: int, kind: Literal["csv", "json", "pdf"]
) -> HttpResponse:
    """The poster for the wall, a table of places, or edrix-rota/1 with its bookings."""
    made = rota_pages.rota_file(user_of(request), rota_id, kind)
    return as_file(made.body, made.content_type, made.name, shown=kind == "pdf")
