"""What a manual says besides spec and timing: torques, parts, tools, how the engine is fired.

Figures keep the unit that they were written in; a torque is told in newton metres besides.
"""

import re
from decimal import Decimal
from enum import StrEnum
from typing import Literal, NamedTuple

from valvetrain.constants import MOST_LB_FT, MOST_LB_IN, MOST_NM, NM_PER_LB_FT
from valvetrain.document import Node


class TorqueUnit(StrEnum):
    """As a file's field names end."""

    NM = "nm"
    LB_FT = "lb_ft"
    LB_IN = "lb_in"


_NM_PER_UNIT = {
    TorqueUnit.NM: Decimal(1),
    TorqueUnit.LB_FT: NM_PER_LB_FT,
    TorqueUnit.LB_IN: NM_PER_LB_FT / 12,
}
TORQUE_WORDS = {TorqueUnit.NM: "N·m", TorqueUnit.LB_FT: "lb·ft", TorqueUnit.LB_IN: "lb·in"}


class TorqueFigure(NamedTuple):
    """A torque as it was written."""

    figure: Decimal
    unit: TorqueUnit = TorqueUnit.NM

    @property
    def nm(self) -> Decimal:
        return self.figure * _NM_PER_UNIT[self.unit]

    def in_unit(self, unit: TorqueUnit) -> Decimal:
        return self.nm / _NM_PER_UNIT[unit]


MOST_TORQUE = {
    TorqueUnit.NM: MOST_NM,
    TorqueUnit.LB_FT: MOST_LB_FT,
    TorqueUnit.LB_IN: MOST_LB_IN,
}


def read_moment(node: Node, wanted: str, prefix: str = "") -> TorqueFigure | None:
    """A torque that stands in one of three fields of an object; None where it has none of them."""
    given = [unit for unit in TorqueUnit if not node[f"{prefix}{unit}"].missing]
    if len(given) > 1:
        node.fault(f"gives {wanted} in {len(given)} units; give one of them")
    for unit in given:
        field = node[f"{prefix}{unit}"]
        words = f"{wanted} in {TORQUE_WORDS[unit]}"
        return TorqueFigure(field.decimal(words, high=MOST_TORQUE[unit], above=True), unit)
    return None


_TORQUE_TEXT = re.compile(
    r"\s*(?P<figure>[0-9]{1,6}(?:[.,][0-9]{1,6})?)\s*"
    r"(?:(?P<nm>n[\s·.*-]?m)|(?P<lb_ft>lb[\s·.*-]?ft|ft[\s·.*-]?lb)|(?P<lb_in>lb[\s·.*-]?in|in[\s·.*-]?lb))s?\s*",
    re.IGNORECASE,
)


def parse_torque(text: str) -> TorqueFigure | None:
    """`22 N·m`, `16 lb·ft` or `90 lb-in`; None for what is no torque."""
    match = _TORQUE_TEXT.fullmatch(text)
    if match is None:
        return None
    unit = next(unit for unit in TorqueUnit if match[unit.value])
    return TorqueFigure(Decimal(match["figure"].replace(",", ".")), unit)


def torques_agree(one: TorqueFigure, other: TorqueFigure) -> bool:
    """Whether one figure is the other rounded to a whole one. Common practice."""
    return any(
        figure.figure % 1 == 0
        and abs(figure.figure - against.in_unit(figure.unit)) <= Decimal("0.5")
        for figure, against in ((one, other), (other, one))
    )


class Torque(NamedTuple):
    what: str
    moment: TorqueFigure


class CamDrive(NamedTuple):
    """allow_teeth: how far off its pointer a cam mark may stand, in teeth of the cam sprocket."""

    sprocket_teeth: int
    allow_teeth: float = 0.5

    @property
    def tooth_crank_deg(self) -> float:
        """A cam sprocket turns half as fast as the crank: a tooth of n is 720 / n at the crank."""
        return 720 / self.sprocket_teeth

    @property
    def allow_crank_deg(self) -> float:
        return self.allow_teeth * self.tooth_crank_deg


class Interval(NamedTuple):
    """When the maker wants the clearances looked at; None where nothing is said."""

    hours: float | None = None
    km: float | None = None
    months: float | None = None
    first_hours: float | None = None


def interval_words(interval: Interval | None) -> str:
    """`every 500 hours; first after 50 hours`; empty where the maker says nothing."""
    if interval is None:
        return ""
    every = [
        f"{value:,.10g} {unit}".replace(",", " ")
        for value, unit in (
            (interval.hours, "hours"),
            (interval.km, "km"),
            (interval.months, "months"),
        )
        if value is not None
    ]
    first = interval.first_hours
    said = [f"every {' or '.join(every)}"] if every else []
    said += [f"first after {first:g} hours"] if first is not None else []
    return "; ".join(said)


Start = Literal["electric", "air", "hand", "spring"]
Stop = Literal["switch", "lever", "solenoid"]
StopSolenoid = Literal["energised-to-run", "energised-to-stop"]


class Ignition(NamedTuple):
    """How an engine is fired, started and stopped; None where the file does not say."""

    kind: Literal["spark", "compression"]
    distributor: bool = False
    start: tuple[Start, ...] = ()
    stop: Stop | None = None
    decompression_lever: bool = False
    stop_solenoid: StopSolenoid | None = None
    """Whether current stops the engine or lets it run; None where the file does not say."""
    indicator_cocks: bool = False
    """Whether its cylinders have them, as large engines do."""
