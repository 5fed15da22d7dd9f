"""Answers about a whole engine: check, state, overlap, rule and plan."""

import argparse
from typing import Any

from valvetrain.angles import typed_crank_deg
from valvetrain.calculator import source
from valvetrain.calculator.constants import MOST_MARGIN_DEG
from valvetrain.calculator.source import CalculatorError


def answer_check(options: argparse.Namespace) -> dict[str, Any]:
    from valvetrain.engine_file import remarks
    from valvetrain.suspicions import suspicions

    document, engine = source.read(options.engine)
    return {"ok": True, "warnings": [*remarks(document), *suspicions(engine)]}


def answer_state(options: argparse.Namespace) -> dict[str, Any]:
    from valvetrain.snapshot import snapshot

    now = snapshot(source.engine(options.engine), typed_crank_deg(options.at, "--at"))
    return {
        "crank_deg": now.crank_deg,
        "cylinders": [
            {
                "cylinder": c.cylinder,
                "cycle_deg": c.cycle_deg,
                "stroke": c.stroke.value,
                "piston_from_tdc_mm": c.piston_from_tdc_mm,
            }
            for c in now.cylinders
        ],
        "valves": [
            {
                "valve": v.valve,
                "cylinder": v.cylinder,
                "role": v.role.value,
                "state": v.state.value,
                "lift_mm": v.lift_mm,
                "gap_mm": v.gap_mm,
                "settable": v.settable,
                "margin_deg": v.margin_deg,
            }
            for v in now.valves
        ],
    }


def answer_overlap(options: argparse.Namespace) -> dict[str, Any]:
    from valvetrain.overlap import overlaps

    fields = ("cylinder", "companion", "overlap_deg", "starts_deg", "centre_deg", "ends_deg")
    found = overlaps(source.engine(options.engine))
    return {"cylinders": [{name: getattr(o, name) for name in fields} for o in found]}


def answer_rule(options: argparse.Namespace) -> dict[str, Any]:
    from valvetrain.sequences import sum_rule

    rule = sum_rule(source.engine(options.engine))
    return {
        "sum": rule.total,
        "holds": rule.holds,
        "pairs": [
            {"open": p.opened, "set": p.to_set, "margin_deg": p.margin_deg} for p in rule.pairs
        ],
        "reason": rule.reason,
    }


def answer_plan(options: argparse.Namespace) -> dict[str, Any]:
    from valvetrain.sequences import Route, make_plan

    if not 0 <= options.min_margin <= MOST_MARGIN_DEG:
        raise CalculatorError(
            f"--min-margin is {options.min_margin:g}; "
            f"give crank degrees from 0 to {MOST_MARGIN_DEG:g}"
        )
    route = Route(
        start_deg=typed_crank_deg(options.start, "--start"),
        direction=options.direction,
        min_margin_deg=options.min_margin,
        marks_only=options.stops == "marks",
    )
    plan = make_plan(source.engine(options.engine), options.method, route)
    return {
        "method": plan.method,
        "complete": plan.complete,
        "stops": [
            {
                "stop": stop.stop,
                "crank_deg": stop.crank_deg,
                "turn_deg": stop.turn_deg,
                "cylinders": list(stop.cylinders),
                "set": list(stop.valves),
                "margin_deg": stop.margin_deg,
                "find_by": stop.find_by,
            }
            for stop in plan.stops
        ],
        "unset": list(plan.unset),
        "total_turn_deg": plan.total_turn_deg,
        "least_margin_deg": plan.least_margin_deg,
        "warnings": list(plan.warnings),
    }


def engine_argument(sub: argparse.ArgumentParser) -> None:
    sub.add_argument("engine", metavar="ENGINE", help="an engine file, or - for standard input")


def state_arguments(sub: argparse.ArgumentParser) -> None:
    engine_argument(sub)
    sub.add_argument("--at", type=source.number, required=True, metavar="DEG")


def plan_arguments(sub: argparse.ArgumentParser) -> None:
    from valvetrain.sequences import METHODS

    engine_argument(sub)
    sub.add_argument("--method", required=True, metavar="M", help=", ".join(METHODS))
    sub.add_argument("--start", type=source.number, default=0.0, metavar="DEG")
    sub.add_argument("--direction", choices=("running", "reverse"), default="running")
    sub.add_argument("--min-margin", type=source.number, default=0.0, metavar="DEG")
    sub.add_argument("--stops", choices=("any", "marks"), default="any")
