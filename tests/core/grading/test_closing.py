"""Sheets of valves that are pulled shut: two figures each, closing shim first, what goes wrong.

The sums are hand examples of our own: lengths on one stem that add up.
"""

from decimal import Decimal

import pytest

from tests.core.practice.conftest import shelf_engine
from valvetrain.engine_file import write_engine
from valvetrain.grading import Terms, mark_sheet, read_entry
from valvetrain.grading.columns import ASKS, cannot_be_asked
from valvetrain.grading.findings import Case, KeyGap, Kind, Reference, explain
from valvetrain.grading.sheet_file import read_sheet

D = Decimal
GORGE = shelf_engine(17)
"""Opening 0.13 to 0.18, closing 0 to 0.05 mm, four valves; opening shims by 0.05."""
OPENING_KEY = {1: D("0.20"), 2: D("0.15"), 3: D("0.15"), 4: D("0.10")}
CLOSING_KEY = {1: D("0.12"), 2: D("0.03"), 3: D("0.11"), 4: D("0.12")}
ALL_ASKED = frozenset({"closing", "closing-shims", "shims"})


def line(valve, reading, **further):
    return read_entry(
        GORGE,
        valve=valve,
        reading=reading,
        unit="mm",
        crank_deg=0.0 if valve < 3 else 270.0,
        verdict="within",
        further=further,
    )


def marks_of(entry, closing_key=CLOSING_KEY):
    terms = Terms(D("0.02"), asks=ALL_ASKED, closing_mm=closing_key)
    marked = mark_sheet(GORGE, OPENING_KEY, terms, [entry]).valves
    return next(one for one in marked if one.valve == entry.valve).parts


def test_the_closing_gap_is_marked_against_its_own_key():
    assert marks_of(line(1, "0.20", closing="0.11"))["closing"].right
    wrong = marks_of(line(1, "0.20", closing="0.20"))["closing"]
    assert not wrong.right
    assert "larger than the reference" in wrong.student_says
    assert "0.12" not in wrong.student_says
    assert not marks_of(line(1, "0.20"))["closing"].right


def test_without_a_key_of_it_the_closing_gap_is_not_marked():
    assert "closing" not in marks_of(line(1, "0.20", closing="0.11"), closing_key={})


@pytest.mark.parametrize(
    ("further", "closing_right", "opening_right", "says"),
    [
        # 7.00 + 0.12 - 7.10 = 0.02; the opening gap falls to 0.10; 3.00 + 0.10 - 2.95 = 0.15.
        (("7.00", "7.10", "3.00", "2.95"), True, True, "moves it to 0.10 mm first"),
        # The opening shim as if the closing one had stayed: 3.00 + 0.10 - 3.05 = 0.05, tight.
        (("7.00", "7.10", "3.00", "3.05"), True, False, "tight"),
        # The closing shim the wrong way: 7.00 + 0.12 - 6.90 = 0.22.
        (("7.00", "6.90", "3.00", "3.15"), False, True, "moves it to 0.30 mm first"),
        # Opening left alone although the closing shim closed it to 0.10.
        (("7.00", "7.10", "3.00", ""), True, False, "no shim is chosen"),
    ],
)
def test_shims_of_both(further, closing_right, opening_right, says):
    names = ("closing_fitted", "closing_chosen", "shim_fitted", "shim_chosen")
    marks = marks_of(line(1, "0.20", closing="0.12", **dict(zip(names, further, strict=True))))
    assert marks["closing_shim"].right is closing_right
    assert marks["shim"].right is opening_right
    assert says in marks["shim"].instructor_says


def test_asked_only_where_a_valve_is_pulled_shut():
    for name in ("closing", "closing-shims"):
        assert cannot_be_asked(ASKS[name], GORGE) is None
        assert "pulled shut" in cannot_be_asked(ASKS[name], shelf_engine(1))


def found(*lines):
    key = {valve: KeyGap(float(gap)) for valve, gap in OPENING_KEY.items()}
    case = Case.of(Reference(GORGE, key, closing_mm=CLOSING_KEY), lines)
    return {(one.kind, one.valves) for one in explain(case)}


def test_opening_and_closing_exchanged_is_found():
    written = [line(v, f"{CLOSING_KEY[v]}", closing=f"{OPENING_KEY[v]}") for v in OPENING_KEY]
    (valves,) = [valves for kind, valves in found(*written) if kind is Kind.GAPS_SWAPPED]
    # Those whose two gaps are far enough apart to tell: at valve 4 they are 0.02 mm apart.
    assert set(valves) >= {1, 2}


def test_the_closing_shim_left_out_of_the_sum_is_found():
    """Valve 1: right is 2.945, without the closing shim's 0.10 it would be 3.045. Valve 4: right
    2.845, without 2.945."""
    shims = {"closing_fitted": "7.00", "closing_chosen": "7.10", "shim_fitted": "3.00"}
    written = [
        line(1, "0.20", closing="0.12", **shims, shim_chosen="3.05"),
        line(4, "0.10", closing="0.12", **shims, shim_chosen="2.95"),
    ]
    assert (Kind.CLOSING_FORGOTTEN, (1, 4)) in found(*written)


def test_right_work_is_not_accused():
    shims = {"closing_fitted": "7.00", "closing_chosen": "7.10", "shim_fitted": "3.00"}
    written = [
        line(1, "0.20", closing="0.12", **shims, shim_chosen="2.95"),
        line(2, "0.15", closing="0.03"),
        line(3, "0.16", closing="0.11"),
        line(4, "0.10", closing="0.12", **shims, shim_chosen="2.85"),
    ]
    assert found(*written) == set()


def test_a_sheet_file_carries_both():
    sheet = read_sheet(
        {
            "format": "edrix-sheet/1",
            "engine": write_engine(GORGE),
            "asks": ["reading", "stop", "verdict", "closing", "closing-shims", "shims"],
            "key": [
                {"valve": v, "gap": f"{OPENING_KEY[v]}", "closing": f"{CLOSING_KEY[v]}"}
                for v in OPENING_KEY
            ],
            "lines": [
                {
                    "valve": 1,
                    "reading": "0.20",
                    "closing": "0.12",
                    "closing_fitted_mm": 7.0,
                    "closing_chosen_mm": 7.1,
                    "shim_fitted_mm": 3.0,
                    "shim_chosen_mm": 2.95,
                }
            ],
        }
    )
    marks = mark_sheet(sheet.engine, sheet.key_mm, sheet.terms, sheet.entries).valves[0].parts
    assert marks["closing"].right
    assert marks["closing_shim"].right
    assert marks["shim"].right
