"""Whole practice runs over HTTP: every engine, level, box and fault, from *Start* to the debrief.

At *Guided* the robot does what *Show me* shows; at the other levels it works as a good student
does. Either way the run ends, every valve is in spec, and the debrief passes it. Covered: every
pair of values of two dimensions (engine, level, box, fault) with `./edrix journeys`; every value
of each in CI.
"""

from collections.abc import Iterator
from typing import Any

import pytest

from tests.journeys.conftest import ALL
from tests.journeys.covering import Case, every_pair, every_value
from tests.journeys.engines import MADE, demo_documents, demo_engines, made_documents
from tests.journeys.robot import GoodStudent, follow
from valvetrain.engine import Engine
from valvetrain.engine_file import read_engine
from valvetrain.practice import BOXES, FaultKind, PlantedFault, SetupError, deal_setup

LEVELS = ("shown", "prompted", "alone", "test")
ONLY_GUIDED = {FaultKind.WORN_PAD, FaultKind.DECOMPRESSOR, FaultKind.HALF_TOOTH}
"""Faults that the plain good student does not know how to work round: *Show me* does."""
SOME = 8
"""Made engines in CI."""
DOCUMENTS, ENGINES = demo_documents(), demo_engines()


def planted(engine: Engine, fault: str | None) -> list[dict[str, Any]] | None:
    """A fault of this kind on the first valve that can have it, and a wrong setting elsewhere; None
    where this engine cannot have it."""
    valves = [v.number for v in engine.valves if not engine.adjuster(v.number).adjusts_itself]
    faults = [{"kind": "wrong-setting", "valve": valves[-1]}] if valves else []
    if fault is None:
        return faults
    for valve in (None, *valves):
        try:
            deal_setup(engine, 1, [PlantedFault(FaultKind(fault), valve)])
        except SetupError:
            continue
        one = {"kind": fault, "valve": valve}
        return [one, *(other for other in faults if other != one)]
    return None


def allowed(case: Case) -> bool:
    if case["fault"] in ONLY_GUIDED and case["level"] != "shown":
        return False
    return planted(ENGINES[case["engine"]], case["fault"]) is not None


FACTORS = {
    "engine": tuple(DOCUMENTS),
    "level": LEVELS,
    "box": tuple(BOXES),
    "fault": (None, *(kind.value for kind in FaultKind)),
}


def cases() -> list[Case]:
    if ALL:
        return every_pair(FACTORS, allowed)
    return _with_every_fault(every_value(FACTORS))


def _with_every_fault(rows: list[Case]) -> list[Case]:
    """The rows, each fault in one that can have it."""
    left = list(FACTORS["fault"])
    for row in rows:
        row["fault"] = next((f for f in left if allowed(row | {"fault": f})), None)
        if row["fault"] in left:
            left.remove(row["fault"])
    small = ("01", "17", "18", "12")
    rows += [
        next(
            case
            for engine in small
            for level in LEVELS
            if allowed(case := {"engine": engine, "level": level, "box": "metric", "fault": fault})
        )
        for fault in left
    ]
    return rows


def named(case: Case) -> str:
    return " ".join(str(value) for value in case.values())


def travel(begin: Any, document: dict[str, Any], engine: Engine, case: Case) -> dict[str, Any]:
    run = begin(
        document,
        level=case["level"],
        box=case["box"],
        faults=planted(engine, case["fault"]),
        minutes=600 if case["level"] == "test" else None,
    )
    if case["level"] == "shown":
        follow(run)
    else:
        GoodStudent(run, engine, case["box"]).work()
    told: dict[str, Any] = run.debrief() if case["level"] != "test" else {"held": True}
    return told


def judge(told: dict[str, Any]) -> None:
    remarks = [(one["kind"], one["valves"], one["says"]) for one in told["remarks"]]
    assert told["passed"], remarks
    out = [valve for valve in told["valves"] if not (valve["within"] and valve["measured"])]
    assert out == [], remarks
    assert told["outcome"] in ("quiet", "ticks")


@pytest.mark.parametrize("case", cases(), ids=named)
def test_a_run_from_its_start_to_its_debrief(begin, browsers, case):
    told = travel(begin, DOCUMENTS[case["engine"]], ENGINES[case["engine"]], case)
    if case["level"] == "test":
        told = debrief_of_the_test(browsers)
    judge(told)


def debrief_of_the_test(browsers) -> dict[str, Any]:
    """The debrief of a test waits for its instructor, who reads it before."""
    from edrix.practice.models import PracticeRun

    run = PracticeRun.objects.latest("id")
    assert run.ended_at is not None
    told: dict[str, Any] = browsers["instructor"].get(f"/api/runs/{run.id}/debrief").json()
    return told


def made() -> Iterator[Any]:
    for number, document in enumerate(made_documents(MADE if ALL else SOME)):
        box = tuple(BOXES)[number % len(BOXES)]
        yield pytest.param(document, box, LEVELS[number % 3], id=f"{number} {box}")


@pytest.mark.parametrize(("document", "box", "level"), list(made()))
def test_a_run_on_an_engine_that_nobody_tried(begin, document, box, level):
    engine = read_engine(document)
    fault = "wrong-closing" if engine.closing else "receding-valve"
    told = travel(begin, document, engine, {"level": level, "box": box, "fault": fault})
    judge(told)


def test_every_value_of_every_dimension_is_travelled():
    found = cases()
    for name, values in FACTORS.items():
        assert {case[name] for case in found} >= set(values), name
