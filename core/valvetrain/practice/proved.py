"""What the leaves of one gap prove since it was last changed and the crank last turned, and which
leaf tells most next: the one in the middle of what is still open, until two neighbours are left."""

import statistics
from collections.abc import Iterable
from typing import NamedTuple

from valvetrain.constants import UM_PER_MM
from valvetrain.engine import Clearance
from valvetrain.practice import actions as a
from valvetrain.practice.boxes import stacks
from valvetrain.practice.constants import (
    DRAG_MM,
    DRAG_PULL,
    DRAG_PULL_FALL,
    EACH_LEAF_MM,
    FINE_UM,
    FORCED_MM,
    TIGHT_PULL,
    TIGHT_PULL_RISE,
)
from valvetrain.practice.evidence import Felt, History, felt_here
from valvetrain.practice.leaf_words import stack_words, thickness_words
from valvetrain.practice.setup import Setup


class Proved(NamedTuple):
    """The thickest stack that went and the thinnest that did not, in µm; 0 and None while there is
    none. held_mm: what each leaf that was held says of the gap, by its pull."""

    low_um: int
    high_um: int | None
    tried: bool
    held_mm: tuple[float, ...] = ()
    low_held: bool = False
    high_held: bool = False
    """Whether the thickest that went dragged, and the thinnest that did not went by force: the gap
    is near."""

    @property
    def is_bounded(self) -> bool:
        """Whether a leaf bounds the gap from above too: without one there is no figure."""
        return self.high_um is not None or self.low_held

    @property
    def is_nothing(self) -> bool:
        """Whether not even the thinnest leaf goes in."""
        return self.tried and self.low_um == 0 and not self.held_mm

    @property
    def estimate_mm(self) -> float:
        """The gap as it is written down: by the leaves that were held, else in the middle; 0 where
        not even the thinnest leaf goes in."""
        if self.held_mm:
            return statistics.fmean(self.held_mm)
        if self.is_nothing:
            return 0.0
        low = self.low_um / 1000
        return low if self.high_um is None else (low + self.high_um / 1000) / 2

    def says(self, setup: Setup, leaves_um: tuple[int, ...]) -> str:
        """Why the next leaf is tried: what is known by now, and what it will tell."""
        leaf = stack_words(setup, leaves_um)
        tells = f"If {leaf} goes in, the gap is at least that; if not, no more."
        if self.low_um and self.high_um is not None:
            low, high = thickness_words(setup, self.low_um), thickness_words(setup, self.high_um)
            return f"{low} goes and {high} does not. {tells}"
        if self.low_um:
            return f"{thickness_words(setup, self.low_um)} goes: the gap is at least that. {tells}"
        if self.high_um is not None:
            high = thickness_words(setup, self.high_um)
            return f"{high} does not go: the gap is no more. {tells}"
        return tells


def proved(setup: Setup, of: History, valve: int, gap: a.GapKind = "opening") -> Proved:
    """By the leaves that were tried on the heel, where the crank now stands."""
    felt = felt_here(of, valve, gap)
    return proved_by(one for one in felt if one.margin_deg >= 0 or gap == "closing")


def proved_by(felt: Iterable[Felt]) -> Proved:
    own = list(felt)
    went = {_um(one): one.leaf.feel for one in own if one.leaf.feel.goes}
    refused = {_um(one): one.leaf.feel for one in own if not one.leaf.feel.goes}
    held = [says for one in own if (says := held_mm(one)) is not None]
    low, high = max(went, default=0), min(refused, default=None)
    return Proved(
        low,
        high,
        bool(own),
        tuple(held),
        low_held=went.get(low) == "drag",
        high_held=high is not None and refused[high] == "tight",
    )


def _um(felt: Felt) -> int:
    return int(felt.leaf.leaf_mm * UM_PER_MM)


def held_mm(felt: Felt) -> float | None:
    """What a leaf that was held says of the gap; None of one that was free, or did not go."""
    leaf_mm = float(felt.leaf.leaf_mm) + (felt.leaves - 1) * EACH_LEAF_MM
    if felt.leaf.feel == "drag":
        return leaf_mm + (DRAG_PULL - felt.pull) / DRAG_PULL_FALL * DRAG_MM
    if felt.leaf.feel == "tight":
        return leaf_mm - (felt.pull - TIGHT_PULL) / TIGHT_PULL_RISE * FORCED_MM
    return None


def spec_of(setup: Setup, valve: int, gap: a.GapKind) -> Clearance:
    """The spec of one of a valve's gaps."""
    role = setup.engine.valve[valve].role
    return setup.engine.closing[role] if gap == "closing" else setup.engine.clearance[role]


def next_leaves_um(
    setup: Setup, valve: int, found: Proved, gap: a.GapKind = "opening"
) -> tuple[int, ...] | None:
    """The leaf, or the stack, that tells most; None where two neighbours have the gap between
    them, or where the box has nothing that would tell more."""
    made = stacks(setup.leaves_at(valve))
    if not found.tried:
        wanted_um = float(spec_of(setup, valve, gap).middle_mm) * float(UM_PER_MM)
        return made.with_pairs[
            min(made.with_pairs, key=lambda size: _off(made.plain, size, wanted_um))
        ]
    plain = _between(made.plain, found)
    if plain:
        return made.plain[_telling(plain, found)]
    if found.high_um is not None and (found.held_mm or found.high_um - found.low_um <= FINE_UM):
        return None
    pairs = _between(made.with_pairs, found)
    return made.with_pairs[_telling(pairs, found)] if pairs else None


def _off(plain: dict[int, tuple[int, ...]], size: int, wanted_um: float) -> float:
    """How far a stack is from the wanted one; a pair of thin leaves counts as a hundredth more."""
    return abs(size - wanted_um) + (0 if size in plain else FINE_UM)


def _between(made: dict[int, tuple[int, ...]], found: Proved) -> list[int]:
    return sorted(
        size
        for size in made
        if size > found.low_um and (found.high_um is None or size < found.high_um)
    )


def _telling(between: list[int], found: Proved) -> int:
    if found.low_held:
        return between[0]
    if found.high_held:
        return between[-1]
    if found.high_um is None:
        # Upwards by larger steps, as a hand does; downwards by halves.
        return between[min(len(between) - 1, 2)]
    return between[len(between) // 2]
