"""Writes an Engine as an engine file."""

from collections.abc import Mapping
from typing import Any

from valvetrain.angles import CYCLE_DEG, STROKE_DEG
from valvetrain.engine import Clearance, Engine, Events, Role, Spread
from valvetrain.engine_file.besides import given as _given
from valvetrain.engine_file.besides import ignition_out, torques_out
from valvetrain.engine_file.fields import ENGINE_FORMAT, EVENT_BASE_DEG, EVENT_FIELDS
from valvetrain.engine_file.strict import write_extras
from valvetrain.units import Unit


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
            **_given(why=engine.turning.why or None),
        },
        "timing": {role.value: _events_out(role, engine.events[role]) for role in engine.roles},
        "lift_mm": {role.value: engine.lift_mm[role] for role in engine.roles},
        "ramp_deg": engine.ramp_deg,
        "valves": [
            _given(
                number=valve.number,
                cylinder=valve.cylinder,
                role=valve.role.value,
                label=valve.label or None,
            )
            for valve in engine.valves
        ],
        "clearance": _clearance_out(engine),
    }
    document |= _places_out(engine)
    document |= _besides_out(engine)
    write_extras(document, engine.extras)
    return document


def _places_out(engine: Engine) -> dict[str, Any]:
    """Sizes, adjusters, and what helps to find a place: only what the file gave."""
    document: dict[str, Any] = {}
    if engine.geometry is not None:
        sizes = engine.geometry
        document["geometry"] = _given(
            bore_mm=sizes.bore_mm, stroke_mm=sizes.stroke_mm, rod_mm=sizes.rod_mm
        )
    if engine.adjusters:
        written = {role: adjuster.write() for role, adjuster in engine.adjusters.items()}
        document["adjuster"] = _by_role(written, one=engine.one_adjuster)
    if engine.decompressor is not None:
        bump = engine.decompressor
        document["decompressor"] = {
            "role": bump.role.value,
            "opens_cycle_deg": bump.opens_cycle_deg,
            "closes_cycle_deg": bump.closes_cycle_deg,
            "lift_mm": bump.lift_mm,
            **_given(valves=list(bump.valves) or None),
        }
    if engine.marks:
        document["marks"] = [
            {
                "on": mark.on,
                "label": mark.label,
                "deg": mark.deg,
                "means": mark.means,
                **_given(
                    pointer=mark.pointer or None,
                    cylinders=list(mark.cylinders) or None,
                    clock=mark.clock,
                ),
            }
            for mark in engine.marks
        ]
    if engine.maker_chart:
        document["maker_chart"] = [
            {"crank_deg": stop.crank_deg, "set": list(stop.valves)} for stop in engine.maker_chart
        ]
    if engine.notes:
        document["notes"] = engine.notes
    return document


def _besides_out(engine: Engine) -> dict[str, Any]:
    return _given(
        valve_train=_by_role(engine.trains, one=engine.one_train),
        bridges=list(engine.bridges) or None,
        ignition=None if engine.ignition is None else ignition_out(engine.ignition),
        closing_adjuster=_by_role(
            {role: adjuster.write() for role, adjuster in engine.closing_adjusters.items()},
            one=engine.one_closing_adjuster,
        ),
        cam_drive=None if engine.cam_drive is None else engine.cam_drive._asdict(),
        torques=torques_out(engine.torques) or None,
        parts=list(engine.parts) or None,
        tools=list(engine.tools) or None,
        interval=None if engine.interval is None else _given(**engine.interval._asdict()),
        closing=list(engine.closing_items) or None,
    )


def _by_role(given: Mapping[Role, Any], *, one: bool) -> Any:
    """One for all valves, or role by role, as the file gave it; None where it gave none."""
    if not given:
        return None
    if one:
        return next(iter(given.values()))
    return {role.value: value for role, value in given.items()}


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
        document[role.value] = _spec_out(clearance, first.unit)
    if engine.closing:
        document["closing"] = {
            role.value: _spec_out(spec, first.unit) for role, spec in engine.closing.items()
        }
    return document


def _spec_out(clearance: Clearance, common: Unit) -> dict[str, Any]:
    document = _spread_out(clearance.spread)
    if clearance.unit is not common:
        document["unit"] = clearance.unit.value
    if clearance.running is not None:
        document["running"] = _spread_out(clearance.running)
        document["running"] |= _given(measured=clearance.running_measured or None)
    return document


def _spread_out(spread: Spread) -> dict[str, Any]:
    if spread.nominal is None:
        return {"min": float(spread.low), "max": float(spread.high)}
    if not spread.stated:
        return {"nominal": float(spread.nominal)}
    return {
        "nominal": float(spread.nominal),
        "minus": float(spread.nominal - spread.low),
        "plus": float(spread.high - spread.nominal),
    }
