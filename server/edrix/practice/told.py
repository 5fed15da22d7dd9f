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
    """measured, left_loose and shown are left out of what older rules told."""

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
    rechecked: bool = False
    left_loose: bool = False
    shown: dict[str, str] = Field(default_factory=dict)


class Consequence(Stored):
    start: str
    says: str
    valve: int | None


class Planted(Stored):
    kind: str
    valve: int | None


class ToldRemark(Stored):
    """step is null of what concerns the whole run."""

    kind: str
    valves: list[int]
    step: int | None
    says: str
    led_to: str


class StoredDebrief(Stored):
    """turned_deg is null where nobody can tell it any more. Rules before edrix-practice/3 told
    left_out in place of remarks, and knew no pass: passed is null there."""

    rules_version: str
    headline: str
    outcome: str
    consequences: list[Consequence]
    later: list[str]
    moments: list[Moment]
    valves: list[Truth]
    faults: list[Planted]
    turned_deg: float | None
    stood_h: float = 0.0
    left_out: list[str] = Field(default_factory=list)
    remarks: list[ToldRemark] = Field(default_factory=list)
    done_well: list[str] = Field(default_factory=list)
    passed: bool | None = None
    rests_on: list[str] = Field(default_factory=list)
