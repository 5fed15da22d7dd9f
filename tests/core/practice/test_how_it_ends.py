"""Closing up and the first start, coaching on the way, the debrief after it."""

import json
from decimal import Decimal

import pytest
from scipy.integrate import quad

from tests.core.conftest import engine_document
from tests.core.practice.conftest import Bench
from valvetrain.engine_file import read_engine
from valvetrain.lobe import lobe_of
from valvetrain.practice import (
    Outcome,
    RefusedActionError,
    advise,
    asks,
    deal_setup,
    debrief,
    first_start,
    first_state,
    read_action,
    replay,
    write_action,
)
from valvetrain.practice.closing import air_share


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

    def test_a_bike_left_in_gear_lurches(self):
        trail = Bench(13)
        told = first_start(trail.setup, trail.state)
        assert "still in gear" in told.consequences[0].says
        assert trail.do("tool-off").seen.says.startswith("Out of gear")

    def test_a_tool_on_the_crank_is_damage(self, pump):
        result = first_start(pump.setup, pump.state)
        assert result.start is Outcome.DAMAGE
        assert "turning tool" in result.consequences[0].says

    def test_most_cylinders_without_compression_will_not_run(self, pump):
        seats = tuple(seat._replace(clearance_mm=-0.1) for seat in pump.state.seats)
        state = pump.state._replace(seats=seats, tool_on=False, tools_counted=True, closed=True)
        assert first_start(pump.setup, state).start is Outcome.DEAD

    def test_a_tight_valve_is_quiet_and_burns_later(self, pump):
        seats = (pump.state.seats[0]._replace(clearance_mm=0.12), *pump.state.seats[1:])
        state = pump.state._replace(seats=seats, tool_on=False, tools_counted=True, closed=True)
        result = first_start(pump.setup, state)
        assert result.start is Outcome.QUIET
        assert any("Valve 1: Tight" in line for line in result.later)


class TestFirstStart:
    """Every consequence in full, worst first, on an engine that is otherwise as it should be."""

    @pytest.fixture
    def good(self, pump):
        """The pump engine, closed up, with every valve in the middle of its spec."""
        seats = tuple(
            seat._replace(clearance_mm=float(pump.setup.engine.clearance[valve.role].middle_mm))
            for valve, seat in zip(pump.setup.engine.valves, pump.state.seats, strict=True)
        )
        state = pump.state._replace(seats=seats, tool_on=False, tools_counted=True, closed=True)
        return lambda **change: first_start(pump.setup, state._replace(**change))

    @pytest.fixture
    def with_valve(self, good, pump):
        """The same with one valve otherwise."""

        def start(valve, **change):
            seats = list(pump.state.seats)
            for place, one in enumerate(pump.setup.engine.valves):
                middle_mm = float(pump.setup.engine.clearance[one.role].middle_mm)
                seats[place] = seats[place]._replace(clearance_mm=middle_mm)
            place = pump.setup.place[valve]
            seats[place] = seats[place]._replace(**change)
            return good(seats=tuple(seats))

        return start

    def test_nothing_to_tell(self, good):
        assert good() == (Outcome.QUIET, "It starts at once and runs quietly.", (), ())

    @pytest.mark.parametrize(
        ("change", "start", "headline", "says"),
        [
            ({"tool_on": True}, Outcome.DAMAGE, "It is stopped at once: something was damaged.",
             "The turning tool was still on the crank nut and was thrown off."),
            ({"crank_locked": True}, Outcome.DAMAGE,
             "It is stopped at once: something was damaged.",
             "The crank was still locked: its holding tool was torn off."),
            ({"tools_counted": False}, Outcome.QUIET, "It starts at once and runs quietly.",
             "The tools were not counted: nobody knows what lies inside."),
            ({"closed": False}, Outcome.QUIET, "It starts at once and runs quietly.",
             "The cover was off: oil is all over the bench."),
            ({"cams_out": True}, Outcome.DEAD, "It will not run.", "The cams were still out."),
            ({"cam_late_deg": -30.0}, Outcome.DAMAGE,
             "It is stopped at once: something was damaged.",
             "The cams stood 30° off: valves met pistons."),
            ({"cam_late_deg": 12.0}, Outcome.HARD, "It starts hard and runs badly.",
             "The cams stood 12° off."),
        ],
    )  # fmt: skip
    def test_the_whole_engine(self, good, change, start, headline, says):
        assert good(**change)[:3] == (start, headline, ((start, says, None),))

    def test_worst_comes_first(self, good):
        told = good(closed=False, tool_on=True, tools_counted=False, cams_out=True)
        order = [Outcome.DAMAGE, Outcome.DEAD, Outcome.QUIET, Outcome.QUIET]
        assert [one.start for one in told.consequences] == order

    def test_a_loose_nut(self, with_valve):
        told = with_valve(3, nut_tight=False)
        says = "The lock nut of valve 3 was loose: its rocker came adrift."
        assert told.consequences == ((Outcome.DAMAGE, says, 3),)

    def test_above_the_spec_it_ticks_by_so_much(self, with_valve, pump):
        # By hand: the spec's upper limit and 0.03 mm are still quiet; 0.08 above it ticks.
        high_mm = float(pump.setup.engine.clearance[pump.setup.engine.valve[1].role].high_mm)
        told = with_valve(1, clearance_mm=high_mm + 0.08)
        assert told.consequences == ((Outcome.TICKS, "Valve 1 ticks: 0.08 mm above its spec.", 1),)
        assert with_valve(1, clearance_mm=high_mm + 0.03).start is Outcome.QUIET

    def test_at_the_limits_of_the_spec_nothing_comes_later(self, with_valve, pump):
        spec = pump.setup.engine.clearance[pump.setup.engine.valve[1].role]
        assert with_valve(1, clearance_mm=float(spec.low_mm)).later == ()
        assert with_valve(1, clearance_mm=float(spec.high_mm)).later == ()

    def test_a_part_that_is_missing_has_no_effect_of_a_gap(self, with_valve):
        assert with_valve(1, clearance_mm=2.0).later == ()
        (told,) = with_valve(1, clearance_mm=1.99).later
        assert told.startswith("Valve 1: Loose: opens ")
        assert ". " in told, "sentences stand apart"

    def test_no_clearance_seats_cold_and_not_once_it_is_warm(self, with_valve):
        """An exhaust grows by 0.07 mm (common practice)."""
        told = with_valve(1, clearance_mm=0.0)
        assert told.start is Outcome.HARD
        assert "Once it is warm valve 1 is held open" in told.consequences[0].says
        assert with_valve(1, clearance_mm=0.065).start is Outcome.HARD
        assert with_valve(1, clearance_mm=0.075).start is Outcome.QUIET

    def test_what_is_measured_hot_is_not_held_open_by_its_warmth(self):
        bench = Bench(7)
        assert bench.setup.engine.measured == "hot"
        seats = (bench.state.seats[0]._replace(clearance_mm=0.01), *bench.state.seats[1:])
        ready = {"tool_on": False, "tools_counted": True, "closed": True}
        told = first_start(bench.setup, bench.state._replace(seats=seats, **ready))
        assert told.start is Outcome.QUIET

    def test_three_millimetres_everywhere_are_no_engine_that_ticks(self, good, pump):
        """3 mm of the 8.4 mm of lift are gone, and so is much of the time: half of the area is left
        at the intake and half at the exhaust, and a quarter of the charge."""
        seats = tuple(seat._replace(clearance_mm=3.0) for seat in pump.state.seats)
        told = good(seats=seats)
        assert told.start is Outcome.DEAD
        assert "does not fire" in told.consequences[0].says

    def test_one_valve_far_too_loose_makes_its_cylinder_weak(self, with_valve):
        told = with_valve(1, clearance_mm=1.75)
        assert told.start is Outcome.HARD
        assert [one.start for one in told.consequences] == [Outcome.HARD, Outcome.TICKS]
        assert "Cylinder 1 is weak" in told.consequences[0].says
        assert "hammers" in told.consequences[1].says
        assert with_valve(1, clearance_mm=0.8).start is Outcome.TICKS

    def test_what_a_valve_lets_through_is_the_area_under_its_lift(self, pump):
        """Against SciPy's quadrature over the cycle."""
        engine = pump.setup.engine
        lobe = lobe_of(engine, engine.valve[1].role)
        for gap_mm in (0.1, 0.35, 1.0, 3.0, 20.0):
            area, nominal = (
                quad(lambda deg, c=c: max(0.0, lobe.lift_at_mm(deg) - c), 0, 720, limit=400)[0]
                for c in (gap_mm, lobe.clearance_mm)
            )
            share = air_share(engine, engine.valve[1], gap_mm)
            assert share == pytest.approx(area / nominal, abs=1e-3)

    def test_a_cylinder_without_compression_names_its_valves(self, good, pump):
        seats = list(pump.state.seats)
        for place, one in enumerate(pump.setup.engine.valves):
            middle_mm = float(pump.setup.engine.clearance[one.role].middle_mm)
            held = one.cylinder <= 2
            seats[place] = seats[place]._replace(clearance_mm=-0.1 if held else middle_mm)
        told = good(seats=tuple(seats))
        # Half of four cylinders still fire: it is hard to start, and not dead.
        assert told.consequences == (
            (Outcome.HARD, "Cylinder 1 has no compression: valves 1, 2 are held open.", 1),
            (Outcome.HARD, "Cylinder 2 has no compression: valves 3, 4 are held open.", 3),
        )

    @pytest.mark.parametrize(
        ("change", "later"),
        [
            ({"torque_share": 0.69}, "its lock nut is under its torque and will work loose."),
            ({"stretched": True}, "its screw was stretched and has to be renewed."),
        ],
    )
    def test_what_comes_later_of_a_screw(self, with_valve, change, later):
        assert with_valve(5, **change).later == (f"Valve 5: {later}",)
        assert with_valve(5, torque_share=0.7).later == ()

    def test_a_shim_left_out_or_fitted_upside_down(self):
        bench = Bench(9)
        ready = {"tool_on": False, "tools_counted": True, "closed": True}

        def start(valve, **change):
            place = bench.setup.place[valve]
            seats = list(bench.state.seats)
            seats[place] = seats[place]._replace(**change)
            return first_start(bench.setup, bench.state._replace(seats=tuple(seats), **ready))

        (told,) = start(4, shim_um=None, clearance_mm=3.0).consequences
        assert told == (Outcome.DAMAGE, "Valve 4 had no shim in.", 4)
        assert start(4).consequences == ()
        up = "Valve 4: the printed face is up, and wears off under the cam."
        assert start(4, face_up=True).later == (up,)
        aside = "Valve 4: the shim of 2.350 mm is left on the bench."
        assert start(4, aside_um=2350).later == (aside,)

    def test_a_valve_that_sets_itself_is_passed_over_and_the_next_is_told(self):
        mixed = {"intake": {"kind": "hydraulic"}, "exhaust": {"kind": "screw", "pitch_mm": 1}}
        engine = read_engine(engine_document([1, 3, 4, 2], adjuster=mixed))
        setup = deal_setup(engine, 7, ())
        state = first_state(setup)
        seats = tuple(seat._replace(clearance_mm=1.5) for seat in state.seats)
        ready = {"tool_on": False, "tools_counted": True, "closed": True}
        told = first_start(setup, state._replace(seats=seats, **ready))
        screws = {valve.number for valve in engine.valves if valve.role == "exhaust"}
        assert {one.valve for one in told.consequences} == screws
        assert len(told.later) == len(screws)


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
        for _ in range(30):
            advice = advise(pump.setup, 1, pump.run)
            if advice.leaves_mm is None:
                break
            pump.feel(1, *(int(leaf * 1000) for leaf in advice.leaves_mm))
        assert advice.reading.verdict in ("within", "undecided")
        assert abs(float(advice.reading.low_mm) - pump.seat(1).clearance_mm) < 0.03
        pump.do("loosen", valve=1)
        told = advise(pump.setup, 1, pump.run)
        assert told.reading.high_mm is None

    def test_a_leaf_off_the_heel_proves_nothing_and_it_is_said(self, pump):
        engine = pump.setup.engine
        middle = engine.events[engine.valve[1].role].middle_cycle_deg
        pump.to((engine.fire_deg[1] + middle) % 720)
        assert pump.feel(1, 320) == "no"
        told = advise(pump.setup, 1, pump.run)
        assert told.reading.verdict == "undecided"
        assert told.leaves_mm is None
        assert "proves nothing" in told.says

    def test_turning_the_crank_breaks_the_chain_of_proofs(self, pump):
        pump.to_fire(1)
        pump.feel(1, 200)
        at_the_place = advise(pump.setup, 1, pump.run)
        assert at_the_place.reading.low_mm == Decimal("0.2")
        pump.do("turn", by_deg=20)
        told = advise(pump.setup, 1, pump.run)
        assert (told.reading.low_mm, told.reading.high_mm) == (0, None)


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
        assert "stood open there" in wrong[0].cost
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
