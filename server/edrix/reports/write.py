"""Tables as CSV (RFC 4180, UTF-8) and XLSX, with nothing in them that a spreadsheet would run."""

import csv
import io
from collections.abc import Iterable, Mapping, Sequence
from typing import Any

import openpyxl
from openpyxl.cell.cell import WriteOnlyCell
from openpyxl.styles import Font

from edrix.table_file import UNSEEN

Rows = Iterable[Sequence[Any]]
"""The first row is the heading. Numbers stay numbers; None is an empty cell."""
XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
CSV = "text/csv; charset=utf-8"


def harmless(value: Any) -> Any:
    """A spreadsheet runs cells that begin like a formula; a quote in front keeps them text."""
    if isinstance(value, str) and (
        value[:1] in set("\t\r") or value.lstrip(UNSEEN)[:1] in set("=+-@")
    ):
        return f"'{value}"
    return value


def to_csv(rows: Rows) -> bytes:
    out = io.StringIO()
    # The byte order mark lets spreadsheets read names in UTF-8.
    out.write("\ufeff")
    table = csv.writer(out)
    table.writerows([["" if v is None else harmless(v) for v in row] for row in rows])
    return out.getvalue().encode()


def to_xlsx(sheets: Mapping[str, Rows]) -> bytes:
    """One worksheet for each table, its heading bold and kept in sight."""
    book = openpyxl.Workbook(write_only=True)
    for title, rows in sheets.items():
        sheet = book.create_sheet(title)
        sheet.freeze_panes = "A2"
        for number, row in enumerate(rows):
            cells = []
            for value in row:
                cell = WriteOnlyCell(sheet, value=harmless(value))
                if isinstance(value, str):
                    cell.data_type = "s"
                if number == 0:
                    cell.font = Font(bold=True)
                cells.append(cell)
            sheet.append(cells)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()
