"""The JSON Schema (draft 2020-12) of the engine file, made from the reader's own limits.

It says what a schema can say: fields, types, ranges. Relations between fields (a firing
order is a permutation, intervals add up to 720, ...) are the reader's.
"""

from typing import Any, get_args

from valvetrain.adjusters import KINDS
from valvetrain.engine import Layout, Role, ValveTrain
from valvetrain.engine_file.fields import (
    ENGINE_FORMAT,
    EVENT_FIELDS,
    MARK_MEANS,
    MOST_CYLINDERS,
    MOST_LISTED,
    MOST_NOTES,
    MOST_VALVES,
)
from valvetrain.manual import MOST_TORQUE, Interval, Start, Stop, StopSolenoid

Schema = dict[str, Any]
OTHERS: Schema = {"^x_": {}}
"""Names of somebody else's, anywhere: kept as they come."""
_TORQUES = tuple(MOST_TORQUE.items())


def engine_schema() -> Schema:
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": ENGINE_FORMAT,
        "description": "One four-stroke engine, as the valve-clearance job needs it.",
        "type": "object",
        "required": [
            "format",
            "name",
            "cylinders",
            "firing_order",
            "timing",
            "valves",
            "clearance",
        ],
        "patternProperties": OTHERS,
        "additionalProperties": False,
        "properties": {
            "format": {"const": ENGINE_FORMAT},
            "name": _text(200),
            **_cylinder_fields(),
            **_valve_gear_fields(),
            **_place_fields(),
            **_other_fields(),
            "notes": {"type": "string", "maxLength": MOST_NOTES},
        },
    }


def _cylinder_fields() -> dict[str, Schema]:
    """How the cylinders lie, fire and are turned."""
    cylinder = _whole(1, MOST_CYLINDERS)
    return {
        "cylinders": cylinder,
        "layout": {"enum": list(get_args(Layout))},
        "banks": _list(_list(cylinder, MOST_CYLINDERS), MOST_CYLINDERS),
        "firing_order": _list(cylinder, MOST_CYLINDERS),
        "firing_intervals_deg": _list(_number(0, 720), MOST_CYLINDERS),
        "rotation": {"enum": ["clockwise", "counterclockwise"]},
        "turning": _object(
            [],
            reverse_allowed={"type": "boolean"},
            backlash_deg=_number(0, 90),
            why=_text(200),
            **{"with": _text(200)},
        ),
        "geometry": _object(
            ["stroke_mm", "rod_mm"],
            bore_mm=_above(0, 5000),
            stroke_mm=_above(0, 5000),
            rod_mm=_above(0, 20000),
        ),
    }


def _valve_gear_fields() -> dict[str, Schema]:
    """Valves, and what is given for each role of theirs."""
    valve = _object(
        ["number", "cylinder", "role"],
        number=_whole(1, 9999),
        cylinder=_whole(1, MOST_CYLINDERS),
        role=_role(),
        label=_text(30),
    )
    return {
        "timing": _object([], **{role.value: _events(role) for role in Role}),
        "lift_mm": _object([], **{role.value: _above(0, 200) for role in Role}),
        "ramp_deg": _above(0, 180),
        "valves": _list(valve, MOST_VALVES) | {"minItems": 1},
        "clearance": _object(
            ["unit"],
            unit={"enum": ["mm", "thou"]},
            engine={"enum": ["cold", "hot"]},
            closing=_by_role(_spread()),
            **{role.value: _spread() for role in Role},
        ),
        "adjuster": _one_or_by_role(_adjusters()),
        "closing_adjuster": _one_or_by_role(_adjusters()),
        "valve_train": _one_or_by_role([{"enum": [train.value for train in ValveTrain]}]),
        "bridges": _list(_role(), len(Role)),
        "decompressor": _object(
            ["role", "opens_cycle_deg", "closes_cycle_deg", "lift_mm"],
            role=_role(),
            opens_cycle_deg=_number(-720, 1440),
            closes_cycle_deg=_number(-720, 1440),
            lift_mm=_above(0, 50),
            valves=_list(_whole(1, 9999), MOST_VALVES),
        ),
        "cam_drive": _object(
            ["sprocket_teeth"], sprocket_teeth=_whole(8, 400), allow_teeth=_number(0, 10)
        ),
    }


def _place_fields() -> dict[str, Schema]:
    """What helps to find a place: marks, and the maker's own chart."""
    mark = _object(
        ["on", "label", "deg", "means"],
        on={"enum": ["crank", "cam"]},
        label=_text(40),
        deg=_number(0, 720),
        means={"enum": list(MARK_MEANS)},
        pointer=_text(80),
        cylinders=_list(_whole(1, MOST_CYLINDERS), MOST_CYLINDERS),
        clock=_whole(1, 12),
    )
    stop = _object(
        ["crank_deg", "set"],
        crank_deg=_number(-720, 1440),
        set=_list(_whole(1, 9999), MOST_VALVES),
    )
    return {"marks": _list(mark, 200), "maker_chart": _list(stop, 100)}


def _other_fields() -> dict[str, Schema]:
    """What a manual says besides."""
    return {
        "ignition": _object(
            ["kind"],
            kind={"enum": ["spark", "compression"]},
            distributor={"type": "boolean"},
            start=_list({"enum": list(get_args(Start))}, 8),
            stop={"enum": list(get_args(Stop))},
            decompression_lever={"type": "boolean"},
            stop_solenoid={"enum": list(get_args(StopSolenoid))},
            indicator_cocks={"type": "boolean"},
        ),
        "torques": _list(
            _object(["what"], what=_text(80), **{u.value: _above(0, m) for u, m in _TORQUES}),
            MOST_LISTED,
        ),
        "parts": _list(_text(120), MOST_LISTED),
        "tools": _list(_text(120), MOST_LISTED),
        "closing": _list(_text(120), MOST_LISTED),
        "interval": _object([], **{name: _above(0, 10_000_000) for name in Interval._fields}),
    }


def _object(required: list[str] | None = None, /, **properties: Schema) -> Schema:
    return {
        "type": "object",
        "required": required or [],
        "properties": properties,
        "patternProperties": OTHERS,
        "additionalProperties": False,
    }


def _by_role(schema: Schema) -> Schema:
    return _object([], **{role.value: schema for role in Role})


def _one_or_by_role(forms: list[Schema]) -> Schema:
    by_role = forms[0] if len(forms) == 1 else {"anyOf": forms}
    return {"anyOf": [*forms, _by_role(by_role)]}


def _list(items: Schema, most: int) -> Schema:
    return {"type": "array", "items": items, "maxItems": most}


def _text(most: int) -> Schema:
    return {"type": "string", "minLength": 1, "maxLength": most}


def _whole(low: int, high: int) -> Schema:
    return {"type": "integer", "minimum": low, "maximum": high}


def _number(low: float, high: float) -> Schema:
    return {"type": "number", "minimum": low, "maximum": high}


def _above(low: float, high: float) -> Schema:
    return {"type": "number", "exclusiveMinimum": low, "maximum": high}


def _role() -> Schema:
    return {"enum": [role.value for role in Role]}


def _events(role: Role) -> Schema:
    by_cycle = _object(
        ["opens_cycle_deg", "closes_cycle_deg"],
        opens_cycle_deg=_number(-720, 1440),
        closes_cycle_deg=_number(-720, 1440),
    )
    if role not in EVENT_FIELDS:
        return by_cycle
    by_dead_centre = _object(
        list(EVENT_FIELDS[role]), **{name: _number(-180, 360) for name in EVENT_FIELDS[role]}
    )
    return {"anyOf": [by_cycle, by_dead_centre]}


def _spread() -> Schema:
    unit = {"enum": ["mm", "thou"]}
    running = {"anyOf": _spreads(measured=_text(200))}
    return {"anyOf": _spreads(unit=unit, running=running)}


def _spreads(**more: Schema) -> list[Schema]:
    """A range as two limits, or as a nominal figure with tolerances; and what may stand beside."""
    gap = _number(0, 400)
    return [
        _object(["min", "max"], min=gap, max=gap, **more),
        _object(["nominal"], nominal=gap, minus=gap, plus=gap, **more),
    ]


def _adjusters() -> list[Schema]:
    return [
        _object(["kind", *kind.required], kind={"const": name}, **kind.schema())
        for name, kind in KINDS.items()
    ]
