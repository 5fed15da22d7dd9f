"""Weights: what parts are worth together, of a sheet and of a practice run alike.

A rubric gives each part a weight. A part's share lies between 0 and 1; a part that cannot be judged
is left out, and the others are worth the more.
"""

import math
from collections.abc import Collection, Mapping
from dataclasses import dataclass
from typing import NamedTuple

from valvetrain.errors import RefusedError
from valvetrain.grading.constants import MOST_MINUTES, MOST_WEIGHT, SAME_PERCENT

RUBRIC_VERSION = "edrix-rubric/3"


class RubricError(RefusedError):
    """A rubric that cannot be used: which field, and what would be right."""

    def __init__(self, field: str, problem: str):
        self.field = field
        self.problem = problem
        super().__init__(f"{field}: {problem}")


@dataclass(frozen=True, slots=True)
class Item:
    """least_percent: with a smaller share of this part the work is not passed, whatever its
    percentage; 0 where the part has no such limit."""

    part: str
    weight: float
    least_percent: float = 0.0


@dataclass(frozen=True, slots=True)
class Rubric:
    items: tuple[Item, ...]
    pass_percent: float = 60.0
    zero_at_mm: float | None = None
    minutes: float | None = None


class ItemGrade(NamedTuple):
    part: str
    weight: float
    share: float
    percent: float
    """Of the whole: weight x share over the sum of weights."""
    least_percent: float
    says: str


class Grade(NamedTuple):
    """fails holds the parts that fell short of their own limit; waived those that have one and
    could not be judged, which is said and fails nobody."""

    rules_version: str
    percent: float
    passed: bool
    pass_percent: float
    items: tuple[ItemGrade, ...]
    fails: tuple[str, ...]
    waived: tuple[str, ...] = ()


Share = tuple[float, str]
"""A share from 0 to 1, and its arithmetic in words."""


class Part(NamedTuple):
    """Something that a rubric can weigh."""

    part: str
    label: str
    about: str


class Template(NamedTuple):
    name: str
    title: str
    says: str
    rubric: Rubric


def time_share(minutes: float | None, rubric: Rubric) -> Share | None:
    """Whole up to the rubric's minutes, falling to nothing at twice that; None where it was not
    timed."""
    if rubric.minutes is None or minutes is None:
        return None
    share = min(1.0, max(0.0, 2 - minutes / rubric.minutes))
    return share, f"{minutes:.0f} minutes of {rubric.minutes:g}"


def weigh(shares: Mapping[str, Share | None], rubric: Rubric) -> Grade:
    """What shares come to; None is a part that cannot be judged."""
    judged = [(item, *share) for item in rubric.items if (share := shares[item.part]) is not None]
    whole = sum(item.weight for item, _, _ in judged)
    items = tuple(
        ItemGrade(
            item.part,
            item.weight,
            share,
            100 * item.weight * share / whole,
            item.least_percent,
            says,
        )
        for item, share, says in judged
    )
    percent = sum(item.percent for item in items)
    fails = tuple(
        item.part for item in items if 100 * item.share < item.least_percent - SAME_PERCENT
    )
    reached = percent >= rubric.pass_percent - SAME_PERCENT
    return Grade(
        RUBRIC_VERSION,
        _shown_percent(percent, rubric.pass_percent, reached=reached),
        reached and not fails,
        rubric.pass_percent,
        items,
        fails,
        tuple(
            item.part for item in rubric.items if shares[item.part] is None and item.least_percent
        ),
    )


def _shown_percent(percent: float, pass_percent: float, *, reached: bool) -> float:
    """To a tenth; what falls short of the pass mark is never rounded up to it."""
    shown = round(percent, 1)
    return math.floor(percent * 10) / 10 if shown >= pass_percent and not reached else shown


def check_weights(rubric: Rubric, known: Collection[str]) -> None:
    """Raises RubricError where a part is unknown or stands twice, or a figure is out of bounds."""
    parts = [item.part for item in rubric.items]
    if not parts:
        raise RubricError("items", "is empty; weigh at least one part")
    for item in rubric.items:
        if item.part not in known:
            raise RubricError("items", f"“{item.part[:20]}” is no part; use {', '.join(known)}")
        if parts.count(item.part) > 1:
            raise RubricError("items", f"{item.part} stands twice; give it one weight")
        if not 0 < item.weight <= MOST_WEIGHT:
            raise RubricError(
                f"weight of {item.part}", f"is {item.weight:g}; give more than 0, to {MOST_WEIGHT}"
            )
        if not 0 <= item.least_percent <= 100:
            raise RubricError(
                f"least of {item.part}", f"is {item.least_percent:g}; give 0 to 100 percent"
            )
    if not 0 <= rubric.pass_percent <= 100:
        raise RubricError("pass mark", f"is {rubric.pass_percent:g}; give 0 to 100 percent")
    if "time" in parts and not (rubric.minutes and 0 < rubric.minutes <= MOST_MINUTES):
        raise RubricError("minutes", f"time is weighed; give its minutes, 1 to {MOST_MINUTES}")
