"""The core's cycle table and engine facts as plain data for the Bench."""

from decimal import Decimal
from typing import Any

from valvetrain.constants import ROCK_DEG
from valvetrain.cycle_table import CycleTable, Segment, cycle_table
from valvetrain.effect import Curve
from valvetrain.engine import Clearance, Engine, Role
from valvetrain.lobe import FloatArray
from valvetrain.looks import gear_of, has_rotor, looks, valves_called
from valvetrain.manual import TorqueUnit, interval_words
from valvetrain.overlap import overlaps
from valvetrain.page import second_gap_words, shim_words, torques_of
from valvetrain.section import Section, section_of
from valvetrain.sequences import best_method, methods_hidden
from valvetrain.signs import rotor_of
from valvetrain.spec_words import running_texts, spec_texts
from valvetrain.turned import hand_turning

DIGITS = 4
PROFILE_DIGITS = 2
"""A drawn line is thicker than a hundredth of a millimetre."""


def bench_table(engine: Engine) -> dict[str, Any]:
    """Everything the Bench shows at any angle; see `api.CycleTableOut` for the keys."""
    table = cycle_table(engine)
    return {
        "engine": engine_facts(engine),
        "roles": {
            key: {
                "lift_mm": _list(cycle.lift_mm),
                "gap_mm": _list(cycle.gap_mm),
                "closing_gap_mm": None
                if cycle.closing_gap_mm is None
                else _list(cycle.closing_gap_mm),
                "margin_deg": _list(cycle.margin_deg),
                "rocks_forward": _arcs(cycle.rocks.forward),
                "rocks_back": _arcs(cycle.rocks.back),
            }
            for key, cycle in table.roles.items()
        },
        "segments": [_segment(segment) for segment in table.segments],
        "piston_mm": _pistons(table),
        "overlaps": [
            {
                "cylinder": o.cylinder,
                "overlap_deg": o.overlap_deg,
                "starts_deg": o.starts_deg,
                "centre_deg": o.centre_deg,
                "ends_deg": o.ends_deg,
                "centre_past_tdc_deg": o.centre_past_tdc_deg,
            }
            for o in overlaps(engine)
        ],
        "events": [{"crank_deg": e.crank_deg, "says": e.says} for e in table.events],
        "section": _section(section_of(engine)),
        "rock_deg": ROCK_DEG,
    }


def _section(section: Section) -> dict[str, Any]:
    return {
        "bore_mm": section.bore_mm,
        "stroke_mm": section.stroke_mm,
        "rod_mm": section.rod_mm,
        "to_scale": section.to_scale,
        "piston_mm": section.piston_mm.round(PROFILE_DIGITS).tolist(),
        "cams": {
            role.value: {
                "base_mm": cam.base_mm,
                "pad_mm": cam.pad_mm,
                "ratio": cam.ratio,
                "short_mm": round(cam.short_mm, PROFILE_DIGITS),
                **_curve(cam.x_mm, cam.y_mm),
                "closing": cam.closing
                and {
                    "base_mm": cam.closing.base_mm,
                    **_curve(cam.closing.x_mm, cam.closing.y_mm),
                },
            }
            for role, cam in section.cams.items()
        },
    }


def _curve(x_mm: FloatArray, y_mm: FloatArray) -> dict[str, list[float]]:
    return {
        "x_mm": x_mm.round(PROFILE_DIGITS).tolist(),
        "y_mm": y_mm.round(PROFILE_DIGITS).tolist(),
    }


def _arcs(arcs: tuple[tuple[float, float], ...]) -> list[dict[str, float]]:
    return [{"from_deg": start, "to_deg": end} for start, end in arcs]


def engine_facts(engine: Engine) -> dict[str, Any]:
    """What is printed on the plate, and how cylinders, valves and marks lie."""
    return {
        "name": engine.name,
        "layout": engine.layout,
        "rotation": engine.rotation,
        "measured": engine.measured,
        "turned_with": engine.turning.turned_with,
        "turning_off": hand_turning(engine).off,
        "turning_is_on": hand_turning(engine).is_on,
        "reverse_allowed": engine.turning.reverse_allowed,
        "backlash_deg": engine.turning.backlash_deg,
        "banks": [list(bank) for bank in engine.banks],
        "firing_order": list(engine.firing_order),
        "stroke_mm": engine.geometry.stroke_mm if engine.geometry else None,
        "cylinders": _cylinders(engine),
        "valves": _valves(engine),
        "adjusters": {role.value: made.kind for role, made in engine.adjusters.items()},
        "specs": [
            {
                "role": role.value,
                **_spec(engine.clearance[role]),
                "closing": closing_of(engine, role),
                "lift_mm": engine.lift_mm[role],
            }
            for role in engine.roles
        ],
        "marks": _marks(engine),
        "notes": engine.notes,
        "valves_called": valves_called(engine),
        "trains": {role.value: train_of(engine, role) for role in engine.roles},
        "looks": [look._asdict() for look in looks(engine)],
        "rotor": [stretch._asdict() for stretch in rotor_of(engine)] if has_rotor(engine) else [],
        "methods_hidden": methods_hidden(engine),
        "best_method": best_method(engine),
        "cam_mark_allow_deg": engine.cam_drive.allow_crank_deg if engine.cam_drive else None,
        "cam_tooth_deg": engine.cam_drive.tooth_crank_deg if engine.cam_drive else None,
        "manual": _manual(engine),
    }


def _cylinders(engine: Engine) -> list[dict[str, Any]]:
    return [
        {
            "cylinder": cylinder,
            "fire_deg": engine.fire_deg[cylinder],
            "companion": engine.companion(cylinder),
        }
        for cylinder in range(1, engine.cylinders + 1)
    ]


def _valves(engine: Engine) -> list[dict[str, Any]]:
    return [
        {
            "number": v.number,
            "cylinder": v.cylinder,
            "role": v.role.value,
            "label": v.label,
            "cycle": engine.cycle_key(v),
        }
        for v in engine.valves
    ]


def _marks(engine: Engine) -> list[dict[str, Any]]:
    return [
        {
            "on": m.on,
            "label": m.label,
            "deg": m.deg,
            "means": m.means,
            "crank_degs": list(m.crank_degs()),
            "pointer": m.pointer,
            "cylinders": list(m.cylinders),
            "clock": m.clock,
        }
        for m in engine.marks
    ]


def train_of(engine: Engine, role: Role) -> dict[str, Any]:
    """What works the valves of a role; see `table_schemas.TrainOut` for the keys."""
    return {
        "kind": engine.train_of(role).value,
        **gear_of(engine, role)._asdict(),
        "push": gear_of(engine, role).push,
        "assumed": engine.is_train_assumed(role),
        "bridged": role in engine.bridges,
        "seat": engine.adjuster_of(role).seat,
    }


def _manual(engine: Engine) -> dict[str, Any]:
    return {
        "torques": [
            {
                "what": what,
                "written_in": moment.unit.value,
                **{unit.value: round(float(moment.in_unit(unit)), 1) for unit in TorqueUnit},
            }
            for what, moment in torques_of(engine)
        ],
        "parts": list(engine.parts),
        "tools": list(engine.tools),
        "interval": interval_words(engine.interval),
        "turned_one_way": engine.turning.why,
        "shims": shim_words(engine),
        "second_gap": second_gap_words(engine),
    }


def _spec(clearance: Clearance) -> dict[str, Any]:
    running, texts = clearance.running_mm, running_texts(clearance)
    return {
        **limits_of(clearance),
        "running": None
        if running is None or texts is None
        else _limits(*running, texts) | {"written_in": clearance.unit.value},
    }


def closing_of(engine: Engine, role: Role) -> dict[str, Any] | None:
    """The closing clearance of a role whose valves are pulled shut, as `limits_of` gives it."""
    spec = engine.closing.get(role)
    return None if spec is None else limits_of(spec)


def limits_of(clearance: Clearance) -> dict[str, Any]:
    """See `table_schemas.LimitsOut` for the keys."""
    return _limits(clearance.low_mm, clearance.high_mm, spec_texts(clearance)) | {
        "written_in": clearance.unit.value
    }


def _limits(low_mm: Decimal, high_mm: Decimal, texts: tuple[str, str]) -> dict[str, Any]:
    says, says_other = texts
    return {
        "low_mm": float(low_mm),
        "high_mm": float(high_mm),
        "says": says,
        "says_other": says_other,
    }


def _segment(segment: Segment) -> dict[str, Any]:
    return {
        "from_deg": segment.from_deg,
        "to_deg": segment.to_deg,
        "stroke": segment.stroke.value,
        "overlap": segment.overlap,
        "roles": {
            key: {"state": told.state.value, "settable": told.settable, "says": told.says}
            for key, told in segment.roles.items()
        },
        "signs": segment.signs._asdict(),
    }


def plain_curve(curve: Curve) -> dict[str, list[float]]:
    return {name: _list(values) for name, values in curve._asdict().items()}


def _pistons(table: CycleTable) -> list[float] | None:
    return None if table.piston_from_tdc_mm is None else _list(table.piston_from_tdc_mm)


def _list(values: FloatArray) -> list[float]:
    rounded: list[float] = values.round(DIGITS).tolist()
    return rounded
