"""Closing up and the first start, coaching on the way, the debrief after it."""

import json

import pytest

from tests.core.practice.conftest import Bench
from valvetrain.practice import (
    Outcome,
    RefusedActionError,
    advise,
    asks,
    debrief,
    first_start,
    read_action,
    replay,
    write_action,
)


class TestClosing:
    def finish(self, bench):
        for action in ("count-tools", "tool-off"):
            bench.do(action)
        return bench.do("cover", on=True).do("start")

    def test_a_good_engine_is_quiet(self, pump):
        self.finish(pump)
        assert pump.seen.facts["start"] == "quiet"
        with pytest.raises(RefusedActionError, match="over"):
            pump.do("rock")

    @pytest.mark.parametrize(
        ("change", "start"),
        [
            ({"clearance_mm": 0.6}, Outcome.TICKS),
            ({"clearance_mm": -0.02}, Outcome.HARD),
            ({"nut_tight": False}, Outcome.DAMAGE),
        ],
    )
    def test_what_one_valve_does(self, pump, change, start):
        for name in ("count-tools", "tool-off"):
            pump.do(name)
        pump.do("cover", on=True)
        seats = (pump.state.seats[0]._replace(**change), *pump.state.seats[1:])
        result = first_start(pump.setup, pump.state._replace(seats=seats))
        assert result.start is start
        assert result.consequences[0].valve == 1

    def test_a_tool_on_the_crank_is_damage(self, pump):
        result = first_start(pump.setup, pump.state)
        assert result.start is Outcome.DAMAGE
        assert "turning tool" in result.consequences[0].says

    def test_most_cylinders_without_compression_will_not_run(self, pump):
        seats = tuple(seat._replace(clearance_mm=-0.1) for seat in pump.state.seats)
        state = pump.state._replace(seats=seats, tool_on=False, tools_counted=True, closed=True)
        assert first_start(pump.setup, state).start is Outcome.DEAD

    def test_a_tight_valve_is_quiet_and_burns_later(self, pump):
        seats = (pump.state.seats[0]._replace(clearance_mm=0.05), *pump.state.seats[1:])
        state = pump.state._replace(seats=seats, tool_on=False, tools_counted=True, closed=True)
        result = first_start(pump.setup, state)
        assert result.start is Outcome.QUIET
        assert any("Valve 1: Tight" in line for line in result.later)


class TestCoaching:
    def act(self, **document):
        return read_action(document)

    def test_asks_before_a_valve_off_its_heel_is_measured(self, pump):
        engine = pump.setup.engine
        feel = self.act(do="try", valve=1, leaves_um=[250])
        pump.to_fire(1)
        assert asks(pump.setup, pump.state, feel) is None
        middle = engine.events[engine.valve[1].role].middle_cycle_deg
        pump.to((engine.fire_deg[1] + middle) % 720)
        assert "on its heel" in asks(pump.setup, pump.state, feel)

    def test_asks_for_all_readings_before_a_change(self, pump):
        loosen = self.act(do="loosen", valve=1)
        assert "written down" in asks(pump.setup, pump.state, loosen)
        for valve in range(1, 9):
            pump.do("write", valve=valve, column="first", text="0.25")
        assert asks(pump.setup, pump.state, loosen) is None

    def test_asks_at_the_end(self, pump):
        pump.do("loosen", valve=2)
        assert "valve 2" in asks(pump.setup, pump.state, self.act(do="cover", on=True))
        assert "turning tool" in asks(pump.setup, pump.state, self.act(do="start"))

    def test_asks_on_an_engine_of_one_way_and_before_cams_come_out(self):
        sled = Bench(5)
        assert "one way" in asks(sled.setup, sled.state, self.act(do="turn", by_deg=-5))
        assert "locked" in asks(sled.setup, sled.state, self.act(do="cams", out=True))

    def test_the_next_leaf_comes_from_what_was_felt(self, pump):
        pump.to_fire(1)
        felt = []
        for _ in range(30):
            advice = advise(pump.setup, 1, felt)
            if advice.leaves_mm is None:
                break
            pump.feel(1, *(int(leaf * 1000) for leaf in advice.leaves_mm))
            felt.append((pump.actions[-1], pump.seen))
        assert advice.reading.verdict in ("within", "undecided")
        assert abs(float(advice.reading.low_mm) - pump.seat(1).clearance_mm) < 0.03
        pump.do("loosen", valve=1)
        felt.append((pump.actions[-1], pump.seen))
        assert advise(pump.setup, 1, felt).reading.high_mm is None


class TestDebrief:
    def test_tells_what_was_wrong_beside_the_truth(self):
        bench = Bench(1, faults=[("wrong-setting", 1), ("worn-pad", 2)])
        engine = bench.setup.engine
        middle = engine.events[engine.valve[1].role].middle_cycle_deg
        bench.to((engine.fire_deg[1] + middle) % 720)
        bench.feel(1, 250)
        bench.do("write", valve=1, column="first", text="0.00")
        told = debrief(bench.setup, bench.actions)
        wrong = [moment for moment in told.moments if moment.wrong]
        assert len(wrong) == 1
        assert "not on its heel" in wrong[0].wrong
        assert "smaller than the clearance" in wrong[0].cost
        assert told.valves[0].first == "0.00"
        assert told.valves[0].found_mm == bench.setup.hidden[0].clearance_mm
        assert not told.valves[0].within
        assert [fault.kind for fault in told.faults] == ["wrong-setting", "worn-pad"]

    def test_a_shim_the_wrong_way_is_named(self):
        bench = Bench(9, faults=[("wrong-setting", 4)]).to_fire(4).do("take-shim", valve=4)
        spec = bench.setup.engine.clearance[bench.setup.engine.valve[4].role]
        loose = bench.setup.hidden[3].clearance_mm > float(spec.high_mm)
        step = -200 if loose else 200
        bench.do("fit-shim", valve=4, size_um=bench.seat(4).aside_um + step)
        told = debrief(bench.setup, bench.actions)
        needed = "thicker" if loose else "thinner"
        assert needed in told.moments[-1].wrong

    def test_a_stretched_screw_is_told_once(self, pump):
        for torque in (60, 60, 22):
            if pump.seat(1).nut_tight:
                pump.do("loosen", valve=1)
            pump.do("tighten", valve=1, torque_nm=torque)
        told = debrief(pump.setup, pump.actions).moments
        assert [m.step for m in told if m.wrong and "far above its torque" in m.wrong] == [3]

    def test_bad_technique_is_told_with_its_cost(self, pump):
        pump.to_fire(1)
        pump.feel(1, 250, how="tip")
        pump.feel(1, 250, pressing=True)
        told = debrief(pump.setup, pump.actions).moments[-2:]
        assert "tip under the rocker" in told[0].wrong
        assert told[0].cost == "It read about 0.07 mm tight."
        assert "pressed" in told[1].wrong

    def test_an_untouched_run_has_no_moments(self, pump):
        assert debrief(pump.setup, []).moments == ()


def test_actions_survive_their_documents_and_replay_is_the_run(pump):
    pump.to_fire(1).do("rock").do("loosen", valve=1).do("set", valve=1, leaves_um=[250])
    pump.do("tighten", valve=1, torque_nm=22)
    pump.do("look", at="marks")
    written = [read_action(json.loads(json.dumps(write_action(one)))) for one in pump.actions]
    assert written == pump.actions
    state, seen = replay(pump.setup, written)
    assert state == pump.state
    assert seen[-1] == pump.seen
