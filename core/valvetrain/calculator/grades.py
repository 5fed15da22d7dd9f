"""`grade`: a reading sheet in, its marks and findings out."""

import argparse
from typing import Any

from valvetrain.calculator.source import read_file
from valvetrain.grading import Mark, ValveMarks, mark_sheet
from valvetrain.grading.findings import Finding, explain
from valvetrain.grading.sheet_file import read_sheet


def grade_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("sheet", help="edrix-sheet/1 file; - for standard input")


def answer_grade(options: argparse.Namespace) -> dict[str, Any]:
    sheet = read_file(options.sheet, "a reading sheet", read_sheet)
    marks = mark_sheet(sheet.engine, sheet.key_mm, sheet.terms, sheet.entries)
    return {
        "student": sheet.student,
        "title": sheet.title,
        "rules_version": marks.rules_version,
        "points": marks.points,
        "out_of": marks.out_of,
        "valves": [_valve(valve) for valve in marks.valves],
        "findings": [write_finding(finding) for finding in explain(sheet.case)],
    }


def _valve(valve: ValveMarks) -> dict[str, Any]:
    return {
        "valve": valve.valve,
        "error_mm": valve.error_mm,
        **{part: _mark(mark) for part, mark in valve.parts.items()},
    }


def _mark(mark: Mark) -> dict[str, Any]:
    return {"right": mark.right, "says": mark.instructor_says}


def write_finding(finding: Finding) -> dict[str, Any]:
    """JSON values."""
    return {
        "kind": finding.kind.value,
        "valves": list(finding.valves),
        "log_odds": finding.log_odds,
        "says": finding.says,
        "hint": finding.hint,
        "arithmetic": list(finding.arithmetic),
    }
