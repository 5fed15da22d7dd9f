"""The short lists before an engine is turned by hand and after it is closed up.

Common practice, in our words. They remind; the maker's manual, local rules and the
supervising licensed person come first, and every list says so.
"""

from collections.abc import Callable, Iterator
from enum import IntEnum, StrEnum
from typing import NamedTuple

from valvetrain.adjusters import Adjuster
from valvetrain.engine import Engine, Role
from valvetrain.looks import gear_of
from valvetrain.manual import TORQUE_WORDS, TorqueFigure
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


class Stage(IntEnum):
    """When a closing line is due: what was taken out goes back while the engine is open; what can
    start it comes last."""

    PARTS = 0
    CONTROL = 1
    FUEL = 2
    START = 3


class Back(NamedTuple):
    """The other half of an isolation item: how it is put back."""

    stage: Stage
    line: Caution


class Isolated(NamedTuple):
    """One isolation item, and everything that puts it back. back is empty only for what is looked
    at and not changed (`LOOKED_AT`)."""

    line: Caution
    back: tuple[Back, ...] = ()


LOOKED_AT = frozenset({"cold", "hot", "hands", "crank-handle"})
"""Isolation items that change nothing at the engine, so that nothing has to be put back."""


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
    return tuple(item.line for item in isolated(engine, start))


def isolated(engine: Engine, start: StartKind) -> tuple[Isolated, ...]:
    """Every isolation item of this engine with what puts it back."""
    return (
        *_MADE_SAFE[start](engine),
        *_wound_up(engine),
        _secured(engine),
        _item("cold", "Engine cold: stood for hours, better overnight.")
        if engine.measured == "cold"
        else _item("hot", "Engine hot as the manual says: gloves, and mind every surface."),
        _item(
            "hands",
            f"Hands clear, eye protection on: it is turned by the {engine.turning.turned_with}.",
        ),
    )


def _item(line_id: str, says: str, *back: Back) -> Isolated:
    return Isolated(Caution(line_id, says), back)


def _back(stage: Stage, line_id: str, says: str) -> Back:
    return Back(stage, Caution(line_id, says))


def _spark(engine: Engine) -> Iterator[Isolated]:
    if _has_starter(engine):
        says = "Ignition and starter off, key out"
        battery = [_BATTERY_BACK]
        says += ", battery disconnected."
    else:
        says, battery = "Ignition off at its switch.", []
    yield _item(
        "ignition",
        says,
        _back(Stage.START, "ignition-on", "Ignition stays off until everyone is clear."),
        *battery,
    )
    yield _item(
        "plugs",
        "Spark plugs out, leads earthed: pressure released, it turns freely.",
        _back(
            Stage.PARTS,
            "plugs-back",
            "Spark plugs back, to their torque; each lead on its own plug.",
        ),
    )
    yield _item(
        "fuel",
        "Fuel shut, or drained where the tank comes off; drips wiped; no sparks.",
        _back(Stage.FUEL, "fuel-on", "Fuel back on, joints dry."),
    )


def _diesel(engine: Engine) -> Iterator[Isolated]:
    battery = [_BATTERY_BACK] if _has_starter(engine) else []
    yield _item(
        "stop-lever",
        f"{_stopped(engine)}{'; starter battery disconnected' if battery else ''}.",
        _FUEL_RUN,
        *battery,
    )
    yield _item("priming", "Fuel priming pump off.", _PRIMING_BACK)
    yield _relieved(engine)
    yield _item(
        "control",
        "Engine control set to LOCAL, DO NOT START tag on the starter.",
        _CONTROL_BACK,
    )


def _air(engine: Engine) -> Iterator[Isolated]:
    yield _item(
        "air-shut",
        "Starting air and the bottles shut, the line vented.",
        _back(
            Stage.START,
            "air-on",
            "Starting air open again, last of all, by whoever is licensed to.",
        ),
    )
    yield _item("stop-lever", f"{_stopped(engine)}.", _FUEL_RUN)
    yield _item("priming", "Fuel priming pump off.", _PRIMING_BACK)
    yield _item("control", "Engine control set to LOCAL, DO NOT START tag hung.", _CONTROL_BACK)
    yield _relieved(engine)


_BATTERY_BACK = _back(
    Stage.START,
    "battery-on",
    "Battery connected again, last of all, by whoever is licensed to.",
)
_FUEL_RUN = _back(
    Stage.FUEL,
    "fuel-run",
    "Fuel valve open and the fuel shut-off back to RUN, by whoever is licensed to.",
)
_PRIMING_BACK = _back(
    Stage.FUEL, "priming-back", "Fuel priming pump back in use; bled where the line was opened."
)
_CONTROL_BACK = _back(
    Stage.CONTROL, "control-back", "DO NOT START tag off, control back, by whoever hung the tag."
)


def _relieved(engine: Engine) -> Isolated:
    """How the compression is let off, by what the engine has."""
    fired = engine.ignition
    if fired is not None and fired.indicator_cocks:
        return _item(
            "cocks",
            "Indicator cocks open: pressure released, it turns freely.",
            _back(Stage.PARTS, "cocks-shut", "Indicator cocks shut."),
        )
    if fired is not None and fired.decompression_lever:
        return _item(
            "decompressed",
            "Decompression lever lifted: pressure released, it turns freely.",
            _back(Stage.PARTS, "decompression", "Decompression lever back where it runs."),
        )
    return _item(
        "relieved",
        "Pressure released as the manual says: it turns freely.",
        _back(
            Stage.PARTS,
            "relief-back",
            "Glow plugs or injectors that came out are back, with new seals, to their torque.",
        ),
    )


_MADE_SAFE: dict[StartKind, Callable[[Engine], Iterator[Isolated]]] = {
    StartKind.SPARK: _spark,
    StartKind.DIESEL: _diesel,
    StartKind.AIR: _air,
}


def _has_starter(engine: Engine) -> bool:
    """Whether a battery may turn it without anyone's hand: yes, where the file does not say."""
    fired = engine.ignition
    return fired is None or not fired.start or "electric" in fired.start


def _stopped(engine: Engine) -> str:
    """How the fuel is kept shut. Where a solenoid's kind is not known nothing is said of current:
    one kind stops with it, the other without."""
    fired = engine.ignition
    secured = "Fuel shut-off in the STOP position and secured, fuel valve shut"
    if fired is not None and fired.stop == "lever":
        return "Stop lever in the STOP position and secured, fuel valve shut"
    if fired is None or fired.stop_solenoid is None:
        return secured
    if fired.stop_solenoid == "energised-to-run":
        return f"Stop solenoid without current, which stops this engine. {secured}"
    return f"Stop solenoid does not hold the fuel shut without current. {secured}"


def _wound_up(engine: Engine) -> Iterator[Isolated]:
    """A start by hand or spring has no battery to take off, but is as ready to turn."""
    ways = () if engine.ignition is None else engine.ignition.start
    if "spring" in ways:
        yield _item(
            "spring",
            "Spring starter unwound or locked, its handle off.",
            _back(Stage.START, "spring-back", "Spring starter unlocked, last of all."),
        )
    if hand_turning(engine).kind == "handle":
        says = "Starting handle pulled up, never pushed down; the thumb on the fingers' side."
        yield _item("crank-handle", says)
    elif "hand" in ways:
        yield _item(
            "handle",
            "Starting handle or rope off, and out of reach.",
            _back(Stage.START, "handle-back", "Starting handle or rope back in its place."),
        )


def _secured(engine: Engine) -> Isolated:
    if hand_turning(engine).kind == "wheel":
        return _item(
            "secured",
            "Back wheel clear of the ground; machine and stand secured; no oil underfoot.",
            _back(Stage.PARTS, "secured-back", "Machine down on its wheels, out of gear."),
        )
    return _item(
        "secured",
        "Gearbox in neutral or coupling open; machine and stand secured; no oil underfoot.",
        _back(Stage.CONTROL, "secured-back", "Coupling closed again where it was opened."),
    )


def closing_list(engine: Engine, start: StartKind) -> tuple[Caution, ...]:
    """What is ticked when this engine is closed up again: the work, then the other half of every
    isolation item, with fuel, air and battery last."""
    items = isolated(engine, start)
    back = sorted((one for item in reversed(items) for one in item.back), key=lambda one: one.stage)
    parts = [one.line for one in back if one.stage is Stage.PARTS]
    rest = [one.line for one in back if one.stage is not Stage.PARTS]
    return (
        *_screwed(engine),
        *_shimmed(engine),
        *(
            (Caution("pin", "Timing pin out, and put where it is seen."),)
            if any(mark.means == "pin" for mark in engine.marks)
            else ()
        ),
        *(
            Caution(f"engine-{number}", says)
            for number, says in enumerate(engine.closing_items, start=1)
        ),
        Caution("tools", "Tools and leaves counted; nothing loose lies under the cover."),
        Caution("turning-tool", f"{hand_turning(engine).off}."),
        Caution(
            "cover",
            f"Cover gasket and {_seals(engine)} sound and in place; harness and breather back.",
        ),
        *parts,
        *rest,
    )


def _seals(engine: Engine) -> str:
    """Spark plugs go down through a cover that the cams lie under."""
    spark = engine.ignition is not None and engine.ignition.kind == "spark"
    cams = any(gear_of(engine, role).cam_in_sight for role in engine.roles)
    return "plug seals" if spark and cams else "seals"


def _adjusters(engine: Engine) -> list[Adjuster]:
    return [engine.adjuster_of(role) for role in engine.roles]


def _screwed(engine: Engine) -> Iterator[Caution]:
    adjusters = _adjusters(engine)
    if any(one.screw is not None for one in adjusters):
        told = nut_torque_words(engine) or _AS_THE_MAKER_SAYS
        yield Caution("lock-nuts", f"Every lock nut rechecked, {told}.")
    elif all(one.adjusts_itself for one in adjusters):
        yield Caution(
            "hydraulic", "Hydraulic followers: no clearance to set; preload where the manual asks."
        )
    elif all(not one.has_shims and not one.adjusts_itself for one in adjusters):
        yield Caution(
            "lock-nuts",
            f"Every lock nut rechecked, {_AS_THE_MAKER_SAYS}; every shim flat in its seat.",
        )


def nut_torque_words(engine: Engine) -> str:
    """`to 22 N·m`; where roles differ, each torque with its role: `intake and exhaust to 45 N·m,
    brake to 30 N·m`. Empty where no torque is given."""
    by_torque: dict[TorqueFigure, list[Role]] = {}
    for role in engine.roles:
        screw = engine.adjuster_of(role).screw
        if screw is not None and screw.locknut is not None:
            by_torque.setdefault(screw.locknut, []).append(role)
    if len(by_torque) == 1 and len(next(iter(by_torque.values()))) == len(engine.roles):
        return f"to {torque_words(next(iter(by_torque)))}"
    return ", ".join(
        f"{' and '.join(roles)} to {torque_words(figure)}" for figure, roles in by_torque.items()
    )


def torque_words(moment: TorqueFigure) -> str:
    """`22 N·m`, `12 lb·ft`: in the unit of the manual."""
    return f"{float(moment.figure):g} {TORQUE_WORDS[moment.unit]}"


_AS_THE_MAKER_SAYS = "to its torque where the maker gives one"


def _shimmed(engine: Engine) -> Iterator[Caution]:
    shims = [one.shim for one in _adjusters(engine) if one.shim is not None]
    if not shims:
        return
    face = (
        ", its printed face down, away from the cam"
        if any(shim.place == "over-bucket" for shim in shims)
        else ""
    )
    yield Caution("shims", f"Every shim flat in its seat{face}; sizes written valve by valve.")
    if any(shim.cams_out for shim in shims):
        caps = next((one for one in engine.torques if "cap" in one.what.lower()), None)
        to = "their torque" if caps is None else torque_words(caps.moment)
        yield Caution(
            "cam-caps",
            f"Cam caps in their places, tightened evenly in the manual's order to {to}.",
        )
        yield Caution("tensioner", "Chain or belt tensioner back and set as the manual says.")
        yield Caution("cam-marks", "Cam marks right with the crank at its mark, after two turns.")
