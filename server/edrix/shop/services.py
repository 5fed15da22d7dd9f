"""The school's shop tolerance: by what a spec of one figure is judged.

Example: a manual prints 0.15 mm and nothing else. Tove's school allows 0.02 either way, and says so
beside every verdict that rests on it. When she makes it 0.01, what is marked or dealt from then on
is judged by that; marks that are given, and runs that are begun, stay as they are.
"""

from contextvars import ContextVar
from decimal import Decimal
from typing import Any

from django.core.signals import request_started

from edrix.accounts.models import User
from edrix.errors import FieldFault, InvalidError, NotAllowedError
from edrix.shop.models import Shop as Shop
from valvetrain.constants import MOST_SHOP_TOLERANCE_MM, MOST_SHOP_TOLERANCE_THOU
from valvetrain.engine import ShopTolerance
from valvetrain.units import LengthError, Unit, parse_figure


def shop() -> Shop:
    return Shop.objects.filter(id=1).first() or Shop(id=1)


_known: ContextVar[ShopTolerance | None] = ContextVar("shop_tolerance", default=None)
"""As it was read in this request: a list of many engines asks for it once."""


def forget(**_signal: Any) -> None:
    _known.set(None)


request_started.connect(forget, dispatch_uid="shop tolerance")


def tolerance() -> ShopTolerance:
    known = _known.get()
    if known is None:
        told = shop()
        known = ShopTolerance(told.tolerance_mm, told.tolerance_thou)
        _known.set(known)
    return known


def state_tolerance(user: User, mm: str, thou: str) -> Shop:
    """For heads. Raises InvalidError for what is no tolerance, and keeps nothing then."""
    if not user.is_head:
        raise NotAllowedError("Only a head states what the school allows; ask one of yours.")
    faults: list[FieldFault] = []
    in_mm = _figure(mm, "tolerance_mm", Unit.MM, MOST_SHOP_TOLERANCE_MM, faults)
    in_thou = _figure(thou, "tolerance_thou", Unit.THOU, MOST_SHOP_TOLERANCE_THOU, faults)
    if in_mm is None or in_thou is None:
        told = "; ".join(fault.problem for fault in faults)
        raise InvalidError(f"The shop tolerance was not changed: {told}.", faults)
    forget()
    made, _ = Shop.objects.update_or_create(
        id=1, defaults={"tolerance_mm": in_mm, "tolerance_thou": in_thou}
    )
    return made


def _figure(
    typed: str, path: str, unit: Unit, most: Decimal, faults: list[FieldFault]
) -> Decimal | None:
    try:
        figure = parse_figure(typed)
    except LengthError as refusal:
        faults.append(FieldFault(path, str(refusal)))
        return None
    if not 0 <= figure <= most:
        faults.append(FieldFault(path, f"{typed} is given; give 0 to {most} {unit}"))
        return None
    return figure
