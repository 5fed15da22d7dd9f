"""Hydraulic lifters, which adjust themselves: nothing is set."""

from typing import ClassVar

from valvetrain.adjusters.base import Adjuster, Schema
from valvetrain.document import Node


class HydraulicAdjuster(Adjuster):
    __slots__ = ()

    kind: ClassVar[str] = "hydraulic"
    adjusts_itself: ClassVar[bool] = True
    required: ClassVar[tuple[str, ...]] = ()

    def without_screw(self, valve: int) -> str:
        return (
            f"Valve {valve} has a hydraulic follower: no clearance to set. Check its preload where "
            "the manual asks for it."
        )

    @staticmethod
    def read(_node: Node) -> "HydraulicAdjuster":
        return HydraulicAdjuster()

    @staticmethod
    def schema() -> Schema:
        return {}
