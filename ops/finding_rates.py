"""How often findings find what was planted, and accuse what is honest.

`./edrix findings` writes the table of `docs/findings.md`. Sheets are made from a seed: a key as a
practice stand has it, a hand with a bias and a scatter, figures written to the hundredth; then one
mistake is planted, or none.
"""

import json
import sys
from collections.abc import Callable, Iterator
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np

ROOT = Path(__file__).resolve().parents[1]
sys.path[:0] = [str(ROOT / "core"), str(ROOT)]

from valvetrain.engine import Engine, Role  # noqa: E402
from valvetrain.engine_file import read_engine  # noqa: E402
from valvetrain.grading import COLUMNS, Entry  # noqa: E402
from valvetrain.grading.columns import (  # noqa: E402
    AFTER,
    READING,
    SECOND,
    SHIM_FITTED,
)
from valvetrain.grading.findings import (  # noqa: E402
    Case,
    KeyGap,
    Kind,
    Reference,
    copied_pairs,
    explain,
)
from valvetrain.grading.findings.whole import partners  # noqa: E402
from valvetrain.heel import valve_margin_deg  # noqa: E402
from valvetrain.lobe import lobe_of  # noqa: E402
from valvetrain.sequences import make_plan  # noqa: E402

SHELF = ROOT / "demo" / "engines"
ENGINES = {
    "pump, 8 valves": "01-p4-fire-pump",
    "tug, 24 valves": "02-six-snow-tug",
    "winch, 15 valves with shims": "09-cable-five",
}
HAND_MM, BIAS_MM, KEY_U_MM = 0.010, 0.006, 0.005
CLEAN, PLANTED, CLASSES, STUDENTS = 2000, 300, 40, 30
LEAST_VERDICTS = 2
"""Fewer verdicts that are wrong may be slips of the pen."""
VISIBLE_MM = 0.06
"""A mistake that moves no figure by so much cannot be seen by anybody, and is not planted."""
WANTED_FOUND, WANTED_FALSE = 0.95, 0.02
Plant = Callable[[Case, np.random.Generator], Case | None]


def engine(stem: str) -> Engine:
    return read_engine(json.loads((SHELF / f"{stem}.json").read_text()))


def a_key(made: Engine, chance: np.random.Generator) -> dict[int, KeyGap]:
    """As a practice stand is set: half of the valves within spec, the others off by a little."""
    key = {}
    for valve in made.valves:
        spec = made.clearance[valve.role]
        low, high = float(spec.low_mm), float(spec.high_mm)
        gap = chance.uniform(low, high)
        if chance.random() < 0.5:
            off = chance.uniform(0.04, 0.14)
            gap = high + off if chance.random() < 0.5 or low - off < 0.06 else low - off
        key[valve.number] = KeyGap(float(gap), KEY_U_MM)
    return key


def honest(made: Engine, key: dict[int, KeyGap], chance: np.random.Generator) -> Case:
    """A sheet by a steady hand, every column written, nothing wrong."""
    bias = BIAS_MM * chance.standard_normal()
    lines = []
    for valve in made.valves:
        spec = made.clearance[valve.role]
        middle = float(spec.middle_mm)
        felt = key[valve.number].gap_mm + bias + HAND_MM * chance.standard_normal(2)
        reading = _written(felt[0])
        lines.append(
            Entry.of_figures(
                valve.number,
                {
                    "reading": reading,
                    "second": _written(felt[1]),
                    "set": _written(middle),
                    "after": _written(middle + HAND_MM * chance.standard_normal()),
                    **_shims(made, valve.role, reading, chance),
                },
                made.fire_deg[valve.cylinder],
                _verdict(reading, float(spec.low_mm), float(spec.high_mm)),
            )
        )
    return Case(Reference(made, key), tuple(lines))


def _written(gap_mm: float) -> float:
    return max(0.01, round(float(gap_mm), 2))


def _verdict(reading: float, low: float, high: float) -> str:
    if reading < low - 1e-9:
        return "tight"
    return "loose" if reading > high + 1e-9 else "within"


def _shims(made: Engine, role: Role, reading: float, chance: np.random.Generator) -> dict[str, Any]:
    adjuster = made.adjuster_of(role).shim
    if adjuster is None:
        return {}
    sizes = [float(size) for size in adjuster.sizes.all()]
    fitted = sizes[int(len(sizes) * chance.uniform(0.3, 0.7))]
    wanted = fitted + reading - float(made.clearance[role].middle_mm)
    return {
        "shim_fitted": fitted,
        "shim_chosen": min(sizes, key=lambda size: abs(size - wanted)),
    }


def _change(case: Case, changes: dict[int, dict[str, Any]]) -> Case:
    """The same sheet with columns of some lines (by place) written again."""
    lines = tuple(_rewritten(line, changes.get(place, {})) for place, line in enumerate(case.lines))
    return replace(case, lines=lines)


def _rewritten(line: Entry, changes: dict[str, Any]) -> Entry:
    lengths = {name: line.mm(column) for name, column in COLUMNS.items() if column.is_length}
    crank_deg = changes.pop("crank_deg", line.crank_deg)
    return Entry.of_figures(line.valve, lengths | changes, crank_deg, line.verdict)


def _reread(case: Case, gaps: list[float], chance: np.random.Generator) -> Case:
    """Every figure measured on another gap, in both passes."""
    return _change(
        case,
        {
            place: {
                "reading": _written(gap + HAND_MM * chance.standard_normal()),
                "second": _written(gap + HAND_MM * chance.standard_normal()),
            }
            for place, gap in enumerate(gaps)
        },
    )


def _some(case: Case, chance: np.random.Generator, most: int) -> list[int]:
    count = int(chance.integers(1, most + 1))
    return [int(at) for at in chance.choice(len(case.lines), count, replace=False)]


def _reading(case: Case, place: int) -> float:
    return case.gaps_mm[place] or 0.0


def decimal_slip(case: Case, chance: np.random.Generator) -> Case:
    scale = 10.0 if chance.random() < 0.5 else 0.1
    return _change(
        case,
        {at: {"reading": round(_reading(case, at) * scale, 3), "second": None}
         for at in _some(case, chance, 3)},
    )  # fmt: skip


def _in_thou(case: Case, mm_per_thou: float, chance: np.random.Generator) -> Case:
    """Read with leaves in thou, and written in millimetres at so much a thou."""
    changes: dict[int, dict[str, Any]] = {}
    for place, line in enumerate(case.lines):
        gap = case.key[line.valve].gap_mm
        thou = [round((gap + HAND_MM * chance.standard_normal()) / 0.0254) for _ in range(2)]
        first, second = (max(0.01, round(one * mm_per_thou, 2)) for one in thou)
        changes[place] = {"reading": first, "second": second}
    return _change(case, changes)


def unit_slip(case: Case, chance: np.random.Generator) -> Case:
    if chance.random() < 0.5:
        return _in_thou(case, 0.01, chance)
    return _change(
        case,
        {at: {"reading": round(_reading(case, at) * 2.54, 3), "second": None}
         for at in range(len(case.lines))},
    )  # fmt: skip


def conversion_slip(case: Case, chance: np.random.Generator) -> Case:
    return _in_thou(case, float(chance.choice([0.02, 0.03, 0.04])), chance)


def roles_swapped(case: Case, chance: np.random.Generator) -> Case | None:
    partner = partners(case.engine)
    gaps = [case.key[partner.get(line.valve, line.valve)].gap_mm for line in case.lines]
    return _reread(case, gaps, chance)


def neighbours_swapped(case: Case, chance: np.random.Generator) -> Case | None:
    gaps = [case.key[line.valve].gap_mm for line in case.lines]
    pairs = [at for at in range(len(gaps) - 1) if abs(gaps[at] - gaps[at + 1]) >= VISIBLE_MM]
    if not pairs:
        return None
    at = int(chance.choice(pairs))
    first, second = case.lines[at], case.lines[at + 1]
    return _change(
        case,
        {
            at: {"reading": second.mm(READING), "second": second.mm(SECOND)},
            at + 1: {"reading": first.mm(READING), "second": first.mm(SECOND)},
        },
    )


def wrong_end(case: Case, chance: np.random.Generator) -> Case:
    return _reread(case, [case.key[line.valve].gap_mm for line in reversed(case.lines)], chance)


def off_heel(case: Case, chance: np.random.Generator) -> Case | None:
    """Two or three valves measured on the ramp, at the stop that the sheet names."""
    changes: dict[int, dict[str, Any]] = {}
    for at in chance.permutation(len(case.lines)):
        line = case.lines[at]
        valve = case.engine.valve[line.valve]
        lobe, gap = lobe_of(case.engine.seen_by(valve), valve.role), case.key[line.valve].gap_mm
        for crank_deg in chance.uniform(0, 720, 400):
            lift = lobe.lift_at_mm(case.engine.cycle_deg(valve.cylinder, float(crank_deg)))
            on_ramp = valve_margin_deg(case.engine, valve, float(crank_deg)) < 0
            if on_ramp and VISIBLE_MM < lift < gap - 0.04:
                left = gap - lift
                changes[int(at)] = {
                    "crank_deg": round(float(crank_deg)),
                    "reading": _written(
                        gap
                        - lobe.lift_at_mm(
                            case.engine.cycle_deg(valve.cylinder, round(float(crank_deg)))
                        )
                        + HAND_MM * chance.standard_normal()
                    ),
                    "second": _written(left + HAND_MM * chance.standard_normal()),
                }
                break
        if len(changes) == 2:
            return _change(case, changes)
    return None


def _steady(case: Case, by_mm: float) -> Case:
    return _change(
        case,
        {
            at: {
                "reading": _written(_reading(case, at) + by_mm),
                "second": _written((line.mm(SECOND) or 0) + by_mm),
            }
            for at, line in enumerate(case.lines)
        },
    )


def bias_tight(case: Case, chance: np.random.Generator) -> Case:
    return _steady(case, -chance.uniform(0.035, 0.06))


def bias_loose(case: Case, chance: np.random.Generator) -> Case:
    return _steady(case, chance.uniform(0.035, 0.06))


def caught_tip(case: Case, chance: np.random.Generator) -> Case | None:
    at = _some(case, chance, 1)[0]
    if case.key[case.lines[at].valve].gap_mm < 0.18:
        return None
    tight = chance.uniform(0.07, 0.12)
    return _change(case, {at: {"reading": _written(_reading(case, at) - tight)}})


def between_passes(case: Case, chance: np.random.Generator) -> Case:
    """Two or three valves 0.10 to 0.15 mm apart, or one by so much that no hand strays there."""
    count = int(chance.integers(1, 4))
    valves = chance.choice(len(case.lines), count, replace=False)
    least, most = (0.10, 0.15) if count > 1 else (0.22, 0.30)
    return _change(
        case,
        {int(at): {"second": _written(_reading(case, int(at)) + chance.uniform(least, most))}
         for at in valves},
    )  # fmt: skip


def wrong_way_shim(case: Case, chance: np.random.Generator) -> Case | None:
    changes: dict[int, dict[str, Any]] = {}
    for at, line in enumerate(case.lines):
        adjuster = case.engine.adjuster(line.valve).shim
        fitted_mm = line.mm(SHIM_FITTED)
        if adjuster is None or fitted_mm is None:
            return None
        needs = _reading(case, at) - float(case.engine.clearance[case.role(line.valve)].middle_mm)
        if abs(needs) > VISIBLE_MM:
            sizes = [float(size) for size in adjuster.sizes.all()]
            mirrored = fitted_mm - needs
            changes[at] = {"shim_chosen": min(sizes, key=lambda size: abs(size - mirrored))}
    return _change(case, changes) if changes else None


def lock_nut_creep(case: Case, chance: np.random.Generator) -> Case:
    by = chance.uniform(0.02, 0.045) * chance.choice([-1, 1])
    return _change(
        case,
        {at: {"after": _written((line.mm(AFTER) or 0) + by)}
         for at, line in enumerate(case.lines)},
    )  # fmt: skip


def _measured_at(
    case: Case, at_deg: dict[int, float], chance: np.random.Generator, named: dict[int, float]
) -> Case | None:
    """Every valve measured where the crank then stood, written with the stop that was meant; no
    gap is written as 0, or as the thinnest leaf. None where nobody could see it."""
    ramp = chance.uniform(0.8, 1.2)
    changes: dict[int, dict[str, Any]] = {}
    gone = 0.0
    for place, line in enumerate(case.lines):
        valve = case.engine.valve[line.valve]
        lobe = lobe_of(case.engine.seen_by(valve), valve.role)
        crank_deg = at_deg.get(line.valve, named[line.valve])
        lift = lobe.lift_at_mm(case.engine.cycle_deg(valve.cylinder, crank_deg)) * ramp
        gone += min(lift, case.key[line.valve].gap_mm)
        left = case.key[line.valve].gap_mm - lift
        gaps = [
            _written(left + HAND_MM * chance.standard_normal())
            if left > 0.02
            else float(chance.choice([0.0, 0.0, 0.0, 0.03]))
            for _ in range(2)
        ]
        changes[place] = {
            "reading": gaps[0],
            "second": gaps[1] or None,
            "crank_deg": named[line.valve],
        }
    return _change(case, changes) if gone > 2 * VISIBLE_MM else None


def _stops(case: Case) -> dict[int, float]:
    plan = make_plan(case.engine, "two-stop")
    return {valve: stop.crank_deg for stop in plan.stops for valve in stop.valves}


def full_turn(case: Case, chance: np.random.Generator) -> Case | None:
    named = _stops(case)
    return _measured_at(case, {v: (at + 360) % 720 for v, at in named.items()}, chance, named)


def wrong_mark(case: Case, chance: np.random.Generator) -> Case | None:
    named = _stops(case)
    others = [mark.deg for mark in case.engine.marks if mark.on == "crank" and mark.deg]
    if not others:
        return None
    off = (float(chance.choice(others)) + 180) % 360 - 180
    return _measured_at(case, {v: (at + off) % 720 for v, at in named.items()}, chance, named)


def wrong_stop(case: Case, chance: np.random.Generator) -> Case | None:
    named = _stops(case)
    return _measured_at(case, {v: 0.0 for v, at in named.items() if at == 360}, chance, named)


def _with_verdicts(case: Case, said: dict[int, str]) -> Case | None:
    lines = tuple(
        Entry.of_figures(
            line.valve,
            {name: line.mm(column) for name, column in COLUMNS.items() if column.is_length},
            line.crank_deg,
            said.get(line.valve, line.verdict),
        )
        for line in case.lines
    )
    changed = sum(said.get(line.valve, line.verdict) != line.verdict for line in case.lines)
    return replace(case, lines=lines) if changed >= LEAST_VERDICTS else None


def wrong_spec(case: Case, chance: np.random.Generator) -> Case | None:
    limits = {
        role: (float(spec.low_mm), float(spec.high_mm))
        for role, spec in case.engine.clearance.items()
    }
    other = {Role.INTAKE: Role.EXHAUST, Role.EXHAUST: Role.INTAKE}
    return _with_verdicts(
        case,
        {
            line.valve: _verdict(_reading(case, place), *limits[other[case.role(line.valve)]])
            for place, line in enumerate(case.lines)
        },
    )


def verdict_reversed(case: Case, chance: np.random.Generator) -> Case | None:
    swapped = {"tight": "loose", "loose": "tight"}
    return _with_verdicts(
        case,
        {line.valve: swapped[line.verdict] for line in case.lines if line.verdict in swapped},
    )


PLANTS: dict[Kind, Plant] = {
    Kind.FULL_TURN: full_turn,
    Kind.WRONG_MARK: wrong_mark,
    Kind.WRONG_STOP: wrong_stop,
    Kind.WRONG_SPEC: wrong_spec,
    Kind.VERDICT_REVERSED: verdict_reversed,
    Kind.DECIMAL_SLIP: decimal_slip,
    Kind.UNIT_SLIP: unit_slip,
    Kind.CONVERSION_SLIP: conversion_slip,
    Kind.ROLES_SWAPPED: roles_swapped,
    Kind.NEIGHBOURS_SWAPPED: neighbours_swapped,
    Kind.WRONG_END: wrong_end,
    Kind.OFF_HEEL: off_heel,
    Kind.BIAS_TIGHT: bias_tight,
    Kind.BIAS_LOOSE: bias_loose,
    Kind.CAUGHT_TIP: caught_tip,
    Kind.BETWEEN_PASSES: between_passes,
    Kind.WRONG_WAY_SHIM: wrong_way_shim,
    Kind.LOCK_NUT_CREEP: lock_nut_creep,
}


def planted(made: Engine, kind: Kind, count: int, seed: int = 1) -> Iterator[Case]:
    """Sheets with one mistake each; none where the engine cannot have it."""
    chance = np.random.default_rng([seed, list(Kind).index(kind)])
    for _ in range(count):
        case = PLANTS[kind](honest(made, a_key(made, chance), chance), chance)
        if case is not None:
            yield case


def clean(made: Engine, count: int, seed: int = 1) -> Iterator[Case]:
    chance = np.random.default_rng([seed, 99])
    for _ in range(count):
        yield honest(made, a_key(made, chance), chance)


def found_rate(made: Engine, kind: Kind, count: int = PLANTED) -> float | None:
    told = [kind in {one.kind for one in explain(case)} for case in planted(made, kind, count)]
    return sum(told) / len(told) if told else None


def false_kinds(made: Engine, count: int = CLEAN) -> tuple[float, dict[str, int]]:
    """The share of clean sheets with any finding, and of which kinds those were."""
    accused, kinds = 0, dict[str, int]()
    for case in clean(made, count):
        told = explain(case)
        accused += bool(told)
        for one in told:
            kinds[one.kind] = kinds.get(one.kind, 0) + 1
    return accused / count, kinds


def copied_rates(made: Engine, classes: int = CLASSES) -> tuple[float, float]:
    """Of classes in which one sheet is another's with one figure changed: how many are found,
    and the share of honest sheets that are named."""
    chance = np.random.default_rng(7)
    found = named = 0
    for _ in range(classes):
        key = a_key(made, chance)
        cases = [honest(made, key, chance) for _ in range(STUDENTS)]
        at = int(chance.integers(len(made.valves)))
        changed = {at: {"reading": _written(_reading(cases[0], at) + 0.01)}}
        cases[1] = _change(cases[0], changed)
        pairs = [{pair.one, pair.other} for pair in copied_pairs(cases)]
        found += {0, 1} in pairs
        named += len(set().union(*pairs) - {0, 1}) if pairs else 0
    return found / classes, named / (classes * (STUDENTS - 2))


def main() -> None:
    columns = {name: engine(stem) for name, stem in ENGINES.items()}
    print(f"| planted | {' | '.join(columns)} |\n| --- |{' ---: |' * len(columns)}")
    for kind in PLANTS:
        rates = [found_rate(made, kind) for made in columns.values()]
        print(f"| `{kind}` | {' | '.join(_share(rate) for rate in rates)} |", flush=True)
    copied = [copied_rates(made) for made in columns.values()]
    print(f"| `{Kind.COPIED}` | {' | '.join(_share(rate) for rate, _ in copied)} |")
    false = [false_kinds(made) for made in columns.values()]
    print(f"| clean sheets accused | {' | '.join(_share(rate) for rate, _ in false)} |")
    print(f"| honest sheets named as copied | {' | '.join(_share(rate) for _, rate in copied)} |")
    for name, (_, kinds) in zip(columns, false, strict=True):
        print(f"\n{name}: of {CLEAN} clean sheets wrongly {kinds}", file=sys.stderr)


def _share(rate: float | None) -> str:
    return "" if rate is None else f"{rate:.1%}"


if __name__ == "__main__":
    main()
