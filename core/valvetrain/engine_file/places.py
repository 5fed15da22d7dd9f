"""Reads what helps to find a place, and what holds a valve open besides its lobe."""

from typing import Literal

from valvetrain.angles import CYCLE_DEG, TURN_DEG, normalise_deg
from valvetrain.document import Node
from valvetrain.engine import ChartStop, Decompressor, Role, TimingMark, Valve
from valvetrain.engine_file.fields import MARK_MEANS, MOST_CYLINDERS, MOST_VALVES
from valvetrain.engine_file.specs import read_cycle_events


def read_decompressor(node: Node, valves: tuple[Valve, ...]) -> Decompressor | None:
    if node.missing:
        return None
    node.is_object("role, opens_cycle_deg, closes_cycle_deg and lift_mm")
    role = Role(node["role"].choice(*(role.value for role in Role)))
    opens, closes = read_cycle_events(node, " of the bump")
    lift = node["lift_mm"].number("the bump's lift in mm", low=0, high=50, above=True)
    its_own = {valve.number for valve in valves if valve.role == role}
    chosen = _valve_numbers(node["valves"], its_own, f"{role} valve")
    return Decompressor(role, opens, closes, lift, chosen)


def read_marks(node: Node, cylinders: int) -> tuple[TimingMark, ...]:
    if node.missing:
        return ()
    marks = []
    for entry in node.items("a list of marks", most=200):
        if not entry.is_object("an object with on, label, deg and means"):
            continue
        on: Literal["crank", "cam"] = (
            "cam" if entry["on"].choice("crank", "cam") == "cam" else "crank"
        )
        high = TURN_DEG if on == "crank" else CYCLE_DEG
        pointer, clock = entry["pointer"], entry["clock"]
        marks.append(
            TimingMark(
                on=on,
                label=entry["label"].text("what is stamped there", most=40),
                deg=entry["deg"].number(f"degrees on the {on}", low=0, high=high),
                means=entry["means"].choice(*MARK_MEANS),
                pointer="" if pointer.missing else pointer.text("what it lines up with", most=80),
                cylinders=_served(entry["cylinders"], cylinders),
                clock=None
                if clock.missing
                else clock.whole("an hour of the clock", low=1, high=12),
            )
        )
    return tuple(marks)


def _served(node: Node, cylinders: int) -> tuple[int, ...]:
    if node.missing:
        return ()
    entries = node.items("a list of cylinder numbers", most=MOST_CYLINDERS)
    return tuple(entry.whole("a cylinder number", low=1, high=cylinders) for entry in entries)


def read_chart(node: Node, valves: tuple[Valve, ...]) -> tuple[ChartStop, ...]:
    if node.missing:
        return ()
    numbers = {valve.number for valve in valves}
    stops = []
    for entry in node.items("a list of stops", most=100):
        if not entry.is_object("an object with crank_deg and set"):
            continue
        angle = entry["crank_deg"].number("the crank angle of the stop", low=-720, high=1440)
        if entry["set"].missing:
            entry["set"].given("a list of valve numbers")
        chosen = _valve_numbers(entry["set"], numbers, "valve")
        stops.append(ChartStop(normalise_deg(angle), chosen))
    return tuple(stops)


def _valve_numbers(node: Node, known: set[int], called: str) -> tuple[int, ...]:
    if node.missing:
        return ()
    chosen = []
    for item in node.items("a list of valve numbers", most=MOST_VALVES):
        number = item.whole("a valve number", low=1, high=9999)
        if number not in known:
            item.fault(f"is {number}; this engine has no such {called}")
        chosen.append(number)
    return tuple(chosen)
