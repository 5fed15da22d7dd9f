"""What comes in and goes out of taking readings in, over HTTP."""

from typing import Any, Literal

from ninja import Schema
from pydantic import Field

from edrix.intake.columns import FileColumn
from edrix.intake.services import Comer, Preview
from edrix.shapes import In
from edrix.sheets.lines import TypedLine
from edrix.sheets.schemas import MOST_LINES

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
    """left_out says why nothing of this student is taken in."""

    student_id: int
    student: str
    lines: int
    missing: list[int]
    left_out: str | None

    @staticmethod
    def of(comer: Comer) -> dict[str, Any]:
        return {
            "student_id": comer.student.id,
            "student": comer.student.name,
            "lines": len(comer.entries),
            "missing": comer.missing,
            "left_out": comer.left_out,
        }


class ImportPreviewOut(Schema):
    """refused holds the first hundred; refused_rows counts all."""

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
            "takes": len(seen.taken),
            "digest": seen.digest,
        }


class PaperSheetIn(In):
    student_id: int
    lines: list[TypedLine] = Field(max_length=MOST_LINES)


class PaperIn(In):
    """not_asked: what was not typed at all, and is neither marked nor missing."""

    sheets: list[PaperSheetIn] = Field(max_length=MOST_SHEETS)
    not_asked: list[Literal["crank_deg", "verdict"]] = Field(default_factory=list, max_length=2)


class PaperOut(Schema):
    sheet_id: int
    taken: int
