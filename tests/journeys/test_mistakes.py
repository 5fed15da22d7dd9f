"""One mistake of each kind, in a run that is good work otherwise: the debrief names it, and praises
nothing that contradicts it."""

import pytest

from tests.journeys.engines import demo_documents
from tests.journeys.robot import CLOSING_UP, GoodStudent
from valvetrain.engine import Valve
from valvetrain.engine_file import read_engine
from valvetrain.practice.slips import RemarkKind

PUMP, SLED, CABLE, BRAKE = "01", "05", "09", "12"
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
            self.feel(valve, 50)
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
        self._by_screw(valve)
        if self.makes(RemarkKind.NOT_TURNED_OVER):
            self.measure(valve)
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
            self.run.act({"do": "lock-crank", "locked": True})
        for action in CLOSING_UP:
            if action["do"] != left_out.get(self.kind):
                self.run.act(action)


ON = {
    RemarkKind.CAMS_OUT_UNLOCKED: SLED,
    RemarkKind.WRONG_WAY: CABLE,
    RemarkKind.TURNED_BACK: CABLE,
    RemarkKind.RUNNING_NOT_PROVED: BRAKE,
}


@pytest.mark.parametrize("kind", list(RemarkKind))
def test_the_debrief_names_the_mistake_and_praises_nothing_against_it(begin, kind):
    document = demo_documents()[ON.get(kind, PUMP)]
    engine = read_engine(document)
    last = engine.valves[-1].number
    faults = [{"kind": "wrong-setting", "valve": last}]
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


def test_a_good_run_has_nothing_to_remark(begin):
    document = demo_documents()[PUMP]
    engine = read_engine(document)
    faults = [{"kind": "wrong-setting", "valve": 3}]
    student = GoodStudent(begin(document, faults=faults), engine, "metric")
    student.work()
    told = student.run.debrief()
    assert (told["passed"], told["remarks"]) == (True, [])
    assert len(told["done_well"]) >= 4
