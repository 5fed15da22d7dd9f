"""Every engine on the demo shelf, through every command of `edrix calc` and every school.

Judged by the oracle of test_any_engine, which shares no code with the core.
"""

import json
from pathlib import Path

import pytest

from tests.core.test_any_engine import oracle_fire_deg, oracle_margin_deg, oracle_off_heel
from valvetrain.adjusters import HydraulicAdjuster, ScrewAdjuster, ShimAdjuster
from valvetrain.angles import apart_deg
from valvetrain.calculator import main
from valvetrain.engine import Role
from valvetrain.engine_file import read_engine, write_engine
from valvetrain.sequences import METHODS
from valvetrain.suspicions import suspicions

SHELF = sorted((Path(__file__).parents[2] / "demo" / "engines").glob("*.json"))


@pytest.fixture(params=SHELF, ids=lambda path: path.stem)
def path(request):
    return request.param


@pytest.fixture
def document(path):
    return json.loads(path.read_text())


@pytest.fixture
def calc(path, capsys):
    def answer(command, *options):
        assert main([command, str(path), *options]) == 0
        return json.loads(capsys.readouterr().out)

    return answer


def test_check_accepts_it(calc):
    assert calc("check")["ok"] is True


def test_reading_and_writing_loses_nothing(document):
    engine = read_engine(document)
    assert read_engine(write_engine(engine)) == engine


def test_state_at_some_angles(calc, document):
    fire = oracle_fire_deg(document)
    off = {role: oracle_off_heel(document, role) for role in document["timing"]}
    for crank_deg in (0, 107, 360):
        now = calc("state", "--at", str(crank_deg))
        assert [v["valve"] for v in now["valves"]] == [v["number"] for v in document["valves"]]
        for valve in now["valves"]:
            cycle_deg = crank_deg - fire[valve["cylinder"]]
            expected = oracle_margin_deg(off[valve["role"]], cycle_deg)
            assert valve["margin_deg"] == pytest.approx(expected, abs=0.11)
        for cylinder in now["cylinders"]:
            height = cylinder["piston_from_tdc_mm"]
            assert 0 <= height <= document["geometry"]["stroke_mm"] + 1e-9


def test_overlap(calc, document):
    fire = oracle_fire_deg(document)
    for found in calc("overlap")["cylinders"]:
        opposite = [
            c
            for c in fire
            if c != found["cylinder"] and apart_deg(fire[c], fire[found["cylinder"]] + 360) < 0.1
        ]
        assert found["companion"] == (opposite[0] if opposite else None)
        assert (found["starts_deg"] is None) == (found["overlap_deg"] <= 0)


def test_rule(calc, document):
    answer = calc("rule")
    assert answer["sum"] == len(document["valves"]) + 1
    assert len(answer["pairs"]) == len(document["valves"])
    assert answer["holds"] == all(pair["margin_deg"] >= 0 for pair in answer["pairs"])


@pytest.mark.parametrize("direction", ["running", "reverse"])
@pytest.mark.parametrize("method", METHODS)
def test_plan(calc, document, method, direction):
    plan = calc("plan", "--method", method, "--start", "33", "--direction", direction)
    fire = oracle_fire_deg(document)
    off = {role: oracle_off_heel(document, role) for role in document["timing"]}
    of = {valve["number"]: valve for valve in document["valves"]}
    seen = [number for stop in plan["stops"] for number in stop["set"]]
    assert sorted([*seen, *plan["unset"]]) == sorted(of)
    assert plan["complete"] == (not plan["unset"])
    stands_deg = 33
    for stop in plan["stops"]:
        sign = 1 if direction == "running" else -1
        turned = (stands_deg + sign * stop["turn_deg"] - stop["crank_deg"]) % 720
        assert min(turned, 720 - turned) < 1e-3
        stands_deg = stop["crank_deg"]
        for number in stop["set"]:
            cycle_deg = stop["crank_deg"] - fire[of[number]["cylinder"]]
            assert oracle_margin_deg(off[of[number]["role"]], cycle_deg) > -0.11
    assert plan["total_turn_deg"] <= 720


def test_the_shelf_covers_the_kinds_of_engine_that_are_taught():
    engines = [read_engine(json.loads(path.read_text())) for path in SHELF]
    counts = {engine.cylinders for engine in engines}
    adjusters = [a for engine in engines for a in engine.adjusters.values()]
    assert len(engines) >= 10
    assert {1, 2, 3, 4, 5, 6, 8, 12, 24} <= counts
    assert {e.layout for e in engines} >= {"single", "inline", "parallel-twin", "vee", "flat"}
    twins = {e.firing_intervals_deg[0] for e in engines if e.layout == "parallel-twin"}
    assert twins == {180, 270, 360}
    each = {len(e.valves) // e.cylinders for e in engines}
    assert {2, 3, 4, 5} <= each
    assert any(Role.BRAKE in e.roles and e.clearance[Role.BRAKE].running for e in engines)
    for kind in (ScrewAdjuster, ShimAdjuster, HydraulicAdjuster):
        assert any(isinstance(a, kind) for a in adjusters)
    assert any(e.decompressor for e in engines)
    assert {e.measured for e in engines} == {"cold", "hot"}
    assert {c.unit for e in engines for c in e.clearance.values()} == {"mm", "thou"}
    assert any(c.spread.nominal is not None for e in engines for c in e.clearance.values())
    assert any(e.maker_chart for e in engines)
    assert any(not e.turning.reverse_allowed for e in engines)
    assert {mark.on for e in engines for mark in e.marks} == {"crank", "cam"}
    # One label is wrong on purpose: its two units do not agree.
    told = [warning for engine in engines for warning in suspicions(engine)]
    assert any("do not agree" in warning for warning in told)
