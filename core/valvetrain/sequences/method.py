"""What a method of sequence is: one module each, which carries its name, needs and words.

To add one: a module with its `METHOD`, and its name in `methods.METHODS`. Plans, comparison,
`edrix calc`, route cards, sheets and screens follow from it.
"""

from collections.abc import Callable
from typing import NamedTuple

from valvetrain.engine import Engine
from valvetrain.looks import loose_in_general, overlap_in_general
from valvetrain.sequences.plan import Plan, Proposal, Route


class Need(NamedTuple):
    """Something that a method cannot do without. met is None where the file cannot tell."""

    what: str
    met: bool | None


def _nothing_to_say(_engine: Engine) -> tuple[str, ...]:
    return ()


def _nothing_needed(_engine: Engine, _plan: Plan) -> tuple[Need, ...]:
    return ()


def _always_seen(_engine: Engine) -> str | None:
    return None


class Method(NamedTuple):
    """propose says where each valve may be set; `build` checks it, whatever it says."""

    name: str
    """In files, addresses and at the command line."""
    title: str
    """As people call it."""
    about: str
    """What is done, in a line."""
    recognise: str
    """What a person must be able to tell at each stop; {loose} and {overlap} stand for this
    engine's signs of a firing dead centre and of an overlap."""
    propose: Callable[[Engine, Route], tuple[Proposal, ...]]
    remarks: Callable[[Engine], tuple[str, ...]] = _nothing_to_say
    """What it needs that this engine does not have, in sentences."""
    needs: Callable[[Engine, Plan], tuple[Need, ...]] = _nothing_needed
    hidden: Callable[[Engine], str | None] = _always_seen
    """Why its sign cannot be seen on this engine, so that it is not offered; None where it can."""
    keeps_empty_stops: bool = False
    """Its stops are fixed places: they are visited even if nothing may be set there."""

    def recognised_by(self, engine: Engine | None) -> str:
        """recognise in the words of this engine, or of any."""
        return self.recognise.format(
            loose=loose_in_general(engine), overlap=overlap_in_general(engine)
        )


class About(NamedTuple):
    """A method in words, for screens and prints."""

    name: str
    title: str
    about: str
    recognise: str


Propose = Callable[[Engine], tuple[Proposal, ...]]


def always(propose: Propose) -> Callable[[Engine, Route], tuple[Proposal, ...]]:
    """For a method that says the same whatever the start, direction and margin."""
    return lambda engine, _route: propose(engine)
