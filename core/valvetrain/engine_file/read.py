"""Reads an engine file into an Engine, or says everything that is wrong with it."""

from collections import Counter
from typing import Any, Literal, get_args

from valvetrain.angles import CYCLE_DEG, TURN_DEG, normalise_deg
from valvetrain.document import DocumentError, Node
from valvetrain.engine import (
    ChartStop,
    Decompressor,
    Engine,
    Geometry,
    Layout,
    Role,
    TimingMark,
    Turning,
    Valve,
)
from valvetrain.engine_file.fields import (
    ASSUMED_LIFT_MM,
    ENGINE_FORMAT,
    INTERVALS_SUM_TOLERANCE_DEG,
    MOST_CYLINDERS,
    MOST_NOTES,
    MOST_VALVES,
)
from valvetrain.engine_file.schema import engine_schema
from valvetrain.engine_file.specs import (
    read_adjusters,
    read_clearance,
    read_cycle_events,
    read_events,
    read_lift,
)


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
    """What the reader passed over or assumed in a file that it accepts, in sentences."""
    known = engine_schema()["properties"]
    unknown = [key for key in document if key not in known]
    said = [
        f"$.{key} is no field of {ENGINE_FORMAT} and was left out; is it misspelt?"
        for key in unknown
    ]
    lifts = document.get("lift_mm", {})
    for role in read_engine(document).roles:
        if role.value not in lifts:
            said.append(
                f"$.lift_mm.{role} is not given; {ASSUMED_LIFT_MM:g} mm is assumed for the drawing."
            )
    return tuple(said)


def _read_fields(root: Node) -> Engine:
    count = root["cylinders"].whole("the number of cylinders", low=1, high=MOST_CYLINDERS)
    valves = _valves(root["valves"], count)
    roles = tuple(role for role in Role if any(valve.role == role for valve in valves))
    adjusters, one_adjuster = read_adjusters(root["adjuster"], roles)
    geometry, decompressor, notes = root["geometry"], root["decompressor"], root["notes"]
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
        ramp_deg=_optional(root["ramp_deg"], "crank degrees of ramp", high=180, default=15.0),
        rotation="clockwise"
        if root["rotation"].missing
        else root["rotation"].choice("clockwise", "counterclockwise"),
        measured="cold" if measured.missing else measured.choice("cold", "hot"),
        turning=_turning(root["turning"]),
        geometry=None if geometry.missing else _geometry(geometry),
        adjusters=adjusters,
        one_adjuster=one_adjuster,
        decompressor=None if decompressor.missing else _decompressor(decompressor),
        marks=() if root["marks"].missing else _marks(root["marks"]),
        maker_chart=() if root["maker_chart"].missing else _chart(root["maker_chart"], valves),
        notes="" if notes.missing else notes.text("text", most=MOST_NOTES, empty=True),
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


def _optional(node: Node, wanted: str, *, high: float, default: float) -> float:
    return default if node.missing else node.number(wanted, low=0, high=high, default=default)


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
    reverse, turned_with = node["reverse_allowed"], node["with"]
    return Turning(
        reverse_allowed=default.reverse_allowed if reverse.missing else reverse.yes_no(),
        backlash_deg=_optional(node["backlash_deg"], "crank degrees of slack", high=90, default=0),
        turned_with=default.turned_with
        if turned_with.missing
        else turned_with.text("what it is turned with"),
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


def _decompressor(node: Node) -> Decompressor:
    node.is_object("role, opens_cycle_deg, closes_cycle_deg and lift_mm")
    role = Role(node["role"].choice(*(role.value for role in Role)))
    opens, closes = read_cycle_events(node, " of the bump")
    lift = node["lift_mm"].number("the bump's lift in mm", low=0, high=50, above=True)
    return Decompressor(role, opens, closes, lift)


def _marks(node: Node) -> tuple[TimingMark, ...]:
    marks = []
    for entry in node.items("a list of marks", most=200):
        if not entry.is_object("an object with on, label, deg and means"):
            continue
        on: Literal["crank", "cam"] = (
            "cam" if entry["on"].choice("crank", "cam") == "cam" else "crank"
        )
        high = TURN_DEG if on == "crank" else CYCLE_DEG
        marks.append(
            TimingMark(
                on=on,
                label=entry["label"].text("what is stamped there", most=40),
                deg=entry["deg"].number(f"degrees on the {on}", low=0, high=high),
                means=entry["means"].choice("tdc", "ignition", "pair", "pin", "other"),
            )
        )
    return tuple(marks)


def _chart(node: Node, valves: tuple[Valve, ...]) -> tuple[ChartStop, ...]:
    numbers = {valve.number for valve in valves}
    stops = []
    for entry in node.items("a list of stops", most=100):
        if not entry.is_object("an object with crank_deg and set"):
            continue
        angle = entry["crank_deg"].number("the crank angle of the stop", low=-720, high=1440)
        chosen = []
        for item in entry["set"].items("a list of valve numbers", most=MOST_VALVES):
            number = item.whole("a valve number", low=1, high=9999)
            if number not in numbers:
                item.fault(f"is {number}; this engine has no such valve")
            chosen.append(number)
        stops.append(ChartStop(normalise_deg(angle), tuple(chosen)))
    return tuple(stops)
