"""What the school states for all its classes."""

from decimal import Decimal
from typing import Any

from django.http import HttpRequest
from ninja import Router, Schema
from pydantic import Field

from edrix.accounts.signed_in import user_of
from edrix.problems import Problem
from edrix.shapes import In
from edrix.shop import services
from edrix.shop.models import Shop

router = Router(tags=["school"])


class ShopOut(Schema):
    """How far a gap may lie from a spec of one figure, by the spec's unit."""

    tolerance_mm: Decimal
    tolerance_thou: Decimal


class ShopIn(In):
    tolerance_mm: str = Field(max_length=20)
    tolerance_thou: str = Field(max_length=20)


@router.get("/shop", response=ShopOut, operation_id="getShop")
def get_shop(request: HttpRequest) -> Shop:
    return services.shop()


@router.put("/shop", response={200: ShopOut, 403: Problem, 422: Problem}, operation_id="stateShop")
def state_shop(request: HttpRequest, body: ShopIn) -> Any:
    """For heads: by what specs of one figure are judged from now on."""
    return services.state_tolerance(user_of(request), body.tolerance_mm, body.tolerance_thou)
