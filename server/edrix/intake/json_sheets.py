"""`edrix-sheet/1` taken in: one sheet, or a list of them."""

from typing import Any

from edrix.errors import FieldFault, InvalidError
from edrix.intake.rows import Lines, ListedStudent, RefusedRow, Target, Understood, student_called
from valvetrain.document import DocumentError, parse_json
from valvetrain.grading.sheet_file import read_sheet

MOST_SHEETS = 200


def read_json_sheets(data: bytes, target: Target) -> tuple[int, Understood]:
    """How many sheets there were, and what they give. Their keys are not looked at: a sheet is
    marked by the stand's own."""
    try:
        document = parse_json(data.decode("utf-8-sig"))
    except UnicodeDecodeError:
        raise _refused("is not UTF-8 text; save it as UTF-8") from None
    except DocumentError as fault:
        raise _refused(fault.faults[0].problem) from None
    sheets = document if isinstance(document, list) else [document]
    if not 0 < len(sheets) <= MOST_SHEETS:
        raise _refused(f"has {len(sheets)} sheets; give 1 to {MOST_SHEETS}")
    made = Understood({}, [])
    for number, one in enumerate(sheets, start=1):
        _take(one, number, target, made)
    return len(sheets), made


def _take(document: Any, number: int, target: Target, made: Understood) -> None:
    try:
        sheet = read_sheet(document)
    except DocumentError as refusal:
        given = document.get("student") if isinstance(document, dict) else None
        who = given[:80] if isinstance(given, str) else ""
        problems = [f"{fault.path} {fault.problem}" for fault in refusal.faults[:10]]
        made.refused.append(RefusedRow(number, who, problems))
        _count_refused(who, target, made)
        return
    found = student_called(sheet.student, target.students)
    if isinstance(found, str):
        made.refused.append(RefusedRow(number, sheet.student[:80], [found]))
        return
    lines = made.lines.setdefault(found.id, Lines())
    problem = None
    if sheet.engine != target.engine:
        problem = (
            f"is of the engine “{sheet.engine.name[:60]}” as another file or version has it; the "
            f"sheet's is {target.engine.name}, version {target.engine_version}"
        )
    elif lines.entries:
        problem = f"is a second sheet of {found.name}"
    if problem:
        lines.refused += 1
        made.refused.append(RefusedRow(number, sheet.student[:80], [problem]))
        return
    lines.entries.update({entry.valve: entry for entry in sheet.entries})
    lines.not_asked = sheet.not_asked


def _count_refused(who: str, target: Target, made: Understood) -> None:
    found = student_called(who, target.students)
    if isinstance(found, ListedStudent):
        made.lines.setdefault(found.id, Lines()).refused += 1


def _refused(problem: str) -> InvalidError:
    return InvalidError(f"This file {problem}.", [FieldFault("file", problem)])
