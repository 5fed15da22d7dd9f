"""What comes in and goes out of taking readings in, over HTTP."""

from typing import Any, Literal

from ninja import Schema
from pydantic import Field

from edrix.intake.columns import FileColumn
from edrix.intake.services import Comer, Preview, doubts_of
from edrix.shapes import In
from edrix.sheets.lines import TypedLine
from edrix.sheets.schemas import MOST_LINES
from valvetrain.grading import Entry

MOST_SHOWN = 100
MOST_SHEETS = 200


class ImportColumnOut(Schema):
    """means is null where the column is not used."""

    title: str
    means: str | None
    unit: str | None
    note: str

    @staticmethod
    def of(column: FileColumn) -> dict[str, Any]:
        return {
            "title": column.title,
            "means": column.meaning,
            "unit": column.unit,
            "note": column.note,
        }


class RefusedRowOut(Schema):
    row: int
    who: str
    problems: list[str]


class ComerOut(Schema):
    """left_out says why nothing of this student is taken in; readings are as they are understood,
    each with its valve and its unit."""

    student_id: int
    student: str
    lines: int
    readings: str
    missing: list[int]
    left_out: str | None

    @staticmethod
    def of(comer: Comer) -> dict[str, Any]:
        return {
            "student_id": comer.student.id,
            "student": comer.student.name,
            "lines": len(comer.entries),
            "readings": ", ".join(map(_understood, comer.entries)),
            "missing": comer.missing,
            "left_out": comer.left_out,
        }


def _understood(entry: Entry) -> str:
    """`3: 0.19 mm`; a figure that says its unit keeps it."""
    text = entry.reading_text or "–"
    return (
        f"{entry.valve}: {text}"
        if not text[-1].isdigit()
        else f"{entry.valve}: {text} {entry.unit}"
    )


class DoubtOut(Schema):
    """A reading that looks like a slip: whose, and what is asked."""

    who: str
    asks: str


class ImportPreviewOut(Schema):
    """refused holds the first hundred; refused_rows counts all. doubts are the first hundred of
    readings that look like slips; while there are any, taking in has to be confirmed."""

    sheet_id: int
    title: str
    file_name: str
    kind: str
    notes: list[str]
    columns: list[ImportColumnOut]
    rows: int
    refused_rows: int
    refused: list[RefusedRowOut]
    students: list[ComerOut]
    doubts: list[DoubtOut]
    takes: int
    digest: str

    @staticmethod
    def of(seen: Preview, file_name: str) -> dict[str, Any]:
        return {
            "sheet_id": seen.sheet.id,
            "title": seen.sheet.title,
            "file_name": file_name[:120],
            "kind": seen.kind,
            "notes": seen.notes,
            "columns": [ImportColumnOut.of(column) for column in seen.columns],
            "rows": seen.rows,
            "refused_rows": len(seen.refused),
            "refused": seen.refused[:MOST_SHOWN],
            "students": [ComerOut.of(comer) for comer in seen.comers],
            "doubts": [
                {"who": one.path, "asks": one.problem}
                for one in doubts_of(seen.doubted)[:MOST_SHOWN]
            ],
            "takes": len(seen.taken),
            "digest": seen.digest,
        }


class PaperSheetIn(In):
    student_id: int
    lines: list[TypedLine] = Field(max_length=MOST_LINES)


class PaperIn(In):
    """not_asked: what was not typed at all, and is neither marked nor missing. confirmed: readings
    that look like slips stand so on the paper."""

    sheets: list[PaperSheetIn] = Field(max_length=MOST_SHEETS)
    not_asked: list[Literal["crank_deg", "verdict"]] = Field(default_factory=list, max_length=2)
    confirmed: bool = False


class PaperOut(Schema):
    sheet_id: int
    taken: int
