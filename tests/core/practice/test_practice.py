"""The practice engine: what a hand feels, what nuts, screws and shims do, how it ends."""

import json

import pytest

from tests.core.practice.conftest import Bench, shelf_engine
from valvetrain.document import DocumentError
from valvetrain.practice import (
    Fault,
    FaultKind,
    RefusedActionError,
    SetupError,
    Start,
    advise,
    asks,
    deal_setup,
    debrief,
    first_start,
    read_action,
    replay,
    write_action,
)

WORDS = ("no", "tight", "drag", "free")


def feels(bench, valve, **how):
    """Feels over every single leaf of the box, from the thickest."""
    leaves = sorted((leaf for leaf in bench.setup.leaves_um if leaf <= 1000), reverse=True)
    return [(leaf, bench.feel(valve, leaf, **how)) for leaf in leaves]


class TestFeeling:
    def test_leaves_go_from_not_going_to_free(self, pump):
        pump.to_fire(1)
        order = [WORDS.index(feel) for _, feel in feels(pump, 1)]
        assert order[0] == 0
        assert order[-1] == 3
        assert order == sorted(order)

    def test_a_leaf_of_the_gap_drags(self, pump):
        pump.to_fire(1)
        clearance_um = pump.seat(1).clearance_mm * 1000
        dragging = [leaf for leaf, feel in feels(pump, 1) if feel == "drag"]
        assert dragging
        assert all(abs(leaf - clearance_um) < 35 for leaf in dragging)

    def test_on_the_ramp_it_reads_small_by_the_lift(self, pump):
        """gap = max(0, c - l): the physics of docs/engine-file.md."""
        engine = pump.setup.engine
        pump.to_fire(1)
        on_the_heel = max(leaf for leaf, feel in feels(pump, 1) if feel in ("drag", "free"))
        role = engine.valve[1].role
        opens = engine.fire_deg[1] + engine.events[role].opens_cycle_deg
        pump.to((opens - engine.ramp_deg * 0.4) % 720)
        goes = [leaf for leaf, feel in feels(pump, 1) if feel in ("drag", "free")]
        assert max(goes, default=0) < on_the_heel - 40

    def test_on_the_lobe_nothing_goes_in(self, pump):
        engine = pump.setup.engine
        middle = engine.events[engine.valve[1].role].middle_cycle_deg
        pump.to((engine.fire_deg[1] + middle) % 720)
        assert pump.feel(1, 30) == "no"
        pump.do("wiggle", valve=1)
        assert pump.seen.facts["play"] == "none"

    @pytest.mark.parametrize("how", [{"how": "skewed"}, {"how": "tip"}, {"pressing": True}])
    def test_bad_technique_reads_tight(self, pump, how):
        pump.to_fire(1)
        best = max(leaf for leaf, feel in feels(pump, 1) if feel in ("drag", "free"))
        worse = max(leaf for leaf, feel in feels(pump, 1, **how) if feel in ("drag", "free"))
        assert worse < best

    def test_a_stack_is_its_sum_and_a_little_more(self, pump):
        pump.to_fire(1)
        clearance_um = pump.seat(1).clearance_mm * 1000
        leaf = round(clearance_um / 10) * 10 - 10
        assert pump.feel(1, leaf - 60, 60) in ("drag", "tight")
        assert pump.seen.facts["total_um"] == leaf

    def test_a_worn_pad_reads_less_than_the_gap(self):
        worn, sound = Bench(1, faults=[("worn-pad", 1)]), Bench(1)
        for bench in (worn, sound):
            bench.to_fire(1)
        assert worn.seat(1).clearance_mm == sound.seat(1).clearance_mm
        goes = [
            max(leaf for leaf, feel in feels(bench, 1) if feel in ("drag", "free"))
            for bench in (worn, sound)
        ]
        assert goes[0] < goes[1]

    def test_a_warm_engine_reads_small_and_feels_warm(self):
        warm = Bench(1, faults=[("warm-engine", None)])
        warm.to_fire(1).do("look", at="engine")
        assert "warm" in warm.seen.says
        goes = max(leaf for leaf, feel in feels(warm, 1) if feel in ("drag", "free"))
        assert goes < warm.seat(1).clearance_mm * 1000 - 25

    def test_a_brake_rocker_is_pushed_back_first(self):
        bench = Bench(12)
        brake = next(v.number for v in bench.setup.engine.valves if v.role == "brake")
        bench.to_fire(brake)
        hanging = bench.feel(brake, 4000)
        bench.do("push", valve=brake)
        clearance = bench.seat(brake).clearance_mm
        assert hanging == "no"
        assert bench.feel(brake, 4000) == ("no" if clearance < 3.97 else bench.seen.facts["feel"])
        assert bench.seat(brake).detent
        bench.do("turn", by_deg=5)
        assert not bench.seat(brake).detent

    def test_the_same_place_feels_the_same_again(self):
        one, other = Bench(1), Bench(1)
        for bench in (one, other):
            bench.to_fire(1)
        assert feels(one, 1) == feels(other, 1)


class TestLooking:
    def test_labels_keep_the_letters_that_are_stamped(self, pump):
        ignition = next(m for m in pump.setup.engine.marks if m.means == "ignition")
        pump.to(ignition.deg).do("look", at="marks")
        assert f"rank mark {ignition.label} at its pointer" in pump.seen.says
        assert pump.seen.says[0].isupper()

    def test_no_mark_in_sight(self, pump):
        pump.to(90.0).do("look", at="marks")
        assert pump.seen.says == "No mark is near the pointer."

    def test_a_cam_half_a_tooth_late_shows_at_its_mark(self):
        late, right = Bench(4, faults=[("half-tooth", None)]), Bench(4)
        assert late.state.cam_deg == pytest.approx((right.state.cam_deg - 9) % 720)

    def test_rocking_in_overlap_opens_the_intake_on_and_the_exhaust_back(self, pump):
        """Forward opens the intake, back the exhaust (common practice, and the events)."""
        engine = pump.setup.engine
        pump.to((engine.fire_deg[1] + 360) % 720).do("rock")
        roles = {valve.number: valve.role.value for valve in engine.valves_of(1)}
        on = {roles[v] for v in pump.seen.facts["opens_on"] if v in roles}
        back = {roles[v] for v in pump.seen.facts["opens_back"] if v in roles}
        assert (on, back) == ({"intake"}, {"exhaust"})

    def test_the_rotor_points_at_the_cylinder_that_fires(self, pump):
        for cylinder, fire_deg in pump.setup.engine.fire_deg.items():
            pump.to(fire_deg).do("look", at="rotor")
            assert pump.seen.facts["cylinder"] == cylinder

    def test_lobes_tell_both_clear_at_firing_only(self, pump):
        pump.to_fire(1).do("look", at="lobes")
        told = dict(part.split(": ") for part in pump.seen.says[:-1].lower().split("; "))
        assert told["cylinder 1"] == "both lobes clear of their followers"
        assert "pressing" in told["cylinder 4"] or "touching" in told["cylinder 4"]


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
        ({"do": "push", "valve": 1}, "no brake rocker"),
        ({"do": "cams", "out": True}, "Nothing on this engine"),
        ({"do": "cover", "on": False}, "off already"),
        ({"do": "lock-crank", "locked": False}, "free already"),
    ],
)
def test_refusals_change_nothing(pump, document, says):
    before = pump.state
    with pytest.raises(RefusedActionError, match=says):
        pump.do(document.pop("do"), **document)
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
            ({"clearance_mm": 0.6}, Start.TICKS),
            ({"clearance_mm": -0.02}, Start.HARD),
            ({"nut_tight": False}, Start.DAMAGE),
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
        assert result.start is Start.DAMAGE
        assert "turning tool" in result.consequences[0].says

    def test_most_cylinders_without_compression_will_not_run(self, pump):
        seats = tuple(seat._replace(clearance_mm=-0.1) for seat in pump.state.seats)
        state = pump.state._replace(seats=seats, tool_on=False, tools_counted=True, closed=True)
        assert first_start(pump.setup, state).start is Start.DEAD

    def test_a_tight_valve_is_quiet_and_burns_later(self, pump):
        seats = (pump.state.seats[0]._replace(clearance_mm=0.05), *pump.state.seats[1:])
        state = pump.state._replace(seats=seats, tool_on=False, tools_counted=True, closed=True)
        result = first_start(pump.setup, state)
        assert result.start is Start.QUIET
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


@pytest.mark.parametrize(
    ("engine", "kind", "valve", "says"),
    [
        (1, "worn-stamp", 1, "has no shim"),
        (1, "wrong-setting", 99, "none 99"),
        (1, "half-tooth", 1, "whole engine"),
        (5, "seized-nut", 1, "no adjusting screw"),
        (2, "bent-push-rod", 1, "no push rod"),
        (11, "receding-valve", 1, "adjusts itself"),
    ],
)
def test_faults_that_an_engine_cannot_have(engine, kind, valve, says):
    with pytest.raises(SetupError, match=says):
        deal_setup(shelf_engine(engine), 1, [Fault(FaultKind(kind), valve)])


def test_boxes():
    for box in ("metric", "thou", "mixed", "stepped", "angled"):
        assert deal_setup(shelf_engine(1), 1, box=box).leaves_um
    with pytest.raises(SetupError, match="not known"):
        deal_setup(shelf_engine(1), 1, box="golden")


def test_dealt_within_spec_but_for_the_faults():
    for number in range(1, 17):
        for seed in range(5):
            setup = deal_setup(shelf_engine(number), seed)
            for valve, hidden in zip(setup.engine.valves, setup.hidden, strict=True):
                spec = setup.engine.clearance[valve.role]
                assert float(spec.low_mm) <= hidden.clearance_mm <= float(spec.high_mm)


@pytest.mark.parametrize("kind", ["wrong-setting", "receding-valve"])
def test_dealt_out_of_spec_where_planted(kind):
    for seed in range(40):
        setup = deal_setup(shelf_engine(3), seed, [Fault(FaultKind(kind), 1)])
        spec = setup.engine.clearance[setup.engine.valve[1].role]
        clearance = setup.hidden[0].clearance_mm
        assert clearance >= 0
        assert clearance < float(spec.low_mm) or clearance > float(spec.high_mm)


def test_actions_survive_their_documents_and_replay_is_the_run(pump):
    pump.to_fire(1).do("rock").do("loosen", valve=1).do("set", valve=1, leaves_um=[250])
    pump.do("tighten", valve=1, torque_nm=22)
    pump.do("look", at="marks")
    written = [read_action(json.loads(json.dumps(write_action(one)))) for one in pump.actions]
    assert written == pump.actions
    state, seen = replay(pump.setup, written)
    assert state == pump.state
    assert seen[-1] == pump.seen
