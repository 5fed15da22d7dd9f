"""What nuts, screws and shims do, and what cannot be done."""

import pytest

from tests.core.practice.conftest import Bench
from valvetrain.document import DocumentError
from valvetrain.practice import (
    RefusedActionError,
    read_action,
)


class TestScrews:
    def set_valve(self, bench, valve, **how):
        bench.to_fire(valve).do("loosen", valve=valve)
        bench.do("set", valve=valve, leaves_um=[bench.middle_um(valve)], **how)
        return bench

    def test_set_by_leaf_and_the_nut_moves_it(self):
        bench = self.set_valve(Bench(1, faults=[("wrong-setting", 1)]), 1)
        wanted_mm = bench.middle_um(1) / 1000
        assert bench.seat(1).clearance_mm == pytest.approx(wanted_mm + 0.006, abs=0.012)
        loose_mm = bench.seat(1).clearance_mm
        bench.do("tighten", valve=1, torque_nm=22)
        creep = bench.setup.hidden[0].creep_mm
        assert bench.seat(1).clearance_mm == pytest.approx(loose_mm + creep)

    def test_loosening_gives_the_creep_back(self, pump):
        before = pump.seat(1).clearance_mm
        pump.do("loosen", valve=1).do("tighten", valve=1, torque_nm=22)
        assert pump.seat(1).clearance_mm == pytest.approx(before)

    def test_pressing_while_setting_springs_back_loose(self):
        bench = self.set_valve(Bench(1), 1, pressing=True)
        assert bench.seat(1).clearance_mm > bench.middle_um(1) / 1000 + 0.02

    def test_off_the_heel_it_comes_out_loose_by_the_lift(self, pump):
        engine = pump.setup.engine
        opens = engine.fire_deg[1] + engine.events[engine.valve[1].role].opens_cycle_deg
        pump.to(opens % 720).do("loosen", valve=1)
        pump.do("set", valve=1, leaves_um=[pump.middle_um(1)])
        nominal = float(engine.clearance[engine.valve[1].role].middle_mm)
        # At the opening event the lift is the nominal clearance, by the engine file.
        assert pump.seat(1).clearance_mm == pytest.approx(
            pump.middle_um(1) / 1000 + nominal, abs=0.02
        )

    def test_zero_and_back_off_by_the_pitch(self, pump):
        """36 degrees of a 1.00 mm thread are 0.10 mm, times the rocker ratio (common practice)."""
        pump.to_fire(1).do("loosen", valve=1).do("zero", valve=1)
        at_zero = pump.seat(1).clearance_mm
        pump.do("screw", valve=1, by_deg=-36)
        assert at_zero == pytest.approx(0, abs=0.012)
        assert pump.seat(1).clearance_mm - at_zero == pytest.approx(0.145)

    def test_over_torque_warns_first_and_then_stretches(self, pump):
        pump.do("loosen", valve=1).do("tighten", valve=1, torque_nm=60)
        assert pump.seen.facts["warned"]
        assert not pump.seat(1).nut_tight
        pump.do("tighten", valve=1, torque_nm=60)
        assert pump.seat(1).stretched

    def test_a_seized_nut_wants_oil(self):
        bench = Bench(1, faults=[("seized-nut", 2)])
        bench.do("loosen", valve=2)
        assert bench.seen.facts["seized"]
        assert bench.seat(2).nut_tight
        bench.do("loosen", valve=2, oil=True)
        assert not bench.seat(2).nut_tight

    def test_a_bent_rod_shows_too_much_thread(self):
        bench = Bench(1, faults=[("bent-push-rod", 3)]).do("look", at="threads")
        shown = dict(
            part.split(": ") for part in bench.seen.says[:-1].split("nut: ")[1].split(", ")
        )
        heights = {int(valve): int(mm.split()[0]) for valve, mm in shown.items()}
        others = [mm for valve, mm in heights.items() if valve != 3]
        assert heights[3] >= max(others) + 3


class TestShims:
    def test_a_change_by_the_arithmetic(self):
        bench = Bench(9, faults=[("wrong-setting", 4)])
        bench.to_fire(4).do("take-shim", valve=4).do("read-shim", valve=4, by="stamp")
        stamped_um = round(bench.seen.facts["size_mm"] * 1000)
        clearance_um = round((bench.seat(4).clearance_mm) * 1000) - stamped_um
        spec = bench.setup.engine.clearance[bench.setup.engine.valve[4].role]
        wanted = stamped_um + clearance_um - float(spec.middle_mm) * 1000
        bench.do("fit-shim", valve=4, size_um=round(wanted / 50) * 50)
        assert float(spec.low_mm) <= bench.seat(4).clearance_mm <= float(spec.high_mm)

    def test_under_the_cam_the_cams_come_out_first(self):
        bench = Bench(5).to_fire(1)
        with pytest.raises(RefusedActionError, match="take the cams out first"):
            bench.do("take-shim", valve=1)
        bench.do("lock-crank", locked=True).do("cams", out=True).do("take-shim", valve=1)
        assert bench.seat(1).shim_um is None
        with pytest.raises(RefusedActionError, match="no gap to measure"):
            bench.feel(1, 100)

    def test_springs_turn_an_unlocked_crank_and_the_timing_is_lost(self):
        bench = Bench(5)
        engine = bench.setup.engine
        middle = engine.events[engine.valve[1].role].middle_cycle_deg
        bench.to((engine.fire_deg[engine.valve[1].cylinder] + middle) % 720)
        before = bench.state.crank_deg
        bench.do("cams", out=True)
        assert bench.seen.facts["jumped"]
        assert bench.state.crank_deg != before
        bench.do("cams", out=False)
        assert abs(bench.state.cam_late_deg) > 10

    def test_a_locked_crank_stays(self):
        bench = Bench(5)
        bench.do("lock-crank", locked=True).do("cams", out=True).do("cams", out=False)
        assert bench.state.cam_late_deg == 0
        with pytest.raises(RefusedActionError, match="locked"):
            bench.do("turn", by_deg=10)

    def test_a_shim_that_lies_aside_is_put_away_when_another_comes_out(self):
        bench = Bench(9).to_fire(4).do("take-shim", valve=4)
        own = bench.seat(4).aside_um
        other = next(um for um in bench.state.box_um if um != own)
        before = bench.state.box_um.count(own)
        bench.do("fit-shim", valve=4, size_um=other).do("take-shim", valve=4)
        assert bench.seat(4).aside_um == other
        assert bench.state.box_um.count(own) == before + 1
        bench.do("fit-shim", valve=4, size_um=own)
        assert bench.seat(4).clearance_mm == pytest.approx(bench.setup.hidden[3].clearance_mm)

    def test_a_shim_may_come_from_in_front_of_another_valve(self):
        bench = Bench(9).to_fire(4).do("take-shim", valve=4)
        own = bench.seat(4).aside_um
        for um in [um for um in bench.state.box_um if um == own]:
            left = list(bench.state.box_um)
            left.remove(um)
            bench.state = bench.state._replace(box_um=tuple(left))
        bench.to_fire(1).do("take-shim", valve=1).do("fit-shim", valve=1, size_um=own)
        assert bench.seat(4).aside_um is None
        assert bench.seat(1).shim_um == own
        bench.to_fire(4)
        with pytest.raises(RefusedActionError, match="in the box or on the bench"):
            bench.do("fit-shim", valve=4, size_um=own)

    def test_a_worn_stamp_needs_the_micrometer(self):
        bench = Bench(9, faults=[("worn-stamp", 1)]).to_fire(1).do("take-shim", valve=1)
        size = bench.seat(1).aside_um
        bench.do("read-shim", valve=1, by="stamp")
        assert bench.seen.facts["size_mm"] is None
        bench.do("read-shim", valve=1, by="micrometer")
        assert bench.seen.facts["size_mm"] == pytest.approx(size / 1000, abs=0.011)


@pytest.mark.parametrize(
    ("document", "says"),
    [
        ({"do": "try", "valve": 99, "leaves_um": [250]}, "no valve 99"),
        ({"do": "try", "valve": 1, "leaves_um": [253]}, "no leaf of 0.253 mm"),
        ({"do": "try", "valve": 1, "leaves_um": [250, 250]}, "once"),
        ({"do": "screw", "valve": 1, "by_deg": 10}, "still tight"),
        ({"do": "tighten", "valve": 1}, "tight already"),
        ({"do": "zero", "valve": 1}, "still tight"),
        ({"do": "take-shim", "valve": 1}, "no shim"),
        ({"do": "cams", "out": True}, "Nothing on this engine"),
        ({"do": "cover", "on": False}, "off already"),
        ({"do": "lock-crank", "locked": False}, "free already"),
    ],
)
def test_refusals_change_nothing(pump, document, says):
    before = pump.state
    with pytest.raises(RefusedActionError, match=says):
        pump.do(document["do"], **{k: v for k, v in document.items() if k != "do"})
    assert pump.state == before


@pytest.mark.parametrize(
    "document",
    [
        None,
        [],
        {},
        {"do": "fly"},
        {"do": "turn"},
        {"do": "turn", "by_deg": float("nan")},
        {"do": "turn", "by_deg": 1e9},
        {"do": "turn", "by_deg": True},
        {"do": "try", "valve": 1, "leaves_um": []},
        {"do": "try", "valve": 1, "leaves_um": [0.5]},
        {"do": "try", "valve": 1, "leaves_um": [10] * 7},
        {"do": "try", "valve": 1, "leaves_um": [250], "how": "upside-down"},
        {"do": "tighten", "valve": 1, "torque_nm": float("inf")},
        {"do": "tighten", "valve": 1, "torque_nm": -3},
        {"do": "write", "valve": 1, "column": "first", "text": "x" * 21},
        {"do": "write", "valve": 1, "column": "last", "text": "0.25"},
        {"do": "fit-shim", "valve": 1, "size_um": "2.5"},
    ],
)
def test_documents_that_are_no_action(document):
    with pytest.raises(DocumentError):
        read_action(document)
