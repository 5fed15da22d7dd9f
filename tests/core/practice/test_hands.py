"""Hands and tools: slack pressed out, followers lifted, hard reach, step leaves, and what is told.

The facts are of the trade (common practice): push-rod slack is pressed out before the leaf goes in,
some followers are lifted first, angled leaves get in where straight ones do not, and step leaves
are go and not-go in one.
"""

import pytest

from tests.core.conftest import engine_document
from tests.core.practice.conftest import Bench
from valvetrain.engine_file import read_engine
from valvetrain.practice import (
    BOXES,
    FaultKind,
    PlantedFault,
    RefusedActionError,
    SetupError,
    asks,
    deal_setup,
    debrief,
    first_state,
    read_action,
    told_while,
)
from valvetrain.practice.evidence import history, stints
from valvetrain.sequences import make_plan

PUMP, SLED, MILL, FERRY = 1, 5, 18, 19


def thickest(bench, valve, **how):
    """The thickest leaf that goes in without force, in µm."""
    goes = [
        leaf
        for leaf in bench.setup.leaves_um
        if leaf <= 1000 and bench.feel(valve, leaf, **how) in ("free", "drag")
    ]
    return max(goes)


@pytest.mark.parametrize(
    ("number", "kind", "says"),
    [
        (PUMP, "rod-slack", "The push rod of valve 3 is pressed down: its slack is out."),
        (MILL, "hanging-follower", "The tappet of valve 3 is lifted, and stays up."),
        (FERRY, "hanging-follower", "The finger of valve 3 is lifted, and stays up."),
    ],
)
def test_what_hangs_takes_of_the_gap_until_a_hand_sees_to_it(number, kind, says):
    bench = Bench(number, faults=((kind, 3),))
    bench.to_fire(3)
    true_um = bench.seat(3).clearance_mm * 1000
    before = thickest(bench, 3)
    assert before < true_um - 20
    bench.do("push", valve=3)
    assert bench.seen.says == says
    assert abs(thickest(bench, 3) - true_um) <= 15
    # Turned on, it hangs again.
    bench.do("turn", by_deg=720)
    assert abs(thickest(bench, 3) - before) <= 10


def test_a_valve_without_such_a_fault_reads_alike_pushed_or_not():
    bench = Bench(PUMP)
    bench.to_fire(1)
    before = thickest(bench, 1)
    bench.do("push", valve=1)
    assert abs(thickest(bench, 1) - before) <= 10


def test_a_bucket_has_nothing_to_push():
    with pytest.raises(RefusedActionError, match="The bucket of valve 1 has nothing to push"):
        Bench(SLED).do("push", valve=1)


@pytest.mark.parametrize(
    ("number", "kind", "valve", "says"),
    [
        (FERRY, "rod-slack", 1, "has no push rod"),
        (PUMP, "hanging-follower", 1, "has no follower that hangs"),
        (SLED, "hanging-follower", 1, "has no follower that hangs"),
        (12, "hard-reach", 3, "no angled leaf is as thick"),
    ],
)
def test_what_an_engine_has_not_cannot_hang_or_hide(number, kind, valve, says):
    with pytest.raises(SetupError, match=says):
        Bench(number, faults=((kind, valve),))


def test_the_same_seed_deals_the_same_gaps_however_they_are_got_at():
    plain, held = Bench(PUMP), Bench(PUMP, faults=(("rod-slack", 3), ("hard-reach", 5)))
    gaps = [[one.clearance_mm for one in bench.setup.hidden] for bench in (plain, held)]
    assert gaps[0] == gaps[1]


def test_slack_that_was_not_pressed_out_is_asked_about_and_remarked():
    bench = Bench(PUMP, faults=(("rod-slack", 3),), level="prompted")
    bench.to_fire(3)
    leaf = read_action({"do": "try", "valve": 3, "leaves_um": [200]})
    assert "slack of the push rod of valve 3 pressed out" in asks(bench.setup, bench.state, leaf)
    bench.do("try", valve=3, leaves_um=[200])
    (remark,) = [
        one for one in debrief(bench.setup, bench.actions).remarks if one.kind == "technique"
    ]
    assert "slack of its push rod was not pressed out" in remark.says
    assert "smaller than it is" in remark.led_to
    bench.do("push", valve=3)
    assert asks(bench.setup, bench.state, leaf) is None


class TestHardReach:
    def bench(self):
        bench = Bench(PUMP, faults=(("hard-reach", 3),))
        bench.to_fire(3)
        return bench

    def test_no_straight_leaf_gets_in_and_an_angled_one_does(self):
        bench = self.bench()
        with pytest.raises(RefusedActionError, match="take an angled one"):
            bench.do("try", valve=3, leaves_um=[200])
        bench.do("try", valve=3, leaves_um=[200], angled=True)
        assert bench.seen.facts["feel"] in ("free", "drag")

    def test_nor_is_it_set_by_a_straight_one(self):
        bench = self.bench()
        bench.do("loosen", valve=3)
        with pytest.raises(RefusedActionError, match="take an angled one"):
            bench.do("set", valve=3, leaves_um=[250])
        bench.do("set", valve=3, leaves_um=[250], angled=True)

    def test_angled_leaves_lie_beside_the_others_only_where_they_are_needed(self):
        assert self.bench().setup.angled_um
        plain = Bench(PUMP)
        plain.to_fire(1)
        with pytest.raises(RefusedActionError, match=r"no angled leaf of 0\.200 mm"):
            plain.do("try", valve=1, leaves_um=[200], angled=True)

    def test_a_box_of_angled_leaves_reaches_everywhere(self):
        bench = Bench(PUMP, faults=(("hard-reach", 3),), box="angled")
        bench.to_fire(3)
        bench.do("try", valve=3, leaves_um=[200])


class TestStepLeaves:
    def bench(self, box="steps", gap_mm=0.22):
        bench = Bench(PUMP, box=box)
        bench.to_fire(3)
        seats = list(bench.state.seats)
        place = bench.setup.place[3]
        seats[place] = seats[place]._replace(clearance_mm=gap_mm)
        bench.state = bench.state._replace(seats=tuple(seats))
        return bench

    def test_one_push_is_go_and_not_go(self):
        bench = self.bench()
        bench.do("try", valve=3, leaves_um=[200], body_um=250)
        facts = bench.seen.facts
        assert (facts["feel"], facts["body_feel"]) == ("free", "no"), "0.22 is 0.03 from 0.25"
        assert bench.seen.says == ("0.20/0.25 mm: its tip goes in freely, its body does not go in.")

    def test_a_tip_that_stays_out_says_nothing_of_its_body(self):
        bench = self.bench(gap_mm=0.15)
        bench.do("try", valve=3, leaves_um=[200], body_um=250)
        assert bench.seen.facts["feel"] == "no"
        assert "body_feel" not in bench.seen.facts

    def test_both_ends_count_as_proof(self):
        bench = self.bench()
        bench.do("try", valve=3, leaves_um=[200], body_um=250)
        (stint,) = stints(history(bench.setup, bench.run), 3)
        assert [float(one.leaf.leaf_mm) for one in stint.felt] == [0.2, 0.25][: len(stint.felt)]

    def test_thou_steps_are_go_and_not_go_of_a_spec_in_thou(self):
        bench = self.bench("steps-thou", gap_mm=0.22)
        assert (203, 254) in bench.setup.steps_um  # 8/10 thou
        bench.do("try", valve=3, leaves_um=[203], body_um=254)
        assert bench.seen.facts["body_feel"] == "no"

    @pytest.mark.parametrize(("leaves", "body"), [([200], 240), ([210], 260), ([100, 100], 200)])
    def test_a_step_leaf_that_is_not_in_the_box_is_refused(self, leaves, body):
        with pytest.raises(RefusedActionError, match="no step leaf of"):
            self.bench().do("try", valve=3, leaves_um=leaves, body_um=body)

    def test_the_other_boxes_have_none(self):
        for name, box in BOXES.items():
            assert bool(box().steps_um) is name.startswith("steps")


class TestWhatIsTold:
    """At *alone* and *test* no word is told for what the hand is to feel."""

    def felt(self, level, **fields):
        bench = Bench(PUMP, level=level, box="steps")
        bench.to_fire(3)
        bench.do("try", valve=3, leaves_um=[200], **fields)
        return bench, told_while(bench.setup, bench.seen)

    @pytest.mark.parametrize("level", ["alone", "test"])
    @pytest.mark.parametrize("fields", [{}, {"body_um": 250}])
    def test_nobody_says_free_drag_or_tight(self, level, fields):
        _, told = self.felt(level, **fields)
        said = told.says + str(dict(told.facts))
        assert not any(word in said for word in ("free", "drag", "tight", "force", "feel"))
        assert told.facts["is_in"] is True
        assert 0 <= told.facts["pull"] <= 1

    @pytest.mark.parametrize("level", ["shown", "prompted"])
    def test_who_is_coached_is_told(self, level):
        bench, told = self.felt(level)
        assert told == bench.seen
        assert told.facts["feel"] in ("free", "drag", "tight", "no")

    def test_what_was_told_once_stays_as_it_was_told(self):
        """The stored answer of a retry goes through the same telling."""
        bench, told = self.felt("alone")
        assert told_while(bench.setup, told) == told

    def test_the_debrief_has_the_words(self):
        bench, _ = self.felt("alone")
        moment = debrief(bench.setup, bench.actions).moments[-1]
        assert any(word in moment.says for word in ("goes in freely", "drags"))

    def test_a_finger_a_bucket_and_a_tappet_have_words_of_their_own(self):
        for number, where in (
            (FERRY, "between lobe and finger"),
            (SLED, "between lobe and bucket"),
            (MILL, "between tappet and stem"),
        ):
            bench = Bench(number)
            bench.to_fire(1)
            bench.do("try", valve=1, leaves_um=[bench.middle_um(1)])
            assert bench.seen.says.endswith(f"{where}.")


def test_the_notepad_has_columns_as_the_adjuster_needs():
    bench = Bench(SLED)
    for column, text in (("settled", "0.15"), ("fitted", "2.50"), ("chosen", "2.45")):
        bench.do("write", valve=1, column=column, text=text)
    bench.do("write", valve=1, column="torque", text="22 N·m")
    assert [note.column for note in bench.state.notes] == [
        "settled", "fitted", "chosen", "torque",
    ]  # fmt: skip
    # A settled figure must rest on a leaf, a fitted shim's size on its stamp or a micrometer.
    told = debrief(bench.setup, bench.actions)
    made_up = [one for one in told.remarks if one.kind == "unsupported-figure"]
    assert [one.step for one in made_up] == [1, 2]


def test_faults_of_access_move_like_others():
    setup = deal_setup(Bench(FERRY).setup.engine, 3, (PlantedFault(FaultKind.HANGING_FOLLOWER, 2),))
    assert [one.slack_mm > 0 for one in setup.hidden].count(True) == 1


@pytest.mark.parametrize(("text", "rests"), [("stamp", True), ("size", True), ("999", False)])
def test_a_shim_may_be_written_as_it_is_stamped(text, rests):
    """A stamp of 250 that means 2.50 mm is that size; a size that nobody read is made up."""
    shim = {"kind": "shim", "place": "over-bucket", "codes": {"times": 0.01},
            "sizes_mm": {"from": 2.0, "to": 3.0, "step": 0.05}}  # fmt: skip
    setup = deal_setup(read_engine(engine_document([1, 3, 4, 2], adjuster=shim)), 5)
    at = next(s.crank_deg for s in make_plan(setup.engine, "lobe-away").stops if 1 in s.valves)
    state = first_state(setup)
    size_um = setup.hidden[0].shim_um
    written = {"stamp": f"{size_um // 10}", "size": f"{size_um / 1000:.2f}"}.get(text, text)
    documents = (
        {"do": "turn", "by_deg": (at - state.crank_deg) % 720 or 720},
        {"do": "take-shim", "valve": 1},
        {"do": "read-shim", "valve": 1, "by": "stamp"},
        {"do": "write", "valve": 1, "column": "fitted", "text": written},
    )
    told = debrief(setup, [read_action(one) for one in documents])
    made_up = [one for one in told.remarks if one.kind == "unsupported-figure"]
    assert (made_up == []) is rests
