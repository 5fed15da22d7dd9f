"""The kinds of mark that a valve can get, in the order in which the work is done: one table.

Reasons, records, exports, print, rubric and screens follow from it. To add one, write what marks it
and give it a row here. Each is worth one point.
"""

from collections.abc import Callable, Collection
from decimal import Decimal
from typing import NamedTuple

from valvetrain.engine import Engine
from valvetrain.grading.adjusted import (
    mark_adjusted,
    mark_closing_shim,
    mark_running,
    mark_shim,
)
from valvetrain.grading.columns import (
    AFTER,
    CLOSING,
    CLOSING_CHOSEN,
    READING,
    RUNNING,
    SHIM_CHOSEN,
    STOP,
    VERDICT,
    Column,
)
from valvetrain.grading.mark import Mark, Terms
from valvetrain.grading.measured import mark_closing, mark_position, mark_reading, mark_verdict
from valvetrain.grading.sheet import Entry

ByKey = Callable[[Engine, Entry, Decimal, Terms], Mark | None]
Own = Callable[[Engine, Entry, Collection[str]], Mark | None]
"""Both give None for a valve that has nothing to mark there; own is told what the sheet asks."""


class PartKind(NamedTuple):
    """by_key marks against the reference, own on the student's own line alone: one of them is set.

    asked_by is the `Ask` without which it is not marked. answered_in is the column that a person
    would have filled in: it is not marked where that is not asked; and left blank where the mark is
    lost by that, it is asked about beforehand.
    """

    name: str
    label: str
    about: str
    by_key: ByKey | None = None
    own: Own | None = None
    asked_by: str | None = None
    answered_in: Column | None = None

    def is_asked(self, asks: Collection[str], not_asked: Collection[str] = ()) -> bool:
        if self.asked_by is not None and self.asked_by not in asks:
            return False
        return self.answered_in is None or self.answered_in.name not in not_asked

    def mark(self, engine: Engine, entry: Entry, key_mm: Decimal, terms: Terms) -> Mark | None:
        """None where the sheet does not ask for it, or this valve has nothing to mark there."""
        if not self.is_asked(terms.asks, terms.not_asked):
            return None
        if self.own is not None:
            return self.own(engine, entry, terms.asks)
        assert self.by_key is not None
        return self.by_key(engine, entry, key_mm, terms)


PARTS = {
    kind.name: kind
    for kind in (
        PartKind(
            "reading",
            "Reading",
            "within the tolerance of the reference",
            mark_reading,
            answered_in=READING,
        ),
        PartKind(
            "verdict",
            "Verdict",
            "follows from the student's own figure",
            mark_verdict,
            answered_in=VERDICT,
        ),
        PartKind(
            "position",
            "Position",
            "on its heel at the stop that is named",
            own=mark_position,
            answered_in=STOP,
        ),
        PartKind(
            "adjusted",
            "Adjusted",
            "within spec with the nut tight, nothing to adjust, or rightly left",
            own=mark_adjusted,
            asked_by="nut",
            answered_in=AFTER,
        ),
        PartKind(
            "closing",
            "Closing gap",
            "the closing gap within the tolerance of the reference",
            mark_closing,
            asked_by="closing",
            answered_in=CLOSING,
        ),
        PartKind(
            "closing_shim",
            "Closing shim",
            "the closing shim to fit brings the closing gap within spec",
            own=mark_closing_shim,
            asked_by="closing-shims",
            answered_in=CLOSING_CHOSEN,
        ),
        PartKind(
            "shim",
            "Shim",
            "the shim to fit brings the gap within spec, or it is rightly left",
            own=mark_shim,
            asked_by="shims",
            answered_in=SHIM_CHOSEN,
        ),
        PartKind(
            "running",
            "Running range",
            "proved with a thin and a thick stack, on every rocker that has one",
            own=mark_running,
            asked_by="running",
            answered_in=RUNNING,
        ),
    )
}
