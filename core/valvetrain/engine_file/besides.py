"""Reads and writes what a manual says besides: ignition, torques, parts, tools, interval."""

from typing import Any, get_args

from valvetrain.document import Node
from valvetrain.engine import Role, ValveTrain
from valvetrain.engine_file.fields import MOST_LISTED
from valvetrain.manual import (
    CamDrive,
    Ignition,
    Interval,
    Start,
    Stop,
    StopSolenoid,
    Torque,
    read_moment,
)


def read_trains(node: Node, roles: tuple[Role, ...]) -> tuple[dict[Role, ValveTrain], bool]:
    """One kind for all valves, or role by role; and whether it was one."""
    if node.missing:
        return {}, True
    kinds = [train.value for train in ValveTrain]
    if not isinstance(node.value, dict):
        return dict.fromkeys(roles, ValveTrain(node.choice(*kinds))), True
    given = [role for role in roles if not node[role].missing]
    return {role: ValveTrain(node[role].choice(*kinds)) for role in given}, False


def read_bridges(node: Node, roles: tuple[Role, ...]) -> tuple[Role, ...]:
    if node.missing:
        return ()
    entries = node.items("a list of roles", most=len(Role))
    found = {Role(entry.choice(*(role.value for role in roles))) for entry in entries if roles}
    return tuple(role for role in Role if role in found)


def read_ignition(node: Node) -> Ignition | None:
    if node.missing or not node.is_object("how the engine is fired"):
        return None
    distributor, stop, lever = node["distributor"], node["stop"], node["decompression_lever"]
    solenoid, cocks = node["stop_solenoid"], node["indicator_cocks"]
    kind = node["kind"].choice("spark", "compression")
    found = Ignition(
        kind="spark" if kind == "spark" else "compression",
        distributor=not distributor.missing and distributor.yes_no(),
        start=tuple(
            entry.choice(*get_args(Start))
            for entry in (
                ()
                if node["start"].missing
                else node["start"].items("a list of ways to start", most=8)
            )
        ),
        stop=None if stop.missing else stop.choice(*get_args(Stop)),
        decompression_lever=not lever.missing and lever.yes_no(),
        stop_solenoid=None if solenoid.missing else solenoid.choice(*get_args(StopSolenoid)),
        indicator_cocks=not cocks.missing and cocks.yes_no(),
    )
    if found.distributor and found.kind == "compression":
        distributor.fault("is true; an engine that fires by compression has no distributor")
    return found


def read_cam_drive(node: Node) -> CamDrive | None:
    if node.missing or not node.is_object("the cam sprocket's teeth"):
        return None
    allow = node["allow_teeth"]
    return CamDrive(
        node["sprocket_teeth"].whole("the teeth of the cam sprocket", low=8, high=400),
        0.5 if allow.missing else allow.number("teeth", low=0, high=10),
    )


def read_torques(node: Node) -> tuple[Torque, ...]:
    if node.missing:
        return ()
    torques = []
    for entry in node.items("a list of torques", most=MOST_LISTED):
        if not entry.is_object("an object with what and nm, lb_ft or lb_in"):
            continue
        what = entry["what"].text("what is tightened", most=80)
        moment = read_moment(entry, "the torque")
        if moment is None:
            entry.fault("gives no torque; give nm, lb_ft or lb_in")
            continue
        torques.append(Torque(what, moment))
    return tuple(torques)


def read_texts(node: Node, wanted: str) -> tuple[str, ...]:
    if node.missing:
        return ()
    entries = node.items(f"a list of {wanted}", most=MOST_LISTED)
    return tuple(entry.text(f"one of the {wanted}", most=120) for entry in entries)


def read_interval(node: Node) -> Interval | None:
    if node.missing or not node.is_object("hours, km or months"):
        return None
    return Interval(
        **{
            name: None
            if node[name].missing
            else node[name].number("a number above 0", low=0, high=10_000_000, above=True)
            for name in Interval._fields
        }
    )


def given(**fields: Any) -> dict[str, Any]:
    """Those that say something."""
    return {name: value for name, value in fields.items() if value is not None and value != ()}


def ignition_out(ignition: Ignition) -> dict[str, Any]:
    return given(
        kind=ignition.kind,
        distributor=ignition.distributor or None,
        start=list(ignition.start) or None,
        stop=ignition.stop,
        decompression_lever=ignition.decompression_lever or None,
        stop_solenoid=ignition.stop_solenoid,
        indicator_cocks=ignition.indicator_cocks or None,
    )


def torques_out(torques: tuple[Torque, ...]) -> list[dict[str, Any]]:
    return [{"what": what, moment.unit.value: float(moment.figure)} for what, moment in torques]
