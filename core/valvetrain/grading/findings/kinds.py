"""The kinds of finding, each with what people call it, what it means, and what a student is told.

To add one, give it a row here and an explanation that finds it (see `explain`).
"""

from enum import StrEnum
from typing import NamedTuple


class KindWords(NamedTuple):
    """`{valves}` stands for the valves that a finding is about."""

    label: str
    about: str
    """What it means, for an instructor."""
    says: str = ""
    """Of single figures: the finding in a sentence, without its odds."""
    hint: str | None = None
    """For the student: where to look, without a figure; None where it is the instructor's only."""
    of_one: str | None = None
    """The hint where it is about single figures, if that is another."""
    is_slip: bool = False
    """A slip of the pen, which tells nothing of the hand that measured."""


class Kind(StrEnum):
    DECIMAL_SLIP = "decimal-slip"
    UNIT_SLIP = "unit-slip"
    CONVERSION_SLIP = "conversion-slip"
    ROLES_SWAPPED = "roles-swapped"
    NEIGHBOURS_SWAPPED = "neighbours-swapped"
    WRONG_END = "wrong-end"
    OFF_HEEL = "off-heel"
    FULL_TURN = "full-turn"
    WRONG_MARK = "wrong-mark"
    WRONG_STOP = "wrong-stop"
    WRONG_SPEC = "wrong-spec"
    VERDICT_REVERSED = "verdict-reversed"
    BIAS_TIGHT = "steady-bias-tight"
    BIAS_LOOSE = "steady-bias-loose"
    CAUGHT_TIP = "caught-tip"
    COPIED = "copied"
    BETWEEN_PASSES = "between-passes"
    WRONG_WAY_SHIM = "wrong-way-shim"
    LOCK_NUT_CREEP = "lock-nut-creep"
    GAPS_SWAPPED = "opening-and-closing"
    CLOSING_FORGOTTEN = "closing-forgotten"

    @property
    def words(self) -> KindWords:
        return WORDS[self]


_ONE_SIDE = "Your readings are all off to one side: feel a known gap together with your instructor."
WORDS = {
    Kind.DECIMAL_SLIP: KindWords(
        "Decimal point",
        "The decimal point is one place off: 2.5 for 0.25.",
        "A slipped decimal point explains {valves}",
        "Check the decimal point of every figure.",
        "Check the decimal point of {valves}.",
        is_slip=True,
    ),
    Kind.UNIT_SLIP: KindWords(
        "Wrong unit",
        "Thou written as millimetres, or the other way round.",
        "The wrong unit explains {valves}",
        "Which unit are these figures in, and which one is asked for?",
        "Which unit are the figures of {valves} in?",
        is_slip=True,
    ),
    Kind.CONVERSION_SLIP: KindWords(
        "Conversion",
        "Converted between thou and millimetres with a wrong factor.",
        hint="How did you convert thou to millimetres? One thou is 0.0254 mm.",
        is_slip=True,
    ),
    Kind.ROLES_SWAPPED: KindWords(
        "Intake and exhaust exchanged",
        "Intake figures stand at exhaust valves and the other way round, or the other spec was "
        "used.",
        hint="Which valves are intake and which are exhaust? Check each line again.",
    ),
    Kind.NEIGHBOURS_SWAPPED: KindWords(
        "Neighbours exchanged",
        "Two valves side by side have each other's figures.",
        hint="Are {valves} on the right lines?",
    ),
    Kind.WRONG_END: KindWords(
        "Counted from the other end",
        "The valves were counted from the wrong end of the engine.",
        hint="Which end of the engine do you count the valves from?",
    ),
    Kind.OFF_HEEL: KindWords(
        "Off its heel",
        "Measured where the follower was on its ramp or lobe, so that the gap read small.",
        "{valves} {read}",
        "Where was the crank for {valves}? Loose is not enough: find the heel.",
    ),
    Kind.FULL_TURN: KindWords(
        "A full turn out",
        "The right mark on the wrong stroke: no gap, or the ramp's, on just the valves that are "
        "open there, and right figures on the rest.",
        "{valves} {read}",
        "The mark comes round twice: how did you make sure of the stroke?",
    ),
    Kind.WRONG_MARK: KindWords(
        "Stopped at another mark",
        "The ignition or another mark was taken for the dead centre: most figures are still right, "
        "those near the edge of their heel are not.",
        "{valves} {read}",
        "Which of the marks did you stop at?",
    ),
    Kind.WRONG_STOP: KindWords(
        "Measured at the other stop",
        "The valves of one stop were measured at another.",
        "{valves} {read}",
        "Which valves may be measured at each of your stops?",
    ),
    Kind.WRONG_SPEC: KindWords(
        "The other role's spec",
        "Verdicts that follow from the spec of the other role.",
        hint="Which spec is for intake and which for exhaust?",
    ),
    Kind.VERDICT_REVERSED: KindWords(
        "Tight and loose exchanged",
        "Small gaps are called loose and large ones tight.",
        hint="Is a gap that is smaller than its spec tight, or loose?",
    ),
    Kind.BIAS_TIGHT: KindWords(
        "Reads everything tight", "Every reading is smaller than the key by much the same.",
        hint=_ONE_SIDE,
    ),
    Kind.BIAS_LOOSE: KindWords(
        "Reads everything loose", "Every reading is larger than the key by much the same.",
        hint=_ONE_SIDE,
    ),
    Kind.CAUGHT_TIP: KindWords(
        "Leaf caught",
        "One reading is far tighter than the others: the tip of the leaf caught.",
        "A caught leaf explains {valves}, much tighter than the others",
        "Measure {valves} again, with the leaf straight and its tip clear.",
    ),
    Kind.COPIED: KindWords(
        "Same as another sheet", "More figures are equal to another sheet's than chance allows."
    ),
    Kind.BETWEEN_PASSES: KindWords(
        "Passes differ",
        "The two passes differ by more than one hand's repeatability.",
        hint="Your two passes of {valves} differ: measure a third time.",
    ),
    Kind.GAPS_SWAPPED: KindWords(
        "Opening and closing exchanged",
        "The opening gap stands in the closing column, and the closing gap in the other.",
        hint="Which of the two gaps of {valves} is the one that opens it?",
    ),
    Kind.CLOSING_FORGOTTEN: KindWords(
        "Closing shim forgotten in the sum",
        "The opening shim was worked out from the gap as it was measured, although the closing "
        "shim that is changed first moves it.",
        hint="The closing shim of {valves} is changed first: what does that do to the opening gap?",
    ),
    Kind.WRONG_WAY_SHIM: KindWords(
        "Shim the wrong way",
        "The shim chosen lies on the wrong side: too small a gap needs a thinner shim.",
        hint="Which way does the gap go when the shim of {valves} is thicker? Too small a gap "
        "needs a thinner one.",
    ),
    Kind.LOCK_NUT_CREEP: KindWords(
        "Lock nut moves the gap",
        "Tightening the nut moves every gap by the same amount, and it was not allowed for.",
        hint="What does the lock nut do to the gap? It {does} it here; allow for that beforehand.",
    ),
}  # fmt: skip
WRITING_SLIPS = frozenset(kind for kind in Kind if WORDS[kind].is_slip)
"""Slips of the pen: they tell nothing of the hand that measured."""
NOT_THE_HAND = WRITING_SLIPS | {
    Kind.ROLES_SWAPPED, Kind.NEIGHBOURS_SWAPPED, Kind.WRONG_END, Kind.OFF_HEEL, Kind.FULL_TURN,
    Kind.WRONG_MARK, Kind.WRONG_STOP, Kind.GAPS_SWAPPED,
}  # fmt: skip
"""Figures that these explain are of another line or another place, and are no bias of a hand."""
