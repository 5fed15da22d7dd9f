"""A class's sheets beside each other, and keys that most of a class contradict.

The rule (common practice): where most of those who read a valve agree with each other and not with
the key, it is the key that is looked at first.
"""

import random
import statistics
from decimal import Decimal

import pytest

from valvetrain.engine import Clearance, Spread
from valvetrain.grading.class_view import (
    CellState,
    KeyGapSeen,
    SheetOutcome,
    ValveOutcome,
    see_class,
)
from valvetrain.grading.findings import Finding, Kind
from valvetrain.units import Unit

INTAKE, EXHAUST = (
    Clearance(Unit.MM, Spread(Decimal(low), Decimal(high)))
    for low, high in (("0.22", "0.28"), ("0.32", "0.38"))
)
KEY = {1: KeyGapSeen(0.35, 0.04, EXHAUST), 2: KeyGapSeen(0.25, 0.04, INTAKE),
       3: KeyGapSeen(0.25, 0.04, INTAKE), 4: KeyGapSeen(0.35, 0.04, EXHAUST)}  # fmt: skip
ALL_RIGHT = {"reading": True, "position": True, "verdict": True}


def sheet(*gaps, findings=(), of_this_key=True):
    """A sheet by the figures it has from valve 1 on, marked as the rules would."""
    valves = {}
    for (valve, key), gap in zip(KEY.items(), gaps, strict=True):
        error = None if gap is None else gap - key.gap_mm
        right = ALL_RIGHT | {"reading": error is not None and abs(error) <= key.allowed_mm}
        valves[valve] = ValveOutcome(
            gap, error, right if gap is not None else dict.fromkeys(ALL_RIGHT, False)
        )
    return SheetOutcome(valves, findings, of_this_key)


def finding(kind, *valves):
    return Finding(kind, valves, 5.0, "", None, ())


GOOD = (0.35, 0.25, 0.25, 0.35)


@pytest.mark.parametrize(
    ("seen", "state"),
    [
        (ValveOutcome(0.35, 0.0, ALL_RIGHT), CellState.RIGHT),
        (ValveOutcome(0.41, 0.06, ALL_RIGHT | {"reading": False}), CellState.LARGER),
        (ValveOutcome(0.29, -0.06, {"reading": False, "position": False}), CellState.SMALLER),
        (ValveOutcome(0.35, 0.0, {"position": False, "verdict": False}), CellState.PLACE),
        (ValveOutcome(0.35, 0.0, ALL_RIGHT | {"verdict": False, "shim": False}), CellState.VERDICT),
        (ValveOutcome(0.35, 0.0, ALL_RIGHT | {"shim": False}), CellState.WORK),
        (ValveOutcome(None, None, dict.fromkeys(ALL_RIGHT, False)), CellState.BLANK),
        # Somebody who wrote a place and no figure.
        (ValveOutcome(None, None, ALL_RIGHT | {"reading": False}), CellState.BLANK),
        # A list of verdicts alone.
        (ValveOutcome(None, None, {"verdict": True}), CellState.RIGHT),
        # An instructor who decided that a reading counts.
        (ValveOutcome(0.50, 0.15, ALL_RIGHT), CellState.RIGHT),
    ],
)  # fmt: skip
def test_a_cell_says_the_first_thing_that_is_wrong(seen, state):
    view = see_class({1: KEY[1]}, [SheetOutcome({1: seen})])
    assert view.cells == [(state,)]


def test_a_valve_that_is_not_on_a_sheet_was_left_blank():
    assert see_class(KEY, [SheetOutcome({})]).cells == [(CellState.BLANK,) * 4]


def test_a_class_that_agrees_with_each_other_and_not_with_the_key():
    sheets = [sheet(0.35, 0.25, 0.33, 0.35)] * 6 + [sheet(*GOOD)] * 2
    (doubt,) = see_class(KEY, sheets).doubts
    assert (doubt.valve, doubt.read, doubt.agree) == (3, 8, 6)
    assert doubt.says == (
        "6 of 8 read valve 3 loose, about 0.33 mm where the key says 0.25 mm. They agree with each "
        "other and not with the key: look at the key."
    )


def test_a_doubt_speaks_in_the_unit_of_the_manual():
    """5 thou is 0.127 mm: two decimals of it are another figure."""
    spec = Clearance(Unit.THOU, Spread(Decimal(4), Decimal(6)))
    key = {1: KeyGapSeen(5 * 0.0254, 0.02, spec)}
    off = SheetOutcome({1: ValveOutcome(8 * 0.0254, 3 * 0.0254, {"reading": False})})
    (doubt,) = see_class(key, [off] * 5).doubts
    assert "loose, about 8.0 thou where the key says 5.0 thou." in doubt.says


@pytest.mark.parametrize(
    "sheets",
    [
        # Everybody agrees with the key.
        [sheet(*GOOD)] * 8,
        # Two agree with each other: a pair that worked together.
        [sheet(0.35, 0.25, 0.33, 0.35)] * 2 + [sheet(*GOOD)] * 1,
        # Most are wrong, each in another way.
        [sheet(0.35, 0.25, gap, 0.35) for gap in (0.05, 0.12, 0.33, 0.41, 0.50)],
        # Three of eight: a third of a class that makes one mistake.
        [sheet(0.35, 0.25, 0.33, 0.35)] + [sheet(*GOOD)] * 5 + [sheet(0.35, 0.25, 0.33, 0.35)] * 2,
        # All of them, but by a key that is not looked at.
        [sheet(0.35, 0.25, 0.33, 0.35, of_this_key=False)] * 6,
        [],
    ],
)
def test_keys_that_nobody_should_doubt(sheets):
    assert see_class(KEY, sheets).doubts == []


def test_a_mistake_that_most_made_is_named_instead():
    turned = finding(Kind.FULL_TURN, 3)
    sheets = [sheet(0.35, 0.25, 0.02, 0.35, findings=[turned])] * 5 + [sheet(*GOOD)]
    (doubt,) = see_class(KEY, sheets).doubts
    assert doubt.explained is Kind.FULL_TURN
    assert "“A full turn out” would explain most of them" in doubt.says
    # A finding about other valves explains nothing here.
    other = finding(Kind.FULL_TURN, 1)
    sheets = [sheet(0.35, 0.25, 0.02, 0.35, findings=[other])] * 5
    assert see_class(KEY, sheets).doubts[0].explained is None


def test_a_stand_that_was_adjusted_between_two_pairs():
    """The first four agree with the key, the three who come after with each other: fewer than half,
    and still clear."""
    sheets = [sheet(*GOOD)] * 4 + [sheet(0.35, 0.25, 0.31, 0.35)] * 3
    (doubt,) = see_class(KEY, sheets).doubts
    assert doubt.since == 4
    assert "the 4 who handed in first did agree with it: was the stand adjusted" in doubt.says
    # Sheets that were typed from a stack of paper have no order in time.
    assert see_class(KEY, sheets, in_time=False).doubts == []


def test_most_of_a_head_is_one_doubt():
    loose = [sheet(0.41, 0.31, 0.31, 0.35)] * 4
    (says,) = see_class(KEY, loose).says
    assert says.startswith("On 3 of 4 valves most of the class read looser alike")
    mixed = [sheet(0.25, 0.35, 0.35, 0.25)] * 4
    (says,) = see_class(KEY, mixed).says
    assert says.startswith("On 4 of 4 valves most of the class read alike")


def test_groups_are_the_commonest_mistakes_with_their_students():
    sheets = [
        sheet(*GOOD, findings=[finding(Kind.CAUGHT_TIP, 2)]),
        sheet(*GOOD, findings=[finding(Kind.FULL_TURN, 4, 1)]),
        sheet(*GOOD),
        sheet(*GOOD, findings=[finding(Kind.FULL_TURN, 3), finding(Kind.BIAS_TIGHT, 1, 2, 3, 4)]),
    ]
    told = [(g.kind, g.students, g.valves) for g in see_class(KEY, sheets).groups]
    assert told[0] == (Kind.FULL_TURN, (1, 3), (1, 3, 4))
    assert {kind for kind, *_ in told} == {Kind.FULL_TURN, Kind.CAUGHT_TIP, Kind.BIAS_TIGHT}


def test_honest_classes_doubt_no_key_and_wrong_keys_are_doubted():
    """Hands drawn here by the standard library alone: 400 classes of 12, scatter 0.012 mm."""
    hand = random.Random(20261127)  # noqa: S311
    doubted = found = 0
    for _ in range(400):
        biases = [hand.gauss(0, 0.008) for _ in range(12)]
        honest = [
            sheet(*(key.gap_mm + b + hand.gauss(0, 0.012) for key in KEY.values())) for b in biases
        ]
        doubted += bool(see_class(KEY, honest).doubts)
        off = [0.0, 0.09, 0.0, 0.0]
        wrong = [
            sheet(
                *(
                    k.gap_mm + o + b + hand.gauss(0, 0.012)
                    for k, o in zip(KEY.values(), off, strict=True)
                )
            )
            for b in biases
        ]
        doubts = see_class(KEY, wrong).doubts
        found += [one.valve for one in doubts] == [2]
        middle = statistics.fmean(one.valves[2].gap_mm for one in wrong)
        assert abs(doubts[0].about_mm - middle) < 0.02
    assert doubted == 0
    assert found == 400
