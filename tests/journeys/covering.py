"""Covering arrays: few cases that hold every value, or every pair of values, of several factors."""

import itertools
import random
from collections.abc import Callable, Mapping, Sequence
from typing import Any

Case = dict[str, Any]


def every_value(factors: Mapping[str, Sequence[Any]], seed: int = 1) -> list[Case]:
    """As many cases as the longest factor has values; each value of each factor in one of them.

    Shorter factors come round again, shuffled by the seed so that they do not march in step.
    """
    most = max(len(values) for values in factors.values())
    chance = random.Random(seed)  # noqa: S311 (drawn to be drawn again)
    columns = {}
    for name, values in factors.items():
        column: list[Any] = []
        while len(column) < most:
            column += chance.sample(list(values), len(values)) if len(values) < most else values
        columns[name] = column[:most]
    return [{name: columns[name][row] for name in factors} for row in range(most)]


def every_pair(
    factors: Mapping[str, Sequence[Any]], allowed: Callable[[Case], bool] = lambda _case: True
) -> list[Case]:
    """Cases that hold every pair of values of two factors which an allowed case can hold: greedy,
    each the best of some hundred drawn by a fixed seed."""
    chance = random.Random(1)  # noqa: S311 (drawn to be drawn again)
    names = list(factors)
    open_ = {
        ((one, a), (other, b))
        for one, other in itertools.combinations(names, 2)
        for a in factors[one]
        for b in factors[other]
    }
    cases: list[Case] = []
    while open_:
        wanted = min(open_, key=repr)
        best, most = None, 0
        for _ in range(120):
            case = {name: chance.choice(factors[name]) for name in names} | dict(wanted)
            if allowed(case):
                new = sum(pair in open_ for pair in itertools.combinations(case.items(), 2))
                if new > most:
                    best, most = case, new
        if best is None:
            open_.discard(wanted)  # no allowed case holds it
            continue
        cases.append(best)
        open_ -= set(itertools.combinations(best.items(), 2))
    return cases
