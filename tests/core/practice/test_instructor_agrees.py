"""Hard runs, each with what an instructor would say of it.

The engine is the pump (demo engine 1, four cylinders, screws) where nothing else is said: intake
0.22 to 0.28, exhaust 0.32 to 0.38, nut to 22 N·m. What counts as good work is common practice.
"""

import pytest

from tests.core.practice.conftest import shelf_engine
from valvetrain.engine_file import write_engine
from valvetrain.heel import valve_margin_deg
from valvetrain.practice import what_it_shows
from valvetrain.practice.boxes import metric_leaves, stacks
from valvetrain.practice.run_file import read_run, replay_file, write_replayed
from valvetrain.sequences import make_plan

CLOSE_UP = ({"do": "count-tools"}, {"do": "tool-off"}, {"do": "cover", "on": True}, {"do": "start"})


class Script:
    """A run written as a person would do it, on an engine whose true gaps are given."""

    def __init__(self, number=1, gaps=None, **more):
        self.engine = shelf_engine(number)
        right = {
            str(v.number): float(self.engine.clearance[v.role].middle_mm)
            for v in self.engine.valves
        }
        self.file = {
            "format": "edrix-run/1",
            "engine": write_engine(self.engine),
            "seed": 3,
            "start_deg": 0,
            "gaps_mm": right | (gaps or {}),
            **more,
        }
        self.at = 0.0
        self.actions = []

    def do(self, name, **fields):
        self.actions.append({"do": name, **fields})
        return self

    def to(self, crank_deg):
        ahead = (crank_deg - self.at) % 720
        self.at = crank_deg % 720
        return self.do("turn", by_deg=ahead) if ahead else self

    def to_place(self, valve):
        fires_deg = self.engine.fire_deg[self.engine.valve[valve].cylinder]
        if valve_margin_deg(self.engine, self.engine.valve[valve], fires_deg) >= 0:
            return self.to(fires_deg)
        stops = make_plan(self.engine, "lobe-away").stops
        return self.to(next(stop.crank_deg for stop in stops if valve in stop.valves))

    def leaf(self, valve):
        return round(float(self.engine.clearance[self.engine.valve[valve].role].middle_mm) * 1000)

    def measure(self, *valves, text=None, column="first"):
        """The leaves to either side of the gap, as a person finds them: up until one refuses."""
        for valve in valves or self.engine.valve:
            true_um = round(self.file["gaps_mm"][str(valve)] * 100) * 10
            self.to_place(valve)
            for leaf in (
                max((one for one in metric_leaves() if one < true_um), default=None),
                min(one for one in metric_leaves() if one > true_um),
            ):
                if leaf is not None:
                    self.do("try", valve=valve, leaves_um=[leaf])
            written = text or f"{true_um / 1000:.2f}"
            self.do("write", valve=valve, column=column, text=written)
        return self

    def adjust(self, valve, *, torque_nm=22, leaf=None):
        self.to_place(valve)
        leaf = leaf or self.leaf(valve)
        self.do("loosen", valve=valve).do("set", valve=valve, leaves_um=[leaf])
        return self.do("tighten", valve=valve, torque_nm=torque_nm)

    def recheck(self, *valves):
        self.do("turn", by_deg=720)
        for valve in valves:
            self.to_place(valve).do("try", valve=valve, leaves_um=[self.leaf(valve) - 30])
        return self

    def close_up(self):
        self.actions += CLOSE_UP
        return self

    def told(self):
        self.file["actions"] = self.actions
        answer = write_replayed(replay_file(read_run(self.file)))
        refused = [one for one in answer["observations"] if one["refused"]]
        assert refused == [], refused
        return answer["debrief"]


def kinds(told):
    return {one["kind"] for one in told["remarks"]}


def remark(told, kind):
    (found,) = [one for one in told["remarks"] if one["kind"] == kind]
    return found


def test_a_careful_run_leaves_nothing_to_add():
    told = Script(gaps={"3": 0.16}).measure().adjust(3).recheck(3).close_up().told()
    assert (told["outcome"], told["passed"]) == ("runs-quietly", True)
    assert kinds(told) == set()
    assert "Only what was out of its spec was changed." in told["done_well"]
    assert "Every figure written rests on a leaf." in told["done_well"]


def test_a_run_that_was_broken_off_is_not_told_that_a_tool_flew():
    told = Script(gaps={"3": 0.16}).measure().adjust(3).recheck(3).told()
    assert (told["outcome"], told["passed"]) == ("runs-quietly", True)
    assert kinds(told) == set()
    closed = Script().measure().do("cover", on=True).told()
    assert kinds(closed) == {"tool-left-on", "tools-not-counted"}


def test_nobody_measured_anything_and_the_engine_runs_all_the_same():
    told = Script().close_up().told()
    assert (told["outcome"], told["passed"]) == ("runs-quietly", False)
    assert remark(told, "unmeasured")["valves"] == list(range(1, 9))
    assert not any("measured" in said for said in told["done_well"])


def test_five_figures_are_made_up():
    run = Script().measure(1, 2, 3)
    for valve in (4, 5, 6, 7, 8):
        run.do("write", valve=valve, column="first", text="0.25")
    told = run.close_up().told()
    made_up = [one for one in told["remarks"] if one["kind"] == "unsupported-figure"]
    assert [one["valves"] for one in made_up] == [[4], [5], [6], [7], [8]]
    assert all("no leaf was tried there" in one["says"] for one in made_up)
    assert (
        made_up[0]["step"]
        == run.actions.index({"do": "write", "valve": 4, "column": "first", "text": "0.25"}) + 1
    )
    assert not told["passed"]


def test_a_figure_that_the_leaves_contradict_is_made_up_too():
    run = Script(gaps={"3": 0.16}).measure(1, 2, 4, 5, 6, 7, 8)
    run.measure(3, text="0.25")
    told = run.close_up().told()
    assert remark(told, "unsupported-figure")["valves"] == [3]
    assert "no leaf that was tried says so" in remark(told, "unsupported-figure")["says"]


def test_three_millimetres_on_every_valve_do_not_start_and_tick():
    gaps = {str(valve): 3.0 for valve in range(1, 9)}
    told = Script(gaps=gaps).close_up().told()
    assert told["outcome"] == "does-not-run"
    assert remark(told, "unmeasured")
    assert len([one for one in told["remarks"] if one["kind"] == "left-out-of-spec"]) == 8


def test_a_full_turn_out_everything_is_measured_off_its_heel():
    """The mark is right and the stroke is wrong: 360 degrees from where it should stand."""
    run = Script()
    for valve in run.engine.valve:
        run.to(run.engine.fire_deg[run.engine.valve[valve].cylinder] + 360)
        run.do("try", valve=valve, leaves_um=[run.leaf(valve)])
        run.do("write", valve=valve, column="first", text="0.00")
    told = run.close_up().told()
    off = [one for one in told["remarks"] if one["kind"] == "off-heel"]
    assert [one["valves"] for one in off] == [[valve] for valve in range(1, 9)]
    felt = ("smaller than the clearance", "there was no gap to measure")
    assert all(any(words in one["led_to"] for words in felt) for one in off)
    assert remark(told, "unmeasured")["valves"] == list(range(1, 9))
    assert not told["passed"]


def test_a_good_valve_is_changed_and_ends_up_out():
    told = Script(gaps={"5": 0.36}).measure().adjust(5, leaf=450).recheck(5).close_up().told()
    needless = remark(told, "needless-change")
    assert needless["valves"] == [5]
    assert "It was 0.36 mm, within its spec" in needless["led_to"]
    assert remark(told, "left-out-of-spec")["valves"] == [5]
    assert not told["passed"]


def test_fine_after_the_nut_without_trying():
    run = Script(gaps={"3": 0.16, "6": 0.40}).measure().adjust(3).adjust(6)
    run.do("write", valve=3, column="after", text="0.25")
    told = run.close_up().told()
    assert remark(told, "not-rechecked")["valves"] == [3, 6]
    assert remark(told, "unsupported-figure")["valves"] == [3]
    by_valve = {one["valve"]: one for one in told["valves"]}
    assert not by_valve[3]["rechecked"]
    assert by_valve[1]["rechecked"]


def test_tried_again_but_never_turned_over():
    run = Script(gaps={"3": 0.16}).measure().adjust(3)
    run.do("try", valve=3, leaves_um=[220]).do("try", valve=3, leaves_um=[290])
    told = run.close_up().told()
    assert kinds(told) == {"not-turned-over"}
    assert told["passed"]


def test_a_warm_engine_is_set_by_its_cold_spec():
    """It takes 0.04 mm of an intake's gap and 0.07 of an exhaust's, and gives it back overnight."""
    faults = [{"kind": "warm-engine", "valve": None}]
    run = Script(gaps={"1": 0.36}, faults=faults)
    for valve in run.engine.valve:
        run.to_place(valve).do("try", valve=valve, leaves_um=[run.leaf(valve) - 100])
    run.adjust(1).recheck(1)
    told = run.close_up().told()
    warm = remark(told, "measured-warm")
    assert warm["valves"] == list(range(1, 9))
    assert warm["says"].startswith("Valves 1, 2, 3, 4, 5, 6, 7 and 8: the engine was still warm")
    assert "0.07 mm" in warm["led_to"]
    assert "needless-change" in kinds(told)


def test_it_is_let_stand_till_it_is_cold():
    faults = [{"kind": "warm-engine", "valve": None}]
    told = Script(faults=faults).do("wait", hours=14).measure().close_up().told()
    assert kinds(told) == set()
    assert told["passed"]
    soon = Script(faults=faults).do("wait", hours=1).measure(1)
    assert "measured-warm" in kinds(soon.told())


def test_changed_before_the_rest_was_looked_at_and_closed_in_a_hurry():
    run = Script(gaps={"1": 0.25}).measure(1, 2).adjust(1, torque_nm=22)
    run.recheck(1).measure(3, 4, 5, 6, 7, 8)
    run.do("loosen", valve=8).do("cover", on=True).do("start")
    told = run.told()
    assert told["outcome"] == "damage"
    assert kinds(told) >= {
        "changed-before-all-written",
        "nut-loose",
        "tool-left-on",
        "tools-not-counted",
    }
    assert not told["passed"]


def test_a_leaf_under_the_finger_that_was_caught_and_pressed():
    run = Script().to_place(1)
    run.do("try", valve=1, leaves_um=[350], how="tip")
    run.do("try", valve=1, leaves_um=[350], how="tip")
    run.do("try", valve=1, leaves_um=[350], pressing=True)
    told = run.measure().close_up().told()
    caught = remark(told, "technique")
    assert (caught["valves"], caught["step"]) == ([1], 1)
    assert "3 times" in caught["says"]
    assert told["passed"]


def test_a_shim_is_read_and_put_back():
    """Engine 9 has shims over its buckets. To take one out and read it changes nothing."""
    run = Script(9).measure()
    run.to_place(4).do("take-shim", valve=4).do("read-shim", valve=4, by="micrometer")
    fitted = read_run(run.file | {"actions": []}).setup.hidden[3].shim_um
    run.do("fit-shim", valve=4, size_um=fitted).recheck(4)
    told = run.close_up().told()
    assert "needless-change" not in kinds(told)
    assert told["passed"]


def test_a_shim_the_wrong_way():
    run = Script(9, gaps={"4": 0.60}).measure()
    fitted = read_run(run.file | {"actions": []}).setup.hidden[3].shim_um
    run.to_place(4).do("take-shim", valve=4).do("fit-shim", valve=4, size_um=fitted - 100)
    told = run.recheck(4).close_up().told()
    assert "needed a thicker one" in remark(told, "wrong-way")["says"]
    assert "needless-change" not in kinds(told)
    assert not told["passed"]


def test_a_good_shim_is_changed_for_a_worse_one():
    """It needed no other: that it went the wrong way is not what is wrong."""
    run = Script(9).measure()
    fitted = read_run(run.file | {"actions": []}).setup.hidden[3].shim_um
    run.to_place(4).do("take-shim", valve=4).do("fit-shim", valve=4, size_um=fitted - 100)
    told = run.recheck(4).close_up().told()
    assert "needless-change" in kinds(told)
    assert "wrong-way" not in kinds(told)


def test_over_a_worn_pad_no_leaf_could_have_told():
    run = Script(faults=[{"kind": "worn-pad", "valve": 5}]).measure()
    told = run.adjust(5).recheck(5).close_up().told()
    assert "needless-change" not in kinds(told)


def test_a_weak_brake_has_its_lash_changed_with_reason():
    run = Script(12, faults=[{"kind": "worn-brake", "valve": 3}])
    run.to_place(3).do("push", valve=3).adjust(3, torque_nm=30)
    assert "needless-change" not in kinds(run.told())
    sound = Script(12)
    sound.to_place(3).do("push", valve=3).adjust(3, torque_nm=30)
    assert "needless-change" in kinds(sound.told())


def test_one_made_up_figure_fails_a_run_that_is_right_otherwise():
    run = Script().measure().do("write", valve=1, column="second", text="0.50")
    told = run.close_up().told()
    assert kinds(told) == {"unsupported-figure"}
    assert not told["passed"]
    assert all(one["within"] and one["measured"] for one in told["valves"])


def test_what_was_not_passed_shows_no_skill():
    """Nor does it where every valve was measured and stands within; of older rules' runs nobody
    knows whether they were."""
    right = {"valves": [{"valve": 1, "measured": True, "within": True}], "moments": []}
    assert what_it_shows(right | {"passed": True}) == (True, True, None, True)
    assert what_it_shows(right | {"passed": None}) == (True, True, None, True)
    assert what_it_shows(right) == (True, True, None, True)
    assert what_it_shows(right | {"passed": False}) == (True, True, None, False)


def test_a_leaf_off_the_heel_is_no_place_found():
    valves = [{"valve": v, "measured": v != 4, "within": True} for v in (1, 2, 3, 4)]
    off = [{"kind": "off-heel", "valves": [2]}, {"kind": "technique", "valves": [1]}]
    told = {"passed": None, "valves": valves, "moments": [], "remarks": off}
    assert what_it_shows(told).place == 2 / 4


def test_the_pin_of_the_boat_is_left_in():
    """It goes in only where its hole is, and the crank does not turn while it is in."""
    run = Script(10).measure()
    run.to(0).do("lock-crank", locked=True)
    told = run.close_up().told()
    assert told["outcome"] == "damage"
    assert remark(told, "pin-left-in")


@pytest.mark.parametrize("number", range(1, 20))
def test_on_every_demo_engine_careful_work_passes(number):
    run = Script(number)
    for valve in run.engine.valves:
        run.to_place(valve.number)
        if valve.role == "brake":
            run.do("push", valve=valve.number)
        if run.engine.adjuster(valve.number).adjusts_itself:
            continue
        for leaves in _around(run, valve.number):
            run.do("try", valve=valve.number, leaves_um=leaves)
        run.do("write", valve=valve.number, column="first", text=f"{run.leaf(valve.number) / 1000}")
        if valve.role in run.engine.closing:
            run.do("wiggle", valve=valve.number, gap="closing")
    told = run.close_up().told()
    assert told["passed"], told["remarks"]
    assert told["outcome"] == "runs-quietly"


def _around(run, valve):
    """The leaves nearest the gap that go and do not go."""
    made = stacks(read_run(run.file | {"actions": []}).setup.leaves_um).with_pairs
    goes = max((size for size in made if size <= run.leaf(valve) - 5), default=min(made))
    return [list(made[goes]), list(made[min(size for size in made if size >= run.leaf(valve) + 5)])]
