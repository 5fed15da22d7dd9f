"""Brake rockers' running clearance: a small stack must go and a large one must not.

It is proved after the nut is tight again, by the student's own leaves.
What is hidden plays no part.
"""

from collections.abc import Iterable
from decimal import Decimal
from typing import NamedTuple

from valvetrain.constants import UM_PER_MM
from valvetrain.practice import actions as a
from valvetrain.practice.observation import Observation
from valvetrain.practice.setup import Setup
from valvetrain.spec_words import exact
from valvetrain.units import Unit

CHANGES = (a.Loosen, a.Tighten, a.Screw, a.SetByLeaf, a.Zero, a.FitShim, a.TakeShim)
Felt = tuple[a.Action, Observation]


class RunningCheck(NamedTuple):
    """What the tries since a valve was last changed prove of its running range."""

    valve: int
    low_mm: Decimal
    high_mm: Decimal
    set_anew: bool
    """Whether it was changed at all in this run."""
    small_went: bool
    large_refused: bool
    unit: Unit = Unit.MM
    """That of the range as it is printed."""

    @property
    def small(self) -> str:
        """The stack that must go, in words."""
        return exact(self.low_mm, self.unit)

    @property
    def large(self) -> str:
        """The stack that must not."""
        return exact(self.high_mm, self.unit)

    @property
    def proved(self) -> bool:
        return self.small_went and self.large_refused

    @property
    def says(self) -> str:
        if self.proved:
            return f"Its running range is proved: {self.small} goes and {self.large} does not."
        if not self.small_went:
            return f"Now its running gap: a stack of {self.small} must go in there."
        return f"{self.small} goes. A stack of {self.large} must not."


def running_check(setup: Setup, valve: int, felt: Iterable[Felt]) -> RunningCheck | None:
    """None for a valve without a running range. felt is what was done, in order."""
    spec = setup.engine.clearance[setup.engine.valve[valve].role]
    limits = spec.running_mm
    if limits is None:
        return None
    low_mm, high_mm = limits
    set_anew = small_went = large_refused = False
    for action, seen in felt:
        if getattr(action, "valve", None) != valve:
            continue
        if isinstance(action, CHANGES):
            set_anew, small_went, large_refused = True, False, False
        elif isinstance(action, a.Try) and action.gap == "running":
            total_mm = Decimal(sum(action.leaves_um)) / UM_PER_MM
            goes = seen.facts.get("feel") in ("free", "drag")
            small_went |= goes and total_mm >= low_mm
            large_refused |= not goes and total_mm <= high_mm
    return RunningCheck(valve, low_mm, high_mm, set_anew, small_went, large_refused, spec.unit)


def running_checks(setup: Setup, felt: Iterable[Felt]) -> list[RunningCheck]:
    done = list(felt)
    found = [running_check(setup, valve.number, done) for valve in setup.engine.valves]
    return [check for check in found if check is not None]
