"""Judging a reading sheet: reading its lines, questioning slips, marking against a key."""

from valvetrain.grading.marks import RULES_VERSION, Mark, Marker, SheetMarks, ValveMarks, mark_sheet
from valvetrain.grading.sheet import Entry, EntryError, SpecVerdict, read_entry, spec_verdict
from valvetrain.grading.slips import Question, questions

__all__ = [
    "RULES_VERSION",
    "Entry",
    "EntryError",
    "Mark",
    "Marker",
    "Question",
    "SheetMarks",
    "SpecVerdict",
    "ValveMarks",
    "mark_sheet",
    "questions",
    "read_entry",
    "spec_verdict",
]
