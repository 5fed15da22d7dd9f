"""The leaves that a practice engine comes with: box by box, and step leaves as the tools they are.

Sets as they are sold (common practice).
"""

import math
from collections.abc import Callable
from decimal import Decimal
from functools import lru_cache
from itertools import combinations
from typing import NamedTuple

from valvetrain.constants import UM_PER_MM
from valvetrain.practice.constants import (
    BLOCK_UM,
    BLOCKS_FROM_UM,
    ROOM_ABOVE_MM,
    THIN_LEAF_UM,
    UM_PER_THOU,
)

StepLeaf = tuple[int, int]
"""Its thin tip and its thick body, in µm: go and not-go in one."""


class Box(NamedTuple):
    """leaves_um: each once; steps_um: step leaves; angled_um: leaves that are bent to 45°."""

    leaves_um: tuple[int, ...]
    steps_um: tuple[StepLeaf, ...] = ()
    angled_um: tuple[int, ...] = ()


def metric_leaves() -> tuple[int, ...]:
    """0.03 to 0.50 mm by hundredths, then by 0.05 to 1.00; 3.00 and 4.00 for brake rockers."""
    return (*range(30, 501, 10), *range(550, 1001, 50), 3000, 4000)


def thou_leaves() -> tuple[int, ...]:
    """1 to 30 thou, to the nearest micrometre."""
    return tuple(round(n * UM_PER_THOU) for n in range(1, 31))


def stepped_leaves() -> tuple[int, ...]:
    """A set that goes by 0.05, from 0.05 to 0.80 mm."""
    return tuple(range(50, 801, 50))


def angled_leaves() -> tuple[int, ...]:
    """Leaves bent to 45 degrees for gaps that are hard to get at: 0.05 to 0.50 by hundredths."""
    return tuple(range(50, 501, 10))


def metric_steps() -> tuple[StepLeaf, ...]:
    """A tip and a body 0.05 thicker: 0.05/0.10 to 0.55/0.60 by 0.05, as specs of a range have."""
    return tuple((tip, tip + 50) for tip in range(50, 551, 50))


def thou_steps() -> tuple[StepLeaf, ...]:
    """4/6 to 20/22 by 2 thou, to the nearest micrometre."""
    return tuple((round(n * UM_PER_THOU), round((n + 2) * UM_PER_THOU)) for n in range(4, 21, 2))


BOXES: dict[str, Callable[[], Box]] = {
    "metric": lambda: Box(metric_leaves()),
    "thou": lambda: Box(thou_leaves()),
    "mixed": lambda: Box(tuple(sorted({*metric_leaves(), *thou_leaves()}))),
    "stepped": lambda: Box(stepped_leaves()),
    "angled": lambda: Box(angled_leaves(), angled_um=angled_leaves()),
    "steps": lambda: Box(metric_leaves(), metric_steps()),
    "steps-thou": lambda: Box(thou_leaves(), thou_steps()),
}

THOU_BOXES = frozenset({"thou", "steps-thou"})
"""Boxes whose leaves are all marked in thou."""


def blocks_um(box: str, thickest_mm: Decimal) -> tuple[int, ...]:
    """Thickness blocks that come with an engine whose thickest gap is beyond thin leaves, as the
    maker's own lash gauge does: every whole millimetre, or every 40 thou in a box in thou. Empty
    where thin leaves reach. Common practice; the steps are chosen."""
    wanted_um = float((thickest_mm + Decimal(ROOM_ABOVE_MM)) * UM_PER_MM)
    if wanted_um <= BLOCKS_FROM_UM:
        return ()
    step_um = 40 * UM_PER_THOU if box in THOU_BOXES else float(BLOCK_UM)
    return tuple(round(n * step_um) for n in range(1, math.ceil(wanted_um / step_um) + 1))


class Stacks(NamedTuple):
    """What a box makes, by the sum in µm, each with its leaves.

    plain: one leaf, or a block and one thin leaf. with_pairs: also two thin leaves together, with
    or without a block. Fewest leaves for each sum.
    """

    plain: dict[int, tuple[int, ...]]
    with_pairs: dict[int, tuple[int, ...]]


@lru_cache(maxsize=64)
def stacks(leaves_um: tuple[int, ...]) -> Stacks:
    thin = [leaf for leaf in leaves_um if leaf <= THIN_LEAF_UM]
    thick: list[tuple[int, ...]] = [(), *((leaf,) for leaf in leaves_um if leaf > THIN_LEAF_UM)]
    plain: dict[int, tuple[int, ...]] = {}
    pairs: dict[int, tuple[int, ...]] = {}
    for block in thick:
        for more in ((), *((leaf,) for leaf in thin)):
            made = (*block, *more)
            if made and len(made) <= len(plain.get(sum(made), made)):
                plain[sum(made)] = made
        for pair in combinations(reversed(thin), 2):
            made = (*block, *pair)
            if len(made) < len(pairs.get(sum(made), (*made, 0))):
                pairs[sum(made)] = made
    return Stacks(plain, pairs | plain)
