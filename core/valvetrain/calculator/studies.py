"""`study`: a table of readings in, the class as an instrument out."""

import argparse
import csv
import io
import math
from typing import Any

from valvetrain.calculator.source import CalculatorError, name_of, text_of
from valvetrain.study import Measured, StudyError, cells_of, study, write_study

COLUMNS = ("student", "valve", "trial", "reading_mm")


def study_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("readings", help=f"CSV with {', '.join(COLUMNS)}; - for standard input")


def answer_study(options: argparse.Namespace) -> dict[str, Any]:
    name = name_of(options.readings)
    rows = read_rows(text_of(options.readings, name, "a CSV of readings"), name)
    try:
        return write_study(study(cells_of(rows)))
    except StudyError as refusal:
        raise CalculatorError(f"{name}: {refusal}") from None


def read_rows(text: str, name: str) -> list[Measured]:
    """Raises CalculatorError with the line that cannot be read."""
    lines = csv.DictReader(io.StringIO(text), strict=True)
    try:
        missing = [column for column in COLUMNS if column not in (lines.fieldnames or [])]
        if missing:
            raise CalculatorError(
                f"{name}: has no column {missing[0]}; give {', '.join(COLUMNS)} in the first line"
            )
        return [_row(line, f"{name}: line {number}") for number, line in enumerate(lines, start=2)]
    except csv.Error as fault:
        raise CalculatorError(f"{name}: is no CSV ({fault})") from None


def _row(line: dict[str, Any], where: str) -> Measured:
    student = (line["student"] or "").strip()
    if not student:
        raise CalculatorError(f"{where}: has no student")
    return Measured(
        student,
        _whole(line["valve"], f"{where}: the valve"),
        _whole(line["trial"], f"{where}: the trial"),
        _length(line["reading_mm"], where),
    )


def _whole(text: str | None, what: str) -> int:
    try:
        return int(text or "")
    except ValueError:
        raise CalculatorError(f"{what} “{(text or '')[:20]}” is not a whole number") from None


def _length(text: str | None, where: str) -> float:
    try:
        length_mm = float((text or "").replace(",", "."))
    except ValueError:
        length_mm = math.nan
    if not 0 <= length_mm <= 20:
        raise CalculatorError(f"{where}: “{(text or '')[:20]}” is no reading from 0 to 20 mm")
    return length_mm
