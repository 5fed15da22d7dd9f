"""What a plan is: stops to turn the crank to, and the valves to set at each."""

from dataclasses import dataclass
from typing import Literal, NamedTuple

from valvetrain.errors import RefusedError

Direction = Literal["running", "reverse"]


@dataclass(frozen=True, slots=True)
class Proposal:
    """What a method says before it is checked: at this angle, set these valves."""

    crank_deg: float
    valves: tuple[int, ...]
    find_by: str
    """How a person recognises the place."""


@dataclass(frozen=True, slots=True)
class Stop:
    stop: int
    crank_deg: float
    turn_deg: float
    """Degrees turned from the stop before; for the first, from where the crank stood."""
    cylinders: tuple[int, ...]
    valves: tuple[int, ...]
    margin_deg: float | None
    """The least margin among its valves; None where it sets none."""
    find_by: str


class OffHeel(NamedTuple):
    """A valve that a method would set where it may not be set."""

    valve: int
    crank_deg: float
    margin_deg: float


@dataclass(frozen=True, slots=True)
class Plan:
    method: str
    complete: bool
    stops: tuple[Stop, ...]
    unset: tuple[int, ...]
    total_turn_deg: float
    least_margin_deg: float | None
    warnings: tuple[str, ...]
    failing: tuple[OffHeel, ...]
    if_overshot: str


@dataclass(frozen=True, slots=True)
class Route:
    """How the crank is to be turned, and what counts as a good place."""

    start_deg: float = 0.0
    direction: Direction = "running"
    min_margin_deg: float = 0.0
    marks_only: bool = False


class UnknownMethodError(RefusedError):
    """A method that this program does not have."""

    def __init__(self, method: str, known: tuple[str, ...]):
        self.method = method
        self.known = known
        super().__init__(f"the method is “{method[:40]}”; give one of {', '.join(known)}")
