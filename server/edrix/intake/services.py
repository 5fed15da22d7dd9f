"""Readings taken in from files and from paper: looked at first, then taken whole or not at all."""

import hashlib
import json
from collections.abc import Collection, Iterator, Mapping
from dataclasses import dataclass

from django.db import IntegrityError

from edrix.accounts.models import User
from edrix.classes import services as classes
from edrix.engines import services as engines
from edrix.errors import ConflictError, FieldFault, InvalidError, QuestionsError
from edrix.intake.columns import FileColumn, understand
from edrix.intake.json_sheets import read_json_sheets
from edrix.intake.rows import ListedStudent, RefusedRow, Target, Understood, read_rows
from edrix.marking import handing_in
from edrix.sheets import services as sheets
from edrix.sheets.lines import TypedLine, read_lines
from edrix.sheets.services import Sheet, Submission
from edrix.table_file import read_table
from valvetrain.grading import STOP, VERDICT, Entry, SlipQuestion, figure_questions

BASIC_WORDS = {STOP.name: "stops", VERDICT.name: "verdicts"}


@dataclass(frozen=True, slots=True)
class Progress:
    """How far a take-in is, in readings."""

    done: int
    of: int


@dataclass(frozen=True, slots=True)
class Comer:
    """One student in a file. left_out says why nothing of theirs is taken; None where it is.
    not_asked names the columns that are neither marked nor missing; doubts are readings that look
    like slips, as the student would have been asked about them."""

    student: ListedStudent
    entries: list[Entry]
    missing: list[int]
    left_out: str | None
    not_asked: frozenset[str]
    doubts: tuple[SlipQuestion, ...] = ()

    def submission(self, by: User) -> Submission:
        request_key = f"taken-in-{self.student.id}"
        return Submission(self.student.id, self.entries, request_key, by, self.not_asked)


@dataclass(frozen=True, slots=True)
class Preview:
    """digest names what was seen: what is taken in later is this, or is refused."""

    sheet: Sheet
    kind: str
    notes: list[str]
    columns: list[FileColumn]
    rows: int
    refused: list[RefusedRow]
    comers: list[Comer]
    digest: str

    @property
    def taken(self) -> list[Comer]:
        return [comer for comer in self.comers if comer.left_out is None]

    @property
    def doubted(self) -> list[Comer]:
        """Those of whom something would be taken that looks like a slip."""
        return [comer for comer in self.taken if comer.doubts]


def preview(user: User, sheet_id: int, data: bytes) -> Preview:
    """How a CSV, XLSX or edrix-sheet/1 file is understood; nothing is kept. Raises InvalidError
    where nothing in it can be."""
    sheet = sheets.sheet_for_instructor(user, sheet_id)
    target = _target(sheet)
    if data.lstrip()[:1] in (b"{", b"["):
        rows, understood = read_json_sheets(data, target)
        kind, notes, columns = "edrix-sheet/1", [], []
    else:
        table = read_table(data)
        kind, notes, rows = table.kind, table.notes, len(table.rows) - 1
        columns = understand(table.rows[0], target.engine)
        understood = read_rows(table, columns, target)
        notes = [*notes, *_left_out(understood)]
    comers = _comers(sheet, target, understood)
    seen = hashlib.sha256(data)
    seen.update(json.dumps([[c.student.id, c.left_out] for c in comers]).encode())
    return Preview(
        sheet, kind, notes, columns, rows, understood.refused, comers, seen.hexdigest()[:32]
    )


def take_in(user: User, sheet_id: int, data: bytes, digest: str, *, confirmed: bool) -> "Taking":
    """Takes in what a preview showed, as its progress is asked for.

    Raises ConflictError where it would be something else, and QuestionsError where readings look
    like slips and nobody has confirmed them, before anything is kept.
    """
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
    if seen.doubted and not confirmed:
        raise QuestionsError(
            "Some readings of this file look like slips; look at them before they are taken in.",
            doubts_of(seen.doubted),
        )
    return Taking(user, seen)


def doubts_of(comers: Collection[Comer]) -> list[FieldFault]:
    return [
        FieldFault(f"{comer.student.name}, valve {one.valve}", one.says)
        for comer in comers
        for one in comer.doubts
    ]


@dataclass(frozen=True, slots=True)
class Taking:
    """A file that is being taken in: run `progress` to its end."""

    user: User
    seen: Preview

    @property
    def readings(self) -> int:
        return sum(len(comer.entries) for comer in self.seen.taken)

    def progress(self) -> Iterator[Progress]:
        """Keeps and marks everything, in one transaction. Raises ConflictError where one of these
        students has handed in meanwhile; nothing is taken then."""
        brought = [comer.submission(self.user) for comer in self.seen.taken]
        return _keep(self.seen.sheet, brought)


def take_paper(
    user: User,
    sheet_id: int,
    typed: Mapping[int, list[TypedLine]],
    not_asked: Collection[str] = (),
    *,
    confirmed: bool = False,
) -> Sheet:
    """Takes in what an instructor typed from paper sheets, by student: all or nothing. not_asked
    names the columns that were not typed at all.

    Raises InvalidError with paths like `student 12.valve 3.reading`, and QuestionsError with such
    paths where readings look like slips and nobody has confirmed them.
    """
    sheet = sheets.sheet_for_instructor(user, sheet_id)
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
    doubts = [
        FieldFault(f"student {student_id}.valve {one.valve}.{one.field}", one.says)
        for student_id, entries in by_student.items()
        for one in figure_questions(target.engine, entries)
    ]
    if doubts and not confirmed:
        raise QuestionsError("Some figures look like slips; nothing was taken in yet.", doubts)
    left_out = frozenset(not_asked)
    brought = [
        Submission(student_id, entries, f"taken-in-{student_id}", user, left_out)
        for student_id, entries in by_student.items()
    ]
    for _ in _keep(sheet, brought):
        pass
    return sheet


def _keep(sheet: Sheet, brought: list[Submission]) -> Iterator[Progress]:
    lines = {one.student_id: len(one.entries) for one in brought}
    done, total = 0, sum(lines.values())
    try:
        for made in handing_in.take(sheet, brought):
            done += sum(lines[hand_in.student_id] for hand_in in made)
            yield Progress(done, total)
    except IntegrityError:
        raise ConflictError(
            "One of these students has handed in meanwhile; nothing was taken in. Look once more."
        ) from None


def _left_out(understood: Understood) -> Iterator[str]:
    """What the file has none of, in a sentence for whoever looks at it."""
    lines = next(iter(understood.lines.values()), None)
    missing = [BASIC_WORDS[name] for name in BASIC_WORDS if lines and name in lines.not_asked]
    if missing:
        yield f"It has no {' and no '.join(missing)}: they are neither marked nor missing."


def _target(sheet: Sheet) -> Target:
    version = sheet.stand.engine_version
    students = tuple(
        ListedStudent(student.id, student.display_name, student.sign_in_name)
        for student in classes.students_of(sheet.teaching_class_id)
    )
    engine = engines.core_engine(version)
    return Target(engine, version.number, students, dict(sheets.stops_of(sheet)))


def _comers(sheet: Sheet, target: Target, understood: Understood) -> list[Comer]:
    done = sheets.who_handed_in(sheet)
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
        doubts = figure_questions(target.engine, in_order)
        comers.append(Comer(student, in_order, missing, left_out, lines.not_asked, doubts))
    return comers


def _written(entry: Entry) -> bool:
    return entry.reading_mm is not None or entry.verdict is not None
