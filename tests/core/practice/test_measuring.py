"""What a hand feels and an eye sees: leaves, rockers, marks, lobes."""

import pytest

from tests.core.practice.conftest import Bench
from valvetrain.practice import RefusedActionError

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

    @pytest.mark.parametrize(
        ("leaves_um", "says"),
        [
            ((300,), "0.3 mm: drags."),
            ((30,), "0.03 mm: goes in freely."),
            ((900,), "0.9 mm: does not go in."),
            ((250, 30), "0.28 mm: goes in freely."),
        ],
    )
    def test_a_try_says_what_went_in_and_how(self, pump, leaves_um, says):
        pump.to_fire(1)
        place = pump.setup.place[1]
        seats = list(pump.state.seats)
        seats[place] = seats[place]._replace(clearance_mm=0.31)
        pump.state = pump.state._replace(seats=tuple(seats))
        pump.feel(1, *leaves_um)
        assert pump.seen.says == says
        assert set(pump.seen.facts) == {"feel", "pull", "total_um"}
        assert pump.seen.facts["total_um"] == sum(leaves_um)

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

    @pytest.mark.parametrize(
        ("number", "action", "says"),
        [
            (1, {"do": "look", "at": "rotor"}, "no distributor"),
            (1, {"do": "look", "at": "lobes"}, "in the block, out of sight"),
            (5, {"do": "wiggle", "valve": 1}, "has a bucket: there is nothing to wiggle"),
        ],
    )
    def test_what_an_engine_has_not_got_is_not_looked_at(self, number, action, says):
        bench = Bench(number)
        with pytest.raises(RefusedActionError, match=says):
            bench.do(action.pop("do"), **action)

    def test_a_tappet_is_wiggled_by_its_name(self):
        mill = Bench(18)
        mill.to_fire(1).do("wiggle", valve=1)
        assert mill.seen.says.startswith("Tappet 1 ")

    def test_the_rotor_points_at_the_cylinder_that_fires(self):
        ferry = Bench(19)
        for cylinder, fire_deg in ferry.setup.engine.fire_deg.items():
            ferry.to(fire_deg).do("look", at="rotor")
            assert ferry.seen.facts["cylinder"] == cylinder

    def test_lobes_tell_both_clear_at_firing_only(self):
        ferry = Bench(19)
        ferry.to_fire(1).do("look", at="lobes")
        told = dict(part.split(": ") for part in ferry.seen.says[:-1].lower().split("; "))
        assert told["cylinder 1"] == "both lobes clear of their fingers"
        assert "pressing" in told["cylinder 4"] or "touching" in told["cylinder 4"]
