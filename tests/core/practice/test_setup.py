"""What is dealt: boxes, clearances, faults that an engine can have."""

import pytest

from tests.core.conftest import engine_firing
from tests.core.practice.conftest import shelf_engine
from valvetrain.practice import (
    FaultKind,
    PlantedFault,
    SetupError,
    deal_setup,
    move_faults,
)


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
        deal_setup(shelf_engine(engine), 1, [PlantedFault(FaultKind(kind), valve)])


def test_boxes():
    """What the common sets hold: metric ones by hundredths of a millimetre, thou ones by whole
    thou (0.0254 mm), stepped ones by 0.05 mm, and a mixed box both. Common practice."""
    boxes = {
        box: deal_setup(shelf_engine(1), 1, box=box).leaves_um
        for box in ("metric", "thou", "mixed", "stepped", "angled")
    }
    assert all(list(leaves) == sorted(set(leaves)) for leaves in boxes.values())
    assert all(leaf % 10 == 0 for leaf in boxes["metric"])
    assert all(abs(leaf / 25.4 - round(leaf / 25.4)) < 0.03 for leaf in boxes["thou"])
    assert all(leaf % 50 == 0 for leaf in boxes["stepped"])
    assert set(boxes["mixed"]) == set(boxes["metric"]) | set(boxes["thou"])
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
        setup = deal_setup(shelf_engine(3), seed, [PlantedFault(FaultKind(kind), 1)])
        spec = setup.engine.clearance[setup.engine.valve[1].role]
        clearance = setup.hidden[0].clearance_mm
        assert clearance >= 0
        assert clearance < float(spec.low_mm) or clearance > float(spec.high_mm)


class TestMovedFaults:
    """A second attempt at a test: the debrief of the first told where the faults were."""

    PLANTED = (
        PlantedFault(FaultKind.WRONG_SETTING, 1),
        PlantedFault(FaultKind.SEIZED_NUT, 1),
        PlantedFault(FaultKind.WORN_PAD, 5),
        PlantedFault(FaultKind.WARM, None),
    )

    @pytest.mark.parametrize("seed", range(30))
    def test_the_same_kinds_lie_on_other_valves(self, seed):
        moved = move_faults(shelf_engine(1), self.PLANTED, seed)
        assert [fault.kind for fault in moved] == [fault.kind for fault in self.PLANTED]
        assert {fault.valve for fault in moved}.isdisjoint({1, 5})
        # What lay on one valve together still does, and the other apart from it.
        assert moved[0].valve == moved[1].valve != moved[2].valve
        assert moved[3].valve is None
        assert move_faults(shelf_engine(1), self.PLANTED, seed) == moved

    def test_they_differ_from_attempt_to_attempt(self):
        places = {move_faults(shelf_engine(1), self.PLANTED, seed)[2].valve for seed in range(30)}
        assert len(places) > 3

    def test_where_there_is_no_other_valve_they_stay(self):
        # One cylinder: a fault on both of its valves has nowhere else to go.
        engine = engine_firing([1], layout="single", adjuster={"kind": "screw", "pitch_mm": 1})
        both = [PlantedFault(FaultKind.WRONG_SETTING, 1), PlantedFault(FaultKind.WORN_PAD, 2)]
        moved = move_faults(engine, both, 3)
        assert sorted(fault.valve for fault in moved) == [1, 2]
