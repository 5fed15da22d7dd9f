"""How clearances are changed: a file for each kind of adjuster, and their arithmetic."""

from valvetrain.adjusters.base import UNSTATED, Adjuster, Plate, Screwed, Shimmed
from valvetrain.adjusters.errors import AdjusterError
from valvetrain.adjusters.hydraulic import HydraulicAdjuster
from valvetrain.adjusters.pair import MeasuredSeat, PairAdvice, advise_pair, moved_by
from valvetrain.adjusters.screw import ScrewAdjuster, ScrewTurn, screw_turn
from valvetrain.adjusters.shim import (
    Prefer,
    ShimAdjuster,
    ShimAdvice,
    ShimChoice,
    advise_shim,
    gap_with_shim,
    shim_sum,
)
from valvetrain.adjusters.shim_table import Band, ShimTable, shim_table
from valvetrain.adjusters.sizes import Codes, Sizes, typed_size

KINDS: dict[str, type[HydraulicAdjuster | ScrewAdjuster | ShimAdjuster]] = {
    kind.kind: kind for kind in (HydraulicAdjuster, ScrewAdjuster, ShimAdjuster)
}
"""By the name that an engine file gives them."""

__all__ = [
    "KINDS",
    "UNSTATED",
    "Adjuster",
    "AdjusterError",
    "Band",
    "Codes",
    "HydraulicAdjuster",
    "MeasuredSeat",
    "PairAdvice",
    "Plate",
    "Prefer",
    "ScrewAdjuster",
    "ScrewTurn",
    "Screwed",
    "ShimAdjuster",
    "ShimAdvice",
    "ShimChoice",
    "ShimTable",
    "Shimmed",
    "Sizes",
    "advise_pair",
    "advise_shim",
    "gap_with_shim",
    "moved_by",
    "screw_turn",
    "shim_sum",
    "shim_table",
    "typed_size",
]
