"""Deals a drill: different questions in a row, the same ones for the same seed; or puts one."""

from random import Random

from valvetrain.drill.constants import MOST_TRIES
from valvetrain.drill.kinds import BY_ID, KINDS
from valvetrain.drill.question import AskedAt, CannotAskError, Question, QuestionKind
from valvetrain.engine import Engine


def deal(engine: Engine, seed: int, count: int = 10) -> tuple[Question, ...]:
    """Up to count questions, no two alike, the kinds taking turns in a shuffled order."""
    chance = Random(seed)  # noqa: S311  a drill is dealt, not kept secret
    kinds = list(KINDS)
    chance.shuffle(kinds)
    dealt: list[Question] = []
    seen: set[tuple[str, str]] = set()
    for turn in range(count * MOST_TRIES):
        question = _tried(engine, kinds[turn % len(kinds)], chance)
        if question is None or (question.place, question.asks) in seen:
            continue
        seen.add((question.place, question.asks))
        dealt.append(question)
        if len(dealt) == count:
            break
    return tuple(dealt)


def put(
    engine: Engine, kind_id: str, crank_deg: float, seed: int, about: int | None = None
) -> Question:
    """One question about an engine that stands at crank_deg, all its valves drawn as they are.

    about: which cylinder or valve it is asked of; None leaves it to chance. Raises CannotAskError
    where this cannot be asked, with what would be.
    """
    kind = BY_ID.get(kind_id)
    if kind is None:
        raise CannotAskError(f"There is no question “{kind_id}”; ask {', '.join(BY_ID)}.")
    chance = Random(seed)  # noqa: S311  a question is dealt, not kept secret
    return kind.put(AskedAt(engine, crank_deg, chance, whole=True, about=about))


def put_anew(engine: Engine, kind_id: str, seed: int, *, whole: bool = False) -> Question | None:
    """A question of a kind at some place by chance; None where the engine offers none. whole: with
    all its valves to choose from, as `put` has it."""
    kind = BY_ID.get(kind_id)
    chance = Random(seed)  # noqa: S311
    if kind is None:
        return None
    tries = (_tried(engine, kind, chance, whole=whole) for _ in range(MOST_TRIES))
    return next((question for question in tries if question is not None), None)


def _tried(
    engine: Engine, kind: QuestionKind, chance: Random, *, whole: bool = False
) -> Question | None:
    try:
        return kind.put(AskedAt(engine, kind.place(engine, chance), chance, whole))
    except CannotAskError:
        return None
