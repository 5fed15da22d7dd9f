"""How a class did on one sheet, on paper: who, which valve, and what explains it."""

from collections import Counter

from reportlab.graphics.shapes import Circle, Drawing, Line, Rect, String
from reportlab.lib.units import mm
from reportlab.platypus import Flowable, Spacer

from edrix.marking.findings import SheetFindings
from edrix.marking.standing import Standing
from edrix.reports.pages import (
    BLUE,
    DEFERS,
    EMBER,
    HEADING,
    LINE,
    SANS,
    SMALL,
    SOFT,
    TITLE,
    WASH,
    WIDTH,
    document,
    grid,
    text,
)
from edrix.reports.words import percent
from edrix.sheets.services import HandIn, Sheet
from valvetrain.engine import Engine
from valvetrain.grading.findings import Kind
from valvetrain.grading.rubric import part_label
from valvetrain.grading.weights import Grade

Rows = list[tuple[HandIn, Standing, Grade]]
MOST_SHOWN_MM = 0.15
ROW = 5.2 * mm


def class_report(
    sheet: Sheet, engine: Engine, rows: Rows, told: SheetFindings, students: int
) -> bytes:
    """rows are all hand-ins by name; told is what explains their figures."""
    tolerance = f"±{sheet.tolerance_mm.normalize():f} mm"
    story: list[Flowable] = [
        text(sheet.title, TITLE),
        text(
            f"{sheet.teaching_class.name}: {sheet.stand.name}, {engine.name}. {len(rows)} of "
            f"{students} handed in; readings count within {tolerance}."
        ),
    ]
    if rows:
        passed = sum(grade.passed for _, _, grade in rows)
        mean = sum(grade.percent for _, _, grade in rows) / len(rows)
        story += [
            text(f"{passed} of {len(rows)} passed; {percent(mean)} on average", HEADING),
            _students(rows, told),
            text("How far readings lie from the key, valve by valve", HEADING),
            *_errors(engine, rows, float(sheet.tolerance_mm)),
            text(
                "A dot is a reading; the band is the tolerance. Dots at the edge lie further out.",
                SMALL,
            ),
            *_explained(told),
        ]
    else:
        story.append(text("Nobody has handed in yet.", HEADING))
    story += [Spacer(0, 4 * mm), text(DEFERS, SMALL)]
    return document(f"{sheet.title}, {sheet.teaching_class.name}", story)


def _students(rows: Rows, told: SheetFindings) -> Flowable:
    table = [["Student", "Marks", "Grade", "Not right", "Best explained by"]]
    for hand_in, standing, grade in rows:
        wrong = Counter(
            part_label(part)
            for valve in standing.valves
            for part, mark in valve.parts.items()
            if not mark.right
        )
        kinds = list(dict.fromkeys(one.kind.words.label for one in told.of[hand_in.id]))
        if any(hand_in.id in (one.id, other.id) for one, other, _ in told.copied):
            kinds.append(Kind.COPIED.words.label)
        table.append(
            [
                hand_in.student.display_name,
                f"{standing.points}/{standing.out_of}",
                f"{percent(grade.percent)} {'passed' if grade.passed else 'not passed'}",
                ", ".join(f"{label} {count}" for label, count in wrong.items()) or "–",
                ", ".join(kinds) or "–",
            ]
        )
    return grid(table, [40 * mm, 16 * mm, 32 * mm, 44 * mm, WIDTH - 132 * mm])


MOST_STRIPS = 40
"""Strips of one drawing: as many as a page has room for."""


def _errors(engine: Engine, rows: Rows, tolerance_mm: float) -> list[Flowable]:
    """One strip for each valve, on as many drawings as it takes: every reading's distance from the
    key."""
    count = len(engine.valves)
    return [
        _strips(engine, rows, tolerance_mm, range(first, min(first + MOST_STRIPS, count)))
        for first in range(0, count, MOST_STRIPS)
    ]


def _strips(engine: Engine, rows: Rows, tolerance_mm: float, places: range) -> Drawing:
    left, height = 34 * mm, ROW * len(places) + 6 * mm
    drawing = Drawing(WIDTH, height)
    wide = WIDTH - left - 4 * mm
    reach = min(MOST_SHOWN_MM, max(3 * tolerance_mm, 0.06))

    def across(error_mm: float) -> float:
        return float(left + wide * (0.5 + max(-1.0, min(1.0, error_mm / reach)) / 2))

    low, high = across(-tolerance_mm), across(tolerance_mm)
    band = Rect(low, 6 * mm, high - low, height - 6 * mm)
    band.fillColor, band.strokeColor = WASH, None
    drawing.add(band)
    drawing.add(Line(across(0), 6 * mm, across(0), height, strokeColor=LINE, strokeWidth=0.7))
    for error in (-reach, -tolerance_mm, 0.0, tolerance_mm, reach):
        label = f"{error:+.2f}".replace("-", "−") if error else "0"
        drawing.add(
            String(across(error), 1.5 * mm, label, fontName=SANS, fontSize=6.5, textAnchor="middle",
                   fillColor=SOFT)
        )  # fmt: skip
    for strip, place in enumerate(places):
        valve, y = engine.valves[place], height - ROW * (strip + 0.5)
        name = f"{valve.number}: cyl. {valve.cylinder} {valve.role.value}"
        drawing.add(String(0, y - 2, name, fontName=SANS, fontSize=7, fillColor=SOFT))
        for _, standing, _ in rows:
            marks = standing.valves[place]
            if marks.error_mm is not None:
                reading = marks.parts.get("reading")
                colour = BLUE if reading is None or reading.right else EMBER
                drawing.add(
                    Circle(across(marks.error_mm), y, 1.5, fillColor=colour,
                           strokeColor=None)
                )  # fmt: skip
    return drawing


def _explained(told: SheetFindings) -> list[Flowable]:
    kinds = Counter(kind for of in told.of.values() for kind in {one.kind for one in of})
    if told.copied:
        kinds[Kind.COPIED] = len({hand_in.id for pair in told.copied for hand_in in pair[:2]})
    if not kinds:
        return []
    rows = [["What explains wrong figures", "Sheets"]]
    rows += [[kind.words.label, str(count)] for kind, count in kinds.most_common()]
    return [
        text("Explanations, likelier than ordinary scatter by ten to one or more", HEADING),
        grid(rows, [80 * mm, 20 * mm]),
        text("Evidence to talk about, not a verdict on anybody.", SMALL),
    ]
