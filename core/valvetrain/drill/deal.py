"""Deals a drill: different questions in a row, the same ones for the same seed."""

from random import Random

from valvetrain.drill.ask import KINDS
from valvetrain.drill.constants import MOST_TRIES
from valvetrain.drill.question import Question
from valvetrain.engine import Engine


def deal(engine: Engine, seed: int, count: int = 10) -> tuple[Question, ...]:
    """Up to count questions, no two alike, the kinds taking turns in a shuffled order."""
    chance = Random(seed)  # noqa: S311  a drill is dealt, not kept secret
    kinds = list(KINDS)
    chance.shuffle(kinds)
    dealt: list[Question] = []
    seen: set[str] = set()
    for turn in range(count * MOST_TRIES):
        question = kinds[turn % len(kinds)](engine, chance)
        if question is None or question.asks in seen:
            continue
        seen.add(question.asks)
        dealt.append(question)
        if len(dealt) == count:
            break
    return tuple(dealt)
