"""What a sheet's marks are worth together: parts with weights and limits, and a pass mark.

A part's share is between 0 and 1:

- reading: the mean over all valves. A reading that is right counts whole. Where `zero_at_mm` is
  given, the worth of a wrong one falls linearly, from whole where it is proved wrong (beyond the
  tolerance and the uncertainty of that valve's own key) to nothing as far beyond that as
  `zero_at_mm` lies beyond the tolerance: a key known badly does not change how steeply it falls;
- verdict, position, adjusted, shim: how many of the marks are right;
- sequence: how many valves were measured at the very stop where the sheet's method has them
  (position asks only for the heel). A stop is met within NEAR_DEG, as a mark is met by eye
  (common practice);
- record: how many of the fields that the sheet asks for are written at all;
- safety: half for each of the two lists, before and after;
- time: whole up to `minutes` from the isolation list to handing in, falling to nothing at twice
  that.

A part that cannot be judged on a sheet (adjusting, or a stop, where it is not asked) is left out,
and the weights of the others make up the whole.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from decimal import Decimal
from typing import NamedTuple

from valvetrain.engine import Engine
from valvetrain.grading.columns import BASIC, READING, STOP, VERDICT, asked_columns
from valvetrain.grading.constants import FALLS_TO_ZERO, HALF_PERCENT, NEAR_DEG, WHOLE_PERCENT
from valvetrain.grading.mark import Terms
from valvetrain.grading.marks import SheetMarks
from valvetrain.grading.parts import PARTS
from valvetrain.grading.sheet import Entry, SpecVerdict, spec_verdict
from valvetrain.grading.weights import (
    Grade,
    Item,
    Part,
    Rubric,
    RubricError,
    Share,
    Template,
    check_weights,
    time_share,
    weigh,
)


class Circumstances(NamedTuple):
    """What a sheet's marks do not tell. minutes is None where nobody knows when it was begun."""

    opened: bool = False
    closed: bool = False
    minutes: float | None = None


JUDGED = {kind.name: Part(kind.name, kind.label, kind.about) for kind in PARTS.values()} | {
    part.part: part
    for part in (
        Part("sequence", "Sequence", "measured at the stops of the sheet's method"),
        Part("record", "Record complete", "every field that the sheet asks for is filled in"),
        Part("safety", "Safety lists", "half for each of the two lists, before and after"),
        Part("time", "Time", "from the isolation list to handing in"),
    )
}
"""Every part by name: the kinds of mark, and what a sheet shows besides."""


def part_label(part: str) -> str:
    return JUDGED[part].label


WITHOUT_LIMITS = "edrix-rubric/2"
_MEASURED = (Item("reading", 1, HALF_PERCENT), Item("verdict", 1), Item("position", 1))
_SAFE = Item("safety", 1, WHOLE_PERCENT)
_AS_WELL = (
    Item("closing", 1),
    Item("adjusted", 1),
    Item("closing_shim", 1),
    Item("shim", 1),
    Item("running", 1),
)
_TEMPLATES = (
    Template(
        "plain",
        "Every mark alike",
        "One point for each mark, as the sheet shows them; half of the readings must be right.",
        Rubric((*_MEASURED, *_AS_WELL)),
    ),
    Template(
        "measuring",
        "Measuring counts most",
        "A reading near the tolerance is worth something; half of the readings and all of safety "
        "must be right.",
        Rubric(
            (
                Item("reading", 5, HALF_PERCENT),
                Item("verdict", 2),
                Item("position", 2),
                Item("record", 1),
                _SAFE,
                *_AS_WELL,
            ),
            70.0,
            FALLS_TO_ZERO,
        ),
    ),
    Template(
        "finding",
        "Finding the place",
        "Where each valve was measured, and in the order of the method; figures count little.",
        Rubric(
            (
                Item("position", 4, WHOLE_PERCENT),
                Item("sequence", 3),
                Item("reading", 1),
                Item("verdict", 1),
                _SAFE,
            ),
            70.0,
            FALLS_TO_ZERO,
        ),
    ),
    Template(
        "trade test",
        "Trade test",
        "Everything, with a time; what could hurt an engine or a person must be whole.",
        Rubric(
            (
                Item("reading", 3, HALF_PERCENT),
                Item("verdict", 2),
                Item("position", 2, WHOLE_PERCENT),
                Item("sequence", 1),
                Item("closing", 3),
                Item("adjusted", 3),
                Item("closing_shim", 3),
                Item("shim", 3),
                Item("running", 2),
                Item("record", 1),
                Item("safety", 2, WHOLE_PERCENT),
                Item("time", 1),
            ),
            80.0,
            FALLS_TO_ZERO,
            60.0,
        ),
    ),
)
"""With every part, and with `zero_at_mm` in tolerances: `templates` fits them to a sheet."""


def templates(asks: Sequence[str], tolerance_mm: float) -> tuple[Template, ...]:
    """Rubrics to begin from, for a sheet that asks for this."""
    return tuple(one._replace(rubric=_fitted(one.rubric, asks, tolerance_mm)) for one in _TEMPLATES)


def default_rubric(asks: Sequence[str], tolerance_mm: float, version: str) -> Rubric:
    """What counts while nobody has weighed a sheet, by the version that it was set with: up to
    edrix-rubric/2 no part had a limit, and what has been told of such a sheet stands."""
    rubric = templates(asks, tolerance_mm)[0].rubric
    if version != WITHOUT_LIMITS:
        return rubric
    return replace(rubric, items=tuple(Item(one.part, one.weight) for one in rubric.items))


def _fitted(rubric: Rubric, asks: Sequence[str], tolerance_mm: float) -> Rubric:
    items = tuple(item for item in rubric.items if _is_asked(item.part, asks))
    zero_at = rubric.zero_at_mm
    return replace(rubric, items=items, zero_at_mm=zero_at and round(zero_at * tolerance_mm, 4))


def _is_asked(part: str, asks: Sequence[str]) -> bool:
    kind = PARTS.get(part)
    return kind is None or kind.is_asked(asks)


def parts_asked(asks: Sequence[str]) -> tuple[Part, ...]:
    """The parts that a sheet which asks for these can be weighed by."""
    return tuple(part for name, part in JUDGED.items() if _is_asked(name, asks))


def check_rubric(rubric: Rubric, tolerance_mm: float) -> Rubric:
    """The rubric itself. Raises RubricError."""
    check_weights(rubric, JUDGED)
    if rubric.zero_at_mm is not None and not tolerance_mm < rubric.zero_at_mm <= 1:
        raise RubricError(
            "zero at",
            f"is {rubric.zero_at_mm:g} mm; give more than the tolerance of {tolerance_mm:g} mm, "
            "and at most 1 mm, or leave it blank",
        )
    return rubric


class Judged(NamedTuple):
    """One valve's marks as they count. error_mm is None where there is no reading, and where an
    instructor decided the reading's mark; allowed_mm is how far it may be off before that is
    proved: the tolerance and the uncertainty of this valve's key."""

    right: Mapping[str, bool]
    error_mm: float | None
    allowed_mm: float


def judged(marks: SheetMarks, terms: Terms) -> tuple[Judged, ...]:
    """Marks as the rules gave them."""
    return tuple(
        Judged(
            {part: mark.right for part, mark in valve.parts.items()},
            None if valve.error_mm is None else float(valve.error_mm),
            float(terms.allowed_mm(valve.valve)),
        )
        for valve in marks.valves
    )


@dataclass(frozen=True, slots=True)
class WrittenParts:
    """A sheet to be graded: what was written, its marks, and each valve's stop by the method.
    tolerance_mm is the sheet's own, without the uncertainty of any key."""

    engine: Engine
    valves: Sequence[Judged]
    entries: Mapping[int, Entry]
    asks: frozenset[str]
    stop_deg: Mapping[int, float]
    tolerance_mm: float
    not_asked: frozenset[str] = frozenset()


def grade(written: WrittenParts, rubric: Rubric, about: Circumstances) -> Grade:
    """What a sheet comes to. Marks that an instructor decided otherwise count as decided."""
    shares = {item.part: _share(item.part, written, rubric, about) for item in rubric.items}
    return weigh(shares, rubric)


def _share(part: str, written: WrittenParts, rubric: Rubric, about: Circumstances) -> Share | None:
    """A part's share and its arithmetic; None where the sheet cannot show it."""
    own = _SHARES.get(part)
    if own is not None:
        return own(written, rubric, about)
    marks = [valve.right[part] for valve in written.valves if part in valve.right]
    if not marks:
        return None
    return sum(marks) / len(marks), f"{sum(marks)} of {len(marks)} right"


def _reading(written: WrittenParts, rubric: Rubric, _about: Circumstances) -> Share | None:
    full, part, worth = 0, 0, 0.0
    asked = [valve for valve in written.valves if "reading" in valve.right]
    if not asked:
        return None
    for valve in asked:
        if valve.right["reading"]:
            full += 1
        elif rubric.zero_at_mm is not None and valve.error_mm is not None:
            beyond_mm = max(0.0, abs(valve.error_mm) - valve.allowed_mm)
            share = 1 - beyond_mm / (rubric.zero_at_mm - written.tolerance_mm)
            if share > 0:
                part += 1
                worth += share
    count = len(asked)
    share = (full + worth) / count
    says = f"{full} of {count} within"
    if part:
        says += f", {part} beyond it worth {worth:.2f} together"
    return share, says


def _sequence(written: WrittenParts, _rubric: Rubric, _about: Circumstances) -> Share | None:
    if STOP.name in written.not_asked:
        return None
    met = 0
    for valve, wanted_deg in written.stop_deg.items():
        entry = written.entries.get(valve)
        if entry is not None and entry.crank_deg is not None:
            off = (entry.crank_deg - wanted_deg + 360) % 720 - 360
            met += abs(off) <= NEAR_DEG
    count = len(written.stop_deg)
    return (met / count if count else 0.0), f"{met} of {count} at the method's own stop"


def _record(written: WrittenParts, _rubric: Rubric, _about: Circumstances) -> Share | None:
    fields = done = 0
    further = [column for column in asked_columns(written.asks) if column.always]
    basic = [column.name for column in BASIC if column.name not in written.not_asked]
    if not basic and not further:
        return None
    for valve in written.engine.valves:
        entry = written.entries.get(valve.number, Entry(valve.number))
        filled = {
            READING.name: entry.reading_mm is not None,
            STOP.name: entry.crank_deg is not None,
            VERDICT.name: entry.verdict is not None,
        }
        here = [
            *(filled[name] for name in basic),
            *(column.name in entry.further for column in further),
        ]
        fields += len(here)
        done += sum(here)
    return done / fields, f"{done} of {fields} fields written"


def _safety(_written: WrittenParts, _rubric: Rubric, about: Circumstances) -> Share:
    lists = {"before turning": about.opened, "before closing": about.closed}
    missing = [name for name, ticked in lists.items() if not ticked]
    says = "both lists ticked" if not missing else f"list {' and '.join(missing)} not ticked"
    return (2 - len(missing)) / 2, says


def _time(_written: WrittenParts, rubric: Rubric, about: Circumstances) -> Share | None:
    return time_share(about.minutes, rubric)


_SHARES: dict[str, Callable[[WrittenParts, Rubric, Circumstances], Share | None]] = {
    "reading": _reading,
    "sequence": _sequence,
    "record": _record,
    "safety": _safety,
    "time": _time,
}
"""Parts whose share is not simply how many of their marks are right."""


def sample_entries(
    engine: Engine,
    key_mm: Mapping[int, Decimal],
    stop_deg: Mapping[int, float],
    tolerance_mm: Decimal,
) -> dict[int, Entry]:
    """A sheet with a few usual mistakes, to see what a rubric makes of it: from the front, the
    first reading is off by one and a half times the tolerance, the second verdict is wrong, the
    third valve was measured half a turn away from its stop, the fourth was left blank."""
    entries = {}
    for place, valve in enumerate(engine.valve):
        reading_mm = key_mm[valve] + (tolerance_mm * Decimal("1.5") if place == 0 else 0)
        verdict = spec_verdict(engine, valve, reading_mm)
        wrong = SpecVerdict.LOOSE if verdict is not SpecVerdict.LOOSE else SpecVerdict.TIGHT
        crank_deg = stop_deg.get(valve)
        if place == 2 and crank_deg is not None:
            crank_deg = (crank_deg + 180) % 720
        if place != 3:
            entries[valve] = Entry(
                valve,
                f"{reading_mm:f}",
                reading_mm=reading_mm,
                crank_deg=crank_deg,
                verdict=wrong if place == 1 else verdict,
            )
    return entries
