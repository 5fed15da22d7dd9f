"""What is short in the shim store, as a list to order by."""

from collections.abc import Iterator
from typing import Any

from django.utils import timezone
from reportlab.lib.units import mm
from reportlab.platypus import Spacer

from edrix import clock
from edrix.accounts.models import User
from edrix.reports.files import Made
from edrix.reports.logs import PDF
from edrix.reports.pages import SMALL, TITLE, document, grid, text
from edrix.reports.write import CSV, to_csv
from edrix.store import services as store
from edrix.store.services import Stock


def order_list(user: User, kind: str) -> Made:
    """csv or pdf; an empty list where nothing is short."""
    short = store.short(user)
    if kind == "csv":
        return Made("shims-to-order.csv", CSV, to_csv(_rows(short)))
    heading = ["Order", "Size, mm", "Across, mm", "Free", "At least", "Place"]
    rows = [[str(cell) for cell in row] for row in _rows(short)][1:]
    today = clock.day(timezone.now())
    widths = [22 * mm, 28 * mm, 28 * mm, 22 * mm, 24 * mm, 46 * mm]
    story = [
        text("Shims to order", TITLE),
        text(f"{today}. Thickness by micrometer; stamps are not trusted.", SMALL),
        Spacer(0, 8),
        grid([heading, *rows], widths) if rows else text("Nothing is short."),
    ]
    return Made("shims-to-order.pdf", PDF, document("Shims to order", story))


def _rows(short: list[Stock]) -> Iterator[list[Any]]:
    yield ["order", "size_mm", "diameter_mm", "free", "least", "place"]
    for stock in short:
        shim = stock.shim
        yield [
            stock.short,
            shim.size_mm,
            shim.diameter_mm,
            stock.free,
            shim.least,
            shim.place,
        ]


def counting_sheet(user: User) -> Made:
    """To write on beside the drawers, in the order in which they lie. What is booked is left out:
    who knows the figure counts to it (common practice)."""
    stocks = sorted(
        store.store(user),
        key=lambda stock: (stock.shim.place, stock.shim.diameter_mm, stock.shim.size_mm),
    )
    rows = [
        [stock.shim.place, f"{stock.shim.size_mm}", f"{stock.shim.diameter_mm}", "", ""]
        for stock in stocks
    ]
    heading = ["Place", "Size, mm", "Across, mm", "Counted", "By micrometer it is"]
    widths = [46 * mm, 28 * mm, 28 * mm, 28 * mm, 40 * mm]
    story = [
        text("Shims to count", TITLE),
        text(f"{clock.day(timezone.now())}. Counted by: ______________________", SMALL),
        Spacer(0, 8),
        grid([heading, *rows], widths) if rows else text("The store is empty."),
    ]
    return Made("shims-to-count.pdf", PDF, document("Shims to count", story))
