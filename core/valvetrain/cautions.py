"""The short lists before an engine is turned by hand and after it is closed up.

Common practice, in our words. They remind; the maker's manual, local rules and the
supervising licensed person come first, and every list says so.
"""

from enum import StrEnum
from typing import NamedTuple

from valvetrain.engine import Engine

DEFERS = (
    "Local rules, the maker's manual and your supervising licensed person come first. "
    "Edrix teaches; it does not certify an engine."
)


class StartKind(StrEnum):
    """How an engine is fired and started, which decides how it is made safe."""

    SPARK = "spark"
    DIESEL = "diesel"
    AIR = "air"


START_WORDS = {
    StartKind.SPARK: "spark ignition",
    StartKind.DIESEL: "diesel with a stop lever",
    StartKind.AIR: "air start",
}


class Caution(NamedTuple):
    """One line to tick. The id stays the same when the wording is improved."""

    id: str
    says: str


_OPENING = {
    StartKind.SPARK: (
        Caution("ignition", "Ignition and starter off, key out, battery disconnected."),
        Caution("plugs", "Spark plugs out, leads earthed: pressure released, it turns freely."),
        Caution("fuel", "Fuel shut or drained where the tank comes off; drips wiped; no sparks."),
    ),
    StartKind.DIESEL: (
        Caution("stop-lever", "Stop lever at stop and held there; starter battery disconnected."),
        Caution("priming", "Priming pump off; pressure released by the decompression lever."),
        Caution(
            "control", "The engine is controlled from its side only; a tag hangs at the start."
        ),
    ),
    StartKind.AIR: (
        Caution("air-shut", "Starting air and the bottles shut, the line vented, the tag hung."),
        Caution(
            "stop-lever", "Stop lever at stop; priming pump off; control at the engine's side."
        ),
        Caution("cocks", "Indicator cocks open: pressure released, it turns freely."),
    ),
}

CLOSING = (
    Caution("lock-nuts", "Every lock nut rechecked, to its torque where the maker gives one."),
    Caution("tools", "Tools and leaves counted; nothing loose lies under the cover."),
    Caution("turning-tool", "Turning tool off the crank, ring gear or fan."),
)


def likely_starts(engine: Engine) -> tuple[StartKind, ...]:
    """The kinds that this engine file lets expect, likeliest first; the person decides.

    An ignition mark is stamped on spark engines only. Barring gear is fitted to large
    engines, which are often started by air. Nothing else in a file tells.
    """
    if any(mark.means == "ignition" for mark in engine.marks):
        return (StartKind.SPARK, StartKind.DIESEL, StartKind.AIR)
    if "barring gear" in engine.turning.turned_with.lower():
        return (StartKind.AIR, StartKind.DIESEL, StartKind.SPARK)
    return (StartKind.DIESEL, StartKind.SPARK, StartKind.AIR)


def opening_list(engine: Engine, start: StartKind) -> tuple[Caution, ...]:
    """What is ticked before the crank of this engine is turned by hand."""
    turned_with = engine.turning.turned_with
    gear = "in gear" in turned_with or "wheel" in turned_with
    state = (
        Caution("cold", "Engine cold: stood for hours, better overnight.")
        if engine.measured == "cold"
        else Caution("hot", "Engine hot as the manual says: gloves, and mind every surface.")
    )
    return (
        *_OPENING[start],
        Caution("secured", "Back wheel clear of the ground, machine and stand secured.")
        if gear
        else Caution("secured", "Gearbox in neutral; machine and stand secured; no oil underfoot."),
        state,
        Caution("hands", f"Hands clear while the {turned_with} turns it; eye protection on."),
    )


def closing_list() -> tuple[Caution, ...]:
    return CLOSING
