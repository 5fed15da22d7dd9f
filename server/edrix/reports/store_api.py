"""The order list of the shim store, for people who teach."""

from typing import Any, Literal

from django.http import HttpRequest, HttpResponse
from ninja import Router

from edrix.accounts.signed_in import user_of
from edrix.edge import as_file
from edrix.problems import Problem
from edrix.reports import orders

router = Router(tags=["files"])
REFUSALS: dict[int, Any] = {403: Problem, 422: Problem}


@router.get("/store/order.{kind}", response={200: str, **REFUSALS}, operation_id="getOrderList")
def get_order_list(request: HttpRequest, kind: Literal["csv", "pdf"]) -> HttpResponse:
    """What is short in the shim store."""
    made = orders.order_list(user_of(request), kind)
    return as_file(made.body, made.content_type, made.name, shown=kind == "pdf")


@router.get("/store/count.pdf", response={200: str, **REFUSALS}, operation_id="getCountingSheet")
def get_counting_sheet(request: HttpRequest) -> HttpResponse:
    """To count the boxes with, in the order in which they lie."""
    made = orders.counting_sheet(user_of(request))
    return as_file(made.body, made.content_type, made.name, shown=True)
