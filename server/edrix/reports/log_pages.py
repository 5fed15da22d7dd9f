"""A stand's logbook on paper and as tables, and the label that hangs on the stand."""

from collections.abc import Iterable, Iterator
from typing import Any

from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.platypus import Flowable, Spacer, Table, TableStyle

from edrix import clock
from edrix.logbook.services import LogEntry, LogGap, StandTrend
from edrix.reports.pages import (
    BOLD,
    DEFERS,
    HEADING,
    LINE,
    SMALL,
    TEXT,
    TITLE,
    WIDTH,
    document,
    grid,
    qr_code,
    text,
)
from edrix.stands.services import Stand
from valvetrain.trend_words import rate_words, says

KINDS = {
    "key": "Key measured",
    "sheet": "Sheet handed in",
    "measured": "Measured",
    "adjusted": "Adjusted",
    "service": "Serviced",
    "run": "Run",
    "fault-in": "Fault planted",
    "fault-out": "Fault taken out",
    "lists": "List ticked",
    "note": "Note",
}
MOST_ON_WALL = 12
"""Entries on the page for the wall, the newest: the whole log is in the tables."""
LABEL_NAME = ParagraphStyle("label", TEXT, fontName=BOLD, fontSize=30, leading=36)
LABEL_TEXT = ParagraphStyle("label-text", TEXT, fontSize=13, leading=18)
NEXT = ParagraphStyle("next", TEXT, fontName=BOLD, fontSize=13, leading=17)


def log_rows(entries: Iterable[LogEntry]) -> Iterator[list[Any]]:
    """One row for each valve of each entry, as such a file is read back in; those that a later
    entry corrects say so."""
    yield [
        "day", "meter", "valve", "found", "left", "shim", "unit", "reason", "what", "by", "note",
        "cold", "corrected",
    ]  # fmt: skip
    for entry in entries:
        first = [f"{clock.in_school(entry.at):%Y-%m-%d %H:%M}", entry.meter]
        last = [entry.what, entry.by, entry.note, _cold(entry.cold)]
        last.append("yes" if hasattr(entry, "corrected_by") else "")
        gaps = sorted(entry.gaps.all(), key=lambda gap: gap.valve)
        for gap in gaps:
            yield [*first, gap.valve, *_figures(gap), gap.reason, *last]
        if not gaps:
            yield [*first, None, None, None, None, "", "", *last]


def _figures(gap: LogGap) -> list[Any]:
    """Found, left, shim and their unit: as they were typed, where all are in thou."""
    typed = [words.split() for words in (gap.found_typed, gap.left_typed) if words]
    if gap.shim_mm is None and typed and all(words[-1] == "thou" for words in typed):
        found, left = (
            words.split()[0] if words else None for words in (gap.found_typed, gap.left_typed)
        )
        return [found, left, None, "thou"]
    return [gap.found_mm, gap.left_mm, gap.shim_mm, "mm"]


def _cold(cold: bool | None) -> str:
    return {True: "cold", False: "warm", None: ""}[cold]


def wall_page(stand: Stand, entries: list[LogEntry], told: StandTrend) -> bytes:
    """The newest entries and what to do next, for the wall beside the stand."""
    now = None if told.meter_now is None else float(told.meter_now)
    story: list[Flowable] = [
        text(f"{stand.name}: logbook", TITLE),
        text(f"{stand.engine_version.engine.name}. {stand.place}", SMALL),
        Spacer(0, 6),
    ]
    if told.found is not None:
        told_words = says(told.found, told.odd, told.engine, now, stand.meter)
        story += [text(line, NEXT if at == 0 else TEXT) for at, line in enumerate(told_words)]
        rates = [
            [str(of.valve), told.engine.valve[of.valve].role.value, rate_words(of, stand.meter)]
            for of in told.found.valves
        ]
        story += [text("How its gaps move", HEADING)]
        story.append(grid([["Valve", "Role", "Rate"], *rates], [18 * mm, 26 * mm, WIDTH - 44 * mm]))
    story.append(text("Entries, the newest first", HEADING))
    rows = [_wall_row(entry, stand) for entry in entries[:MOST_ON_WALL]]
    heading = ["When", "Meter", "What", "Gaps", "By"]
    widths = [27 * mm, 19 * mm, 36 * mm, WIDTH - 112 * mm, 30 * mm]
    story.append(grid([heading, *rows], widths))
    story += [Spacer(0, 8), text(DEFERS, SMALL)]
    return document(f"{stand.name}, logbook", story)


def _wall_row(entry: LogEntry, stand: Stand) -> list[str]:
    gaps = sorted(entry.gaps.all(), key=lambda gap: gap.valve)
    figures = "   ".join(
        f"{gap.valve}: {gap.found_typed or '–'}"
        + (f" > {gap.left_typed}" if gap.left_typed else "")
        + (f" (left: {gap.reason})" if gap.reason else "")
        for gap in gaps
    )
    what = KINDS.get(entry.what, entry.what)
    corrected = " (corrected later)" if hasattr(entry, "corrected_by") else ""
    meter = "" if entry.meter is None else f"{entry.meter} {stand.meter}"
    return [
        f"{clock.in_school(entry.at):%d %b %Y}",
        meter,
        f"{what}{corrected}. {entry.note}".strip(),
        figures,
        entry.by,
    ]


def stand_label(stand: Stand, address: str | None) -> bytes:
    """A label to hang on the stand: its name, its engine, and the way to its page."""
    words = [
        text(stand.name, LABEL_NAME),
        text(stand.engine_version.engine.name, LABEL_TEXT),
        text(stand.place, LABEL_TEXT),
        Spacer(0, 8),
        text("Isolate before turning by hand. " + DEFERS, SMALL),
    ]
    size = 52 * mm
    label = Table(
        [[words, qr_code(address, size)]], colWidths=[WIDTH - size - 6 * mm, size + 6 * mm]
    )
    label.setStyle(
        TableStyle(
            [
                ("BOX", (0, 0), (-1, -1), 1, LINE),
                ("VALIGN", (0, 0), (-1, -1), "MIDDLE"),
                ("LEFTPADDING", (0, 0), (-1, -1), 10),
                ("TOPPADDING", (0, 0), (-1, -1), 10),
                ("BOTTOMPADDING", (0, 0), (-1, -1), 10),
            ]
        )
    )
    return document(f"{stand.name}, label", [label])
