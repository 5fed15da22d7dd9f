"""What is told of a run once it has ended, as its JSON column keeps it and as it goes out."""

from pydantic import Field

from edrix.shapes import Stored


class Moment(Stored):
    """crank_deg is null of a run that was made under other rules: it was not observed."""

    step: int
    crank_deg: float | None
    action: str
    valve: int | None
    says: str
    wrong: str | None
    cost: str | None


class Truth(Stored):
    """measured is left out of what older rules told."""

    valve: int
    found_mm: float
    left_mm: float | None
    first: str | None
    second: str | None
    after: str | None
    within: bool
    nut_moves_mm: float | None
    measured: bool = False
    closing_found_mm: float | None = None
    closing_left_mm: float | None = None
    closing: str | None = None
    running_mm: float | None = None


class Consequence(Stored):
    start: str
    says: str
    valve: int | None


class Planted(Stored):
    kind: str
    valve: int | None


class StoredDebrief(Stored):
    """turned_deg is null where nobody can tell it any more."""

    rules_version: str
    headline: str
    outcome: str
    consequences: list[Consequence]
    later: list[str]
    moments: list[Moment]
    valves: list[Truth]
    faults: list[Planted]
    turned_deg: float | None
    left_out: list[str]
    rests_on: list[str] = Field(default_factory=list)
