"""Runs as files, and the command that replays them; heat, the pin, and what a figure rests on."""

import json
import math
from decimal import Decimal

import pytest

from tests.core.conftest import engine_firing
from tests.core.practice.conftest import Bench, shelf_engine
from valvetrain.calculator import main
from valvetrain.document import DocumentError
from valvetrain.engine_file import write_engine
from valvetrain.practice import (
    RefusedActionError,
    SetupError,
    asks,
    read_action,
    write_action,
)
from valvetrain.practice.evidence import figures_written, history, stints, supports
from valvetrain.practice.measuring import raw_gap_mm
from valvetrain.practice.run_file import read_run, replay_file, write_run

FILE = {"format": "edrix-run/1", "engine": write_engine(shelf_engine(1)), "actions": []}


def test_what_was_written_is_read_back_to_the_same_run():
    bench = Bench(7, faults=[("wrong-setting", 1)], box="thou", level="prompted")
    bench.to_fire(1).feel(1, bench.middle_um(1))
    bench.do("write", valve=1, column="first", text="4 thou")
    written = json.loads(json.dumps(write_run(bench.setup, bench.actions, student="Ines")))
    file = read_run(written)
    assert list(file.actions) == bench.actions
    assert file.setup.hidden == bench.setup.hidden
    assert file.setup.leaves_um == bench.setup.leaves_um
    assert file.student == "Ines"
    told = replay_file(file)
    assert told.observations[-1].says == bench.seen.says
    assert [one.refused for one in told.observations] == [False] * len(bench.actions)


def test_the_command_answers_with_the_promised_keys(tmp_path, capsys):
    actions = [
        {"do": "try", "valve": 1, "leaves_um": [350]},
        {"do": "loosen", "valve": 99},
        {"do": "turn", "by_deg": 90},
        {"do": "try", "valve": 1, "leaves_um": [350]},
    ]
    path = tmp_path / "run.json"
    path.write_text(json.dumps(FILE | {"start_deg": 0, "gaps_mm": {"1": 0.4}, "actions": actions}))
    assert main(["run", str(path)]) == 0
    answer = json.loads(capsys.readouterr().out)
    assert set(answer) == {"rules_version", "observations", "debrief"}
    assert [one["refused"] for one in answer["observations"]] == [False, True, False, False]
    assert answer["observations"][1]["says"] == "This engine has no valve 99."
    told = answer["debrief"]
    assert set(told) >= {"outcome", "passed", "remarks", "valves"}
    assert set(told["valves"][0]) >= {
        "valve", "found_mm", "left_mm", "within", "measured", "rechecked",
    }  # fmt: skip
    assert told["valves"][0]["found_mm"] == 0.4
    for one in told["remarks"]:
        assert set(one) >= {"kind", "valves", "step", "says"}


def test_steps_count_what_was_refused_as_well():
    actions = [
        {"do": "loosen", "valve": 99},
        {"do": "turn", "by_deg": 250},
        {"do": "try", "valve": 1, "leaves_um": [350]},
    ]
    told = replay_file(read_run(FILE | {"start_deg": 0, "actions": actions}))
    (off,) = [one for one in told.told.remarks if one.kind == "off-heel"]
    assert told.place[off.step] == 3


@pytest.mark.parametrize(
    ("change", "path"),
    [
        ({"format": "edrix-run/2"}, "$.format"),
        ({"engine": {"format": "edrix-engine/1"}}, "$.engine.name"),
        ({"engine": None}, "$.engine"),
        ({"level": "expert"}, "$.level"),
        ({"box": "golden"}, "$.box"),
        ({"seed": -1}, "$.seed"),
        ({"start_deg": 800}, "$.start_deg"),
        ({"gaps_mm": {"99": 0.2}}, "$.gaps_mm.99"),
        ({"gaps_mm": {"1": "wide"}}, "$.gaps_mm.1"),
        ({"gaps_mm": [0.2]}, "$.gaps_mm"),
        ({"faults": [{"kind": "magic"}]}, "$.faults[0].kind"),
        ({"faults": [{"kind": "wrong-setting", "valve": 99}]}, "$.faults"),
        ({"actions": [{"do": "dance"}]}, "$.actions[0].do"),
        ({"actions": [{"do": "turn"}]}, "$.actions[0].by_deg"),
        ({"actions": "none"}, "$.actions"),
        ({"bridged": "yes"}, "$.bridged"),
        ({"gap_mm": {}}, "$.gap_mm"),
    ],
)
def test_faults_of_a_file_are_named_by_their_path(change, path):
    with pytest.raises(DocumentError) as refusal:
        read_run(FILE | change)
    assert path in {fault.path for fault in refusal.value.faults}


def test_a_fault_is_planted_once():
    twice = [("wrong-setting", 3), ("wrong-setting", 3)]
    with pytest.raises(SetupError, match="planted twice on valve 3"):
        Bench(1, faults=twice)


class TestHeat:
    @pytest.mark.parametrize("hours", [0.5, 2, 6, 14])
    def test_the_gap_creeps_back_by_newtons_law(self, hours):
        """Newton's law of cooling: exp(-t/T), T = 2 h; 0.07 mm of an exhaust at first."""
        warm = Bench(1, faults=[("warm-engine", None)]).to_fire(1)
        cold_mm = warm.seat(1).clearance_mm
        warm.do("wait", hours=hours)
        left_mm = cold_mm - raw_gap_mm(warm.setup, warm.state, 1)
        assert left_mm == pytest.approx(0.07 * math.exp(-hours / 2))

    def test_a_hand_on_the_head_tells(self):
        warm = Bench(1, faults=[("warm-engine", None)])
        assert "warm to the hand" in warm.do("look", at="engine").seen.says
        assert "still warm" in warm.do("wait", hours=2).seen.says
        assert "cold to the hand" in warm.do("wait", hours=14).seen.says

    def test_a_careful_colleague_asks_whether_it_is_cold(self):
        warm = Bench(1, faults=[("warm-engine", None)], level="prompted").to_fire(1)
        feel = read_action({"do": "try", "valve": 1, "leaves_um": [350]})
        assert "Is the engine cold?" in asks(warm.setup, warm.state, feel)
        warm.do("wait", hours=14)
        assert asks(warm.setup, warm.state, feel) is None

    def test_an_engine_that_is_measured_hot_is_not_found_warm(self):
        with pytest.raises(SetupError, match="measured hot"):
            Bench(7, faults=[("warm-engine", None)])


class TestPin:
    def test_it_goes_in_only_at_its_place_and_locks_the_crank(self):
        boat = Bench(10)
        (pin,) = [mark for mark in boat.setup.marks if mark.means == "pin"]
        boat.to((pin.crank_degs()[0] + 10) % 720)
        with pytest.raises(RefusedActionError, match="does not go in here"):
            boat.do("lock-crank", locked=True)
        boat.to(pin.crank_degs()[0])
        assert "proves the place" in boat.do("lock-crank", locked=True).seen.says
        with pytest.raises(RefusedActionError, match="free it before you turn it"):
            boat.do("turn", by_deg=10)
        assert "are out; the crank is free" in boat.do("lock-crank", locked=False).seen.says

    def test_a_pin_of_the_cam_goes_by_the_cam(self):
        """Half a tooth of 40 late, the cam comes to its hole 9 degrees of the crank later."""
        marks = [
            {"on": "crank", "label": "0", "deg": 0, "means": "tdc"},
            {"on": "cam", "label": "hole", "deg": 100, "means": "pin"},
        ]
        late = [{"kind": "half-tooth", "valve": None}]
        engine = write_engine(engine_firing([1, 3, 4, 2], marks=marks))

        def refused(at_deg):
            actions = [{"do": "turn", "by_deg": at_deg}, {"do": "lock-crank", "locked": True}]
            file = FILE | {"engine": engine, "faults": late, "start_deg": 0, "actions": actions}
            return replay_file(read_run(file)).observations[-1].refused

        assert refused(100)
        assert not refused(109)


class TestWhatAFigureRestsOn:
    @pytest.mark.parametrize(
        ("tries", "figure", "rests"),
        [
            # Between the leaf that goes and the one that does not, to the hundredth written.
            ([(200, "free"), (300, "no")], "0.25", True),
            ([(200, "free"), (300, "no")], "0.31", True),
            ([(200, "free"), (300, "no")], "0.32", False),
            ([(200, "free"), (300, "no")], "0.18", False),
            # A leaf that drags is the gap within 0.02 (common practice), one that is forced too.
            ([(250, "drag")], "0.25", True),
            ([(250, "drag")], "0.28", True),
            ([(250, "drag")], "0.30", False),
            ([(250, "tight")], "0.23", True),
            ([(250, "tight")], "0.20", False),
            # The thickest that goes is a figure that was felt; nothing beyond it is.
            ([(200, "free"), (250, "free")], "0.25", True),
            ([(250, "free")], "0.30", False),
            # What does not go says only that it is smaller.
            ([(250, "no")], "0.25", False),
            ([(250, "no")], "0.10", False),
            # Not even the thinnest of the box: no gap at all.
            ([(30, "no")], "0", True),
            ([], "0.25", False),
        ],
    )
    def test_by_the_leaves_of_one_place(self, tries, figure, rests):
        bench = Bench(1).to_fire(1)
        for leaf_um, _ in tries:
            bench.feel(1, leaf_um)
        run = [
            one._replace(seen=one.seen._replace(facts={"feel": feel}))
            for one, (_, feel) in zip(
                bench.run[-len(tries) :] if tries else [],
                tries,
                strict=True,
            )
        ]
        (stint,) = stints(history(bench.setup, run), 1)
        assert supports(bench.setup, 1, stint, Decimal(figure)) is rests

    def test_a_plain_figure_may_be_thou(self):
        """14 written beside a leaf of 14 thou, 0.356 mm; 0.14 is never 0.14 thou."""
        bench = Bench(1, box="thou", level="alone").to_fire(1)
        leaf_um = min(bench.setup.leaves_um, key=lambda leaf: abs(leaf - 356))
        bench.feel(1, leaf_um)
        for text in ("14", "0.36", "14 thou"):
            bench.do("write", valve=1, column="first", text=text)
            run = bench.run
            run = [
                one._replace(seen=one.seen._replace(facts={"feel": "drag"}))
                if write_action(one.action)["do"] == "try"
                else one
                for one in run
            ]
            (figure,) = figures_written(run)
            (stint,) = stints(history(bench.setup, run), 1)
            assert any(supports(bench.setup, 1, stint, length) for length in figure.lengths_mm), (
                text
            )

    def test_leaves_at_two_places_are_no_one_proof(self):
        bench = Bench(1).to_fire(1)
        bench.feel(1, 200)
        bench.do("turn", by_deg=30)
        bench.feel(1, 500)
        (stint,) = stints(history(bench.setup, bench.run), 1)
        assert [len(chain.felt) for chain in stint.chains] == [1, 1]
        assert not supports(bench.setup, 1, stint, Decimal("0.35"))

    def test_a_change_begins_anew(self):
        bench = Bench(1).to_fire(1).do("turn", by_deg=720)
        bench.feel(1, 200)
        bench.do("loosen", valve=1).do("tighten", valve=1, torque_nm=22)
        bench.feel(1, 200)
        bench.do("turn", by_deg=720)
        bench.feel(1, 200)
        found = stints(history(bench.setup, bench.run), 1)
        turned = [[chain.turned for chain in stint.chains] for stint in found]
        assert turned == [[True], [], [False, True]]
