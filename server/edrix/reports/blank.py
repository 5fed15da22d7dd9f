"""Blank reading sheets on paper, one for each student, with the way back into Edrix."""

from collections.abc import Iterable

from reportlab.lib.units import mm
from reportlab.platypus import Flowable, PageBreak, Spacer, Table, TableStyle

from edrix.accounts.models import User
from edrix.reports.pages import (
    BLANK,
    DEFERS,
    SANS,
    SMALL,
    TITLE,
    WIDTH,
    document,
    grid,
    qr_code,
    text,
)
from edrix.sheets.services import Sheet
from valvetrain.engine import Engine
from valvetrain.grading import asked_columns
from valvetrain.units import MM_PER_THOU

ROW = 8.2 * mm
QR = 24 * mm
MOST_ROOMY = 24
"""With more valves than this, rows are as low as print allows."""


def blank_sheets(
    sheet: Sheet,
    engine: Engine,
    stops: list[tuple[int, float]],
    students: Iterable[User],
    address: str,
) -> bytes:
    story: list[Flowable] = []
    for student in students:
        if story:
            story.append(PageBreak())
        story += _page(sheet, engine, stops, student.display_name, address)
    if not story:
        story = _page(sheet, engine, stops, "", address)
    return document(f"{sheet.title}, {sheet.teaching_class.name}", story)


def _page(
    sheet: Sheet, engine: Engine, stops: list[tuple[int, float]], name: str, address: str
) -> list[Flowable]:
    places = ", ".join(f"{number}: {deg:g}°" for number, deg in stops)
    about = [
        text(name or "Name:", TITLE),
        text(f"{sheet.title}: {sheet.stand.name}, {engine.name}, engine {engine.measured}."),
        text(f"Stops: {places}. Date:{BLANK * 30}Gauge:"),
        text(f"Isolation list ticked ☐{BLANK * 6}closing list ticked ☐", SMALL),
    ]
    head = Table([[about, qr_code(address, QR)]], colWidths=[WIDTH - QR - 4 * mm, QR + 4 * mm])
    head.setStyle(
        TableStyle([("VALIGN", (0, 0), (-1, -1), "TOP"), ("FONT", (0, 0), (-1, -1), SANS)])
    )
    asks = [column.title for column in asked_columns(sheet.asks)]
    titles = ["Valve", "Spec, mm (thou)", "Stop", "Gap", *asks, "Verdict"]
    rows: list[list[str]] = [titles]
    for valve in engine.valves:
        spec = engine.clearance[valve.role]
        in_mm = f"{float(spec.low_mm):.2f}–{float(spec.high_mm):.2f}"
        in_thou = f"{spec.low_mm / MM_PER_THOU:.1f}–{spec.high_mm / MM_PER_THOU:.1f}"
        verdicts = (BLANK * 5).join("TWL?" if sheet.gauge_mm else "TWL")
        rows.append(
            [
                f"{valve.number}  cyl. {valve.cylinder} {valve.role.value}",
                f"{in_mm} ({in_thou})",
                "",
                "",
                *[""] * len(asks),
                verdicts,
            ]
        )
    narrow = (WIDTH - 38 * mm - 38 * mm - 30 * mm) / (2 + len(asks))
    widths = [38 * mm, 38 * mm, *[narrow] * (2 + len(asks)), 30 * mm]
    room = (ROW - 11.5) / 2 if len(engine.valves) <= MOST_ROOMY else 2.5
    table = grid(
        rows,
        widths,
        ("TOPPADDING", (0, 1), (-1, -1), room),
        ("BOTTOMPADDING", (0, 1), (-1, -1), room),
    )
    doubt = "; ? can't tell with this gauge" if sheet.gauge_mm else ""
    legend = f"Verdict: T tight, W within, L loose{doubt}. Gaps in mm unless written otherwise."
    return [head, Spacer(0, 3 * mm), table, text(legend, SMALL), text(DEFERS, SMALL)]
