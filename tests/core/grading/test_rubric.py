"""Grades by weights: worked by hand, and what must hold for every rubric."""

from dataclasses import replace
from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.conftest import engine_firing
from valvetrain.grading import Terms, mark_sheet, read_entry
from valvetrain.grading.rubric import (
    JUDGED,
    Circumstances,
    WrittenParts,
    check_rubric,
    default_rubric,
    grade,
    judged,
    templates,
)
from valvetrain.grading.weights import Item, Rubric, RubricError

FOUR = engine_firing([1, 3, 4, 2])
KEY = {
    n: Decimal("0.25") if FOUR.valve[n].role == "intake" else Decimal("0.35") for n in FOUR.valve
}
STOPS = dict.fromkeys((1, 2, 3, 5), 0.0) | dict.fromkeys((4, 6, 7, 8), 360.0)
TERMS = Terms(Decimal("0.02"))
TICKED = Circumstances(opened=True, closed=True, minutes=40.0)


def sheet(terms=TERMS, **by_valve):
    """A right sheet; v3={"reading": "0.28"} changes valve 3, v3=None leaves it out."""
    entries = {}
    for valve, gap in KEY.items():
        change = by_valve.get(f"v{valve}", {})
        if change is None:
            continue
        fields = {
            "reading": f"{gap}",
            "unit": "mm",
            "crank_deg": STOPS[valve],
            "verdict": "within",
            **change,
        }
        entries[valve] = read_entry(FOUR, valve=valve, **fields)
    marks = mark_sheet(FOUR, KEY, terms, entries.values())
    return WrittenParts(FOUR, judged(marks, terms), entries, frozenset(), STOPS, 0.02)


def of(written, *items, about=TICKED, **fields):
    return grade(written, Rubric(tuple(items), **fields), about)


def test_everything_right_is_a_hundred():
    for template in templates((), 0.02):
        told = grade(sheet(), template.rubric, TICKED)
        assert (told.percent, told.passed, told.fails) == (100.0, True, ())


def test_weights_by_hand():
    """Seven of eight readings, eight of eight verdicts (each follows its own figure): with weights
    of 3 and 1 that is (3 x 7/8 + 1) / 4 = 90.6 percent."""
    told = of(sheet(v2={"reading": "0.28"}), Item("reading", 3), Item("verdict", 1))
    assert told.percent == 90.6
    assert [item.share for item in told.items] == [0.875, 1.0]
    assert told.items[0].says == "7 of 8 within"


@pytest.mark.parametrize(
    ("reading", "worth"),
    # Tolerance 0.02, nothing at 0.06: 0.04 off is half way.
    [("0.27", 1.0), ("0.29", 0.5), ("0.30", 0.25), ("0.31", 0.0), ("0.40", 0.0), ("", 0.0)],
)
def test_a_reading_falls_linearly_to_nothing(reading, worth):
    told = of(sheet(v2={"reading": reading}), Item("reading", 1), zero_at_mm=0.06)
    assert told.items[0].share == pytest.approx((7 + worth) / 8)


@pytest.mark.parametrize(
    ("reading", "worth"),
    # Tolerance 0.02 and U 0.05: proved wrong beyond 0.07, and worth nothing 0.04 beyond that.
    [("0.32", 1.0), ("0.34", 0.5), ("0.35", 0.25), ("0.36", 0.0), ("5.0", 0.0)],
)
def test_a_key_that_is_known_badly_moves_where_the_worth_falls_and_not_how(reading, worth):
    badly = Terms(Decimal("0.02"), Decimal("0.05"))
    told = of(sheet(badly, v2={"reading": reading}), Item("reading", 1), zero_at_mm=0.06)
    assert told.items[0].share == pytest.approx((7 + worth) / 8)


@pytest.mark.parametrize("u", ["0", "0.02", "0.04", "0.0401", "0.2"])
def test_a_wrong_sheet_is_worth_nothing_by_any_key(u):
    """Eight readings of 5 mm against 0.25 and 0.35."""
    every = {f"v{valve}": {"reading": "5.0"} for valve in KEY}
    told = of(
        sheet(Terms(Decimal("0.02"), Decimal(u)), **every), Item("reading", 1), zero_at_mm=0.06
    )
    assert told.items[0].share == 0


@given(
    st.decimals("0.001", "0.1", places=3),
    st.dictionaries(st.sampled_from(list(KEY)), st.decimals("0", "0.2", places=4)),
    st.decimals("0", "0.2", places=4),
    st.decimals("0.0001", "0.9", places=4),
    st.decimals("0", "1.5", places=3),
    st.decimals("0", "1.5", places=3),
)
def test_a_better_reading_is_never_worth_less(tolerance, of_valve, u, beyond, one, other):
    """Whatever the server may pass: any tolerance, any uncertainty, any zero_at above it."""
    nearer, further = sorted((one, other))
    terms = Terms(tolerance, u, of_valve_mm=of_valve)

    def percent(off):
        every = {f"v{valve}": {"reading": f"{gap + off}"} for valve, gap in KEY.items()}
        written = sheet(terms, **every)
        written = replace(written, tolerance_mm=float(tolerance))
        zero_at_mm = min(1.0, float(tolerance + beyond))
        return of(written, Item("reading", 1), zero_at_mm=zero_at_mm).percent

    assert 0 <= percent(further) <= percent(nearer) <= 100


def test_sequence_is_the_methods_stop_and_position_any_place_on_the_heel():
    # Valve 2 is on its heel at 90 as well, but two-stop has it at 0.
    written = sheet(v2={"crank_deg": 90.0}, v1={"crank_deg": 718.0})
    assert of(written, Item("position", 1)).percent == 100.0
    told = of(written, Item("sequence", 1))
    assert told.items[0].says == "7 of 8 at the method's own stop"


@pytest.mark.parametrize(
    ("about", "share", "says"),
    [
        (TICKED, 1.0, "both lists ticked"),
        (Circumstances(opened=True), 0.5, "list before closing not ticked"),
        (Circumstances(), 0.0, "list before turning and before closing not ticked"),
    ],
)
def test_safety_is_two_lists(about, share, says):
    told = of(sheet(), Item("safety", 1), about=about)
    assert (told.items[0].share, told.items[0].says) == (share, says)


def test_what_must_be_whole_fails_a_sheet_that_has_the_percentage():
    item = Item("safety", 1, least_percent=100)
    told = of(sheet(), Item("reading", 9), item, about=Circumstances(opened=True))
    assert (told.percent, told.passed, told.fails) == (95.0, False, ("safety",))


@pytest.mark.parametrize(("wrong", "passed"), [(7, False), (5, False), (4, True), (0, True)])
@pytest.mark.parametrize("template", ["plain", "measuring", "trade test"])
def test_nobody_passes_whose_readings_are_mostly_wrong(template, wrong, passed):
    """Verdicts follow the figure and places are right, so that the percentage would do: 66.7 of
    the 60 asked with seven of eight off by 0.10 mm."""
    rubric = next(one.rubric for one in templates((), 0.02) if one.name == template)
    reading = next(item for item in rubric.items if item.part == "reading")
    off = {
        f"v{valve}": {"reading": f"{KEY[valve] + Decimal('0.10')}", "verdict": "loose"}
        for valve in range(1, wrong + 1)
    }
    told = of(sheet(**off), replace(reading, weight=1), Item("verdict", 1), Item("position", 1))
    assert told.passed is passed
    assert told.fails == (() if passed else ("reading",))


def test_a_sheet_that_was_set_before_parts_had_limits_has_none():
    """What its students were told stands."""
    for version, least in (("edrix-rubric/2", 0), ("edrix-rubric/3", 50)):
        rubric = default_rubric((), 0.02, version)
        assert {one.part: one.least_percent for one in rubric.items}["reading"] == least
        assert [one.weight for one in rubric.items] == [
            one.weight for one in templates((), 0.02)[0].rubric.items
        ]


@pytest.mark.parametrize(
    ("minutes", "share"), [(10, 1.0), (60, 1.0), (90, 0.5), (120, 0.0), (500, 0.0)]
)
def test_time_falls_to_nothing_at_twice_the_minutes(minutes, share):
    about = Circumstances(True, True, minutes)
    assert of(sheet(), Item("time", 1), about=about, minutes=60).items[0].share == share


def test_what_a_sheet_cannot_show_is_left_out():
    """No nut was asked for, and nobody knows when it was begun: the other weights are the whole."""
    about = Circumstances(opened=True, closed=True)
    items = (Item("reading", 1), Item("adjusted", 5), Item("time", 5))
    told = of(sheet(), *items, about=about, minutes=60)
    assert [item.part for item in told.items] == ["reading"]
    assert told.percent == 100.0


def test_a_list_of_figures_is_weighed_by_its_figures():
    """Stops and verdicts were not asked: seven of eight right is seven of eight by any weights,
    and nothing is missing from the record."""
    left_out = frozenset({"crank_deg", "verdict"})
    terms = replace(TERMS, not_asked=left_out)
    every = {f"v{valve}": {"crank_deg": None, "verdict": None} for valve in KEY}
    every["v2"] |= {"reading": "0.40"}
    written = replace(sheet(terms, **every), not_asked=left_out)
    items = [Item(part, 1) for part in ("reading", "verdict", "position", "sequence")]
    told = of(written, *items)
    assert [item.part for item in told.items] == ["reading"]
    assert told.percent == 87.5
    assert of(written, Item("record", 1)).items[0].says == "8 of 8 fields written"


def test_where_no_figure_is_asked_none_is_weighed():
    terms = replace(TERMS, not_asked=frozenset({"reading"}))
    told = of(sheet(terms), Item("reading", 5), Item("position", 1))
    assert [item.part for item in told.items] == ["position"]


def test_the_record_counts_what_is_written():
    told = of(sheet(v3=None, v4={"verdict": None}), Item("record", 1))
    assert told.items[0].says == "20 of 24 fields written"


def test_the_pass_mark_itself_passes():
    written = sheet(v2={"reading": "0.28"}, v3={"reading": "0.28"})
    assert of(written, Item("reading", 1), pass_percent=75).passed
    assert not of(written, Item("reading", 1), pass_percent=75.1).passed


@pytest.mark.parametrize(
    ("rubric", "field"),
    [
        (Rubric(()), "items"),
        (Rubric((Item("colour", 1),)), "items"),
        (Rubric((Item("reading", 1), Item("reading", 2))), "items"),
        (Rubric((Item("reading", 0),)), "weight of reading"),
        (Rubric((Item("reading", float("nan")),)), "weight of reading"),
        (Rubric((Item("reading", 1),), 101), "pass mark"),
        (Rubric((Item("reading", 1),), 60, 0.02), "zero at"),
        (Rubric((Item("reading", 1),), 60, 2.0), "zero at"),
        (Rubric((Item("time", 1),)), "minutes"),
        (Rubric((Item("time", 1),), minutes=9999), "minutes"),
    ],
)
def test_rubrics_that_cannot_be_used(rubric, field):
    with pytest.raises(RubricError) as caught:
        check_rubric(rubric, 0.02)
    assert caught.value.field == field


def test_every_template_can_be_used():
    for asks in ((), ("nut",), ("shims", "second")):
        for template in templates(asks, 0.03):
            assert check_rubric(template.rubric, 0.03) is template.rubric


@given(
    st.lists(
        st.tuples(st.sampled_from(list(JUDGED)), st.floats(0.1, 100), st.booleans()),
        min_size=1,
        unique_by=lambda item: item[0],
    ),
    st.dictionaries(
        st.sampled_from([f"v{n}" for n in KEY]), st.sampled_from([None, {"reading": "0.4"}])
    ),
)
def test_a_grade_is_a_share_of_the_whole(items, changes):
    told = of(sheet(**changes), *(Item(*item) for item in items), minutes=60)
    assert 0 <= told.percent <= 100
    assert all(0 <= item.share <= 1 for item in told.items)
    assert told.percent == pytest.approx(sum(item.percent for item in told.items), abs=0.06)


def test_nothing_is_rounded_up_to_the_pass_mark():
    """Seven of eight readings right at a weight of 1, one of two lists ticked at w:
    (7/8 + w/2) / (1 + w) = 0.5996 at w = 2.765."""
    about = Circumstances(opened=True)
    written = sheet(v2={"reading": "0.40"})
    items = (Item("reading", 1), Item("safety", 2.765))
    told = of(written, *items, about=about, pass_percent=60)
    assert not told.passed
    assert told.percent == 59.9
    # Where the mark lies elsewhere it is rounded as any figure is.
    assert of(written, *items, about=about, pass_percent=50).percent == 60.0
    # What is the mark but for the last digit of a float has reached it.
    thirds = of(written, Item("safety", 0.1), Item("reading", 0.2), about=about, pass_percent=75)
    assert thirds.percent == 75.0
    assert thirds.passed


def test_what_must_be_whole_and_cannot_be_judged_is_said():
    time = Item("time", 1, least_percent=100)
    unknown = Circumstances(opened=True, closed=True)
    told = of(sheet(), Item("reading", 1), time, about=unknown, minutes=60)
    assert (told.passed, told.fails, told.waived) == (True, (), ("time",))
    assert of(sheet(), Item("reading", 1), time, minutes=60).waived == ()
