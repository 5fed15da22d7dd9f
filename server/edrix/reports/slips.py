"""Passcodes as slips to cut: one for each person, with the way to the sign-in page."""

from collections.abc import Sequence
from dataclasses import dataclass

from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.platypus import Flowable, Spacer, Table, TableStyle

from edrix.reports.pages import BOLD, LINE, SMALL, TEXT, WIDTH, document, qr_code, text

ACROSS = 2
HEIGHT = 44 * mm
QR = 24 * mm
NAME = ParagraphStyle("name", TEXT, fontName=BOLD, fontSize=11, leading=14)
CODE = ParagraphStyle("code", TEXT, fontName=BOLD, fontSize=13, leading=19)
HOW = "Sign in with these; choose a passcode of your own under your name. Keep it to yourself."


@dataclass(frozen=True, slots=True)
class Slip:
    display_name: str
    sign_in_name: str
    passcode: str


def passcode_slips(title: str, slips: Sequence[Slip], address: str | None) -> bytes:
    """A page of slips, cut along the lines; nobody's is on another's."""
    cells: list[list[Flowable]] = [_slip(slip, address) for slip in slips]
    rows = [cells[first : first + ACROSS] for first in range(0, len(cells), ACROSS)]
    if rows and len(rows[-1]) < ACROSS:
        rows[-1] += [[Spacer(0, 0)]] * (ACROSS - len(rows[-1]))
    table = Table(rows, colWidths=[WIDTH / ACROSS] * ACROSS, rowHeights=[HEIGHT] * len(rows))
    dashed = (0.5, LINE, "butt", (3, 3))
    table.setStyle(
        TableStyle(
            [
                ("VALIGN", (0, 0), (-1, -1), "MIDDLE"),
                ("BOX", (0, 0), (-1, -1), *dashed),
                ("INNERGRID", (0, 0), (-1, -1), *dashed),
            ]
        )
    )
    return document(title, [table])


def _slip(slip: Slip, address: str | None) -> list[Flowable]:
    words = [
        text(slip.display_name, NAME),
        text(address or "Address: " + "_" * 24, SMALL),
        text(f"Sign-in name: {slip.sign_in_name}"),
        text(slip.passcode, CODE),
        text(HOW, SMALL),
    ]
    side = Table([[words, qr_code(address, QR)]], colWidths=[WIDTH / ACROSS - QR - 8 * mm, QR])
    side.setStyle(TableStyle([("VALIGN", (0, 0), (-1, -1), "MIDDLE")]))
    return [side]
