"""Figures that look like a slip of the pen, questioned before a sheet is handed in.

A question compares a line with the printed spec only, never with a key, so it can be
shown to the student without giving anything away.
"""

from collections.abc import Collection, Iterable, Iterator
from dataclasses import dataclass

from valvetrain.engine import Engine
from valvetrain.grading.columns import BASIC, asked_columns
from valvetrain.grading.constants import TEN_TIMES, UNIT_TIMES
from valvetrain.grading.parts import PARTS
from valvetrain.grading.sheet import Entry
from valvetrain.units import MM_PER_THOU, Unit


@dataclass(frozen=True, slots=True)
class SlipQuestion:
    valve: int
    field: str
    says: str


def questions(
    engine: Engine, entries: Iterable[Entry], asks: Collection[str] = ()
) -> tuple[SlipQuestion, ...]:
    """What to ask before hand-in, in the order of the entries: slips first seen, then blanks.

    asks is what the sheet has besides reading, stop and verdict.
    """
    return tuple(
        question
        for entry in entries
        for question in (
            *_slips(engine, entry),
            *_blanks(entry),
            *_further_blanks(engine, entry, asks),
        )
    )


def _slips(engine: Engine, entry: Entry) -> Iterator[SlipQuestion]:
    spec = engine.clearance[engine.valve[entry.valve].role]
    middle = spec.middle_mm
    if entry.reading_mm is None or middle == 0:
        return
    in_mm = "" if entry.unit is Unit.MM else f", which is {entry.reading_mm.normalize():f} mm"
    written = f"says {entry.reading_text} {entry.unit}{in_mm}"
    spec_text = f"the spec is {spec.spread.low}–{spec.spread.high} {spec.unit}"
    if entry.reading_mm == 0:
        yield SlipQuestion(entry.valve, "reading", f"{written}: no gap at all? {spec_text}.")
        return
    times = entry.reading_mm / middle
    for low, high, slip in (
        (*TEN_TIMES, "ten times too"),
        (*UNIT_TIMES, f"{1 / MM_PER_THOU:.0f} times too"),
    ):
        size = "large" if low <= times < high else "small" if low <= 1 / times < high else None
        if size:
            why = "is the decimal point right?" if low == TEN_TIMES[0] else _unit_question(entry)
            says = f"{written}, about {slip} {size}; {spec_text}: {why}"
            yield SlipQuestion(entry.valve, "reading", says)
            return
    if times >= UNIT_TIMES[1] or 1 / times >= UNIT_TIMES[1]:
        says = f"{written}; {spec_text}: that is far away. Is the figure right?"
        yield SlipQuestion(entry.valve, "reading", says)


def _unit_question(entry: Entry) -> str:
    other = Unit.THOU if entry.unit is Unit.MM else Unit.MM
    return f"did you mean {other}?"


def _blanks(entry: Entry) -> Iterator[SlipQuestion]:
    written = {"reading": entry.reading_mm, "crank_deg": entry.crank_deg, "verdict": entry.verdict}
    for column in BASIC:
        if written[column.name] is None:
            field = "stop" if column.holds == "stop" else column.name
            yield SlipQuestion(entry.valve, field, f"has no {field}.")


def _further_blanks(engine: Engine, entry: Entry, asks: Collection[str]) -> Iterator[SlipQuestion]:
    """What is missing of the columns that every line has, and of an adjustment that the reading
    calls for."""
    for column in asked_columns(frozenset(asks)):
        if column.always and column.name not in entry.further:
            yield SlipQuestion(
                entry.valve, column.name, f"has no {column.spoken.removeprefix('the ')}."
            )
    if entry.reading_mm is None:
        return
    for kind in PARTS.values():
        column_of = kind.answered_in
        if column_of is None or kind.own is None or kind.asked_by not in asks:
            continue
        mark = kind.own(engine, entry)
        if mark is not None and not mark.right and column_of.name not in entry.further:
            yield SlipQuestion(entry.valve, column_of.name, mark.student_says)
