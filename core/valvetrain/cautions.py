"""The short lists before an engine is turned by hand and after it is closed up.

Common practice, in our words. They remind; the maker's manual, local rules and the
supervising licensed person come first, and every list says so.
"""

from collections.abc import Callable, Iterator
from enum import StrEnum
from typing import NamedTuple

from valvetrain.adjusters import Adjuster
from valvetrain.engine import Engine
from valvetrain.looks import gear_of
from valvetrain.turned import hand_turning

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
    StartKind.DIESEL: "diesel",
    StartKind.AIR: "air start",
}


class Caution(NamedTuple):
    """One line to tick. The id stays the same when the wording is improved."""

    id: str
    says: str


def likely_starts(engine: Engine) -> tuple[StartKind, ...]:
    """The kinds that this engine file lets expect, likeliest first; the person decides.

    A file that says how the engine is fired leaves those only. Else: an ignition mark is stamped
    on spark engines only; barring gear is fitted to large engines, which are often started by air.
    """
    fired = engine.ignition
    if fired is not None:
        own = StartKind.SPARK if fired.kind == "spark" else StartKind.DIESEL
        if "air" not in fired.start:
            return (own,)
        return (StartKind.AIR, own) if len(fired.start) > 1 else (StartKind.AIR,)
    if any(mark.means == "ignition" for mark in engine.marks):
        return (StartKind.SPARK, StartKind.DIESEL, StartKind.AIR)
    if "barring gear" in engine.turning.turned_with.lower():
        return (StartKind.AIR, StartKind.DIESEL, StartKind.SPARK)
    return (StartKind.DIESEL, StartKind.SPARK, StartKind.AIR)


def opening_list(engine: Engine, start: StartKind) -> tuple[Caution, ...]:
    """What is ticked before the crank of this engine is turned by hand."""
    return (
        *_MADE_SAFE[start](engine),
        *_wound_up(engine),
        _secured(engine),
        Caution("cold", "Engine cold: stood for hours, better overnight.")
        if engine.measured == "cold"
        else Caution("hot", "Engine hot as the manual says: gloves, and mind every surface."),
        Caution(
            "hands",
            f"Hands clear, eye protection on: it is turned by the {engine.turning.turned_with}.",
        ),
    )


def _spark(engine: Engine) -> Iterator[Caution]:
    battery = ", battery disconnected" if _has_battery(engine) else ""
    yield Caution("ignition", f"Ignition and starter off, key out{battery}.")
    yield Caution("plugs", "Spark plugs out, leads earthed: pressure released, it turns freely.")
    yield Caution("fuel", "Fuel shut or drained where the tank comes off; drips wiped; no sparks.")


def _diesel(engine: Engine) -> Iterator[Caution]:
    battery = "; starter battery disconnected" if _has_battery(engine) else ""
    yield Caution("stop-lever", f"{_stopped(engine)}{battery}.")
    let_off = (
        "pressure released by the decompression lever"
        if engine.ignition is None or engine.ignition.decompression_lever
        else "pressure released as the manual says (glow plugs or injectors out), it turns freely"
    )
    yield Caution("priming", f"Priming pump off; {let_off}.")
    yield Caution(
        "control", "The engine is controlled from its side only; a tag hangs at the start."
    )


def _air(engine: Engine) -> Iterator[Caution]:
    yield Caution("air-shut", "Starting air and the bottles shut, the line vented, the tag hung.")
    yield Caution(
        "stop-lever", f"{_stopped(engine)}; priming pump off; control at the engine's side."
    )
    yield Caution("cocks", "Indicator cocks open: pressure released, it turns freely.")


_MADE_SAFE: dict[StartKind, Callable[[Engine], Iterator[Caution]]] = {
    StartKind.SPARK: _spark,
    StartKind.DIESEL: _diesel,
    StartKind.AIR: _air,
}


def _has_battery(engine: Engine) -> bool:
    """Whether it may turn by itself from a battery: yes, where the file does not say."""
    fired = engine.ignition
    return fired is None or not fired.start or "electric" in fired.start


def _stopped(engine: Engine) -> str:
    stop = None if engine.ignition is None else engine.ignition.stop
    if stop == "solenoid":
        return "Stop solenoid without current and the fuel shut"
    if stop == "switch":
        return "Stop switch off and the fuel shut"
    return "Stop lever at stop and held there"


def _wound_up(engine: Engine) -> Iterator[Caution]:
    """A start by hand or spring has no battery to take off, but is as ready to turn."""
    ways = () if engine.ignition is None else engine.ignition.start
    if "spring" in ways:
        yield Caution("spring", "Spring starter unwound or locked, its handle off.")
    if hand_turning(engine).kind == "handle":
        says = "Starting handle pulled up, never pushed down; the thumb on the fingers' side."
        yield Caution("handle", says)
    elif "hand" in ways:
        yield Caution("handle", "Starting handle or rope off, and out of reach.")


def _secured(engine: Engine) -> Caution:
    drive = (
        "Back wheel clear of the ground"
        if hand_turning(engine).kind == "wheel"
        else "Gearbox in neutral or coupling open"
    )
    return Caution("secured", f"{drive}; machine and stand secured; no oil underfoot.")


def closing_list(engine: Engine) -> tuple[Caution, ...]:
    """What is ticked when this engine is closed up again."""
    adjusters = [engine.adjuster_of(role) for role in engine.roles]
    return (
        *_screwed(adjusters),
        *_shimmed(adjusters),
        *(
            (Caution("pin", "Timing pin out, and put where it is seen."),)
            if any(mark.means == "pin" for mark in engine.marks)
            else ()
        ),
        Caution("tools", "Tools and leaves counted; nothing loose lies under the cover."),
        Caution("turning-tool", f"{hand_turning(engine).off}."),
        *_let_down(engine),
        Caution(
            "cover",
            f"Cover gasket and {_seals(engine)} sound and in place; harness and breather back.",
        ),
    )


def _let_down(engine: Engine) -> Iterator[Caution]:
    if engine.ignition is not None and engine.ignition.decompression_lever:
        yield Caution("decompression", "Decompression lever back where it runs.")


def _seals(engine: Engine) -> str:
    """Spark plugs go down through a cover that the cams lie under."""
    spark = engine.ignition is not None and engine.ignition.kind == "spark"
    cams = any(gear_of(engine, role).cam_in_sight for role in engine.roles)
    return "plug seals" if spark and cams else "seals"


def _screwed(adjusters: list[Adjuster]) -> Iterator[Caution]:
    nuts = [adjuster.screw for adjuster in adjusters if adjuster.screw is not None]
    torques = {f"{nut.locknut_torque_nm:.0f}" for nut in nuts if nut.locknut_torque_nm}
    if nuts:
        told = f"to {' and '.join(sorted(torques))} N·m" if torques else _AS_THE_MAKER_SAYS
        yield Caution("lock-nuts", f"Every lock nut rechecked, {told}.")
    elif all(not adjuster.has_shims and not adjuster.adjusts_itself for adjuster in adjusters):
        yield Caution("lock-nuts", f"Every lock nut or shim rechecked, {_AS_THE_MAKER_SAYS}.")


_AS_THE_MAKER_SAYS = "to its torque where the maker gives one"


def _shimmed(adjusters: list[Adjuster]) -> Iterator[Caution]:
    shims = [adjuster.shim for adjuster in adjusters if adjuster.shim is not None]
    if not shims:
        return
    yield Caution("shims", "Every shim flat in its seat, its size written down valve by valve.")
    if any(shim.cams_out for shim in shims):
        yield Caution("cam-caps", "Cam caps in their places, tightened in the manual's order.")
        yield Caution("cam-marks", "Cam marks right with the crank at its mark, after two turns.")
