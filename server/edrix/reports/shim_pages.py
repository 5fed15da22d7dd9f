"""An engine's shim table on paper: measured gap against fitted shim."""

from typing import Any

from reportlab.lib.units import mm
from reportlab.platypus import Flowable, Spacer, Table, TableStyle

from edrix.reports.pages import (
    BOLD,
    DEFERS,
    HEADING,
    LINE,
    SANS,
    SMALL,
    TITLE,
    WASH,
    document,
    text,
)

LANDSCAPE_WIDTH = 265 * mm
GAP_WIDTH = 21 * mm
MOST_COLUMNS = 20
"""Fitted sizes on one width of paper; more go on in a second block."""


def shim_pages(name: str, version: int, tables: list[dict[str, Any]]) -> bytes:
    """tables as `engines.shim_tables` gives them, one for each role."""
    title = f"Shims of {name}, version {version}"
    story: list[Flowable] = [
        text(title, TITLE),
        text(
            "Find the measured gap on the left and the fitted shim above: the cell is the shim to "
            "fit, in mm. A dot leaves it as it is; a dash is out of reach of every size."
        ),
    ]
    for table in tables:
        limits = table["says"]
        called = table["role"].capitalize()
        if table["gap"] == "closing":
            called += ", closing shim (first)"
        story.append(text(f"{called}, {limits}", HEADING))
        sizes = table["fitted_mm"]
        for first in range(0, len(sizes), MOST_COLUMNS):
            story += [_block(table, slice(first, first + MOST_COLUMNS)), Spacer(0, 3 * mm)]
    story.append(text(DEFERS, SMALL))
    return document(title, story, landscape=True)


def _size(size_mm: float) -> str:
    """Two decimals, three where the series has them."""
    three = f"{size_mm:.3f}"
    return three[:-1] if three.endswith("0") else three


def _block(table: dict[str, Any], part: slice) -> Table:
    fitted = table["fitted_mm"][part]
    rows = [[f"gap, {table['unit']}", *[_size(size) for size in fitted]]]
    within = []
    for place, (band, new) in enumerate(zip(table["bands"], table["new_mm"], strict=True), 1):
        cells = [
            "–" if size is None else "·" if abs(size - now) < 1e-9 else _size(size)
            for size, now in zip(new[part], fitted, strict=True)
        ]
        rows.append([band["says"], *cells])
        if table["low_mm"] - 1e-9 <= band["from_mm"] <= table["high_mm"] + 1e-9:
            within.append(("BACKGROUND", (0, place), (-1, place), WASH))
    widths = [GAP_WIDTH] + [(LANDSCAPE_WIDTH - GAP_WIDTH) / MOST_COLUMNS] * len(fitted)
    made = Table(rows, colWidths=widths, repeatRows=1, hAlign="LEFT")
    made.setStyle(
        TableStyle(
            [
                ("FONT", (0, 0), (-1, -1), SANS, 7),
                ("FONT", (0, 0), (-1, 0), BOLD, 7),
                ("FONT", (0, 0), (0, -1), BOLD, 7),
                ("GRID", (0, 0), (-1, -1), 0.4, LINE),
                ("ALIGN", (0, 0), (-1, -1), "CENTER"),
                ("TOPPADDING", (0, 0), (-1, -1), 1.5),
                ("BOTTOMPADDING", (0, 0), (-1, -1), 1.5),
                ("LEFTPADDING", (0, 0), (-1, -1), 1),
                ("RIGHTPADDING", (0, 0), (-1, -1), 1),
                *within,
            ]
        )
    )
    return made
