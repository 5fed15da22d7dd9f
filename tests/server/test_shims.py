"""Shims over HTTP: the table, the arithmetic, moving and buying, and what cannot be used."""

import pytest

from edrix.engines import services as engines
from tests.core.conftest import engine_document

SHIMS = {
    "kind": "shim",
    "place": "under-bucket",
    "sizes_mm": {"from": 2.0, "to": 3.0, "step": 0.05},
    "cams_out": True,
}


@pytest.fixture
def engine_id(school):
    version, _ = engines.add_engine(school.tove, engine_document([1, 2], adjuster=SHIMS))
    return version.engine_id


def plan(browsers, engine_id, valves, **more):
    body = {"valves": valves, **more}
    return browsers["student"].send("POST", f"/api/engines/{engine_id}/shims", body)


def line(valve, fitted, measured):
    return {"valve": valve, "fitted": fitted, "measured": measured}


def test_the_table_of_each_role(browsers, engine_id):
    exhaust, intake = sorted(
        browsers["student"].get(f"/api/engines/{engine_id}/shim-tables").json(),
        key=lambda table: table["role"],
    )
    assert (intake["low_mm"], intake["high_mm"]) == (0.22, 0.28)
    row = intake["gaps_mm"].index(0.16)
    column = intake["fitted_mm"].index(2.5)
    # 2.50 + 0.16 - 0.25 = 2.41: a shim of 2.40 leaves 0.26 mm.
    assert intake["new_mm"][row][column] == 2.4
    assert exhaust["new_mm"][exhaust["gaps_mm"].index(0.34)][column] == 2.5


def test_the_shelf_says_which_engines_have_shims(browsers, engine_id, school):
    rows = {row["id"]: row["shims"] for row in browsers["student"].get("/api/engines").json()}
    assert rows[engine_id] is True
    assert rows[school.engine_id] is False


def test_an_engine_with_screws_has_no_table(browsers, school):
    answer = browsers["student"].get(f"/api/engines/{school.engine_id}/shim-tables")
    assert answer.status_code == 404
    assert "set by a screw" in answer.json()["detail"]


def test_arithmetic_and_a_swap_that_buys_nothing(browsers, engine_id):
    # Valves 2 and 3 are intakes, 0.22 to 0.28: each has the shim that the other wants.
    told = plan(browsers, engine_id, [line(2, "2.50", "0,15"), line(3, "2.40", "0.35")]).json()
    assert told["valves"][0]["sum"].endswith("= 2.400 mm")
    assert told["valves"][0]["choose_mm"] == 2.4
    assert told["valves"][0]["verdict"] == "thinner"
    assert [move["source"] for move in told["swap"]["moves"]] == ["valve 3", "valve 2"]
    assert told["swap"]["buy_mm"] == []


def test_measured_in_thou_and_stock(browsers, engine_id):
    told = plan(
        browsers, engine_id, [line(2, "2.50", "6")], unit="thou", stock=["2.40", "2.9"]
    ).json()
    assert told["swap"]["moves"][0]["source"] == "stock"
    assert told["swap"]["left_over_mm"] == [2.5, 2.9]


@pytest.mark.parametrize(
    ("valves", "stock", "says"),
    [
        ([], [], "no valve is given"),
        ([line(99, "2.5", "0.2")], [], "valve 99 has no shim"),
        ([line(2, "thick", "0.2")], [], "fitted shim “thick” is not a number"),
        ([line(2, "2.5", "-0.2")], [], "measured gap is -0.2"),
        ([line(2, "2.5", "9")], [], "give 0 to 5 mm"),
        ([line(2, "0", "0.2")], [], "is 0; give its thickness"),
        ([line(2, "2.5", "0.2"), line(2, "2.5", "0.2")], [], "names a valve twice"),
        ([line(2, "2.5", "0.2")], ["nan"], "“nan” is not a number"),
        ([line(2, "2.5", "0.2")], ["1e9"], "“1e9” is not a number"),
        ([line(2, "9" * 20, "0.2")], [], "fitted shim"),
    ],
)
def test_figures_that_cannot_be(browsers, engine_id, valves, stock, says):
    answer = plan(browsers, engine_id, valves, stock=stock)
    assert answer.status_code == 422
    assert says in answer.json()["detail"]
