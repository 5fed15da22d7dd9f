"""A CSV or XLSX file as rows of text, exactly as written; nothing in it is ever worked out."""

import csv
import io
import re
import zipfile
from dataclasses import dataclass, field
from typing import Any

import openpyxl
from openpyxl.cell.cell import Cell
from openpyxl.utils import range_boundaries

from edrix.errors import FieldFault, InvalidError

MOST_ROWS = 120_000
MOST_COLUMNS = 400
MOST_CELL = 300
MOST_UNPACKED_BYTES = 80_000_000
"""A workbook is a zip; what unpacks to more than this is no class list."""
UNSEEN = "\ufeff\u200b\u200c\u200d\u2060\u00a0 \t"
"""Invisible characters: some programs skip them, and run the formula that follows."""
FORMULA = "is a formula; nothing is worked out here: paste its value"
MERGED = "is merged with its neighbours; write it into every row"
MOST_MERGED = 20_000
_MERGED = re.compile(rb"""mergeCell\s[^>]*?ref\s*=\s*["']([^"']*)""")
_SAYS_DELIMITER = re.compile(r"\Asep=.\r?\n", re.IGNORECASE)
_QUOTED = re.compile(r'"[^"]*"')


@dataclass(frozen=True, slots=True)
class Table:
    """rows[0] is the heading. faults are by row and column, from 0."""

    kind: str
    rows: list[list[str]]
    notes: list[str]
    faults: dict[tuple[int, int], str] = field(default_factory=dict)


def read_table(data: bytes) -> Table:
    """Tells CSV and XLSX apart by their content. Raises InvalidError for everything else."""
    table = _xlsx(data) if data[:4] == b"PK\x03\x04" else _csv(data)
    if len(table.rows) < 2:
        raise refused("has no rows below its heading; give one row for each valve")
    if len(table.rows) > MOST_ROWS:
        raise refused(f"has {len(table.rows)} rows; give at most {MOST_ROWS}")
    if max(map(len, table.rows)) > MOST_COLUMNS:
        raise refused(f"has more than {MOST_COLUMNS} columns; is it one table?")
    return table


def refused(problem: str) -> InvalidError:
    return InvalidError(f"This file {problem}.", [FieldFault("file", problem)])


def _csv(data: bytes) -> Table:
    text, notes = _text(data)
    # A first line that only says how cells are parted, for one spreadsheet program.
    text = _SAYS_DELIMITER.sub("", text, count=1)
    first = _QUOTED.sub("", text.split("\n", 1)[0])
    delimiter = max(";\t,", key=first.count)
    faults: dict[tuple[int, int], str] = {}
    rows: list[list[str]] = []
    try:
        for written in csv.reader(io.StringIO(text, newline=""), delimiter=delimiter, strict=True):
            joined = "".join(written)
            if not joined.strip():
                continue
            if "=" in joined or "'" in joined or len(joined) > MOST_CELL:
                rows.append(_careful(written, len(rows), faults))
            else:
                rows.append(written)
            if len(rows) > MOST_ROWS:
                break
    except csv.Error as fault:
        raise refused(f"is no CSV from row {len(rows) + 1} on ({fault})") from None
    return Table("csv", rows, notes, faults)


def _careful(cells: list[str], row: int, faults: dict[tuple[int, int], str]) -> list[str]:
    """A row in which a cell may be a formula, quoted text, or far too long."""
    for column, cell in enumerate(cells):
        if cell.lstrip(UNSEEN)[:1] == "=":
            faults[row, column] = FORMULA
        elif len(cell) > MOST_CELL:
            faults[row, column] = f"has more than {MOST_CELL} characters"
    return [unquoted(cell[:MOST_CELL]) for cell in cells]


def unquoted(cell: str) -> str:
    """Without the quote that is set before text which a spreadsheet would run (see `write`)."""
    return cell[1:] if cell[:1] == "'" and cell[1:2] in set("=+-@") else cell


def _text(data: bytes) -> tuple[str, list[str]]:
    if b"\x00" in data and data[:2] not in (b"\xff\xfe", b"\xfe\xff"):
        raise refused("is neither CSV nor XLSX; save the sheet as one of them")
    for encoding, note in (
        ("utf-16" if data[:2] in (b"\xff\xfe", b"\xfe\xff") else "utf-8-sig", None),
        ("cp1252", "The file is not UTF-8; its letters were read as Windows-1252."),
    ):
        try:
            return data.decode(encoding), [note] if note else []
        except UnicodeDecodeError:
            continue
    raise refused("is no text that can be read; save it as CSV in UTF-8")


def _xlsx(data: bytes) -> Table:
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as packed:
            size = sum(part.file_size for part in packed.infolist())
            if "xl/workbook.xml" not in packed.namelist():
                raise refused("is a zip of another program, and no XLSX workbook")
            if size > MOST_UNPACKED_BYTES:
                raise refused("unpacks to far more than a class's readings; save only that sheet")
            _bound_merged(packed)
        # With formulas kept as they are written: they are refused, never run.
        book = openpyxl.load_workbook(io.BytesIO(data), data_only=False, keep_links=False)
    except InvalidError:
        raise
    except Exception:  # A broken workbook fails in many ways, all meaning this.
        raise refused("is a broken XLSX workbook; open it, and save it again") from None
    sheets = [sheet for sheet in book.worksheets if sheet.max_row and sheet.max_column]
    if not sheets:
        raise refused("has no worksheet with cells in it")
    sheet = sheets[0]
    left = [other.title for other in book.worksheets if other is not sheet]
    notes = [f"Read the worksheet “{sheet.title}” only, not {', '.join(left)}."] if left else []
    if sheet.max_row > MOST_ROWS or sheet.max_column > MOST_COLUMNS:
        raise refused(f"has {sheet.max_row} rows and {sheet.max_column} columns; is it one table?")
    merged = {
        place
        for area in sheet.merged_cells.ranges
        for row in area.rows
        for place in row
        if place != (area.min_row, area.min_col)
    }
    rows: list[list[str]] = []
    faults: dict[tuple[int, int], str] = {}
    for cells in sheet.iter_rows():
        row = [_cell(cell.value) for cell in cells]
        if not any(map(str.strip, row)):
            continue
        for column, cell in enumerate(cells):
            if isinstance(cell, Cell) and cell.data_type == "f":
                faults[len(rows), column] = FORMULA
            elif (cell.row, cell.column) in merged:
                faults[len(rows), column] = MERGED
        while row and not row[-1]:
            row.pop()
        rows.append(row)
    return Table("xlsx", rows, notes, faults)


def _bound_merged(packed: zipfile.ZipFile) -> None:
    """openpyxl makes every cell of a merged area, and one line of text may name all that a sheet
    can have: so they are counted before. Raises InvalidError."""
    total = 0
    for part in packed.namelist():
        if not part.startswith("xl/worksheets/"):
            continue
        text = packed.read(part)
        if text[:2] in (b"\xff\xfe", b"\xfe\xff") or b"\x00" in text[:100]:
            raise refused("is written as no spreadsheet writes it; open it, and save it again")
        for area in _MERGED.findall(text):
            try:
                left, top, right, bottom = (
                    int(edge or 0) for edge in range_boundaries(area.decode())
                )
                total += (right - left + 1) * (bottom - top + 1)
            except (ValueError, TypeError):
                raise refused("has merged cells that are none; unmerge them") from None
    if total > MOST_MERGED:
        raise refused(f"has {total} merged cells; unmerge them, and write each value in its row")


def _cell(value: Any) -> str:
    if value is None:
        return ""
    if isinstance(value, float):
        return f"{value:.10g}"
    return unquoted(str(value)[:MOST_CELL])
