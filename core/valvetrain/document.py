"""Reading JSON-like documents so that every fault is named by its path.

A `Node` is one value with its JSONPath (RFC 9535, `$.valves[3].role`). Its readers return
a usable value and note a fault when there is none, so that one reading reports all faults
of a document at once. Nothing here knows what an engine is.
"""

import json
import math
from collections.abc import Callable, Iterator
from decimal import Decimal
from typing import Any, NamedTuple, TypeVar

from valvetrain.constants import MOST_TEXT
from valvetrain.errors import RefusedError

T = TypeVar("T", bound=str)
R = TypeVar("R")


class Fault(NamedTuple):
    """What is wrong at one path, and what would be right."""

    path: str
    problem: str

    def __str__(self) -> str:
        return f"{self.path}: {self.problem}"


class DocumentError(RefusedError):
    """A document that cannot be used; `faults` has one entry for each thing to mend."""

    def __init__(self, faults: list[Fault]):
        self.faults = tuple(faults)
        more = f" (and {len(faults) - 1} more)" if len(faults) > 1 else ""
        super().__init__(f"{faults[0]}{more}")


_MISSING = object()


class Node:
    """A value in a document. `faults` is shared by all nodes of one reading."""

    def __init__(self, value: Any, path: str = "$", faults: list[Fault] | None = None):
        self.value = value
        self.path = path
        self.faults: list[Fault] = [] if faults is None else faults

    @property
    def missing(self) -> bool:
        return self.value is _MISSING

    def fault(self, problem: str) -> None:
        self.faults.append(Fault(self.path, problem))

    def given(self, wanted: str) -> None:
        """Notes that the value is not what is wanted, showing the value."""
        if self.missing:
            self.fault(f"is missing; give {wanted}")
        else:
            self.fault(f"is {shown(self.value)}; give {wanted}")

    def __getitem__(self, key: str) -> "Node":
        inside = self.value.get(key, _MISSING) if isinstance(self.value, dict) else _MISSING
        return Node(inside, f"{self.path}.{key}", self.faults)

    def is_object(self, wanted: str) -> bool:
        if isinstance(self.value, dict):
            return True
        self.given(wanted)
        return False

    def items(self, wanted: str, *, most: int) -> Iterator["Node"]:
        """The entries of a list; notes a fault and gives none where it is not one."""
        if not isinstance(self.value, list):
            self.given(wanted)
            return
        if len(self.value) > most:
            self.fault(f"has {len(self.value)} entries; give at most {most}")
            return
        for index, value in enumerate(self.value):
            yield Node(value, f"{self.path}[{index}]", self.faults)

    def number(
        self, wanted: str, *, low: float, high: float, above: bool = False, default: float = 0.0
    ) -> float:
        """A finite number from low (or above low) to high."""
        if not _is_number(self.value):
            self.given(wanted)
            return default
        number = float(self.value)
        too_low = number <= low if above else number < low
        if not math.isfinite(number) or too_low or number > high:
            self.given(f"{wanted}, {'above' if above else 'from'} {low:g} to {high:g}")
            return default
        return number

    def decimal(self, wanted: str, *, high: int, above: bool = False) -> Decimal:
        """A number from 0 (or above 0) to high, keeping the figures that were written."""
        self.number(wanted, low=0, high=high, above=above)
        if not _is_number(self.value) or not math.isfinite(self.value):
            return Decimal(0)
        return Decimal(str(self.value))

    def whole(self, wanted: str, *, low: int, high: int) -> int:
        value = self.value
        if isinstance(value, float) and value.is_integer():
            value = int(value)
        if isinstance(value, bool) or not isinstance(value, int) or not low <= value <= high:
            self.given(f"{wanted}, a whole number from {low} to {high}")
            return low
        return value

    def text(self, wanted: str, *, most: int = MOST_TEXT, empty: bool = False) -> str:
        if not isinstance(self.value, str):
            self.given(wanted)
            return ""
        if not empty and not self.value.strip():
            self.fault(f"is empty; give {wanted}")
        if len(self.value) > most:
            self.fault(f"has {len(self.value)} characters; give at most {most}")
        if any(ord(c) < 32 and c not in "\n\t" for c in self.value):
            self.fault("has control characters in it; give plain text")
        return self.value

    def choice(self, *options: T) -> T:
        """One of the given words; the first of them where it is none."""
        for option in options:
            if self.value == option:
                return option
        self.given("one of " + ", ".join(options))
        return options[0]

    def yes_no(self) -> bool:
        if not isinstance(self.value, bool):
            self.given("true or false")
            return False
        return self.value


def read_inside(node: Node, read: Callable[[Any], R], wanted: str) -> R | None:
    """A value that has a reader of its own; its faults are noted at their paths in this document.
    None where it has any."""
    if node.missing:
        node.given(wanted)
        return None
    try:
        return read(node.value)
    except DocumentError as refusal:
        node.faults += [
            Fault(node.path + fault.path.removeprefix("$"), fault.problem)
            for fault in refusal.faults
        ]
        return None


def parse_json(text: str) -> Any:
    """JSON text as Python values. Raises DocumentError with the line of the fault."""
    try:
        return json.loads(text)
    except json.JSONDecodeError as fault:
        place = f"line {fault.lineno}, column {fault.colno}"
        raise DocumentError([Fault("$", f"is not JSON: {fault.msg} at {place}")]) from None
    except (RecursionError, ValueError):
        raise DocumentError([Fault("$", "is nested too deep or has too long a number")]) from None


def shown(value: Any) -> str:
    """A value as a person would recognise it, cut short."""
    try:
        text = json.dumps(value, ensure_ascii=False, default=str)
    except (RecursionError, ValueError):
        text = "something nested too deep"
    return text if len(text) <= 60 else text[:57] + "…"


def _is_number(value: Any) -> bool:
    return isinstance(value, int | float | Decimal) and not isinstance(value, bool)
