"""Ten hard sheets, each with what an instructor would say of it.

What they say is common practice. The engine is a four that fires 1-3-4-2, intake 0.22 to 0.28,
exhaust 0.32 to 0.38 mm, measured at two stops. Figures lie near the key as an honest hand's do, but
for what the case says.
"""

import math
from typing import NamedTuple

import pytest

from tests.core.conftest import engine_firing
from tests.core.grading.other_hands import lifted, two_stops
from valvetrain.grading import Terms, mark_sheet, read_entry
from valvetrain.grading.findings import Case, Finding, KeyGap, Kind, Reference, explain
from valvetrain.grading.mark import Decimal

FOUR = engine_firing([1, 3, 4, 2])
KEY = {1: 0.34, 2: 0.25, 3: 0.19, 4: 0.36, 5: 0.42, 6: 0.26, 7: 0.24, 8: 0.35}
HONEST = {1: 0.01, 2: 0.0, 3: -0.01, 4: 0.01, 5: 0.0, 6: 0.01, 7: 0.0, 8: -0.01}
REFERENCE = Reference(FOUR, {valve: KeyGap(gap) for valve, gap in KEY.items()})
STOPS = two_stops(FOUR)
TERMS = Terms(Decimal("0.03"), asks=frozenset({"second", "final", "nut"}))


class Sheet(NamedTuple):
    """gaps that were written instead of honest ones; what an instructor says: the explanations,
    with the valves that they are about where they are about some."""

    says: str
    gaps: dict[int, str]
    kinds: dict[Kind, tuple[int, ...] | None]
    stops: dict[int, float] | None = None
    verdicts: dict[int, str] | None = None
    seconds: dict[int, str] | None = None
    finals: dict[int, str] | None = None


def honest():
    return {valve: f"{KEY[valve] + HONEST[valve]:.2f}" for valve in KEY}


def thou_as_hundredths():
    return {valve: f"{round((KEY[valve] + HONEST[valve]) / 0.0254) / 100:.2f}" for valve in KEY}


def leaning(by_mm):
    return {valve: f"{KEY[valve] + HONEST[valve] + by_mm:.2f}" for valve in KEY}


def full_turn():
    """As a student does it who stops at the mark on the wrong stroke both times: valves that are
    open there have no gap, or the ramp's; those on their heel at both read right."""
    up = {v.number: lifted(FOUR, v, (STOPS[v.number] + 360) % 720) for v in FOUR.valves}
    return {v: f"{max(0.0, KEY[v] * (1 - there)):.2f}" for v, there in up.items() if there > 0}


SHEETS = {
    "clean": Sheet("Nothing to add.", {}, {}),
    "a full turn out": Sheet(
        "The mark is right and the stroke is wrong: no gap on just the valves that are open there.",
        full_turn(), {Kind.FULL_TURN: tuple(sorted(full_turn()))},
    ),
    "one slipped point": Sheet(
        "2.6 is 0.26 with its point slipped; the rest is good.",
        {6: "2.6"}, {Kind.DECIMAL_SLIP: (6,)},
    ),
    "thou written as hundredths": Sheet(
        "Ten thou is not 0.10 mm: every figure is in the wrong unit.",
        thou_as_hundredths(), {Kind.UNIT_SLIP: None},
    ),
    "a hand that leans": Sheet(
        "Everything reads tight by half a tenth: this hand clamps the leaf.",
        leaning(-0.05), {Kind.BIAS_TIGHT: None},
    ),
    "a lean and a slip": Sheet(
        "It leans, and one point slipped besides.",
        leaning(0.05) | {5: "4.7"}, {Kind.BIAS_LOOSE: None, Kind.DECIMAL_SLIP: (5,)},
    ),
    "a leaf that caught": Sheet(
        "One reading is a tenth tight among good ones: the tip caught.",
        {8: "0.25"}, {Kind.CAUGHT_TIP: (8,)},
    ),
    "tight and loose exchanged": Sheet(
        "The figures are good; too small is called loose and too large tight.",
        {}, {Kind.VERDICT_REVERSED: (3, 5)}, verdicts={3: "loose", 5: "tight"},
    ),
    "passes that differ": Sheet(
        "Two passes of valve 4 are 0.15 mm apart: measure a third time.",
        {}, {Kind.BETWEEN_PASSES: (4,)},
        seconds={valve: text for valve, text in honest().items() if valve != 4} | {4: "0.52"},
    ),
    "passes that were settled": Sheet(
        "They differed, a third time decided, and the figure that counts is right.",
        {4: "0.47"}, {},
        seconds=honest(), finals={4: "0.37"},
    ),
}  # fmt: skip


def case_of(sheet):
    lines = []
    for valve, text in (honest() | sheet.gaps).items():
        further = {
            name: texts[valve]
            for name, texts in (("second", sheet.seconds), ("final", sheet.finals))
            if texts and valve in texts
        }
        gap = float(sheet.finals.get(valve, text) if sheet.finals else text)
        low, high = (0.22, 0.28) if FOUR.valve[valve].role == "intake" else (0.32, 0.38)
        said = "tight" if gap < low else "loose" if gap > high else "within"
        verdict = (sheet.verdicts or {}).get(valve, said)
        lines.append(
            read_entry(
                FOUR, valve=valve, reading=text, unit="mm", crank_deg=STOPS[valve],
                verdict=verdict, further=further,
            )
        )  # fmt: skip
    return Case.of(REFERENCE, lines)


@pytest.mark.parametrize("name", SHEETS)
def test_an_instructor_has_nothing_to_add(name):
    sheet = SHEETS[name]
    told = explain(case_of(sheet))
    assert {one.kind for one in told} == set(sheet.kinds), sheet.says
    for one in told:
        wanted = sheet.kinds[one.kind]
        if wanted is not None:
            assert tuple(sorted(one.valves)) == wanted, sheet.says


def test_ten_sheets_are_ten():
    assert len(SHEETS) == 10


def test_marks_follow_the_figure_that_was_settled_on():
    case = case_of(SHEETS["passes that were settled"])
    key = {valve: Decimal(str(gap)) for valve, gap in KEY.items()}
    marks = next(v for v in mark_sheet(FOUR, key, TERMS, case.lines).valves if v.valve == 4)
    assert marks.parts["reading"].right
    assert marks.parts["verdict"].right


def test_a_rival_that_explains_nearly_as_well_is_named():
    """Within ten to one nobody tells which it was; beyond that nothing else is named."""
    near = Finding(Kind.CAUGHT_TIP, (4,), 6.0, "A caught leaf explains valve 4.", None, ())
    told = near.beside(Kind.OFF_HEEL, 5.0)
    assert told.rival is Kind.OFF_HEEL
    assert told.says.endswith("Or “Off its heel”, which explains them nearly as well.")
    # Ten times less likely, not likely at all, or the same: none.
    assert near.beside(Kind.OFF_HEEL, 6.0 - math.log(10) - 0.01).rival is None
    assert near.beside(Kind.OFF_HEEL, math.log(10) - 0.01).rival is None
    assert near.beside(Kind.CAUGHT_TIP, 5.9).rival is None
    assert told.beside(Kind.UNIT_SLIP, 5.9).rival is Kind.OFF_HEEL


@pytest.mark.parametrize("name", sorted(SHEETS.keys() - {"a lean and a slip"}))
def test_a_clear_case_has_no_rival(name):
    for one in explain(case_of(SHEETS[name])):
        assert one.rival is None, (one.kind, one.rival)


def test_a_lean_that_a_wrong_factor_explains_nearly_as_well_says_so():
    """0.05 mm more on every figure is a fifth of the small ones: so is a wrong conversion."""
    (lean,) = [one for one in explain(case_of(SHEETS["a lean and a slip"]))
               if one.kind is Kind.BIAS_LOOSE]  # fmt: skip
    assert lean.rival is Kind.CONVERSION_SLIP
    assert "Or “Conversion”" in lean.says
