"""Bridges that tip, brake rockers' running range, false marks and a decompressor left in."""

from dataclasses import replace

import pytest

from tests.core.practice.conftest import Bench
from valvetrain.practice import (
    FaultKind,
    PlantedFault,
    RefusedActionError,
    SetupError,
    advise,
    asks,
    deal_setup,
    debrief,
    read_action,
)
from valvetrain.practice.evidence import history, stints

BRAKE_SIX = 12
BRAKE = 3
"""The brake rocker of cylinder 1; its spec is 3.95 to 4.05, running 3.85 to 4.15."""


class TestBridges:
    def test_a_leaf_under_one_side_goes_in_up_to_twice_the_gap(self):
        """The lever: a leaf t at one end lifts the middle by t / 2 (geometry)."""
        tug = Bench(2, bridged=True).to_fire(1)
        gap_um = tug.seat(1).clearance_mm * 1000
        straight = [leaf for leaf in tug.setup.leaves_um if tug.feel(1, leaf) in ("free", "drag")]
        one_side = [
            leaf
            for leaf in tug.setup.leaves_um
            if tug.feel(1, leaf, how="one-side") in ("free", "drag")
        ]
        assert max(straight) == pytest.approx(gap_um, abs=20)
        assert max(one_side) == pytest.approx(2 * gap_um, abs=50)

    def test_what_is_set_on_one_side_is_half_of_what_was_wanted(self):
        tug = Bench(2, bridged=True).to_fire(1).do("loosen", valve=1)
        tug.do("set", valve=1, leaves_um=[300], how="one-side")
        assert tug.seat(1).clearance_mm == pytest.approx(0.15, abs=0.012)
        tug.do("set", valve=1, leaves_um=[300])
        assert tug.seat(1).clearance_mm == pytest.approx(0.306, abs=0.012)

    def test_an_engine_without_bridges_has_no_other_side(self):
        pump = Bench(1).to_fire(1)
        with pytest.raises(RefusedActionError, match="no bridge"):
            pump.feel(1, 250, how="one-side")

    def test_it_is_asked_about_before_it_is_set_and_before_it_is_written(self):
        tug = Bench(2, bridged=True, level="prompted").to_fire(1)
        one_side = {"valve": 1, "leaves_um": [300], "how": "one-side"}
        written = read_action({"do": "write", "valve": 1, "column": "first", "text": "0.30"})
        # A finger that pushes a leaf in comes to the near side first: nothing is wrong yet.
        assert asks(tug.setup, tug.state, read_action({"do": "try", **one_side})) is None
        tug.feel(1, 300, how="one-side")
        assert "both sides of the bridge" in asks(tug.setup, tug.state, written)
        tug.feel(1, 300)
        assert asks(tug.setup, tug.state, written) is None
        tug.do("loosen", valve=1)
        set_so = read_action({"do": "set", **one_side})
        assert "both sides of the bridge" in asks(tug.setup, tug.state, set_so)

    def test_what_stayed_on_one_side_is_told_after(self):
        tug = Bench(2, bridged=True).to_fire(1)
        tug.feel(1, 300, how="one-side")
        (moment,) = [one for one in debrief(tug.setup, tug.actions).moments if one.wrong]
        assert "one side of the bridge" in moment.wrong

    @pytest.mark.parametrize("leaf_um", [50, 250, 400, 450, 500, 1000])
    def test_what_is_pushed_on_at_once_is_one_push(self, leaf_um):
        """Nothing is remarked, and the figure rests on the far side alone, as if the near side had
        not been felt by itself: half of these go in there and not beyond."""
        pushed, straight = (Bench(2, bridged=True).to_fire(1) for _ in range(2))
        pushed.feel(1, leaf_um, how="one-side")
        pushed.feel(1, leaf_um)
        straight.feel(1, leaf_um)
        told = debrief(pushed.setup, pushed.actions)
        assert not [one.wrong for one in told.moments if one.wrong]
        (one, *rest), (other, *_) = (
            stints(history(bench.setup, bench.run), 1)[-1].felt for bench in (pushed, straight)
        )
        assert rest == []
        assert one.leaf == other.leaf

    def test_a_leaf_that_stays_out_on_one_side_stays_out_of_both(self):
        tug = Bench(2, bridged=True).to_fire(1)
        assert tug.feel(1, 1000, how="one-side") == "no"
        assert not [one.wrong for one in debrief(tug.setup, tug.actions).moments if one.wrong]
        assert tug.feel(1, 1000) == "no"


class TestRunningRange:
    @pytest.fixture
    def set_anew(self):
        """A brake rocker set to 4.00 with its nut tight again, at the place for its cylinder."""
        hauler = Bench(BRAKE_SIX, level="shown").to(600.0)
        hauler.do("push", valve=BRAKE).do("loosen", valve=BRAKE)
        hauler.do("set", valve=BRAKE, leaves_um=[4000]).do("tighten", valve=BRAKE, torque_nm=30)
        return hauler

    def left_out(self, bench):
        told = debrief(bench.setup, bench.actions).remarks
        return tuple(one.says for one in told if one.kind == "running-not-proved")

    def test_a_small_stack_must_go_and_a_large_one_must_not(self, set_anew):
        (said,) = self.left_out(set_anew)
        assert "3.85 mm must go, 4.15 mm must not" in said
        assert set_anew.feel(BRAKE, 3000, 850, gap="running") in ("free", "drag")
        assert self.left_out(set_anew) != ()
        assert set_anew.feel(BRAKE, 4000, 150, gap="running") in ("tight", "no")
        assert self.left_out(set_anew) == ()

    def test_leaves_at_the_stop_prove_nothing_of_it(self, set_anew):
        """The lash is set at the stop; the running gap is another one (common practice)."""
        set_anew.feel(BRAKE, 3000, 850)
        set_anew.feel(BRAKE, 4000, 150)
        assert self.left_out(set_anew) != ()

    @pytest.mark.parametrize("seed", range(12))
    def test_a_sound_brake_is_not_called_weak(self, seed):
        hauler = Bench(BRAKE_SIX, seed=seed)
        later = debrief(hauler.setup, []).result.later
        assert not any("brake" in line for line in later)

    def test_one_rocker_proves_nothing_of_another(self):
        hauler = Bench(BRAKE_SIX)
        brakes = [h for h in hauler.setup.hidden if h.running_mm is not None]
        off = {round(h.running_mm - h.clearance_mm, 3) for h in brakes}
        assert len(brakes) == len(off) == 6

    def test_a_worn_brake_is_weak_with_its_lash_right(self):
        hauler = Bench(BRAKE_SIX, faults=[("worn-brake", BRAKE)])
        told = debrief(hauler.setup, [])
        spec = hauler.setup.engine.clearance[hauler.setup.engine.valve[BRAKE].role]
        (truth,) = (one for one in told.valves if one.valve == BRAKE)
        assert spec.low_mm <= truth.found_mm <= spec.high_mm
        assert truth.running_mm > spec.running_mm[1]
        assert any("its brake works weakly" in line for line in told.result.later)

    def test_only_brakes_have_one(self):
        hauler = Bench(BRAKE_SIX).to(600.0)
        other = next(v.number for v in hauler.setup.engine.valves if v.role == "intake")
        with pytest.raises(RefusedActionError, match="no running gap"):
            hauler.feel(other, 300, gap="running")

    def test_stacks_outside_the_range_prove_nothing(self, set_anew):
        """That 3.60 goes and 4.40 does not is true of many a gap outside 3.85 to 4.15."""
        assert set_anew.feel(BRAKE, 3000, 600, gap="running") in ("free", "drag")
        set_anew.feel(BRAKE, 4000, 150, gap="running")
        assert self.left_out(set_anew) != ()
        set_anew.do("tighten", valve=BRAKE, torque_nm=30)
        assert set_anew.feel(BRAKE, 4000, 400, gap="running") in ("tight", "no")
        set_anew.feel(BRAKE, 3000, 850, gap="running")
        assert self.left_out(set_anew) != ()

    def test_another_change_wants_it_proved_again(self, set_anew):
        set_anew.feel(BRAKE, 3000, 850, gap="running")
        set_anew.feel(BRAKE, 4000, 150, gap="running")
        set_anew.do("tighten", valve=BRAKE, torque_nm=31)
        assert self.left_out(set_anew) != ()

    def test_nothing_is_missed_where_nothing_was_set(self):
        hauler = Bench(BRAKE_SIX).to(600.0)
        hauler.feel(BRAKE, 4000)
        assert self.left_out(hauler) == ()

    def test_the_stacks_are_shown_one_after_the_other(self, set_anew):
        def advice():
            return advise(set_anew.setup, BRAKE, set_anew.run)

        first = advice()
        assert float(sum(first.leaves_mm)) == pytest.approx(3.85)
        set_anew.feel(BRAKE, 3000, 850, gap="running")
        then = advice()
        assert float(sum(then.leaves_mm)) == pytest.approx(4.15)
        set_anew.feel(BRAKE, 4000, 150, gap="running")
        assert advice().leaves_mm is None
        assert "proved" in advice().says

    def test_outside_its_range_the_brake_is_told_of(self, set_anew):
        set_anew.do("loosen", valve=BRAKE).do("screw", valve=BRAKE, by_deg=-120)
        set_anew.do("tighten", valve=BRAKE, torque_nm=30)
        later = debrief(set_anew.setup, set_anew.actions).result.later
        assert any("its brake works weakly" in line for line in later)


class TestFalseMark:
    def test_the_mark_says_dead_centre_where_the_spark_comes(self):
        true, false = Bench(1), Bench(1, faults=[("false-mark", None)])
        tdc = next(mark for mark in true.setup.marks if mark.means == "tdc")
        found = next(mark for mark in false.setup.marks if mark.label == tdc.label)
        assert found.deg == (tdc.deg - 18) % 360
        false.to(found.deg).do("look", at="marks")
        assert f"mark {tdc.label} at its pointer" in false.seen.says

    def test_only_what_marks_dead_centre_lies(self):
        true, false = Bench(1), Bench(1, faults=[("false-mark", None)])
        others = [mark for mark in true.setup.marks if mark.means == "ignition"]
        assert others
        assert [mark for mark in false.setup.marks if mark.means == "ignition"] == others

    def test_an_engine_without_such_a_mark_cannot_have_it(self):
        bare = Bench(1)
        with pytest.raises(SetupError, match="no mark of a dead centre"):
            deal_setup(
                replace(bare.setup.engine, marks=()), 1, [PlantedFault(FaultKind.FALSE_MARK)]
            )


class TestDecompressor:
    @pytest.fixture
    def held(self):
        return Bench(1, faults=[("decompressor", None)])

    def exhaust(self, bench):
        return next(v.number for v in bench.setup.engine.valves_of(1) if v.role == "exhaust")

    def test_it_holds_the_exhaust_off_over_firing_tdc_and_lets_go_after(self, held):
        valve = self.exhaust(held)
        held.to_fire(valve).do("wiggle", valve=valve)
        assert held.seen.facts["play"] == "none"
        held.do("turn", by_deg=45).do("wiggle", valve=valve)
        assert held.seen.facts["play"] == "loose"

    def test_the_intake_is_left_alone(self, held):
        intake = next(v.number for v in held.setup.engine.valves_of(1) if v.role == "intake")
        held.to_fire(intake).do("wiggle", valve=intake)
        assert held.seen.facts["play"] == "loose"

    def test_what_is_set_on_the_bump_is_told_as_off_the_heel(self, held):
        valve = self.exhaust(held)
        held.to_fire(valve).do("loosen", valve=valve).do("set", valve=valve, leaves_um=[350])
        wrongs = [one.wrong or "" for one in debrief(held.setup, held.actions).moments]
        assert any("not on its heel" in wrong for wrong in wrongs)
        assert held.seat(valve).clearance_mm > 0.6

    def test_an_engine_with_one_of_its_own_cannot_be_given_another(self):
        for number in range(1, 17):
            if Bench(number).setup.engine.decompressor is not None:
                with pytest.raises(SetupError, match="one of its own"):
                    Bench(number, faults=[("decompressor", None)])
                return
        pytest.fail("no engine of the shelf has a decompressor")
