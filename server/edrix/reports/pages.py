"""What all printed pages share: fonts of many scripts, styles, tables, a foot with numbers."""

import io
from collections.abc import Sequence
from itertools import groupby
from pathlib import Path
from typing import Any
from xml.sax.saxutils import escape

from reportlab.graphics.barcode.qr import QrCodeWidget
from reportlab.graphics.shapes import Drawing
from reportlab.lib import colors
from reportlab.lib.pagesizes import A4
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import Flowable, Paragraph, SimpleDocTemplate, Table, TableStyle

FONTS = Path(__file__).parent / "fonts"
SANS, BOLD = "Barlow-Regular", "Barlow-SemiBold"
"""The application's own typeface; what it has no letter for stands in one that has most."""
WIDE = {SANS: "DejaVuSans", BOLD: "DejaVuSans-Bold"}
for name in (*WIDE, *WIDE.values()):
    pdfmetrics.registerFont(TTFont(name, FONTS / f"{name}.ttf"))
pdfmetrics.registerFontFamily(SANS, normal=SANS, bold=BOLD, italic=SANS, boldItalic=BOLD)
_HAS = frozenset(pdfmetrics.getFont(SANS).face.charToGlyph)  # type: ignore[attr-defined]  # of a TrueType font

INK, SOFT = colors.HexColor("#1d2427"), colors.HexColor("#545b5d")
LINE, WASH = colors.HexColor("#b9b09a"), colors.HexColor("#f2ede1")
BLUE, EMBER = colors.HexColor("#1d4f91"), colors.HexColor("#b5482a")
MARGIN = 16 * mm
WIDTH = A4[0] - 2 * MARGIN - 12
"""Between the margins, and the frame's own padding of 6 points on either side."""
BLANK = "\u00a0"
"""A blank that print keeps where several follow each other."""
TEXT = ParagraphStyle("text", fontName=SANS, fontSize=9.5, leading=12, textColor=INK)
SMALL = ParagraphStyle("small", TEXT, fontSize=8.5, leading=10.5, textColor=SOFT)
TITLE = ParagraphStyle("title", TEXT, fontName=BOLD, fontSize=16, leading=20, spaceAfter=2)
HEADING = ParagraphStyle(
    "heading", TEXT, fontName=BOLD, fontSize=10.5, leading=14, spaceBefore=10, spaceAfter=4
)
DEFERS = (
    "Edrix teaches; it does not certify an engine. Local rules, the maker's manual and your "
    "supervising licensed person come first."
)


def text(words: str, style: ParagraphStyle = TEXT) -> Paragraph:
    """Plain words: nothing in them is markup."""
    parts = [
        escape(run) if ours else f'<font face="{WIDE[style.fontName]}">{escape(run)}</font>'
        for ours, run in (
            (ours, "".join(letters))
            for ours, letters in groupby(words, lambda letter: ord(letter) in _HAS)
        )
    ]
    return Paragraph("".join(parts), style)


def grid(rows: Sequence[Sequence[Any]], widths: Sequence[float], *more: tuple[Any, ...]) -> Table:
    """A table with a heading that is repeated on every page; strings are wrapped."""
    cells = [[text(cell, TEXT) if isinstance(cell, str) else cell for cell in row] for row in rows]
    made = Table(cells, colWidths=list(widths), repeatRows=1, hAlign="LEFT")
    made.setStyle(
        TableStyle(
            [
                ("GRID", (0, 0), (-1, -1), 0.5, LINE),
                ("BACKGROUND", (0, 0), (-1, 0), WASH),
                ("VALIGN", (0, 0), (-1, -1), "TOP"),
                ("FONT", (0, 0), (-1, -1), SANS, 9.5),
                ("TOPPADDING", (0, 0), (-1, -1), 2.5),
                ("BOTTOMPADDING", (0, 0), (-1, -1), 2.5),
                *more,
            ]
        )
    )
    return made


def qr_code(address: str | None, size: float) -> Drawing:
    """The address as a QR code of this size, in points; nothing where phones cannot reach it."""
    if address is None:
        return Drawing(size, size)
    widget = QrCodeWidget(address, barLevel="M")
    left, bottom, right, top = widget.getBounds()
    scale = size / max(right - left, top - bottom)
    drawing = Drawing(size, size, transform=[scale, 0, 0, scale, 0, 0])
    drawing.add(widget)
    return drawing


def document(title: str, story: list[Flowable], *, landscape: bool = False) -> bytes:
    out = io.BytesIO()
    size = (A4[1], A4[0]) if landscape else A4
    made = SimpleDocTemplate(
        out,
        pagesize=size,
        leftMargin=MARGIN,
        rightMargin=MARGIN,
        topMargin=14 * mm,
        bottomMargin=16 * mm,
        title=title,
        author="Edrix",
        lang="en",
    )

    def foot(canvas: Canvas, doc: Any) -> None:
        canvas.saveState()
        name = text(title, SMALL)
        name.wrapOn(canvas, size[0] - 2 * MARGIN - 20 * mm, 8 * mm)
        name.drawOn(canvas, MARGIN, 8 * mm)
        canvas.setFont(SANS, 7.5)
        canvas.setFillColor(SOFT)
        canvas.drawRightString(size[0] - MARGIN, 9 * mm, f"page {doc.page}")
        canvas.restoreState()

    made.build(story, onFirstPage=foot, onLaterPages=foot)
    return out.getvalue()
