"""`trend`: a stand's log in, how fast its gaps move and when to look next out."""

import argparse
import csv
import io
from collections.abc import Iterator, Mapping
from typing import Any

from valvetrain.calculator import source
from valvetrain.calculator.constants import MOST_FAULTS_TOLD
from valvetrain.calculator.lengths import spec_of
from valvetrain.calculator.source import CalculatorError, name_of, text_of
from valvetrain.engine import Engine
from valvetrain.gauges import Spec
from valvetrain.siblings import Odd, look_for, odd_ones
from valvetrain.trend import LogLook, Trend, TrendError, trend
from valvetrain.trend_words import says
from valvetrain.units import LengthError, Unit, parse_figure

NEEDED, OPTIONAL = ("hours", "valve", "gap_mm"), ("left_mm",)


def trend_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument(
        "log", metavar="LOG.csv", help=f"columns {', '.join(NEEDED + OPTIONAL)}; - for input"
    )
    parser.add_argument("--spec", metavar="MIN:MAX", help="of every valve, in mm")
    parser.add_argument("--engine", metavar="ENGINE", help="an engine file, for specs and roles")
    parser.add_argument("--now", metavar="HOURS", help="what the meter reads today")
    parser.add_argument("--every", metavar="HOURS", help="the maker's interval")


def answer_trend(options: argparse.Namespace) -> dict[str, Any]:
    if (options.spec is None) == (options.engine is None):
        raise CalculatorError("give one of --spec MIN:MAX and --engine FILE")
    engine = source.engine(options.engine) if options.engine else None
    name = name_of(options.log)
    looks = _looks(text_of(options.log, name, "a CSV of a stand's log"), name)
    every = _hours(options.every, "--every")
    if every is None and engine is not None and engine.interval is not None:
        every = engine.interval.hours
    try:
        found = trend(looks, _specs(engine, options.spec, looks), every)
    except TrendError as refusal:
        raise CalculatorError(f"{name}: {_told(refusal.faults)}") from None
    now = _hours(options.now, "--now")
    if now is not None and now < found.last_hours:
        raise CalculatorError(
            f"--now: {now:g} h lies before the log's last row, {found.last_hours:g} h"
        )
    role_of = {valve.number: valve.role.value for valve in engine.valves} if engine else {}
    odd = odd_ones(found.valves, role_of)
    return _answer(found, odd, engine, now)


def _answer(
    found: Trend, odd: tuple[Odd, ...], engine: Engine | None, now: float | None
) -> dict[str, Any]:
    look_h = found.next_look_h
    return {
        "valves": [
            {
                "valve": of.valve,
                "rate_um_per_100h": of.rate_um_per_100h,
                "rate_low": of.rate_low,
                "rate_high": of.rate_high,
                "last_hours": of.last_hours,
                "last_mm": of.last_mm,
                "side": of.side,
                "expected_h": of.expected_h,
                "soonest_h": of.soonest_h,
                "out_on": of.out_on,
                "back_in_h": of.back_in_h,
                "looks": of.looks,
            }
            for of in found.valves
        ],
        "last_hours": found.last_hours,
        "next_look_h": look_h,
        "in_h": None if look_h is None else look_h - (found.last_hours if now is None else now),
        "first": list(found.first),
        "odd": [
            {
                "valve": one.valve,
                "odds": one.odds,
                "rate_um_per_100h": one.rate_um_per_100h,
                "siblings_um_per_100h": one.siblings_um_per_100h,
                "look_for": look_for(engine, engine.valve[one.valve].role, one.way)
                if engine
                else None,
            }
            for one in odd
        ],
        "says": list(says(found, odd, engine, now)),
    }


def _specs(engine: Engine | None, spec: str | None, looks: list[LogLook]) -> Mapping[int, Spec]:
    if engine is not None:
        clearances = {valve.number: engine.clearance[valve.role] for valve in engine.valves}
        return {valve: Spec(of.low_mm, of.high_mm) for valve, of in clearances.items()}
    limits = spec_of(spec or "", Unit.MM)
    if limits.min_mm > limits.max_mm:
        raise CalculatorError(f"--spec “{spec}”: the smaller gap comes first, like 0.20:0.30")
    return dict.fromkeys((look.valve for look in looks), limits)


def _hours(text: str | None, option: str) -> float | None:
    if text is None:
        return None
    try:
        hours = float(parse_figure(text))
    except LengthError as refusal:
        raise CalculatorError(f"{option}: {refusal}") from None
    if hours < 0:
        raise CalculatorError(f"{option}: {hours:g} h is no meter reading; give 0 or more")
    return hours


def _looks(text: str, name: str) -> list[LogLook]:
    """Raises CalculatorError with the lines that cannot be read."""
    first = text.partition("\n")[0]
    between = ";" if first.count(";") > first.count(",") else ","
    lines = csv.DictReader(io.StringIO(text), strict=True, delimiter=between)
    faults: list[tuple[int, str]] = []
    looks = []
    try:
        columns = [(column or "").strip() for column in lines.fieldnames or []]
        missing = [column for column in NEEDED if column not in columns]
        if missing:
            raise CalculatorError(
                f"{name}: has no column {missing[0]}; give {', '.join(NEEDED)} in the first line, "
                "and left_mm where valves were adjusted"
            )
        lines.fieldnames = columns
        for line, row in _rows(lines):
            try:
                looks.append(_look(line, row))
            except LengthError as refusal:
                faults.append((line, str(refusal)))
    except csv.Error as fault:
        raise CalculatorError(f"{name}: line {lines.line_num}: is no CSV ({fault})") from None
    if faults:
        raise CalculatorError(f"{name}: {_told(faults)}")
    return looks


def _rows(lines: "csv.DictReader[str]") -> Iterator[tuple[int, dict[str, str]]]:
    for row in lines:
        yield (
            lines.line_num,
            {
                column: (row.get(column) or "").strip() if isinstance(row.get(column), str) else ""
                for column in NEEDED + OPTIONAL
            },
        )


def _look(line: int, row: dict[str, str]) -> LogLook:
    """Raises LengthError for what is no figure."""
    if not row["valve"].isascii() or not row["valve"].isdigit():
        raise LengthError(f"the valve “{row['valve'][:20]}” is no whole number")
    gap, left = (
        float(parse_figure(row[one])) if row[one] else None for one in ("gap_mm", "left_mm")
    )
    if not row["hours"]:
        raise LengthError("the row has no hours; give what the meter read")
    return LogLook(line, float(parse_figure(row["hours"])), int(row["valve"][:9]), gap, left)


def _told(faults: list[tuple[int, str]] | tuple[tuple[int, str], ...]) -> str:
    told = [f"line {line}: {reason}" for line, reason in faults[:MOST_FAULTS_TOLD]]
    if len(faults) > MOST_FAULTS_TOLD:
        told.append(f"and {len(faults) - MOST_FAULTS_TOLD} more")
    return "; ".join(told)
