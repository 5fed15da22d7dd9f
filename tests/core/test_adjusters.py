"""Screws and single shims: worked figures, and what must hold for all figures."""

import itertools
import json
from decimal import Decimal
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from valvetrain.adjusters import (
    AdjusterError,
    Codes,
    ScrewAdjuster,
    Sizes,
    advise_shim,
    gap_with_shim,
    screw_turn,
    shim_sum,
    shim_table,
    typed_size,
)
from valvetrain.adjusters.shim_table import Band
from valvetrain.engine_file import read_engine
from valvetrain.gauges import Spec
from valvetrain.units import Unit

D = Decimal
SPEC = Spec(D("0.10"), D("0.15"))
SIZES = Sizes(D("2.00"), D("3.50"), D("0.05"))


@pytest.mark.parametrize(
    ("pitch", "ratio", "start", "end", "turn_deg", "direction"),
    [
        # Common practice: pitch 1.00 mm, 36 degrees for 0.10 mm; 0.75 mm, 48 degrees.
        (1.0, 1, "0.00", "0.10", -36, "counterclockwise"),
        (1.0, 1, "0.35", "0.25", 36, "clockwise"),
        (0.75, 1, "0", "0.1", -48, "counterclockwise"),
        # On the push-rod side the rocker multiplies: less turning for the same gap.
        (1.0, 1.5, "0", "0.15", -36, "counterclockwise"),
        (1.0, 1, "0.2", "0.2", 0, "none"),
    ],
)
def test_screws_by_hand(pitch, ratio, start, end, turn_deg, direction):
    turn = screw_turn(pitch, ratio, D(start), D(end))
    assert turn.turn_deg == pytest.approx(turn_deg)
    assert turn.direction == direction
    assert turn.divisions == pytest.approx(abs(turn_deg) / 6)


def test_gap_of_a_turn():
    assert ScrewAdjuster(1.0, "pushrod", 1.45).gap_per_turn_mm == pytest.approx(1.45)
    assert ScrewAdjuster(0.75, "valve", 1.45).gap_per_turn_mm == 0.75
    assert ScrewAdjuster(1.0, "pushrod").gap_per_turn_mm == 1.0


@pytest.mark.parametrize(
    ("pitch", "ratio", "start", "says"),
    [
        (0, 1, "0.1", "the pitch is 0"),
        (1, -1, "0.1", "the rocker ratio is -1"),
        (float("nan"), 1, "0.1", "the pitch is nan"),
        (1, 1, "-0.1", r"--from is -0\.1"),
    ],
)
def test_screws_refused(pitch, ratio, start, says):
    with pytest.raises(AdjusterError, match=says):
        screw_turn(pitch, ratio, D(start), D("0.2"))


def test_too_small_a_gap_needs_a_thinner_shim():
    """New = fitted + measured - wanted (common practice): 2.70 + 0.08 - 0.125 = 2.655."""
    advice = advise_shim(D("2.70"), D("0.08"), SPEC, SIZES)
    assert advice.wanted_mm == D("2.655")
    assert (advice.choose_mm, advice.clearance_mm) == (D("2.65"), D("0.13"))
    assert advice.verdict == "thinner"


def test_the_arithmetic_is_written_out():
    said = shim_sum(D("2.70"), D("0.08"), SPEC)
    assert said == "2.700 fitted + 0.080 measured − 0.125 wanted = 2.655 mm"


def test_what_needs_no_change_is_left():
    advice = advise_shim(D("2.70"), D("0.15"), SPEC, SIZES)
    assert (advice.verdict, advice.choose_mm, advice.clearance_mm) == (
        "leave",
        D("2.70"),
        D("0.15"),
    )


def test_a_coarse_grid_may_not_reach():
    narrow = Spec(D("0.11"), D("0.13"))
    advice = advise_shim(D("2.72"), D("0.27"), narrow, SIZES)
    assert (advice.verdict, advice.choose_mm, advice.clearance_mm) == ("out-of-reach", None, None)
    assert all(not choice.within for choice in advice.choices)
    assert advice.choices


def test_preference_leans_within_the_spec():
    wide = Spec(D("0.10"), D("0.25"))
    chosen = {
        prefer: advise_shim(D("2.70"), D("0.40"), wide, SIZES, prefer).clearance_mm
        for prefer in ("tight", "middle", "loose")
    }
    assert chosen == {"tight": D("0.10"), "middle": D("0.20"), "loose": D("0.25")}


def test_no_gap_is_no_measurement():
    advice = advise_shim(D("2.70"), D("0"), SPEC, SIZES)
    assert "held open" in advice.warnings[0]


micrometres = st.integers(0, 600).map(lambda n: D(n) / 1000)


@given(measured=micrometres, size=st.integers(0, 30), prefer=st.sampled_from(["middle", "loose"]))
def test_a_chosen_shim_is_within_and_moves_the_right_way(measured, size, prefer):
    fitted = D("2.00") + size * D("0.05")
    advice = advise_shim(fitted, measured, SPEC, SIZES, prefer)
    if advice.choose_mm is None:
        assert all(not SPEC.min_mm <= fitted + measured - s <= SPEC.max_mm for s in SIZES.all())
        return
    assert advice.clearance_mm == fitted + measured - advice.choose_mm
    assert SPEC.min_mm <= advice.clearance_mm <= SPEC.max_mm
    if measured < SPEC.min_mm:
        assert advice.choose_mm < fitted
    if measured > SPEC.max_mm:
        assert advice.choose_mm > fitted


def test_the_printed_table_says_what_the_arithmetic_says():
    table = shim_table(SPEC, SIZES)
    assert len(table.new_mm) == len(table.bands) < 40
    assert len(table.new_mm[0]) == 31
    column = table.fitted_mm.index(D("2.50"))
    # 2.50 + 0.30 - 0.125 = 2.675: 2.65 gives 0.15 and 2.70 gives 0.10, both at 0.025 from the
    # middle; the tie goes to the thinner shim, the looser gap.
    assert row_of(table, D("0.30"))[column] == D("2.65")
    assert row_of(table, D("0.12"))[column] == D("2.50")


def row_of(table, gap_mm):
    (place,) = [place for place, band in enumerate(table.bands) if band.holds(gap_mm)]
    return table.new_mm[place]


def test_every_figure_that_a_gauge_can_give_lies_in_one_band_with_its_own_answer():
    """Hundredths, half leaves and whole thou (1 thou = 0.0254 mm), each against the arithmetic."""
    figures = {D(n) / 200 for n in range(70)} | {D("0.0254") * n for n in range(14)}
    table = shim_table(SPEC, SIZES)
    for figure in sorted(figures):
        row = row_of(table, figure)
        for size, told in zip(table.fitted_mm, row, strict=True):
            assert told == advise_shim(size, figure, SPEC, SIZES).choose_mm, (figure, size)


def test_bands_are_neighbours_and_no_two_say_the_same():
    table = shim_table(SPEC, SIZES)
    for (_, end), (begin, _) in itertools.pairwise(table.bands):
        assert begin - end == D("0.0001")
    assert all(one != other for one, other in itertools.pairwise(table.new_mm))
    assert table.bands[0].from_mm == 0


@pytest.mark.parametrize(
    ("codes", "typed", "means"),
    [
        (Codes(times=D("0.01")), "235", "2.35"),
        (Codes(times=D("0.01")), "2.35", "2.35"),
        # 3 mm, although 3 would be the code of 0.03: nobody makes that.
        (Codes(times=D("0.01")), "3", "3"),
        (Codes(sizes_mm=(("A", D("2.20")),)), "A", "2.20"),
        (Codes(sizes_mm=(("A", D("2.20")),)), "B", "B"),
        (None, "235", "235"),
    ],
)
def test_a_stamped_code_may_be_typed_for_a_size(codes, typed, means):
    assert typed_size(typed, codes, SIZES) == means


@pytest.mark.parametrize(
    ("sizes", "says"),
    [
        (Sizes(D("3"), D("2"), D("0.05")), "the sizes are 3 to 2"),
        (Sizes(D("2"), D("3"), D("0")), "a step above zero"),
        (Sizes(D("2"), D("3"), D("0.0001")), "10001 sizes"),
    ],
)
def test_sizes_refused(sizes, says):
    with pytest.raises(AdjusterError, match=says):
        sizes.all()


@pytest.mark.parametrize(
    ("gap", "fitted", "chosen", "leaves"),
    # By hand: 2.30 + 0.35 - 2.40 is 0.25; a shim thicker than the room leaves no gap.
    [("0.35", "2.30", "2.40", "0.25"), ("0.10", "2.50", "2.45", "0.15"), ("0.1", "2", "3", "0")],
)
def test_the_gap_with_another_shim(gap, fitted, chosen, leaves):
    assert gap_with_shim(D(gap), D(fitted), D(chosen)) == D(leaves)


@pytest.mark.parametrize(
    ("from_mm", "to_mm", "mm", "thou"),
    [
        ("0.0751", "0.1400", "0.08–0.14", "3–5.5"),
        ("0.2201", "0.2290", "", "9"),
        ("0.0700", "0.0799", "0.07", "3"),
        ("0.0000", "0.0000", "0.00", "0"),
    ],
)
def test_a_band_is_named_by_the_figures_that_a_gauge_gives(from_mm, to_mm, mm, thou):
    """By hundredths, or half thou: never 0.228–0.227, and never three noughts."""
    band = Band(Decimal(from_mm), Decimal(to_mm))
    assert (band.words(Unit.MM), band.words(Unit.THOU)) == (mm, thou)


@pytest.mark.parametrize("stem", ["05-sled-twin-270", "09-cable-five", "13-trail-single-five"])
def test_the_printed_table_and_the_advice_agree_for_every_figure_of_a_gauge(stem):
    """Every hundredth that the table names, for shims of every size: the cell is what `calc shim`
    says."""
    shelf = Path(__file__).parents[2] / "demo" / "engines"
    engine = read_engine(json.loads((shelf / f"{stem}.json").read_text()))
    for role in engine.roles:
        sizes = engine.adjuster_of(role).shim.sizes
        clearance = engine.clearance[role]
        spec = Spec(clearance.low_mm, clearance.high_mm)
        table = shim_table(spec, sizes)
        for band, row in zip(table.bands, table.new_mm, strict=True):
            for hundredth in range(int(band.from_mm * 100), int(band.to_mm * 100) + 1):
                gap = Decimal(hundredth) / 100
                if not band.holds(gap):
                    continue
                for fitted, cell in zip(table.fitted_mm, row, strict=True):
                    assert advise_shim(fitted, gap, spec, sizes).choose_mm == cell
