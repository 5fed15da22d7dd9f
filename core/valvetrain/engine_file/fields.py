"""Names and limits of the engine file, shared by its reader, its writer and its schema.

Each figure with its unit and kind, as in `valvetrain.constants`.
"""

from typing import Literal

from valvetrain.engine import Role

ENGINE_FORMAT = "edrix-engine/1"
MOST_CYLINDERS = 24
"""Limit."""
MOST_VALVES = MOST_CYLINDERS * 8
"""Limit."""
MOST_NOTES = 20_000
"""Characters of a file's notes. Limit."""
MOST_LISTED = 60
"""Torques, parts or tools of one file. Limit."""
MARK_MEANS: tuple[Literal["tdc", "ignition", "pair", "pin", "stop", "other"], ...] = (
    "tdc",
    "ignition",
    "pair",
    "pin",
    "stop",
    "other",
)
INTERVALS_SUM_TOLERANCE_DEG = 0.01
"""Sevenths and elevenths of a cycle, written to a few decimals, still count as 720. Chosen."""
ASSUMED_LIFT_MM = 8.0
"""Used where a file gives no lift; `check` says so. Common practice for a small engine."""

BY_ROLE = ("timing", "lift_mm", "clearance")
"""Fields that give something for each role."""
EVENT_FIELDS = {
    Role.INTAKE: ("opens_btdc", "closes_abdc"),
    Role.EXHAUST: ("opens_bbdc", "closes_atdc"),
}

EVENT_BASE_DEG = {Role.INTAKE: 360.0, Role.EXHAUST: 180.0}
"""The dead centre that each role's opening is counted back from: overlap TDC, and the
bottom after the power stroke. Closings follow a stroke (180 degrees) after it.
Exact."""
