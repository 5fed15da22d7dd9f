"""What one step of the shown job is, and what of a run it is worked out from."""

from collections.abc import Iterator, Sequence
from typing import NamedTuple

from valvetrain.engine import Role, Valve
from valvetrain.looks import GEAR
from valvetrain.practice import actions as a
from valvetrain.practice.evidence import History, Stint, lengths_mm, stints
from valvetrain.practice.leaf_words import stack_words, written_gap
from valvetrain.practice.proved import proved_by, spec_of
from valvetrain.practice.run import Stretch
from valvetrain.practice.running import CHANGES
from valvetrain.practice.setup import Setup
from valvetrain.practice.state import State

AFTER: dict[a.GapKind, str] = {"opening": "after", "closing": "closing-after"}
FIRST: dict[a.GapKind, str] = {"opening": "first", "closing": "closing"}
"""Columns of the notepad for what was found and what a gap is left at."""


class Step(NamedTuple):
    """says is what to do, why its reason in one sentence; action is what does it, None where only
    the student's own hand can, or where the shown job cannot go on."""

    says: str
    why: str
    action: a.Action | None = None
    valve: int | None = None
    gap: a.GapKind = "opening"


class Told(NamedTuple):
    """A run so far."""

    setup: Setup
    run: Sequence[Stretch]
    last: State
    history: History

    def note(self, valve: int, column: str) -> str:
        """What stands on the notepad; empty where nothing does."""
        kept = (n.text for n in self.last.notes if (n.valve, n.column) == (valve, column))
        return next(kept, "")

    def changes(self, valve: int | None = None) -> Iterator[Stretch]:
        """What was changed so far, of one valve or of all."""
        for stretch in self.run:
            if isinstance(stretch.action, CHANGES) and valve in (None, stretch.action.valve):
                yield stretch

    def needs_angled(self, valve: int) -> bool:
        """Whether only an angled leaf gets in, and not every leaf of the box is one."""
        hard = self.setup.hidden[self.setup.place[valve]].hard_reach
        return hard and self.setup.box != "angled"

    @property
    def has_seen_pads(self) -> bool:
        return any(stretch.action == a.Look("pads") for stretch in self.run)

    def is_hollow(self, valve: int) -> bool:
        """Whether its pad was seen to be hollow: a leaf bridges the hollow and reads tight."""
        looked = [s.seen.facts["hollow"] for s in self.run if s.action == a.Look("pads")]
        return any(isinstance(found, list) and valve in found for found in looked)


def gap_text(told: Told, valve: int, gap: a.GapKind, gap_mm: float) -> str:
    """A gap as it is written down, in the unit of its spec."""
    return written_gap(spec_of(told.setup, valve, gap), gap_mm)


def measured_mm(told: Told, stint: Stint, valve: int) -> float | None:
    """What the leaves of a stint say of the gap, over a hollow pad with what the pad takes; None
    where no leaf bounded it."""
    found = proved_by(one for one in stint.felt if one.margin_deg >= 0)
    if not found.is_bounded:
        return None
    return found.estimate_mm + pad_takes_mm(told, valve)


def pad_takes_mm(told: Told, valve: int) -> float:
    """How much tight a leaf reads over a hollow pad: the gap that the screw was backed off to, by
    its angle, less what a leaf then found there. 0 where that was never tried."""
    if not told.is_hollow(valve):
        return 0.0
    for stint in reversed(stints(told.history, valve)):
        found = proved_by(one for one in stint.felt if one.margin_deg >= 0)
        if stint.angle_mm is not None and found.is_bounded:
            return max(0.0, stint.angle_mm - found.estimate_mm)
    return 0.0


def let_go(told: Told, valve: Valve, gap: a.GapKind) -> Step | None:
    """What a hand sees to before the leaf goes in, or before the screw is set."""
    number = valve.number
    place = told.setup.place[number]
    gear = GEAR[told.setup.engine.train(number)]
    if gap == "closing" or told.last.seats[place].detent:
        return None
    if valve.role is Role.BRAKE:
        says = f"Valve {number}: push the brake rocker back to its detent."
        why = "Hanging off it, it hides its gap."
    elif gear.has_rod:
        says = f"Valve {number}: press its push rod down."
        why = "Oil holds the rod up: its slack would hide part of the gap from the leaf."
    elif told.setup.hidden[place].slack_mm:
        says = f"Valve {number}: lift its {gear.part}."
        why = "It hangs on its lobe, and hides part of the gap."
    else:
        return None
    return Step(says, why, a.Push(number), number)


def try_step(
    told: Told, valve: Valve, leaves_um: tuple[int, ...], gap: a.GapKind, why: str
) -> Step:
    """A leaf, or a stack, into a gap."""
    number, angled = valve.number, told.needs_angled(valve.number)
    which = "" if gap == "opening" else f" {gap}"
    bent = ", bent to 45° (no straight one gets in)," if angled else ""
    words = stack_words(told.setup, leaves_um)
    what = f"leaf of {words}" if len(leaves_um) == 1 else f"leaves of {words} together"
    return Step(
        f"Put the {what}{bent} into the{which} gap of valve {number}.",
        why,
        a.Try(number, leaves_um, gap=gap, angled=angled),
        number,
        gap,
    )


def written_mm(told: Told, valve: Valve, gap: a.GapKind) -> float:
    text = told.note(valve.number, "settled") if gap == "opening" else ""
    text = text or told.note(valve.number, FIRST[gap])
    middle_mm = spec_of(told.setup, valve.number, gap).middle_mm
    return float(min(lengths_mm(text), key=lambda mm: abs(mm - middle_mm), default=middle_mm))
