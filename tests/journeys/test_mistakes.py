"""One mistake of each kind, in a run that is good work otherwise: the debrief names it, and praises
nothing that contradicts it.

Covered: every kind on every demo engine that it can be made on, with `./edrix journeys`; each kind
on one engine, and most engines with one kind, in CI.
"""

from collections.abc import Callable
from itertools import cycle

import pytest

from tests.journeys.conftest import ALL
from tests.journeys.engines import demo_documents, demo_engines
from tests.journeys.robot import CLOSING_UP, GoodStudent
from valvetrain.engine import Engine, Valve
from valvetrain.practice import FaultKind, PlantedFault, SetupError, deal_setup
from valvetrain.practice.slips import RemarkKind

PUMP = "01"
FEW_VALVES = 18
"""Engines with more are left to `./edrix journeys`."""
PRAISE = {
    RemarkKind.UNMEASURED: "Every valve was measured",
    RemarkKind.UNSUPPORTED_FIGURE: "Every figure written rests on a leaf",
    RemarkKind.NOT_WRITTEN: "Every figure written rests on a leaf",
    RemarkKind.OFF_HEEL: "each on its heel",
    RemarkKind.CHANGED_BEFORE_ALL_WRITTEN: "All was written down before",
    RemarkKind.NEEDLESS_CHANGE: "Only what was out of its spec",
    RemarkKind.NOT_RECHECKED: "tried again after turning over",
    RemarkKind.NOT_TURNED_OVER: "tried again after turning over",
    RemarkKind.NUT_LOOSE: "Closed up as it should be",
    RemarkKind.TOOL_LEFT_ON: "Closed up as it should be",
    RemarkKind.PIN_LEFT_IN: "Closed up as it should be",
    RemarkKind.TOOLS_NOT_COUNTED: "Closed up as it should be",
    RemarkKind.COVER_OFF: "Closed up as it should be",
}
"""What must not be said beside a remark of this kind."""


class Clumsy(GoodStudent):
    """A good student with one mistake, named by its kind of remark."""

    kind: RemarkKind

    def makes(self, kind: RemarkKind) -> bool:
        return self.kind is kind

    @property
    def first(self) -> Valve:
        return self.valves[0]

    def measure_and_write(self, valve: Valve) -> dict[str, float]:
        middle_mm = float(self.engine.clearance[valve.role].middle_mm)
        if valve.number != self.first.number:
            return super().measure_and_write(valve)
        if self.makes(RemarkKind.UNMEASURED):
            self.to_place(valve)
            self.feel(valve, min(self.run.run["leaves_um"]))
            return {"opening": middle_mm}
        if self.makes(RemarkKind.UNSUPPORTED_FIGURE):
            self.write(valve, "first", middle_mm)
            return {"opening": middle_mm}
        if self.makes(RemarkKind.NOT_WRITTEN):
            return {"opening": self.measure(valve)}
        if self.makes(RemarkKind.OFF_HEEL):
            self.to_place(valve)
            self.turn_on(360)
            self.feel(valve, 250)
            self.turn_on(360)
        if self.makes(RemarkKind.TURNED_BACK):
            self.run.act({"do": "turn", "by_deg": -20})
            self.turn_on(20)
        if self.makes(RemarkKind.TECHNIQUE):
            self.to_place(valve)
            leaf = {"valve": valve.number, "leaves_um": [50], "how": "skewed"}
            self.run.act({"do": "try", **leaf})
        found = super().measure_and_write(valve)
        if self.makes(RemarkKind.CHANGED_BEFORE_ALL_WRITTEN):
            self.set_right(valve, found)
        return found

    def turn_on(self, by_deg: float) -> None:
        self.run.act({"do": "turn", "by_deg": by_deg})

    def is_right(self, valve: Valve, found: dict[str, float], inside_mm: float = 0.0) -> bool:
        is_last = valve.number == self.valves[-1].number
        if self.makes(RemarkKind.LEFT_OUT_OF_SPEC) and is_last and not inside_mm:
            return True
        if self.makes(RemarkKind.NEEDLESS_CHANGE) and valve == self.first and not inside_mm:
            return False
        return super().is_right(valve, found, inside_mm)

    def set_right(self, valve: Valve, found: dict[str, float]) -> None:
        shortcuts = (RemarkKind.NOT_RECHECKED, RemarkKind.NOT_TURNED_OVER, RemarkKind.NUT_LOOSE)
        if self.kind not in shortcuts:
            super().set_right(valve, found)
            return
        if self.engine.adjuster(valve.number).has_nut:
            self._by_screw(valve)
        else:
            self._by_shim(valve, found)
        if self.makes(RemarkKind.NOT_TURNED_OVER):
            self._again(valve)
        if self.makes(RemarkKind.NUT_LOOSE):
            self.run.act({"do": "loosen", "valve": valve.number})

    def tighten(self, valve: Valve, torque_nm: float | None) -> None:
        if self.makes(RemarkKind.OVER_TORQUE) and torque_nm:
            for _ in range(2):  # told once before
                self.run.act({"do": "tighten", "valve": valve.number, "torque_nm": 2 * torque_nm})
        else:
            super().tighten(valve, torque_nm)

    def prove_running(self, valve: Valve) -> None:
        if not self.makes(RemarkKind.RUNNING_NOT_PROVED):
            super().prove_running(valve)

    def lock(self, *, locked: bool) -> None:
        if not self.makes(RemarkKind.CAMS_OUT_UNLOCKED):
            super().lock(locked=locked)

    def size_to_fit(self, fitted: int, wanted: float, made: list[int]) -> int:
        """Thinner where it should be thicker, once."""
        if self.makes(RemarkKind.WRONG_WAY) and not self.wrong:
            self.wrong.add("shim")
            return super().size_to_fit(fitted, 2 * fitted - wanted, made)
        return super().size_to_fit(fitted, wanted, made)

    def let_stand(self) -> None:
        if not self.makes(RemarkKind.MEASURED_WARM):
            super().let_stand()

    def close_up(self) -> None:
        left_out = {
            RemarkKind.TOOLS_NOT_COUNTED: "count-tools",
            RemarkKind.TOOL_LEFT_ON: "tool-off",
            RemarkKind.COVER_OFF: "cover",
        }
        if self.makes(RemarkKind.PIN_LEFT_IN):
            self.to_pin()
            self.lock(locked=True)
        for action in CLOSING_UP:
            if action["do"] != left_out.get(self.kind):
                self.run.act(action)


def can_be_warm(engine: Engine) -> bool:
    """Not one that is measured hot."""
    try:
        deal_setup(engine, 1, [PlantedFault(FaultKind.WARM)])
    except SetupError:
        return False
    return True


def adjusted(engine: Engine) -> list[Valve]:
    return [v for v in engine.valves if not engine.adjuster(v.number).adjusts_itself]


def last_has_nut(engine: Engine) -> bool:
    return engine.adjuster(adjusted(engine)[-1].number).has_nut


def last_has_torque(engine: Engine) -> bool:
    screw = engine.adjuster(adjusted(engine)[-1].number).screw
    return screw is not None and screw.locknut_torque_nm is not None


def has_cams_out(engine: Engine) -> bool:
    shim = engine.adjuster(adjusted(engine)[-1].number).shim
    return shim is not None and shim.cams_out


def has_running(engine: Engine) -> bool:
    """On the valve that is set."""
    return engine.clearance[adjusted(engine)[-1].role].running is not None


NEEDS: dict[RemarkKind, Callable[[Engine], bool]] = {
    RemarkKind.NUT_LOOSE: last_has_nut,
    RemarkKind.NEEDLESS_CHANGE: last_has_nut,
    RemarkKind.OVER_TORQUE: last_has_torque,
    RemarkKind.CAMS_OUT_UNLOCKED: has_cams_out,
    RemarkKind.WRONG_WAY: lambda engine: not last_has_nut(engine),
    RemarkKind.RUNNING_NOT_PROVED: has_running,
    RemarkKind.MEASURED_WARM: can_be_warm,
    RemarkKind.TURNED_BACK: lambda engine: not engine.turning.reverse_allowed,
}
"""What an engine has, on which such a mistake can be made."""
DOCUMENTS = demo_documents()
ENGINES = {name: engine for name, engine in demo_engines().items() if adjusted(engine)}


def can_be_made(kind: RemarkKind, engine: Engine) -> bool:
    return NEEDS.get(kind, lambda _engine: True)(engine)


def cases() -> list[tuple[RemarkKind, str]]:
    if ALL:
        return [(k, name) for k in RemarkKind for name, e in ENGINES.items() if can_be_made(k, e)]
    small = [name for name, engine in ENGINES.items() if len(engine.valves) <= FEW_VALVES]
    turn = cycle(small)
    return [(kind, next(n for n in turn if can_be_made(kind, ENGINES[n]))) for kind in RemarkKind]


@pytest.mark.parametrize(("kind", "name"), cases(), ids=str)
def test_the_debrief_names_the_mistake_and_praises_nothing_against_it(begin, kind, name):
    document, engine = DOCUMENTS[name], ENGINES[name]
    # What is set before all is written is the first valve.
    at = 0 if kind is RemarkKind.CHANGED_BEFORE_ALL_WRITTEN else -1
    faults = [{"kind": "wrong-setting", "valve": adjusted(engine)[at].number}]
    if kind is RemarkKind.MEASURED_WARM:
        faults.append({"kind": "warm-engine", "valve": None})
    student = Clumsy(begin(document, level="alone", box="metric", faults=faults), engine, "metric")
    student.kind = kind
    student.work()
    told = student.run.debrief()
    kinds = {one["kind"] for one in told["remarks"]}
    assert kind.value in kinds, kinds
    for one in kinds:
        words = PRAISE.get(RemarkKind(one))
        assert words is None or not any(words in said for said in told["done_well"]), one
    failing = kinds & {"left-out-of-spec", "unmeasured", "unsupported-figure", "not-written"}
    if failing:
        assert not told["passed"]
        assert told["grade"]["fails"], failing
        assert "the engine itself" not in told["grade"]["fails"]


def test_every_kind_of_mistake_is_made():
    assert {kind for kind, _ in cases()} == set(RemarkKind)


def test_a_good_run_has_nothing_to_remark(begin):
    faults = [{"kind": "wrong-setting", "valve": 3}]
    run = begin(DOCUMENTS[PUMP], faults=faults)
    student = GoodStudent(run, ENGINES[PUMP], "metric")
    student.work()
    told = student.run.debrief()
    assert (told["passed"], told["remarks"]) == (True, [])
    assert len(told["done_well"]) >= 4
