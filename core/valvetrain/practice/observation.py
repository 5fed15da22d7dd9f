"""What comes back from an action: words for a person, figures for the drawing; or a refusal."""

import random
from collections.abc import Mapping
from types import MappingProxyType
from typing import NamedTuple

from valvetrain.errors import RefusedError
from valvetrain.practice.setup import Setup
from valvetrain.practice.state import State

NO_FACTS: Mapping[str, "Fact"] = MappingProxyType({})
Fact = str | int | float | bool | None | list[int]


class RefusedActionError(RefusedError):
    """What cannot be done at the engine as it stands; nothing has changed."""


class Observation(NamedTuple):
    """`says` is what a person would notice. No hidden figure is in it."""

    says: str
    facts: Mapping[str, Fact] = NO_FACTS


def scatter(setup: Setup, state: State, sigma: float) -> float:
    """The unsteadiness of a hand: normal, and always the same at the same place of a run."""
    chance = random.Random(setup.seed * 1_000_003 + state.step)  # noqa: S311 (a hand, no secret)
    return chance.gauss(0.0, sigma)
