"""A valve left loose by less than a shim step, where no shim lands nearer: right with its reason
written down, and never below the minimum (common practice)."""

from decimal import Decimal

import pytest

from tests.core.conftest import engine_document
from valvetrain.adjusters import Sizes, advise_shim
from valvetrain.gauges import Spec
from valvetrain.practice import apply, debrief, first_state
from valvetrain.practice.run import stretches
from valvetrain.practice.run_file import read_run, replay_file
from valvetrain.practice.walk import next_step

MOST_STEPS = 900

SHIMS = {
    "kind": "shim",
    "place": "under-bucket",
    "sizes_mm": {"from": 2.0, "to": 3.0, "step": 0.05},
    "cams_out": False,
}
NARROW = {
    "unit": "mm",
    "intake": {"min": 0.20, "max": 0.22},
    "exhaust": {"min": 0.20, "max": 0.22},
}
ENGINE = engine_document([1, 3, 4, 2], adjuster=SHIMS, clearance=NARROW, valve_train="bucket")


def remarks_of(gap_mm, *, reason):
    """The kinds of remarks about valve 1, found and left at this gap."""
    gaps = {str(valve["number"]): 0.21 for valve in ENGINE["valves"]} | {"1": gap_mm}
    actions = (
        [{"do": "write", "valve": 1, "column": "leave", "text": "no-better"}] if reason else []
    )
    file = {"format": "edrix-run/1", "engine": ENGINE, "gaps_mm": gaps, "actions": actions}
    told = replay_file(read_run(file)).told
    praised = any("no shim lands nearer" in one for one in told.done_well)
    return {one.kind for one in told.remarks if 1 in one.valves}, praised


def test_loose_by_less_than_a_step_it_is_left_with_its_reason():
    # 0.235: the next thicker shim would leave 0.185, below the minimum of 0.20.
    kinds, praised = remarks_of(0.235, reason=True)
    assert "left-out-of-spec" not in kinds
    assert praised


def test_without_a_reason_it_was_left_out_of_its_spec():
    kinds, praised = remarks_of(0.235, reason=False)
    assert "left-out-of-spec" in kinds
    assert not praised


@pytest.mark.parametrize("gap_mm", [0.19, 0.18, 0.26])
def test_no_reason_counts_below_the_minimum_or_where_a_shim_would_do(gap_mm):
    """0.26 with the next thicker shim is 0.21, in the spec."""
    kinds, praised = remarks_of(gap_mm, reason=True)
    assert "left-out-of-spec" in kinds
    assert not praised


def test_the_advice_says_leave_it_where_the_right_shim_is_in():
    spec, sizes = Spec(Decimal("0.20"), Decimal("0.22")), Sizes(*map(Decimal, ("2", "3", "0.05")))
    loose = advise_shim(Decimal("2.5"), Decimal("0.235"), spec, sizes)
    assert loose.verdict == "out-of-reach"
    assert "Leave the valve as it is" in loose.warnings[0]
    tight = advise_shim(Decimal("2.55"), Decimal("0.185"), spec, sizes)
    assert "the next thinner shim, 2.500 mm" in tight.warnings[0]


def shown_to_its_end(gap_mm):
    """The run that *Show me* leads through, with valve 1 found at this gap."""
    gaps = {str(valve["number"]): 0.21 for valve in ENGINE["valves"]} | {"1": gap_mm}
    file = {"format": "edrix-run/1", "engine": ENGINE, "level": "shown", "gaps_mm": gaps}
    setup = read_run(file | {"actions": []}).setup
    state, actions = first_state(setup), []
    while (step := next_step(setup, stretches(setup, actions))) is not None:
        assert step.action is not None, step.says
        state, _ = apply(setup, state, step.action)
        actions.append(step.action)
        assert len(actions) < MOST_STEPS
    return debrief(setup, actions), state


@pytest.mark.parametrize(("gap_mm", "noted"), [(0.24, True), (0.26, False), (0.18, True)])
def test_show_me_notes_the_reason_and_passes(gap_mm, noted):
    """0.24 stays, since the next thicker shim leaves 0.19; 0.26 becomes 0.21; 0.18 becomes 0.23
    with the next thinner shim, which is loose, and stays so."""
    told, state = shown_to_its_end(gap_mm)
    assert told.passed, told.remarks
    assert told.remarks == ()
    assert [note.valve for note in state.notes if note.column == "leave"] == ([1] if noted else [])
