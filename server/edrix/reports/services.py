"""Printed pages: a marked sheet, a class's report, blank sheets, an engine's shim table."""

from dataclasses import dataclass

from edrix.accounts.models import User
from edrix.classes import services as classes
from edrix.engines import services as engines
from edrix.errors import FieldFault, InvalidError
from edrix.marking import rubrics
from edrix.marking import services as marking
from edrix.marking.standing import standing_of
from edrix.reports.blank import blank_sheets
from edrix.reports.class_report import class_report
from edrix.reports.marked import marked_sheet
from edrix.reports.shim_pages import shim_pages
from edrix.reports.slips import Slip, passcode_slips
from edrix.sheets import services as sheets


@dataclass(frozen=True, slots=True)
class Printed:
    name: str
    body: bytes


def marked(user: User, hand_in_id: int, reasons: str) -> Printed:
    """For instructors: one marked sheet, with the student's reasons or with their own."""
    made = marking.hand_in_for_instructor(user, hand_in_id)
    sheet = sheets.sheet_for_instructor(user, made.sheet_id)
    engine = engines.core_engine(sheet.stand.engine_version)
    grade = rubrics.grades_of(sheet, [made])[made.id]
    body = marked_sheet(sheet, made, engine, grade, reasons)
    return Printed(f"marked-{made.id}.pdf", body)


def report(user: User, sheet_id: int) -> Printed:
    """For instructors: how a class did on one sheet."""
    sheet, made, told = marking.findings(user, sheet_id)
    grades = rubrics.grades_of(sheet, made)
    rows = [(hand_in, standing_of(hand_in), grades[hand_in.id]) for hand_in in made]
    who = {hand_in.student_id for hand_in in made}
    students = len(classes.students_of(sheet.teaching_class_id, and_left=who))
    engine = engines.core_engine(sheet.stand.engine_version)
    body = class_report(sheet, engine, rows, told, students)
    return Printed(f"class-report-{sheet.id}.pdf", body)


def blanks(user: User, sheet_id: int, address: str | None) -> Printed:
    """For instructors: one page for each student of the class, with the way to the sheet."""
    sheet = sheets.sheet_for_instructor(user, sheet_id)
    engine = engines.core_engine(sheet.stand.engine_version)
    students = list(classes.students_of(sheet.teaching_class_id))
    body = blank_sheets(sheet, engine, sheets.stops_of(sheet), students, address)
    return Printed(f"blank-sheets-{sheet.id}.pdf", body)


def slips(user: User, class_id: int, given: list[tuple[int, str]], address: str | None) -> Printed:
    """For instructors: slips of passcodes that were just made, by student. The passcodes come from
    the page that was told them; nobody else knows them, here neither. Raises InvalidError where
    there is nobody to print for."""
    teaching_class = classes.require_instructor(user, class_id)
    people = {student.id: student for student in classes.students_of(class_id)}
    made = [
        Slip(people[one].display_name, people[one].sign_in_name, passcode)
        for one, passcode in given
        if one in people
    ]
    if not made:
        problem = "has nobody of this class in it; renew the passcodes first"
        raise InvalidError(f"The list {problem}.", [FieldFault("people", problem)])
    body = passcode_slips(f"Passcodes, {teaching_class.name}", made, address)
    return Printed(f"passcodes-{class_id}.pdf", body)


def shims(engine_id: int, number: int | None) -> Printed:
    """For everybody: measured gap against fitted shim. Raises NotFoundError without shims."""
    version = engines.get_version(engine_id, number)
    tables = engines.shim_tables(version)
    body = shim_pages(version.engine.name, version.number, tables)
    return Printed(f"shims-{engine_id}.pdf", body)
