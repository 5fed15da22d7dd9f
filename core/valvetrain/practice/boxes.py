"""The leaves that a practice engine comes with: box by box, and step leaves as the tools they are.

Sets as they are sold (common practice).
"""

from collections.abc import Callable
from typing import NamedTuple

from valvetrain.practice.constants import UM_PER_THOU

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
