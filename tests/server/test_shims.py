"""Shims over HTTP: the table, the arithmetic, moving and buying, and what cannot be used."""

import pytest

from edrix.engines import services as engines
from tests.core.conftest import engine_document
from tests.core.practice.conftest import shelf_engine
from valvetrain.engine_file import write_engine

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
    row = row_of(intake, 0.16)
    column = intake["fitted_mm"].index(2.5)
    # 2.50 + 0.16 - 0.25 = 2.41: a shim of 2.40 leaves 0.26 mm.
    assert intake["new_mm"][row][column] == 2.4
    assert exhaust["new_mm"][row_of(exhaust, 0.34)][column] == 2.5


def row_of(table, gap_mm):
    (place,) = [
        place
        for place, band in enumerate(table["bands"])
        if band["from_mm"] <= gap_mm <= band["to_mm"]
    ]
    return place


def test_a_blank_leaves_out_that_valve_only(browsers, engine_id):
    told = plan(
        browsers, engine_id, [line(2, "", "0.15"), line(3, "2.40", "0.35"), line(1, "2.40", "")]
    ).json()
    assert [one["valve"] for one in told["valves"]] == [3]
    assert told["left_out"] == [
        {"valve": 2, "why": "the fitted shim is blank"},
        {"valve": 1, "why": "the measured gap is blank"},
    ]


def test_a_stamped_code_is_read_where_a_size_is_typed(browsers, school):
    coded = engine_document([1, 2], adjuster=SHIMS | {"codes": {"times": 0.01}})
    version, _ = engines.add_engine(school.tove, coded | {"name": "Coded"})
    told = plan(browsers, version.engine_id, [line(2, "250", "0,15")], stock=["240"]).json()
    assert told["valves"][0]["sum"].startswith("2.500 fitted")
    assert told["swap"]["moves"][0]["source"] == "stock"
    assert told["swap"]["moves"][0]["size_mm"] == 2.4


class TestPulledShut:
    """Closing first: its shim moves the opening gap. The sums are worked by hand (our own)."""

    @pytest.fixture
    def gorge(self, school):
        document = write_engine(shelf_engine(17))
        return engines.add_engine(school.tove, document)[0].engine_id

    def both(self, valve, closing, opening):
        return line(valve, *opening) | {
            "closing_fitted": closing[0],
            "closing_measured": closing[1],
        }

    def test_both_shims_are_worked_out_closing_first(self, browsers, gorge):
        # 7.00 + 0.12 - 7.10 = 0.02; the opening gap falls from 0.20 to 0.10; 3.00 + 0.10 - 2.95.
        lines = [self.both(1, ("7.00", "0.12"), ("3.00", "0.20"))]
        (told,) = plan(browsers, gorge, lines).json()["valves"]
        assert told["closing"]["choose_mm"] == 7.1
        assert told["opening_gap_mm"] == 0.1
        assert told["choose_mm"] == 2.95
        assert told["says"][0].startswith("Closing first")

    def test_each_kind_is_moved_among_its_own(self, browsers, gorge):
        lines = [
            self.both(1, ("7.00", "0.12"), ("3.00", "0.20")),
            self.both(2, ("7.10", "0.03"), ("2.95", "0.15")),
        ]
        told = plan(browsers, gorge, lines).json()
        assert {move["size_mm"] for move in told["closing_swap"]["moves"]} <= {7.0, 7.05, 7.1, 7.15}
        assert {move["size_mm"] for move in told["swap"]["moves"]} <= {2.9, 2.95, 3.0}

    def test_without_its_closing_figures_the_opening_shim_is_worked_out_alone(
        self, browsers, gorge
    ):
        told = plan(browsers, gorge, [line(1, "3.00", "0.20")]).json()
        assert told["valves"][0]["closing"] is None
        assert told["closing_swap"] is None

    def test_half_of_the_closing_figures_is_a_blank(self, browsers, gorge):
        half = line(1, "3.00", "0.20") | {"closing_fitted": "7.00"}
        answer = plan(browsers, gorge, [half, line(2, "3.00", "0.15")]).json()
        assert answer["left_out"] == [{"valve": 1, "why": "the closing gap is blank"}]

    def test_tables_for_both(self, browsers, gorge):
        tables = browsers["student"].get(f"/api/engines/{gorge}/shim-tables").json()
        assert [(one["role"], one["gap"]) for one in tables] == [
            ("intake", "closing"),
            ("intake", "opening"),
            ("exhaust", "closing"),
            ("exhaust", "opening"),
        ]


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
        ([], [], "none with both its shim and its gap"),
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
