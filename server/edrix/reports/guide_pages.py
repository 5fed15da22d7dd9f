"""The guides as booklets, from the texts that Help shows: docs/guide, in Markdown (CommonMark)."""

from collections.abc import Iterator
from pathlib import Path
from typing import Literal
from xml.sax.saxutils import escape

from django.conf import settings
from markdown_it import MarkdownIt
from markdown_it.token import Token
from reportlab.graphics.shapes import Drawing, Polygon, PolyLine, String
from reportlab.lib import colors
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.lib.utils import ImageReader
from reportlab.platypus import Flowable, Image, KeepTogether, Paragraph, Spacer

from edrix.reports.files import Made
from edrix.reports.logs import PDF
from edrix.reports.pages import (
    BLUE,
    BOLD,
    DEFERS,
    HEADING,
    INK,
    LINE,
    SMALL,
    TEXT,
    TITLE,
    WIDTH,
    document,
    grid,
    text,
)
from valvetrain.glossary import TERMS
from valvetrain.glossary_drawings import HEIGHT, drawing
from valvetrain.glossary_drawings import WIDTH as DRAWING_WIDTH

Whose = Literal["students", "instructors"]
GUIDES = settings.ROOT / "docs" / "guide"
PICTURE_HIGH = 92 * mm
INDENT = ParagraphStyle("item", TEXT, leftIndent=12, bulletIndent=2, spaceAfter=3)
BODY = ParagraphStyle("body", TEXT, spaceAfter=6)
SCALE = 0.9
INKS = {"told": BLUE, "part": INK, "faint": LINE}


def booklet(whose: Whose) -> Made:
    source = (GUIDES / f"{whose}.md").read_text()
    story = [*_story(MarkdownIt("commonmark").parse(source)), *_words(), text(DEFERS, SMALL)]
    return Made(f"edrix-for-{whose}.pdf", PDF, document(f"Edrix for {whose}", story))


def _story(tokens: list[Token]) -> Iterator[Flowable]:
    """Headings, paragraphs, pictures, lists: what the guides are written with. A list's number is
    counted here, for Markdown leaves it to whoever draws."""
    number: int | None = None
    listed, style = False, BODY
    for token in tokens:
        match token.type:
            case "heading_open":
                style = TITLE if token.tag == "h1" else HEADING
            case "paragraph_open":
                style = INDENT if listed else BODY
            case "bullet_list_open" | "ordered_list_open":
                listed, number = True, 0 if token.type.startswith("ordered") else None
            case "bullet_list_close" | "ordered_list_close":
                listed = False
            case "list_item_open" if number is not None:
                number += 1
            case "inline":
                bullet = (f"{number}." if number else "•") if style is INDENT else None
                yield from _inline(token, style, bullet)


def _inline(token: Token, style: ParagraphStyle, bullet: str | None) -> Iterator[Flowable]:
    children = token.children or []
    if len(children) == 1 and children[0].type == "image":
        yield _picture(children[0])
        return
    yield Paragraph("".join(map(_markup, children)), style, bulletText=bullet)


def _markup(token: Token) -> str:
    match token.type:
        case "text":
            return escape(token.content)
        case "softbreak" | "hardbreak":
            return " "
        case "code_inline" | "strong_open" | "em_open":
            inside = escape(token.content)
            end = "</font>" if token.type == "code_inline" else ""
            return f'<font face="{BOLD}">{inside}{end}'
        case "strong_close" | "em_close":
            return "</font>"
    return ""


def _picture(token: Token) -> Flowable:
    """A picture of the demo school, as wide as it goes into the page, with its words below."""
    file = GUIDES / str(token.attrs["src"])
    wide, high = ImageReader(file).getSize()
    scale = min(WIDTH / wide, PICTURE_HIGH / high)
    shown = Image(file, wide * scale, high * scale, hAlign="LEFT")
    return KeepTogether([shown, text(token.content, SMALL), Spacer(0, 8)])


def _words() -> Iterator[Flowable]:
    """The glossary, with its drawings."""
    yield text("Words of the trade", TITLE)
    yield Spacer(0, 6)
    rows = [
        [word_drawing(term.drawing), text(term.word, HEADING), text(term.means, TEXT)]
        for term in sorted(TERMS, key=lambda term: term.word.casefold())
    ]
    heads = [text(head, HEADING) for head in ("", "Word", "What it means")]
    yield grid([heads, *rows], (DRAWING_WIDTH * SCALE + 12, 34 * mm, 96 * mm))
    yield Spacer(0, 8)


def word_drawing(name: str) -> Drawing:
    made = Drawing(DRAWING_WIDTH * SCALE, HEIGHT * SCALE, transform=[SCALE, 0, 0, SCALE, 0, 0])
    shown = drawing(name)
    for stroke in shown.strokes:
        # The page's y goes up, the drawing's down.
        flat = [n for x, y in stroke.points for n in (x, HEIGHT - y)]
        ink = INKS[stroke.ink]
        thick = 2.4 if stroke.ink == "told" and not stroke.closed else 1
        if stroke.closed:
            fill = ink if stroke.ink == "told" else colors.white
            made.add(Polygon(flat, strokeColor=ink, fillColor=fill, strokeWidth=1))
        else:
            made.add(PolyLine(flat, strokeColor=ink, strokeWidth=thick))
    for letters in shown.letters:
        x, y = letters.at
        made.add(
            String(x, HEIGHT - y - 3, letters.text, fontName=BOLD, fontSize=9,
                   textAnchor="middle", fillColor=INKS[letters.ink])
        )  # fmt: skip
    return made


def pictures(whose: Whose) -> list[Path]:
    """The files that a guide shows."""
    tokens = MarkdownIt("commonmark").parse((GUIDES / f"{whose}.md").read_text())
    inline = [child for token in tokens for child in token.children or []]
    return [GUIDES / str(one.attrs["src"]) for one in inline if one.type == "image"]
