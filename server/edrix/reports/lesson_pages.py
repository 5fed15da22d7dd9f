"""A lesson as a plan to print, with its notes, and as a file."""

import json
from collections.abc import Iterator
from typing import Any

from reportlab.lib.units import mm
from reportlab.platypus import Flowable, Spacer

from edrix.accounts.models import User
from edrix.lessons import services as lessons
from edrix.reports.files import Made
from edrix.reports.logs import PDF
from edrix.reports.pages import DEFERS, HEADING, SMALL, TEXT, TITLE, document, grid, text
from valvetrain.drill import KINDS
from valvetrain.lesson import Lesson, LessonStep

QUESTIONS = {kind.id: kind.title for kind in KINDS}
WIDTHS = (16 * mm, 62 * mm, 96 * mm)


def lesson_file(user: User, lesson_id: int, kind: str) -> Made:
    """pdf is the plan, json the edrix-lesson/1 file."""
    lesson = lessons.get_lesson(user, lesson_id)
    if kind == "json":
        body = json.dumps(lesson.document, ensure_ascii=False, indent=1).encode()
        return Made(f"lesson-{lesson.id}.json", "application/json", body)
    core = lessons.core_lesson(lesson)
    return Made(f"lesson-{lesson.id}.pdf", PDF, document(core.title, [*_plan(core)]))


def _plan(lesson: Lesson) -> Iterator[Flowable]:
    yield text(lesson.title, TITLE)
    if lesson.about:
        yield text(lesson.about, TEXT)
    yield Spacer(0, 8)
    rows: list[list[Any]] = [[text(head, HEADING) for head in ("Min.", "Step", "Notes")]]
    begins = 0
    for number, step in enumerate(lesson.steps, start=1):
        told = [text(f"{number}. {step.title}", TEXT), text(what(step), SMALL)]
        said = [text(line, SMALL) for line in step.text.split("\n") if line]
        notes = [text(line, TEXT) for line in step.notes.split("\n") if line]
        rows.append([text(f"{begins}", TEXT), [*told, *said], notes])
        begins += step.minutes
    rows.append([text(f"{begins}", TEXT), text("The end", TEXT), ""])
    yield grid(rows, WIDTHS)
    yield Spacer(0, 8)
    yield text(DEFERS, SMALL)


def what(step: LessonStep) -> str:
    """What is done in a step, in words."""
    place = "" if step.at_deg is None else f" at {step.at_deg:g}°"
    covered = ", covered" if step.cover else ""
    return {
        "text": "Told",
        "bench": f"Bench: {step.engine}{place}, {step.view}{covered}",
        "question": f"Asked: {QUESTIONS.get(step.question, step.question)} {step.engine}{place}"
        + (f", {step.seconds} s" if step.seconds else ""),
        "drill": f"Drill: {step.engine}",
        "practice": f"Practice engine: {step.named}",
        "sheet": f"Sheet: {step.named}",
    }[step.kind]
