"""Judging a reading sheet: reading its lines, questioning slips, marking against a key."""

from valvetrain.grading.mark import Mark
from valvetrain.grading.marks import (
    PARTS,
    RULES_VERSION,
    Asks,
    Marker,
    SheetMarks,
    Terms,
    ValveMarks,
    mark_sheet,
)
from valvetrain.grading.sheet import (
    FURTHER,
    Entry,
    EntryError,
    SpecVerdict,
    Written,
    read_entry,
    spec_verdict,
)
from valvetrain.grading.slips import Question, questions

__all__ = [
    "FURTHER",
    "PARTS",
    "RULES_VERSION",
    "Asks",
    "Entry",
    "EntryError",
    "Mark",
    "Marker",
    "Question",
    "SheetMarks",
    "SpecVerdict",
    "Terms",
    "ValveMarks",
    "Written",
    "mark_sheet",
    "questions",
    "read_entry",
    "spec_verdict",
]
