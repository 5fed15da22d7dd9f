"""What one step of the shown job is, and what of a run it is worked out from."""

from collections.abc import Iterator, Sequence
from typing import NamedTuple

from valvetrain.engine import Valve
from valvetrain.practice import actions as a
from valvetrain.practice.evidence import History
from valvetrain.practice.proved import Proved, mm_text
from valvetrain.practice.run import Stretch
from valvetrain.practice.running import CHANGES
from valvetrain.practice.setup import Setup
from valvetrain.practice.state import State


class Step(NamedTuple):
    """says is what to do, why its reason in one sentence; action is what does it, None where only
    the student's own hand can."""

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
        straight = self.setup.leaves_um != self.setup.angled_um
        return self.setup.hidden[self.setup.place[valve]].hard_reach and straight


def leaf_text(found: Proved) -> str:
    """A gap as it is written down."""
    return f"{found.estimate_mm:.2f}"


def try_step(
    told: Told, valve: Valve, leaves_um: tuple[int, ...], gap: a.GapKind, why: str
) -> Step:
    """A leaf, or a stack of two, into a gap."""
    number, angled = valve.number, told.needs_angled(valve.number)
    which = "" if gap == "opening" else f" {gap}"
    bent = ", bent to 45° (no straight one gets in)," if angled else ""
    what = f"leaf of {mm_text(sum(leaves_um))} mm"
    if len(leaves_um) > 1:
        what = f"leaves of {' + '.join(map(mm_text, leaves_um))} mm together"
    return Step(
        f"Put the {what}{bent} into the{which} gap of valve {number}.",
        why,
        a.Try(number, leaves_um, gap=gap, angled=angled),
        number,
        gap,
    )
