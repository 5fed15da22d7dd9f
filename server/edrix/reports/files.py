"""What is handed out as files: readings, marks, and one sheet with engine and key."""

import json
from dataclasses import dataclass

from edrix.accounts.models import User
from edrix.classes import services as classes
from edrix.engines import services as engines
from edrix.marking import services as marking
from edrix.marking.rubrics import grades_of
from edrix.marking.standing import Standing, standing_of
from edrix.practice import live
from edrix.practice import services as practice
from edrix.reports.tables import grade_rows, mark_rows, reading_rows
from edrix.reports.write import CSV, XLSX, Rows, to_csv, to_xlsx
from edrix.sheets import services as sheets
from edrix.sheets.lines import entry_of
from edrix.sheets.services import HandIn, Sheet
from edrix.stands import services as stands
from valvetrain.grading.sheet_file import write_sheet
from valvetrain.practice.run_file import write_run


@dataclass(frozen=True, slots=True)
class Made:
    """A file for an instructor."""

    name: str
    content_type: str
    body: bytes


def readings_file(user: User, sheet_id: int, kind: str) -> Made:
    sheet = sheets.sheet_for_instructor(user, sheet_id)
    rows = list(reading_rows(sheet, marking.handed_in(sheet)))
    name = f"readings-sheet-{sheet.id}.{kind}"
    if kind == "csv":
        return Made(name, CSV, to_csv(rows))
    return Made(name, XLSX, to_xlsx({"Readings": rows}))


def marks_file(user: User, sheet_id: int, kind: str) -> Made:
    sheet, made = _marked(user, sheet_id)
    name = f"marks-sheet-{sheet.id}.{kind}"
    if kind == "csv":
        return Made(name, CSV, to_csv(mark_rows(sheet, made)))
    return Made(
        name, XLSX, to_xlsx({"Grades": _grades(sheet, made), "Marks": mark_rows(sheet, made)})
    )


def grades_file(user: User, sheet_id: int) -> Made:
    sheet, made = _marked(user, sheet_id)
    return Made(f"grades-sheet-{sheet.id}.csv", CSV, to_csv(_grades(sheet, made)))


def sheet_file(user: User, hand_in_id: int) -> Made:
    made = marking.hand_in_for_instructor(user, hand_in_id)
    sheet = sheets.sheet_for_instructor(user, made.sheet_id)
    key_mm, stated = stands.key_gaps_mm(made.key_id), stands.stated_key(made.key_id)
    document = write_sheet(
        engines.core_engine(sheet.stand.engine_version),
        student=made.student.display_name,
        title=sheet.title,
        tolerance_mm=sheet.tolerance_mm,
        key_mm=key_mm,
        u_mm={valve: gap.u_mm for valve, gap in stated.gaps.items()},
        entries=[entry_of(reading) for reading in made.readings.all()],
        asks=sheet.asks,
        not_asked=made.not_asked,
        closing_mm=stated.closing_mm,
    )
    body = json.dumps(document, ensure_ascii=False, indent=1).encode()
    return Made(f"sheet-{made.id}.json", "application/json", body)


def run_file(user: User, run_id: int) -> Made:
    """Raises ConflictError for a run of other practice rules: today's would replay another one."""
    run = practice.run_for_instructor(user, run_id)
    document = write_run(
        live.setup_of(run),
        live.done_in(run.id),
        title=run.practice.title,
        student=run.student.display_name,
    )
    body = json.dumps(document, ensure_ascii=False, indent=1).encode()
    return Made(f"run-{run.id}.json", "application/json", body)


def _grades(sheet: Sheet, made: list[tuple[HandIn, Standing]]) -> Rows:
    hand_ins = [hand_in for hand_in, _ in made]
    done = {hand_in.student_id for hand_in in hand_ins}
    missing = [one for one in classes.students_of(sheet.teaching_class_id) if one.id not in done]
    return grade_rows(made, grades_of(sheet, hand_ins), missing)


def _marked(user: User, sheet_id: int) -> tuple[Sheet, list[tuple[HandIn, Standing]]]:
    sheet = sheets.sheet_for_instructor(user, sheet_id)
    return sheet, [(made, standing_of(made)) for made in marking.handed_in(sheet)]
