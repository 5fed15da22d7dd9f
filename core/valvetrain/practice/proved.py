"""What the leaves of one gap prove since it was last changed and the crank last turned, and which
leaf tells most next: the one in the middle of what is still open, until two neighbours are left."""

import statistics
from typing import NamedTuple

from valvetrain.constants import UM_PER_MM
from valvetrain.practice import actions as a
from valvetrain.practice.constants import (
    DRAG_MM,
    DRAG_PULL,
    DRAG_PULL_FALL,
    FORCED_MM,
    THIN_LEAF_UM,
    TIGHT_PULL,
    TIGHT_PULL_RISE,
)
from valvetrain.practice.evidence import Felt, History, felt_here
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
    def estimate_mm(self) -> float:
        """The gap as it is written down: by the leaves that were held, else in the middle."""
        if self.held_mm:
            return statistics.fmean(self.held_mm)
        low = self.low_um / 1000
        return low if self.high_um is None else (low + self.high_um / 1000) / 2

    def says(self, leaf: str) -> str:
        """Why the next leaf is tried: what is known by now, and what it will tell."""
        tells = f"if {leaf} mm goes in, the gap is at least that; if not, no more."
        if self.low_um and self.high_um is not None:
            return (
                f"{mm_text(self.low_um)} mm goes and {mm_text(self.high_um)} mm does not: {tells}"
            )
        tells = f"{tells[0].upper()}{tells[1:]}"
        if self.low_um:
            return f"{mm_text(self.low_um)} mm goes: the gap is at least that. {tells}"
        if self.high_um is not None:
            return f"{mm_text(self.high_um)} mm does not go: the gap is no more. {tells}"
        return tells


def mm_text(leaf_um: int) -> str:
    """`0.25`, `4`."""
    return f"{leaf_um / 1000:.3f}".rstrip("0").rstrip(".")


def proved(setup: Setup, of: History, valve: int, gap: a.GapKind = "opening") -> Proved:
    """By the leaves that were tried on the heel, where the crank now stands."""
    felt = [one for one in felt_here(of, valve, gap) if one.margin_deg >= 0 or gap == "closing"]
    went = {_um(one): one.leaf.feel for one in felt if one.leaf.feel.goes}
    refused = {_um(one): one.leaf.feel for one in felt if not one.leaf.feel.goes}
    held = [says for one in felt if (says := held_mm(one)) is not None]
    low, high = max(went, default=0), min(refused, default=None)
    return Proved(
        low,
        high,
        bool(felt),
        tuple(held),
        low_held=went.get(low) == "drag",
        high_held=high is not None and refused[high] == "tight",
    )


def _um(felt: Felt) -> int:
    return int(felt.leaf.leaf_mm * UM_PER_MM)


def held_mm(felt: Felt) -> float | None:
    """What a leaf that was held says of the gap; None of one that was free, or did not go."""
    leaf_mm = float(felt.leaf.leaf_mm)
    if felt.leaf.feel == "drag":
        return leaf_mm + (DRAG_PULL - felt.pull) / DRAG_PULL_FALL * DRAG_MM
    if felt.leaf.feel == "tight":
        return leaf_mm - (felt.pull - TIGHT_PULL) / TIGHT_PULL_RISE * FORCED_MM
    return None


def stacks(leaves_um: tuple[int, ...]) -> dict[int, tuple[int, ...]]:
    """What the box makes of one leaf, and of a thick one with a thin one beside it: by its sum."""
    thin = [leaf for leaf in leaves_um if leaf <= THIN_LEAF_UM]
    made = {
        thick + leaf: (thick, leaf) for thick in leaves_um for leaf in thin if thick > THIN_LEAF_UM
    }
    return made | {leaf: (leaf,) for leaf in leaves_um}


def next_leaves_um(
    setup: Setup, valve: int, found: Proved, gap: a.GapKind = "opening"
) -> tuple[int, ...] | None:
    """The leaf, or the stack, that tells most; None where two neighbours hold the gap between
    them."""
    hard = setup.hidden[setup.place[valve]].hard_reach and setup.angled_um
    made = stacks(setup.angled_um if hard else setup.leaves_um)
    box = sorted(made)
    between = [
        size
        for size in box
        if size > found.low_um and (found.high_um is None or size < found.high_um)
    ]
    if not between:
        return None
    if not found.tried:
        role = setup.engine.valve[valve].role
        spec = setup.engine.closing[role] if gap == "closing" else setup.engine.clearance[role]
        wanted_um = float(spec.middle_mm) * float(UM_PER_MM)
        return made[min(box, key=lambda size: abs(size - wanted_um))]
    if found.low_held:
        return made[between[0]]
    if found.high_held:
        return made[between[-1]]
    if found.high_um is None:
        # Upwards by larger steps, as a hand does; downwards by halves.
        return made[between[min(len(between) - 1, 2)]]
    return made[between[len(between) // 2]]
