"""Readings taken in from files and from paper: looked at first, then taken whole or not at all."""

import hashlib
import json
from collections.abc import Mapping
from dataclasses import dataclass

from django.db import IntegrityError, connection, transaction

from edrix.accounts.models import User
from edrix.classes import services as classes
from edrix.engines import services as engines
from edrix.errors import ConflictError, FieldFault, InvalidError
from edrix.sheets import services
from edrix.sheets.files.columns import WORDS, Column, understand
from edrix.sheets.files.json_sheets import read_json_sheets
from edrix.sheets.files.read import read_table
from edrix.sheets.files.rows import RefusedRow, Student, Target, Understood, read_rows
from edrix.sheets.lines import TypedLine, read_lines, valve_json
from edrix.sheets.models import Draft, HandIn, Sheet
from edrix.sheets.remark import terms_of
from edrix.stands import services as stands
from valvetrain.grading import Entry, Marker, SheetMarks


@dataclass(frozen=True, slots=True)
class Comer:
    """One student in a file. left_out says why nothing of theirs is taken; None where it is."""

    student: Student
    entries: list[Entry]
    missing: list[int]
    left_out: str | None


@dataclass(frozen=True, slots=True)
class Preview:
    """digest names what was seen: what is taken in later is this, or is refused."""

    sheet: Sheet
    kind: str
    notes: list[str]
    columns: list[Column]
    rows: int
    refused: list[RefusedRow]
    comers: list[Comer]
    digest: str

    @property
    def taken(self) -> list[Comer]:
        return [comer for comer in self.comers if comer.left_out is None]


def preview(user: User, sheet_id: int, data: bytes) -> Preview:
    """How a CSV, XLSX or edrix-sheet/1 file is understood; nothing is kept. Raises InvalidError
    where nothing in it can be."""
    sheet = services.sheet_for_instructor(user, sheet_id)
    target = _target(sheet)
    if data.lstrip()[:1] in (b"{", b"["):
        rows, understood = read_json_sheets(data, target)
        kind, notes, columns = "edrix-sheet/1", [], []
    else:
        table = read_table(data)
        kind, notes, rows = table.kind, table.notes, len(table.rows) - 1
        columns = understand(table.rows[0], target.engine)
        understood = read_rows(table, columns, target)
    comers = _comers(sheet, target, understood)
    seen = hashlib.sha256(data)
    seen.update(json.dumps([[c.student.id, c.left_out] for c in comers]).encode())
    return Preview(
        sheet, kind, notes, columns, rows, understood.refused, comers, seen.hexdigest()[:32]
    )


def take_in(user: User, sheet_id: int, data: bytes, digest: str) -> Preview:
    """Takes in what a preview showed. Raises ConflictError where it would be something else."""
    seen = preview(user, sheet_id, data)
    if seen.digest != digest:
        raise ConflictError(
            "What this file would give has changed since you looked (somebody handed in, or it "
            "is another file). Look at it once more."
        )
    if not seen.taken:
        raise InvalidError(
            "There is nothing to take in: no student's rows are whole.",
            [FieldFault("file", "has no student whose rows can all be used")],
        )
    keep(user, seen.sheet, {comer.student.id: comer.entries for comer in seen.taken})
    return seen


def take_paper(user: User, sheet_id: int, typed: Mapping[int, list[TypedLine]]) -> Sheet:
    """Takes in what an instructor typed from paper sheets, by student: all or nothing.

    Raises InvalidError with paths like `student 12.valve 3.reading`.
    """
    sheet = services.sheet_for_instructor(user, sheet_id)
    target = _target(sheet)
    known = {student.id for student in target.students}
    faults: list[FieldFault] = []
    by_student: dict[int, list[Entry]] = {}
    for student_id, lines in typed.items():
        if student_id not in known:
            problem = "is no student of this class; reload the page"
            faults.append(FieldFault(f"student {student_id}", problem))
            continue
        try:
            by_student[student_id] = read_lines(target.engine, lines)
        except InvalidError as fault:
            faults += [
                FieldFault(f"student {student_id}.{one.path}", one.problem) for one in fault.faults
            ]
    if not typed:
        faults.append(FieldFault("sheets", "is empty; type at least one sheet"))
    if faults:
        raise InvalidError(f"Nothing was taken in: {faults[0].path} {faults[0].problem}.", faults)
    keep(user, sheet, by_student)
    return sheet


def keep(user: User, sheet: Sheet, by_student: Mapping[int, list[Entry]]) -> None:
    """Hand-ins of many students at once, marked, in one transaction: all or nothing.

    Raises ConflictError where one of them has handed in meanwhile.
    """
    version = sheet.stand.engine_version
    try:
        with transaction.atomic():
            # As in `hand_in`: nobody corrects the key between the marking and its record.
            locked = Sheet.objects.select_for_update(of=("self",)).select_related("key")
            key = locked.get(id=sheet.id).key
            marker = Marker(
                engines.core_engine(version), stands.key_gaps_mm(key.id), terms_of(sheet, key)
            )
            made = HandIn.objects.bulk_create(
                HandIn(
                    sheet=sheet,
                    student_id=student_id,
                    request_key=f"taken-in-{student_id}",
                    entered_by=user,
                    key=key,
                )
                for student_id in by_student
            )
            entries = [by_student[hand_in.student_id] for hand_in in made]
            _copy_readings(made, entries)
            _copy_markings(made, [marker.mark(lines) for lines in entries])
            Draft.objects.filter(sheet=sheet, student_id__in=by_student).delete()
    except IntegrityError:
        raise ConflictError(
            "One of these students has handed in meanwhile; nothing was taken in. Look once more."
        ) from None


def _copy_readings(made: list[HandIn], entries: list[list[Entry]]) -> None:
    """PostgreSQL's COPY: a term's readings come in a second."""
    with (
        connection.cursor() as cursor,
        cursor.copy(
            "COPY sheets_reading (hand_in_id, valve, typed, unit, reading_mm, crank_deg, verdict, "
            "further) FROM STDIN"
        ) as copy,
    ):
        for hand_in, lines in zip(made, entries, strict=True):
            for line in lines:
                further = {
                    name: {"typed": written.text, "mm": str(written.mm)}
                    for name, written in line.further.items()
                }
                copy.write_row(
                    (
                        hand_in.id,
                        line.valve,
                        line.reading_text,
                        line.unit.value,
                        line.reading_mm,
                        line.crank_deg,
                        line.verdict.value if line.verdict else "",
                        json.dumps(further) if further else "{}",
                    )
                )


def _copy_markings(made: list[HandIn], marks: list[SheetMarks]) -> None:
    # A marker gives the same object for the same figures: each is written as JSON once.
    written: dict[int, str] = {}
    for one in marks:
        for valve in one.valves:
            if id(valve) not in written:
                written[id(valve)] = json.dumps(valve_json(valve), ensure_ascii=False)
    with (
        connection.cursor() as cursor,
        cursor.copy(
            "COPY sheets_marking (hand_in_id, rules_version, points, out_of, valves, made_at) "
            "FROM STDIN"
        ) as copy,
    ):
        for hand_in, one in zip(made, marks, strict=True):
            valves = ",".join([written[id(valve)] for valve in one.valves])
            copy.write_row(
                (
                    hand_in.id,
                    one.rules_version,
                    one.points,
                    one.out_of,
                    f"[{valves}]",
                    hand_in.handed_in_at,
                )
            )


def _target(sheet: Sheet) -> Target:
    version = sheet.stand.engine_version
    students = tuple(
        Student(student.id, student.display_name, student.sign_in_name)
        for student in classes.students_of(sheet.teaching_class_id)
    )
    engine = engines.core_engine(version)
    return Target(engine, version.number, students, dict(services.stops_of(sheet)))


def _comers(sheet: Sheet, target: Target, understood: Understood) -> list[Comer]:
    done = set(HandIn.objects.filter(sheet=sheet).values_list("student_id", flat=True))
    comers = []
    for student in target.students:
        lines = understood.lines.get(student.id)
        if lines is None:
            continue
        left_out = None
        if student.id in done:
            left_out = "has handed this sheet in already"
        elif lines.refused:
            rows, them = (
                ("a row is", "it") if lines.refused == 1 else (f"{lines.refused} rows are", "them")
            )
            left_out = f"{rows} refused; put {them} right, or nothing of this sheet is taken"
        elif not any(_written(entry) for entry in lines.entries.values()):
            left_out = "has nothing written"
        in_order = [lines.entries[valve] for valve in target.engine.valve if valve in lines.entries]
        missing = [valve for valve in target.engine.valve if valve not in lines.entries]
        comers.append(Comer(student, in_order, missing, left_out))
    return comers


def meaning(column: Column) -> str | None:
    """What a column gives, in words; None where it is not used."""
    if column.valve is not None:
        return f"the reading of valve {column.valve}"
    return WORDS[column.means] if column.means else None


def _written(entry: Entry) -> bool:
    return entry.reading_mm is not None or entry.verdict is not None
