"""The ten usual misconceptions: what people call them, and a short way to cure each.

Which question asks each, which finding catches it and where it is shown stand beside it, so that
nothing is taught that is not asked and caught. Common practice of the trade.
"""

from enum import StrEnum
from typing import NamedTuple

from valvetrain.grading.findings.kinds import Kind as FindingKind
from valvetrain.practice.slips import RemarkKind


class Misconception(StrEnum):
    FULL_TURN = "full-turn-out"
    IGNITION_MARK = "ignition-mark"
    COMPANION = "companion-mistaken"
    SUM_RULE = "sum-where-it-fails"
    WRONG_WAY = "thicker-for-tight"
    UNIT = "unit"
    LOBE = "lobe-for-heel"
    WARM = "warm-engine"
    NUT = "nut-forgotten"
    REVERSED = "tight-for-loose"


class MisconceptionWords(NamedTuple):
    """shown is an address of the Bench, or of another place, for `{engine}`; caught is a finding
    on a sheet or a remark about a run."""

    label: str
    says: str
    cure: str
    asked: str
    caught: FindingKind | RemarkKind
    shown: str


ABOUT = {
    Misconception.FULL_TURN: MisconceptionWords(
        "A full turn out",
        "The mark is right and the stroke is wrong: a mark comes round twice in a cycle.",
        "At the mark, look at the cylinder's two followers: both loose is firing TDC, both held "
        "is overlap, except where a decompressor or a brake rocker holds one. If they are held, "
        "turn once more.",
        "which-valves", FindingKind.FULL_TURN, "/bench/{engine}?stroke=hidden",
    ),
    Misconception.IGNITION_MARK: MisconceptionWords(
        "Ignition mark taken for the dead centre",
        "It stands some degrees before the dead centre; figures near the edge of a heel suffer.",
        "Turn on over the mark: the dead centre is the one at which the piston stops rising. Read "
        "the letter before the leaf goes in.",
        "which-mark", FindingKind.WRONG_MARK, "/bench/{engine}?view=section",
    ),
    Misconception.COMPANION: MisconceptionWords(
        "Companion mistaken",
        "The cylinder that rocks is set, rather than the one that fires.",
        "Say both aloud: this one rocks, so its companion is at firing TDC and is the one to set.",
        "who-rocks", FindingKind.WRONG_STOP, "/bench/{engine}?view=overlap",
    ),
    Misconception.SUM_RULE: MisconceptionWords(
        "The sum used where it fails",
        "The rule of nine and its like hold only where the head is a mirror of companions.",
        "Before the first valve, test the rule on this engine: fully open here, is the one it "
        "names loose? One that is held is enough to drop it.",
        "does-the-sum-serve", FindingKind.OFF_HEEL, "/methods/{engine}",
    ),
    Misconception.WRONG_WAY: MisconceptionWords(
        "Thicker for tight",
        "A tight gap needs less metal in it: a thinner shim, or the screw out.",
        "Room plus shim stays the same sum. Write the sum down, then take the wanted gap off.",
        "thinner-or-thicker", FindingKind.WRONG_WAY_SHIM, "/shims/{engine}",
    ),
    Misconception.UNIT: MisconceptionWords(
        "Wrong unit",
        "Thou read or written as millimetres, or the other way round.",
        "One thou is 0.0254 mm, about a fortieth of a millimetre: a gap of 0.25 mm is ten of them.",
        "which-unit", FindingKind.UNIT_SLIP, "/bench/{engine}?view=clearance",
    ),
    Misconception.LOBE: MisconceptionWords(
        "Lobe taken for heel",
        "A gap is measured, or a valve is set, while its follower rides on the ramp or the lobe.",
        "Loose is not enough: turn on a little and back. If the gap changes, it was the ramp.",
        "what-it-reads", FindingKind.OFF_HEEL, "/bench/{engine}?view=section",
    ),
    Misconception.WARM: MisconceptionWords(
        "Measured warm",
        "The spec is for a cold engine, and a warm gap is not corrected in the head.",
        "Lay a hand on the head. If it is warm, let the engine stand; overnight is best.",
        "warm-engine", RemarkKind.MEASURED_WARM, "/bench/{engine}?view=clearance",
    ),
    Misconception.NUT: MisconceptionWords(
        "Lock nut forgotten",
        "Tightening the nut moves the screw, and the gap with it.",
        "Measure after the nut, always. If it moved the gap, set the next one that much off.",
        "lock-nut", FindingKind.LOCK_NUT_CREEP, "/bench/{engine}",
    ),
    Misconception.REVERSED: MisconceptionWords(
        "Tight and loose exchanged",
        "A gap smaller than its spec is tight; one that is larger is loose.",
        "Think of the leaf: where the thinnest that is allowed will not go in, it is tight.",
        "tight-or-loose", FindingKind.VERDICT_REVERSED, "/bench/{engine}?view=clearance",
    ),
}  # fmt: skip
