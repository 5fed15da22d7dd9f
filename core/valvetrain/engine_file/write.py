"""Writes an Engine as an engine file."""

from typing import Any

from valvetrain.angles import CYCLE_DEG, STROKE_DEG
from valvetrain.engine import Engine, Events, Role, Spread
from valvetrain.engine_file.fields import ENGINE_FORMAT, EVENT_BASE_DEG, EVENT_FIELDS


def write_engine(engine: Engine) -> dict[str, Any]:
    """The engine as an engine file; reading it back gives an equal engine."""
    document: dict[str, Any] = {
        "format": ENGINE_FORMAT,
        "name": engine.name,
        "cylinders": engine.cylinders,
        "layout": engine.layout,
        "banks": [list(bank) for bank in engine.banks],
        "firing_order": list(engine.firing_order),
        "firing_intervals_deg": list(engine.firing_intervals_deg),
        "rotation": engine.rotation,
        "turning": {
            "reverse_allowed": engine.turning.reverse_allowed,
            "backlash_deg": engine.turning.backlash_deg,
            "with": engine.turning.turned_with,
        },
        "timing": {role.value: _events_out(role, engine.events[role]) for role in engine.roles},
        "lift_mm": {role.value: engine.lift_mm[role] for role in engine.roles},
        "ramp_deg": engine.ramp_deg,
        "valves": [
            {"number": valve.number, "cylinder": valve.cylinder, "role": valve.role.value}
            for valve in engine.valves
        ],
        "clearance": _clearance_out(engine),
    }
    if engine.geometry is not None:
        sizes = engine.geometry
        document["geometry"] = _given(
            bore_mm=sizes.bore_mm, stroke_mm=sizes.stroke_mm, rod_mm=sizes.rod_mm
        )
    if engine.adjusters:
        document["adjuster"] = _adjusters_out(engine)
    if engine.decompressor is not None:
        bump = engine.decompressor
        document["decompressor"] = {
            "role": bump.role.value,
            "opens_cycle_deg": bump.opens_cycle_deg,
            "closes_cycle_deg": bump.closes_cycle_deg,
            "lift_mm": bump.lift_mm,
        }
    if engine.marks:
        document["marks"] = [
            {"on": mark.on, "label": mark.label, "deg": mark.deg, "means": mark.means}
            for mark in engine.marks
        ]
    if engine.maker_chart:
        document["maker_chart"] = [
            {"crank_deg": stop.crank_deg, "set": list(stop.valves)} for stop in engine.maker_chart
        ]
    if engine.notes:
        document["notes"] = engine.notes
    return document


def _given(**fields: Any) -> dict[str, Any]:
    return {name: value for name, value in fields.items() if value is not None}


def _events_out(role: Role, events: Events) -> dict[str, float]:
    if events.written_as == "cycle":
        return {
            "opens_cycle_deg": events.opens_cycle_deg,
            "closes_cycle_deg": events.closes_cycle_deg,
        }
    open_field, close_field = EVENT_FIELDS[role]
    before = EVENT_BASE_DEG[role] - events.opens_cycle_deg
    # An opening more than 180 degrees before its bottom lies at the end of the last cycle.
    before += CYCLE_DEG if before < -STROKE_DEG else 0
    return {open_field: before, close_field: events.duration_deg - STROKE_DEG - before}


def _clearance_out(engine: Engine) -> dict[str, Any]:
    first = engine.clearance[engine.roles[0]]
    document: dict[str, Any] = {"unit": first.unit.value, "engine": engine.measured}
    for role in engine.roles:
        clearance = engine.clearance[role]
        document[role.value] = _spread_out(clearance.spread)
        if clearance.running is not None:
            document[role.value]["running"] = _spread_out(clearance.running)
    return document


def _spread_out(spread: Spread) -> dict[str, Any]:
    if spread.nominal is None:
        return {"min": float(spread.low), "max": float(spread.high)}
    return {
        "nominal": float(spread.nominal),
        "minus": float(spread.nominal - spread.low),
        "plus": float(spread.high - spread.nominal),
    }


def _adjusters_out(engine: Engine) -> dict[str, Any]:
    if engine.one_adjuster:
        return next(iter(engine.adjusters.values())).write()
    return {role.value: adjuster.write() for role, adjuster in engine.adjusters.items()}
