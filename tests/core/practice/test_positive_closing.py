"""A valve that is pulled shut: two gaps, two shims, and which moves which.

The arithmetic is checked by hand examples of our own: lengths on one stem that add up. That the
closing gap is set first, since it moves where the valve rests, is common practice.
"""

from decimal import Decimal

import pytest

from tests.core.practice.conftest import Bench
from valvetrain.adjusters import MeasuredSeat, Sizes, advise_pair
from valvetrain.gauges import Spec
from valvetrain.practice import RefusedActionError, asks, debrief, read_action

GORGE = 17
CLOSING = Spec(Decimal("0.00"), Decimal("0.05"))
OPENING = Spec(Decimal("0.13"), Decimal("0.18"))
CLOSING_SIZES = Sizes(Decimal("5.0"), Decimal("9.6"), Decimal("0.05"))
OPENING_SIZES = Sizes(Decimal("1.8"), Decimal("4.4"), Decimal("0.05"))


def pair(closing, opening):
    """closing and opening: the fitted shim and the gap measured with it."""
    (cf, cg), (of, og) = closing, opening
    return advise_pair(
        MeasuredSeat(Decimal(cf), Decimal(cg), CLOSING, CLOSING_SIZES),
        MeasuredSeat(Decimal(of), Decimal(og), OPENING, OPENING_SIZES),
    )


class TestArithmetic:
    def test_hand_example_both_change(self):
        """By hand: closing 7.00 + 0.12 - 0.025 = 7.095, so 7.10 leaves 0.02. The valve rises by
        0.10: the opening gap of 0.20 becomes 0.10. Opening 3.00 + 0.10 - 0.155 = 2.945, so 2.95
        leaves 0.15."""
        told = pair(("7.00", "0.12"), ("3.00", "0.20"))
        assert told.closing.choose_mm == Decimal("7.10")
        assert told.closing.clearance_mm == Decimal("0.02")
        assert told.opening_gap_mm == Decimal("0.10")
        assert told.opening.choose_mm == Decimal("2.95")
        assert told.opening.clearance_mm == Decimal("0.15")
        assert "0.200 + 7.000 \u2212 7.100 = 0.100 mm" in told.says[1]

    def test_hand_example_the_opening_gap_was_right_and_is_not_any_more(self):
        """By hand: opening 0.15 is within; a closing shim 0.10 thicker leaves it 0.05, tight."""
        told = pair(("7.00", "0.12"), ("3.00", "0.15"))
        assert told.opening.verdict == "thinner"
        assert told.opening.choose_mm == Decimal("2.90")
        assert told.opening.clearance_mm == Decimal("0.15")

    def test_hand_example_held_open_between_the_two(self):
        """By hand: 0.05 - 0.10 = -0.05, the valve would be held open; 3.00 - 0.05 - 0.155 = 2.795,
        so 2.80 leaves 0.15. It is a length that is known, so nothing warns of a guess."""
        told = pair(("7.00", "0.12"), ("3.00", "0.05"))
        assert told.opening_gap_mm == Decimal("-0.05")
        assert told.opening.choose_mm == Decimal("2.80")
        assert told.opening.clearance_mm == Decimal("0.15")
        assert told.opening.warnings == ()

    def test_both_within_both_stay(self):
        told = pair(("7.00", "0.03"), ("3.00", "0.16"))
        assert told.closing.verdict == told.opening.verdict == "leave"
        assert told.moved_mm == 0

    def test_no_gap_at_all_is_within_a_closing_spec_from_zero(self):
        told = pair(("7.00", "0.00"), ("3.00", "0.16"))
        assert told.closing.verdict == "leave"
        assert told.closing.warnings == ()


class TestRun:
    def twin(self, **options):
        return Bench(GORGE, **options).to_fire(1)

    def test_every_valve_has_four_figures_two_gaps_and_two_shims(self):
        twin = self.twin()
        for hidden in twin.setup.hidden:
            assert 0.13 <= hidden.clearance_mm <= 0.18
            assert 0.0 <= hidden.closing_mm <= 0.05
            assert 1800 <= hidden.shim_um <= 4400
            assert 5000 <= hidden.closing_um <= 9600

    def test_leaves_feel_each_gap_for_itself(self):
        twin = self.twin(faults=[("wrong-closing", 1)])
        closing_um = round(twin.seat(1).closing_mm * 1000)
        leaf = max(one for one in twin.setup.leaves_um if one < closing_um - 8)
        assert twin.feel(1, leaf, gap="closing") in ("free", "drag")
        assert twin.feel(1, 200, gap="opening") in ("tight", "no")

    def test_a_closing_shim_moves_both_gaps_and_an_opening_shim_one(self):
        twin = self.twin()
        before = twin.seat(1)
        twin.do("take-shim", valve=1, gap="closing")
        with pytest.raises(RefusedActionError, match="no closing shim in"):
            twin.feel(1, 150)
        thicker = before.closing_um + 50
        twin.do("fit-shim", valve=1, gap="closing", size_um=thicker)
        assert twin.seat(1).closing_mm == pytest.approx(before.closing_mm - 0.05)
        assert twin.seat(1).clearance_mm == pytest.approx(before.clearance_mm - 0.05)
        twin.do("take-shim", valve=1)
        twin.do("fit-shim", valve=1, size_um=before.shim_um - 50)
        assert twin.seat(1).clearance_mm == pytest.approx(before.clearance_mm)
        assert twin.seat(1).closing_mm == pytest.approx(before.closing_mm - 0.05)

    def test_shims_of_the_two_kinds_are_no_substitutes(self):
        twin = self.twin()
        size = twin.seat(1).shim_um
        twin.do("take-shim", valve=1, gap="closing")
        with pytest.raises(RefusedActionError, match="No closing shim of"):
            twin.do("fit-shim", valve=1, gap="closing", size_um=size)
        assert min(twin.setup.closing_box_um) == 5000
        assert max(twin.setup.box_um) == 4400

    def test_a_wrong_closing_gap_is_felt_by_turning_its_shim_and_told_at_the_end(self):
        twin = self.twin(faults=[("wrong-closing", 1)])
        twin.do("wiggle", valve=1, gap="closing")
        assert twin.seen.facts["play"] == "loose"
        assert "closing shim of valve 1 turns freely" in twin.seen.says
        told = debrief(twin.setup, twin.actions)
        (truth,) = (one for one in told.valves if one.valve == 1)
        assert not truth.within
        assert truth.closing_left_mm > 0.05
        assert any("pulled shut late" in line for line in told.result.later)

    def test_without_its_closing_shim_nothing_pulls_it_shut(self):
        twin = self.twin().do("take-shim", valve=1, gap="closing")
        told = debrief(twin.setup, twin.actions).result
        assert told.start == "damage"
        assert any("no closing shim in" in one.says for one in told.consequences)

    def test_measured_only_when_both_gaps_were_felt(self):
        twin = self.twin()
        twin.feel(1, 150)
        truths = {one.valve: one for one in debrief(twin.setup, twin.actions).valves}
        assert not truths[1].measured
        twin.do("wiggle", valve=1, gap="closing")
        truths = {one.valve: one for one in debrief(twin.setup, twin.actions).valves}
        assert truths[1].measured

    def test_a_colleague_asks_for_the_closing_gap_first(self):
        twin = self.twin(level="prompted")
        for valve in (1, 2, 3, 4):
            twin.do("write", valve=valve, column="first", text="0.15")
        take = read_action({"do": "take-shim", "valve": 1})
        assert "Is every valve measured" in asks(twin.setup, twin.state, take)
        for valve in (1, 2, 3, 4):
            twin.do("write", valve=valve, column="closing", text="0.12" if valve == 1 else "0.03")
        assert "closing gap of valve 1 right" in asks(twin.setup, twin.state, take)
        twin.do("write", valve=1, column="closing-after", text="0,03")
        assert asks(twin.setup, twin.state, take) is None
        twin.do("write", valve=1, column="closing-after", text="1 thou")
        assert asks(twin.setup, twin.state, take) is None

    def test_only_valves_that_are_pulled_shut_have_it(self):
        pump = Bench(1).to_fire(1)
        with pytest.raises(RefusedActionError, match="springs close it"):
            pump.feel(1, 200, gap="closing")
        with pytest.raises(RefusedActionError, match="no closing shim"):
            pump.do("take-shim", valve=1, gap="closing")
