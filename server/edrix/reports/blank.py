"""Blank reading sheets on paper, one for each student, with the way back into Edrix."""

from collections.abc import Iterable, Iterator, Sequence

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
from valvetrain.engine import Clearance, Engine, Role
from valvetrain.grading import Column, asked_columns, columns_at
from valvetrain.page import second_gap_words, shim_words, torques_of
from valvetrain.spec_words import spec_texts

ROW = 8.2 * mm
QR = 24 * mm
MOST_ROOMY = 24
"""With more valves than this, rows are as low as print allows."""


def blank_sheets(
    sheet: Sheet,
    engine: Engine,
    stops: list[tuple[int, float]],
    students: Iterable[User],
    address: str | None,
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
    sheet: Sheet, engine: Engine, stops: list[tuple[int, float]], name: str, address: str | None
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
    asks = asked_columns(sheet.asks)
    titles = ["Valve", "Spec, mm (thou)", "Stop", "Gap", *(one.title for one in asks), "Verdict"]
    rows: list[list[str]] = [titles]
    for valve in engine.valves:
        named = f", {valve.label}" if valve.label else ""
        verdicts = (BLANK * 5).join("TWL?" if sheet.gauge_mm else "TWL")
        rows.append(
            [
                f"{valve.number}  cyl. {valve.cylinder} {valve.role.value}{named}",
                _printed_spec(engine, valve.role),
                "",
                "",
                *_cells(asks, columns_at(engine, valve.role, sheet.asks)),
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
    legend = " ".join(filter(None, (legend, *map(_choices, asks))))
    manual = [text(line, SMALL) for line in _from_the_manual(engine)]
    return [head, Spacer(0, 3 * mm), table, text(legend, SMALL), *manual, text(DEFERS, SMALL)]


def _cells(asks: Sequence[Column], here: Sequence[Column]) -> Iterator[str]:
    """Room to write in, the figures of a choice to ring, or a dash where this valve has nothing."""
    for column in asks:
        figures = (str(place) for place, _ in enumerate(column.options, start=1))
        yield (BLANK * 3).join(figures) if column in here else "–"


def _choices(column: Column) -> str:
    told = ", ".join(f"{at} {one.title}" for at, one in enumerate(column.options, start=1))
    return f"{column.title}: {told}." if told else ""


def _printed_spec(engine: Engine, role: Role) -> str:
    """In both units, the manual's own first; a single figure with what the shop allows."""
    said = _both_units(engine.clearance[role])
    closing = engine.closing.get(role)
    return said if closing is None else f"{said}, closing {_both_units(closing)}"


def _both_units(spec: Clearance) -> str:
    own, other = spec_texts(spec)
    return f"{own} ({other})"


def _from_the_manual(engine: Engine) -> list[str]:
    """What a hand at the engine needs besides: one short line each, none that say nothing."""
    torques = "; ".join(
        f"{torque.what} {float(torque.moment.nm):.3g} N·m" for torque in torques_of(engine)
    )
    lines = [
        ("", second_gap_words(engine)),
        ("Torques", torques),
        ("Shims", "; ".join(shim_words(engine))),
        ("Tools", ", ".join(engine.tools)),
        ("Parts", ", ".join(engine.parts)),
        ("Notes", engine.notes),
    ]
    return [f"{name}: {says}" if name else says for name, says in lines if says]
