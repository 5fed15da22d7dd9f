"""What an engine is turned with by hand, and what is done with it before the engine runs, in words.

A file names it freely; five kinds have words of their own. Common practice, in our words.
"""

import re
from typing import NamedTuple

from valvetrain.engine import Engine


class HandTurning(NamedTuple):
    """off: what is done when turning is over, without its full stop. is_off and is_on: how it then
    stands, within a sentence. left: what happened where the engine was started with it. would: what
    would happen then, as the reason to see to it."""

    kind: str
    off: str
    is_off: str
    is_on: str
    left: str
    would: str


_KINDS = (
    (r"\b(back|rear|road) wheel\b|in gear", "wheel"),
    (r"\bbarring gear\b", "gear"),
    (r"\bbar(ring tool)?\b", "bar"),
    (r"\bhandle\b", "handle"),
)

_WORDS = {
    "wheel": HandTurning(
        "wheel",
        "Out of gear, back wheel and stand as they were",
        "the engine is out of gear",
        "the engine is in gear",
        "The engine was still in gear: the machine lurched off its stand.",
        "Left in gear, the machine lurches off its stand at the first start.",
    ),
    "gear": HandTurning(
        "gear",
        "Barring gear out of mesh and locked",
        "the barring gear is out of mesh",
        "the barring gear is in mesh",
        "The barring gear was still in mesh and was torn apart.",
        "Left in mesh, the barring gear is torn apart by the first start.",
    ),
    "bar": HandTurning(
        "bar",
        "Barring tool out and put away",
        "the barring tool is out",
        "the barring tool is in",
        "The barring tool was still in and was thrown out.",
        "Left in, the barring tool is thrown out by the first start.",
    ),
    "handle": HandTurning(
        "handle",
        "Starting handle off and out of reach",
        "the starting handle is off",
        "the starting handle is on",
        "The starting handle was still on and was thrown round.",
        "Left on, the starting handle is thrown round by the first start.",
    ),
}


def hand_turning(engine: Engine) -> HandTurning:
    """The words for what this engine is turned with."""
    named = engine.turning.turned_with
    for pattern, kind in _KINDS:
        if re.search(pattern, named.lower()):
            return _WORDS[kind]
    return HandTurning(
        "tool",
        f"Turning tool off the {named}",
        f"the turning tool is off the {named}",
        f"the turning tool is on the {named}",
        f"The turning tool was still on the {named} and was thrown off.",
        "Left on, the turning tool is thrown off by the first start.",
    )
