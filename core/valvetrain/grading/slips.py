"""Figures that look like a slip of the pen, questioned before a sheet is handed in.

A question compares a line with the printed spec only, never with a key, so it can be
shown to the student without giving anything away.
"""

from collections.abc import Collection, Iterable, Iterator
from dataclasses import dataclass
from decimal import Decimal

from valvetrain.engine import Engine
from valvetrain.grading.columns import (
    AFTER,
    BASIC,
    FINAL,
    LEAVE,
    READING,
    RUNNING,
    SECOND,
    SHIM_CHOSEN,
    SHIM_FITTED,
    Column,
    columns_at,
)
from valvetrain.grading.constants import INCH_TIMES, SAME_PASSES_MM, TEN_TIMES, UNIT_TIMES
from valvetrain.grading.parts import PARTS
from valvetrain.grading.sheet import Entry
from valvetrain.units import Unit, parse_mm


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
            *_slips(engine, entry, READING),
            *_slips(engine, entry, FINAL),
            *_blanks(entry),
            *_two_answers(entry, asks),
            *_further_blanks(engine, entry, asks),
        )
    )


def figure_questions(engine: Engine, entries: Iterable[Entry]) -> tuple[SlipQuestion, ...]:
    """What to ask about readings that look like slips, and about nothing that is missing."""
    return tuple(question for entry in entries for question in _slips(engine, entry, READING))


def _slips(engine: Engine, entry: Entry, column: Column) -> Iterator[SlipQuestion]:
    spec = engine.clearance[engine.valve[entry.valve].role]
    middle, gap_mm = spec.middle_mm, entry.length_mm(column)
    if gap_mm is None or middle == 0:
        return
    text = entry.reading_text if column is READING else entry.further[column.name].text
    in_mm = "" if entry.unit is Unit.MM else f", which is {gap_mm.normalize():f} mm"
    written = f"says {text} {entry.unit}{in_mm}"
    spec_text = f"the spec is {spec.printed}"
    if gap_mm == 0:
        yield SlipQuestion(entry.valve, column.name, f"{written}: no gap at all? {spec_text}.")
        return
    # As it was typed: what is kept on record is rounded to 0.0001 mm.
    times = parse_mm(text, entry.unit) / middle
    size, ratio = ("large", times) if times > 1 else ("small", 1 / times)
    about = f"{written}, {_times(ratio)} times too {size}; {spec_text}"
    for (low, high), why in (
        (TEN_TIMES, "is the decimal point right?"),
        (UNIT_TIMES, _unit_question(entry)),
        (INCH_TIMES, "did you mean inches?"),
    ):
        if low <= ratio < high and (low != INCH_TIMES[0] or size == "small"):
            yield SlipQuestion(entry.valve, column.name, f"{about}: {why}")
            return
    if times >= UNIT_TIMES[1] or 1 / times >= UNIT_TIMES[1]:
        says = f"{written}; {spec_text}: that is far away. Is the figure right?"
        yield SlipQuestion(entry.valve, column.name, says)


def _times(ratio: Decimal) -> str:
    """`9.6`, `39`: the ratio as it is, to two figures."""
    return f"{ratio:.1f}" if ratio < 10 else f"{ratio:.0f}"


def _two_answers(entry: Entry, asks: Collection[str]) -> Iterator[SlipQuestion]:
    """Where two columns say different things, and only the student knows which counts."""
    apart_mm = _passes_apart_mm(entry)
    if FINAL.name in asks and FINAL.name not in entry.further and apart_mm > SAME_PASSES_MM:
        says = (
            f"has two passes {apart_mm.normalize():f} mm apart: measure a third time, and write "
            "the figure you settle on."
        )
        yield SlipQuestion(entry.valve, FINAL.name, says)
    if entry.choice(LEAVE) is None:
        return
    chosen_mm = entry.length_mm(SHIM_CHOSEN)
    if chosen_mm is not None and chosen_mm != entry.length_mm(SHIM_FITTED):
        says = "says leave it, and a shim to fit as well: the shim counts. Is that meant?"
        yield SlipQuestion(entry.valve, LEAVE.name, says)
    elif AFTER.name in entry.further:
        says = "says leave it, and a gap with the nut tight: that gap counts. Is that meant?"
        yield SlipQuestion(entry.valve, LEAVE.name, says)


def _passes_apart_mm(entry: Entry) -> Decimal:
    """0 where there are not two."""
    second_mm = entry.length_mm(SECOND)
    if entry.reading_mm is None or second_mm is None:
        return Decimal(0)
    return abs(entry.reading_mm - second_mm)


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
    for column in columns_at(engine, engine.valve[entry.valve].role, asks):
        if column.always and column.name not in entry.further:
            yield SlipQuestion(
                entry.valve, column.name, f"has no {column.spoken.removeprefix('the ')}."
            )
    for kind in PARTS.values():
        column_of = kind.answered_in
        if column_of is None or kind.own is None or kind.asked_by not in asks:
            continue
        if entry.settled_mm is None and column_of is not RUNNING:
            continue  # what would be worked out from a reading
        mark = kind.own(engine, entry, asks)
        left = LEAVE.name in entry.further and column_of in (AFTER, SHIM_CHOSEN)
        answered = left or column_of.name in entry.further
        if mark is not None and not mark.right and not answered:
            yield SlipQuestion(entry.valve, column_of.name, mark.student_says)
