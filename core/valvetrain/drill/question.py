"""What a question is: the place, the options, the answer and why it is the answer."""

from collections.abc import Iterable
from typing import NamedTuple


class Option(NamedTuple):
    id: str
    says: str
    valve: int | None = None
    """Set where the option is a valve, so that it can be drawn as one."""


class Question(NamedTuple):
    kind: str
    crank_deg: float
    asks: str
    options: tuple[Option, ...]
    several: bool
    """Whether any number of options may be chosen, rather than one."""
    answer: tuple[str, ...]
    """Ids of the right options, in the order of the options."""
    because: str


def is_right(question: Question, given: Iterable[str]) -> bool:
    """All the right options and no other."""
    return set(given) == set(question.answer)
