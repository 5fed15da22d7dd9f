"""What a question is: the place, the options, the answer, why it is the answer, and why others are
not."""

from collections import Counter
from collections.abc import Callable, Collection, Iterable, Sequence
from random import Random
from typing import Literal, NamedTuple

from valvetrain.drill.constants import SURE
from valvetrain.engine import Engine
from valvetrain.errors import RefusedError


class CannotAskError(RefusedError):
    """This cannot be asked of this engine, or not at this place; the message says what would be."""


class Option(NamedTuple):
    id: str
    says: str
    valve: int | None = None
    """Set where the option is a valve, so that it can be drawn as one."""


class Wrong(NamedTuple):
    """One way to answer wrongly, and the proof that it is wrong.

    how: `is` fits an answer of just these ids; `just` one whose wrongly chosen ids are all of these
    and no others, `adds` one where they are all among these; `lacks` one with no id too many that
    leaves some of these out.
    """

    how: Literal["is", "just", "adds", "lacks"]
    ids: tuple[str, ...]
    says: str
    mistake: str = ""
    """The misconception that leads here; empty where none can be told from it."""
    crank_deg: float | None = None
    """Where the crank shows it: mostly where the valve chosen is open furthest."""

    def fits(self, right: Collection[str], given: Collection[str]) -> bool:
        chosen, wanted, own = set(given), set(right), set(self.ids)
        if self.how == "is":
            return chosen == own
        if self.how == "just":
            return chosen - wanted == own
        if self.how == "adds":
            return bool(chosen - wanted) and chosen - wanted <= own
        return chosen < wanted and bool((wanted - chosen) & own)


class SheetLine(NamedTuple):
    """A line of a colleague's sheet, as it was written: where the crank stood, what is stamped on
    the leaf that dragged, the gap, the verdict, and what was done about it."""

    valve: int
    cylinder: int
    role: str
    at_deg: float
    leaf: str
    wrote: str
    verdict: str
    did: str


class Question(NamedTuple):
    kind: str
    crank_deg: float
    asks: str
    options: tuple[Option, ...]
    several: bool
    """Whether any number of options may be chosen, rather than one."""
    answer: tuple[str, ...]
    """Ids of the right options, in the order of the options; none where none is right."""
    because: str
    place: str = ""
    """The place in words, for who does not see it drawn."""
    steps: tuple[str, ...] = ()
    """The reasoning, one step after the other, each with its sum."""
    wrongs: tuple[Wrong, ...] = ()
    """Ways to be wrong, the most telling first. Every wrong answer fits one of them."""
    sheet: tuple[SheetLine, ...] = ()
    """A colleague's sheet, where the question is about one."""
    shown_deg: float | None = None
    """Where the crank shows the answer; None where it is where the question is asked."""


class AskedAt(NamedTuple):
    """What a question is made of. whole: all valves of the engine to choose from, drawn as they
    stand, rather than a few that are named. about is a cylinder or a valve, if one is wished."""

    engine: Engine
    crank_deg: float
    chance: Random
    whole: bool = False
    about: int | None = None


class QuestionKind(NamedTuple):
    """One kind of question. put raises CannotAskError; place is a crank angle where it can be
    asked, by chance."""

    id: str
    title: str
    put: Callable[[AskedAt], Question]
    place: Callable[[Engine, Random], float]
    drawn: bool = True
    """Whether where the crank stands matters."""
    about: Literal["", "cylinder", "valve"] = ""
    """What of the engine it may be asked about."""


class Tally(NamedTuple):
    """How a class answered. votes by option; mistakes by misconception, the commonest first, each
    with how many of those who made it were sure. shows is the commonest way to be wrong."""

    right: int
    votes: dict[str, int]
    mistakes: tuple[tuple[str, int, int], ...]
    shows: Wrong | None


def is_right(question: Question, given: Iterable[str]) -> bool:
    """All the right options and no other."""
    return set(given) == set(question.answer)


def why_wrong(question: Question, given: Collection[str]) -> Wrong | None:
    """How an answer is wrong; None for a right one."""
    if is_right(question, given):
        return None
    return next((one for one in question.wrongs if one.fits(question.answer, given)), None)


def tally(question: Question, answers: Sequence[tuple[Collection[str], int]]) -> Tally:
    """answers: what each person chose, and how sure they were (0 where they did not say)."""
    votes: Counter[str] = Counter()
    ways: Counter[Wrong] = Counter()
    mistakes: Counter[str] = Counter()
    sure: Counter[str] = Counter()
    for given, how_sure in answers:
        votes.update(set(given))
        wrong = why_wrong(question, given)
        if wrong is None:
            continue
        ways[wrong] += 1
        if wrong.mistake:
            mistakes[wrong.mistake] += 1
            sure[wrong.mistake] += how_sure >= SURE
    right = sum(is_right(question, given) for given, _ in answers)
    return Tally(
        right,
        {option.id: votes[option.id] for option in question.options},
        tuple((name, count, sure[name]) for name, count in mistakes.most_common()),
        ways.most_common(1)[0][0] if ways else None,
    )
