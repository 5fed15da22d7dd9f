"""A marked sheet on paper: every line, every mark and its reason, and what it comes to."""

from reportlab.lib.units import mm
from reportlab.platypus import Flowable, Spacer

from edrix import clock
from edrix.marking.standing import Standing, standing_of
from edrix.reports.pages import (
    DEFERS,
    EMBER,
    HEADING,
    SMALL,
    TITLE,
    WIDTH,
    document,
    grid,
    text,
)
from edrix.reports.words import percent, wrote
from edrix.sheets.services import HandIn, Sheet
from valvetrain.engine import Engine
from valvetrain.grading.rubric import part_label
from valvetrain.grading.weights import Grade


def marked_sheet(sheet: Sheet, made: HandIn, engine: Engine, grade: Grade, reasons: str) -> bytes:
    """reasons is `student_says` or `instructor_says`; only the latter hold figures of the key."""
    standing = standing_of(made)
    by = f", taken in by {made.entered_by.display_name}" if made.entered_by else ""
    story: list[Flowable] = [
        text(made.student.display_name, TITLE),
        text(
            f"{sheet.title}: {sheet.stand.name}, {engine.name}, engine {engine.measured}. Handed "
            f"in {clock.moment(made.handed_in_at)}{by}. Readings count within "
            f"±{sheet.tolerance_mm.normalize():f} mm."
        ),
        text(f"{standing.points} of {standing.out_of} marks", HEADING),
    ]
    # A worth that falls with the error tells the key: it goes on the instructor's copy only.
    if reasons == "instructor_says" or sheet.given_back_at or not _tells(grade):
        story += _grade(grade)
    story += [Spacer(0, 3 * mm), *_lines(engine, made, standing, reasons)]
    story += [Spacer(0, 3 * mm), text(DEFERS, SMALL)]
    return document(f"{made.student.display_name}, {sheet.title}", story)


def _tells(grade: Grade) -> bool:
    return any("beyond it worth" in item.says for item in grade.items)


def _grade(grade: Grade) -> list[Flowable]:
    verdict = "passed" if grade.passed else "not passed"
    fails = "".join(f"; {part_label(part)} must be whole" for part in grade.fails)
    fails += "".join(
        f"; {part_label(part)} must be whole and could not be judged here" for part in grade.waived
    )
    rows = [["Part", "Share", "Weight", "Worth"]]
    rows += [
        [part_label(item.part), item.says, f"{item.weight:g}", percent(item.percent)]
        for item in grade.items
    ]
    return [
        text(f"{percent(grade.percent)}, {verdict} (from {percent(grade.pass_percent)}){fails}"),
        Spacer(0, 1 * mm),
        grid(rows, [40 * mm, WIDTH - 85 * mm, 20 * mm, 25 * mm]),
    ]


def _lines(engine: Engine, made: HandIn, standing: Standing, reasons: str) -> list[Flowable]:
    written = {reading.valve: reading for reading in made.readings.all()}
    rows = [["Valve", "Written", "Marks"]]
    wrong = []
    for place, marks in enumerate(standing.valves, start=1):
        valve = engine.valve[marks.valve]
        told = []
        for part, mark in marks.parts.items():
            sign = "✓" if mark.right else "✗"
            told.append(text(f"{sign} {part_label(part)}: {getattr(mark, reasons)}"))
            if mark.override:
                told.append(text(f"Decided by {mark.override.by}: {mark.override.reason}", SMALL))
        if not all(mark.right for mark in marks.parts.values()):
            wrong.append(("LINEBEFORE", (0, place), (0, place), 3, EMBER))
        name = f"{valve.number}: cylinder {valve.cylinder} {valve.role.value}"
        rows.append([name, wrote(written.get(valve.number)), told])  # type: ignore[list-item]
    return [grid(rows, [34 * mm, 44 * mm, WIDTH - 78 * mm], *wrong)]
