"""Reads an engine file into an Engine, or says everything that is wrong with it."""

from collections import Counter
from typing import Any, get_args

from valvetrain.angles import CYCLE_DEG
from valvetrain.constants import USUAL_RAMP_DEG
from valvetrain.document import DocumentError, Node
from valvetrain.engine import Engine, Geometry, Layout, Role, Turning, Valve, ValveTrain
from valvetrain.engine_file.besides import (
    read_bridges,
    read_cam_drive,
    read_ignition,
    read_interval,
    read_texts,
    read_torques,
    read_trains,
)
from valvetrain.engine_file.fields import (
    ASSUMED_LIFT_MM,
    BY_ROLE,
    ENGINE_FORMAT,
    INTERVALS_SUM_TOLERANCE_DEG,
    MOST_CYLINDERS,
    MOST_NOTES,
    MOST_VALVES,
)
from valvetrain.engine_file.places import read_chart, read_decompressor, read_marks
from valvetrain.engine_file.schema import engine_schema
from valvetrain.engine_file.specs import (
    read_adjusters,
    read_clearance,
    read_closing,
    read_events,
    read_lift,
)
from valvetrain.engine_file.strict import read_extras


def read_engine(document: Any) -> Engine:
    """An engine from a parsed engine file. Raises DocumentError with every fault found."""
    root = Node(document)
    if not root.is_object(f"an object with the fields of {ENGINE_FORMAT}"):
        raise DocumentError(root.faults)
    if root["format"].value != ENGINE_FORMAT:
        root["format"].given(f'"{ENGINE_FORMAT}", the only format read here')
        raise DocumentError(root.faults)
    engine = _read_fields(root)
    if not root.faults:
        _check_relations(root, engine)
    if root.faults:
        raise DocumentError(root.faults)
    return engine


def remarks(document: dict[str, Any]) -> tuple[str, ...]:
    """What the reader assumed, or did not use, in a file that it accepts, in sentences."""
    engine = read_engine(document)
    said = [
        f"$.lift_mm.{role} is not given; {ASSUMED_LIFT_MM:g} mm is assumed for the drawing."
        for role in engine.roles
        if role.value not in document.get("lift_mm", {})
    ]
    for field in BY_ROLE:
        given = document.get(field)
        for role in Role:
            if isinstance(given, dict) and role.value in given and role not in engine.roles:
                said.append(f"$.{field}.{role} is given, but no valve of this engine is a {role}.")
    return tuple(said)


def _read_fields(root: Node) -> Engine:
    count = root["cylinders"].whole("the number of cylinders", low=1, high=MOST_CYLINDERS)
    valves = _valves(root["valves"], count)
    roles = tuple(role for role in Role if any(valve.role == role for valve in valves))
    adjusters, one_adjuster = read_adjusters(root["adjuster"], roles)
    trains, one_train = read_trains(root["valve_train"], roles)
    closing_adjusters, one_closing = read_adjusters(root["closing_adjuster"], roles)
    geometry, notes = root["geometry"], root["notes"]
    measured = root["clearance"]["engine"]
    return Engine(
        name=root["name"].text("the engine's name").strip(),
        cylinders=count,
        layout=_layout(root["layout"], count),
        banks=_banks(root["banks"], count),
        firing_order=_firing_order(root["firing_order"], count),
        firing_intervals_deg=_intervals(root["firing_intervals_deg"], count),
        events={role: read_events(root["timing"][role], role) for role in roles},
        lift_mm={role: read_lift(root["lift_mm"], role) for role in roles},
        clearance={role: read_clearance(root["clearance"], role) for role in roles},
        valves=valves,
        ramp_deg=_ramp_deg(root["ramp_deg"]),
        rotation="clockwise"
        if root["rotation"].missing
        else root["rotation"].choice("clockwise", "counterclockwise"),
        measured="cold" if measured.missing else measured.choice("cold", "hot"),
        turning=_turning(root["turning"]),
        geometry=None if geometry.missing else _geometry(geometry),
        adjusters=adjusters,
        one_adjuster=one_adjuster,
        decompressor=read_decompressor(root["decompressor"], valves),
        marks=read_marks(root["marks"], count),
        maker_chart=read_chart(root["maker_chart"], valves),
        notes="" if notes.missing else notes.text("text", most=MOST_NOTES, empty=True),
        trains=trains,
        one_train=one_train,
        bridges=read_bridges(root["bridges"], roles),
        ignition=read_ignition(root["ignition"]),
        closing=read_closing(root["clearance"], roles),
        closing_adjusters=closing_adjusters,
        one_closing_adjuster=one_closing,
        cam_drive=read_cam_drive(root["cam_drive"]),
        torques=read_torques(root["torques"]),
        parts=read_texts(root["parts"], "parts"),
        tools=read_texts(root["tools"], "tools"),
        interval=read_interval(root["interval"]),
        closing_items=read_texts(root["closing"], "items of the closing list"),
        extras=read_extras(root, engine_schema()),
    )


def _check_relations(root: Node, engine: Engine) -> None:
    for role in engine.roles:
        wide = engine.events[role].duration_deg + 2 * engine.ramp_deg
        if wide >= CYCLE_DEG:
            root["timing"][role].fault(
                f"is off its heel for {wide:g} degrees, ramps of {engine.ramp_deg:g} included; "
                "a cycle has 720, so the events overlap themselves"
            )
    bump = engine.decompressor
    if bump is not None and bump.role not in engine.roles:
        root["decompressor"]["role"].fault(f"is {bump.role}; no valve of this engine has that role")
    for role in engine.roles:
        pulled = engine.train_of(role) is ValveTrain.POSITIVE
        if role in engine.closing and not pulled:
            root["clearance"]["closing"][role].fault(
                f"is given, but the {role} valves are not pulled shut; leave it out, or give them "
                f"the valve train {ValveTrain.POSITIVE}"
            )


def _optional(node: Node, wanted: str, *, high: float, default: float) -> float:
    return default if node.missing else node.number(wanted, low=0, high=high, default=default)


def _ramp_deg(node: Node) -> float:
    """More than 0: no cam can be ground that takes the clearance up at once."""
    if node.missing:
        return USUAL_RAMP_DEG
    wanted = "crank degrees of ramp, usually 10 to 30"
    return node.number(wanted, low=0, high=180, above=True, default=USUAL_RAMP_DEG)


def _layout(node: Node, count: int) -> Layout:
    if node.missing:
        return "single" if count == 1 else "inline"
    layout: Layout = node.choice(*get_args(Layout))
    return layout


def _permutation(node: Node, found: list[int], count: int) -> None:
    missing = [n for n in range(1, count + 1) if n not in found]
    repeated = [n for n, times in Counter(found).items() if times > 1]
    said = [
        *([f"cylinder {', '.join(map(str, repeated))} stands in it twice"] if repeated else []),
        *([f"cylinder {', '.join(map(str, missing))} is missing"] if missing else []),
    ]
    if said:
        node.fault(f"{' and '.join(said)}; name each cylinder from 1 to {count} once")


def _cylinder_list(node: Node, count: int) -> list[int]:
    entries = node.items("a list of cylinder numbers", most=MOST_CYLINDERS)
    return [entry.whole("a cylinder number", low=1, high=count) for entry in entries]


def _firing_order(node: Node, count: int) -> tuple[int, ...]:
    before = len(node.faults)
    order = _cylinder_list(node, count)
    if len(node.faults) == before:
        _permutation(node, order, count)
    return tuple(order)


def _banks(node: Node, count: int) -> tuple[tuple[int, ...], ...]:
    if node.missing:
        return (tuple(range(1, count + 1)),)
    before = len(node.faults)
    banks = [
        tuple(_cylinder_list(bank, count))
        for bank in node.items("a list of banks", most=MOST_CYLINDERS)
    ]
    if len(node.faults) == before:
        _permutation(node, [cylinder for bank in banks for cylinder in bank], count)
    return tuple(banks)


def _intervals(node: Node, count: int) -> tuple[float, ...]:
    if node.missing:
        return (CYCLE_DEG / count,) * count
    before = len(node.faults)
    intervals = tuple(
        entry.number("crank degrees to the next firing", low=0, high=CYCLE_DEG)
        for entry in node.items("a list of crank degrees", most=MOST_CYLINDERS)
    )
    if len(node.faults) > before:
        return intervals
    if len(intervals) != count:
        node.fault(f"has {len(intervals)} entries; give {count}, one for each cylinder")
    elif abs(sum(intervals) - CYCLE_DEG) > INTERVALS_SUM_TOLERANCE_DEG:
        node.fault(f"adds up to {sum(intervals):g}; the intervals of one cycle add up to 720")
    return intervals


def _valves(node: Node, count: int) -> tuple[Valve, ...]:
    valves: list[Valve] = []
    for entry in node.items("the list of valves from the front", most=MOST_VALVES):
        if not entry.is_object("an object with number, cylinder and role"):
            continue
        valve = Valve(
            number=entry["number"].whole("the valve's number", low=1, high=9999),
            cylinder=entry["cylinder"].whole("the valve's cylinder", low=1, high=count),
            role=Role(entry["role"].choice(*(role.value for role in Role))),
            label=""
            if entry["label"].missing
            else entry["label"].text("what it is called", most=30),
        )
        if any(valve.number == other.number for other in valves):
            entry["number"].fault(f"{valve.number} is taken; valve numbers are unique")
        valves.append(valve)
    if isinstance(node.value, list) and not node.value:
        node.fault("is empty; list every valve from the front")
    return tuple(valves)


def _turning(node: Node) -> Turning:
    if node.missing or not node.is_object("how the engine is turned"):
        return Turning()
    default = Turning()
    reverse, turned_with, why = node["reverse_allowed"], node["with"], node["why"]
    return Turning(
        reverse_allowed=default.reverse_allowed if reverse.missing else reverse.yes_no(),
        backlash_deg=_optional(node["backlash_deg"], "crank degrees of slack", high=90, default=0),
        turned_with=default.turned_with
        if turned_with.missing
        else turned_with.text("what it is turned with"),
        why="" if why.missing else why.text("why it turns one way only"),
    )


def _geometry(node: Node) -> Geometry:
    node.is_object("stroke_mm, rod_mm and bore_mm")
    bore = node["bore_mm"]
    stroke = node["stroke_mm"].number("the stroke in mm", low=0, high=5000, above=True, default=1)
    rod = node["rod_mm"].number("the rod length in mm", low=0, high=20000, above=True, default=2)
    if rod <= stroke / 2:
        node["rod_mm"].fault(f"is {rod:g}; a rod is longer than the crank radius {stroke / 2:g}")
    return Geometry(
        stroke_mm=stroke,
        rod_mm=rod,
        bore_mm=None if bore.missing else bore.number("the bore", low=0, high=5000, above=True),
    )
