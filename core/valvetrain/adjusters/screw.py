"""Screw and lock nut: what a turn does to the gap.

A positive turn is clockwise and closes the gap. Lengths are Decimal millimetres.
"""

from collections.abc import Iterator
from decimal import Decimal
from typing import Any, ClassVar, Literal, NamedTuple

from valvetrain.adjusters.base import Adjuster, Plate, Schema
from valvetrain.adjusters.constants import DIVISIONS, FULL_TURN_DEG
from valvetrain.adjusters.errors import AdjusterError
from valvetrain.document import Node
from valvetrain.manual import MOST_TORQUE, TorqueFigure, read_moment


class _Fields(NamedTuple):
    pitch_mm: float
    screw_at: Literal["valve", "pushrod"] = "valve"
    rocker_ratio: float | None = None
    locknut: TorqueFigure | None = None


class ScrewAdjuster(_Fields, Adjuster):
    """rocker_ratio is valve movement for each millimetre at the push rod."""

    __slots__ = ()

    kind: ClassVar[str] = "screw"
    has_nut: ClassVar[bool] = True
    wider: ClassVar[str] = "the screw out, counter-clockwise"
    narrower: ClassVar[str] = "the screw in, clockwise"
    required: ClassVar[tuple[str, ...]] = ("pitch_mm",)

    @property
    def locknut_torque_nm(self) -> float | None:
        return None if self.locknut is None else float(self.locknut.nm)

    @property
    def gap_per_turn_mm(self) -> float:
        """How much one whole turn of the screw changes the gap at the valve."""
        return self.pitch_mm * ((self.rocker_ratio or 1.0) if self.has_push_rod else 1.0)

    @property
    def has_push_rod(self) -> bool:
        return self.screw_at == "pushrod"

    @property
    def seat(self) -> str:
        return self.screw_at

    @property
    def screw(self) -> "ScrewAdjuster":
        return self

    def plate(self) -> Plate:
        return Plate(self.kind, self.pitch_mm, self.locknut_torque_nm)

    def suspicions(self, role: str) -> Iterator[str]:
        if self.has_push_rod and self.rocker_ratio is None:
            yield (
                f"The {role} screw sits on the push-rod side but no rocker_ratio is given; "
                "turns of the screw cannot be computed without it."
            )

    def write(self) -> dict[str, Any]:
        given = self._asdict() | {"locknut": None}
        if self.locknut is not None:
            given[f"locknut_torque_{self.locknut.unit}"] = float(self.locknut.figure)
        given = {name: value for name, value in given.items() if value is not None}
        return {"kind": self.kind, **given}

    @staticmethod
    def read(node: Node) -> "ScrewAdjuster":
        ratio, place = node["rocker_ratio"], node["screw_at"]
        return ScrewAdjuster(
            pitch_mm=node["pitch_mm"].number("the thread pitch in mm", low=0, high=10, above=True),
            screw_at="valve" if place.missing else place.choice("valve", "pushrod"),
            rocker_ratio=None
            if ratio.missing
            else ratio.number("the rocker ratio", low=0, high=10, above=True),
            locknut=read_moment(node, "the lock nut's torque", "locknut_torque_"),
        )

    @staticmethod
    def schema() -> Schema:
        def above(high: float) -> Schema:
            return {"type": "number", "exclusiveMinimum": 0, "maximum": high}

        return {
            "pitch_mm": above(10),
            "screw_at": {"enum": ["valve", "pushrod"]},
            "rocker_ratio": above(10),
            **{f"locknut_torque_{unit}": above(most) for unit, most in MOST_TORQUE.items()},
        }


class ScrewTurn(NamedTuple):
    turn_deg: float
    direction: Literal["clockwise", "counterclockwise", "none"]
    divisions: float


def screw_turn(pitch_mm: float, ratio: float, from_mm: Decimal, to_mm: Decimal) -> ScrewTurn:
    """How far to turn a screw from one gap to another.

    ratio is the rocker's: valve movement for each millimetre at the push rod, for a screw on
    that side; 1 for a screw above the valve. Raises AdjusterError.
    """
    for name, value in (("the pitch", pitch_mm), ("the rocker ratio", ratio)):
        if not 0 < value <= 100:
            raise AdjusterError(f"{name} is {value:g}; give a number above 0, like 1.0")
    for name, gap in (("--from", from_mm), ("--to", to_mm)):
        if gap < 0:
            raise AdjusterError(f"{name} is {gap:f}; a gap is zero or more")
    turn_deg = float(from_mm - to_mm) / (pitch_mm * ratio) * FULL_TURN_DEG
    direction: Literal["clockwise", "counterclockwise", "none"] = "none"
    if turn_deg:
        direction = "clockwise" if turn_deg > 0 else "counterclockwise"
    return ScrewTurn(turn_deg, direction, abs(turn_deg) / FULL_TURN_DEG * DIVISIONS)
