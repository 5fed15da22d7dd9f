"""Judging a reading sheet: reading its lines, questioning slips, marking against a key."""

from valvetrain.grading.columns import (
    ASKS,
    COLUMNS,
    FURTHER,
    STOP,
    VERDICT,
    Ask,
    Column,
    askable,
    asked_columns,
    cannot_be_asked,
    columns_at,
)
from valvetrain.grading.mark import Mark, Terms
from valvetrain.grading.marks import MARKS_VERSION, Marker, SheetMarks, ValveMarks, mark_sheet
from valvetrain.grading.parts import PARTS, PartKind
from valvetrain.grading.sheet import (
    Entry,
    EntryError,
    SpecVerdict,
    Written,
    read_entry,
    spec_verdict,
)
from valvetrain.grading.slips import SlipQuestion, figure_questions, questions

__all__ = [
    "ASKS",
    "COLUMNS",
    "FURTHER",
    "MARKS_VERSION",
    "PARTS",
    "STOP",
    "VERDICT",
    "Ask",
    "Column",
    "Entry",
    "EntryError",
    "Mark",
    "Marker",
    "PartKind",
    "SheetMarks",
    "SlipQuestion",
    "SpecVerdict",
    "Terms",
    "ValveMarks",
    "Written",
    "askable",
    "asked_columns",
    "cannot_be_asked",
    "columns_at",
    "figure_questions",
    "mark_sheet",
    "questions",
    "read_entry",
    "spec_verdict",
]
