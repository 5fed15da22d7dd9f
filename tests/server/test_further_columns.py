"""Sheets that ask for more: a second pass, the gap after the nut, shims; and honest doubt."""

import pytest

from edrix.engines import services as engines
from edrix.sheets.models import Reading, Sheet
from edrix.stands import services as stands
from tests.core.conftest import engine_document
from tests.server.conftest import KEY_MM, mark_of, right_lines, tick_the_lists
from tests.server.test_drafts import changes

SHIM = {
    "kind": "shim",
    "place": "over-bucket",
    "sizes_mm": {"from": 2.0, "to": 3.5, "step": 0.05},
}


@pytest.fixture
def set_sheet(school, browsers):
    """Sets a sheet on stand 3 as Tove does, with other fields."""
    tick_the_lists(school, school.ines)

    def make(**fields):
        body = {
            "stand_id": school.stand.id,
            "title": "With the nut",
            "method": "two-stop",
            "tolerance": "0.03",
            **fields,
        }
        path = f"/api/classes/{school.class_a}/sheets"
        return browsers["instructor"].send("POST", path, body)

    return make


def hand_in(browsers, sheet_id, lines, **fields):
    body = {"lines": lines, "request_key": "first-click", "confirmed": True, **fields}
    return browsers["student"].send("POST", f"/api/sheets/{sheet_id}/hand-in", body)


def with_further(**by_valve):
    """Right lines; valve_3={"after": "0.25"} adds to that of valve 3."""
    return [
        line | {"further": by_valve.get(f"valve_{line['valve']}", {})} for line in right_lines()
    ]


def test_a_sheet_asks_for_more_and_marks_it(set_sheet, browsers):
    sheet_id = set_sheet(asks=["nut", "second"], gauge="0.01").json()["id"]
    shown = browsers["student"].get(f"/api/sheets/{sheet_id}").json()
    assert (shown["asks"], shown["gauge_mm"]) == (["second", "nut"], "0.0100")
    # Valve 3 reads 0.19, tight; it and valve 5 (loose) are set, valve 5 still loose.
    lines = with_further(
        valve_3={"second": "0.20", "set": "0.24", "after": "10 thou"},
        valve_5={"set": "0.40", "after": "0.42"},
    )
    result = hand_in(browsers, sheet_id, lines).json()
    assert (result["points"], result["out_of"]) == (31, 32)
    by_valve = {valve["valve"]: valve for valve in result["valves"]}
    assert mark_of(by_valve[3], "adjusted")["says"] == (
        "0.254 mm with the nut tight, against 0.22 mm to 0.28 mm: within."
    )
    assert mark_of(by_valve[5], "adjusted")["right"] is False
    assert mark_of(by_valve[1], "shim") is None
    kept = Reading.objects.get(hand_in__sheet_id=sheet_id, valve=3)
    assert kept.further["after"] == {"typed": "10 thou", "mm": "0.2540"}
    assert result["lines"][2]["further"] == {"second": "0.20", "set": "0.24", "after": "10 thou"}


def test_what_is_missing_is_asked_about_first(set_sheet, browsers):
    sheet_id = set_sheet(asks=["nut"]).json()["id"]
    asked = hand_in(browsers, sheet_id, right_lines(), confirmed=False).json()
    assert [field["path"] for field in asked["fields"]] == ["valve 3.after", "valve 5.after"]


def test_a_draft_keeps_the_further_columns_as_typed(set_sheet, browsers):
    sheet_id = set_sheet(asks=["second"]).json()["id"]
    line = {"valve": 3, "further": {"second": "0,2x"}}
    student = browsers["student"]
    assert (
        student.send("PATCH", f"/api/sheets/{sheet_id}/draft", changes([line])).status_code == 200
    )
    assert student.get(f"/api/sheets/{sheet_id}").json()["draft"][0]["further"] == {
        "second": "0,2x"
    }


@pytest.mark.parametrize(
    ("further", "path", "says"),
    [
        ({"second": "0,2x"}, "valve 3.second", "the unit “x” is not known"),
        ({"after": "-1"}, "valve 3.after", "outside a gap"),
        ({"colour": "2"}, "valve 3.colour", "is not a column of a sheet"),
    ],
)
def test_columns_that_cannot_be_read_lose_nothing(set_sheet, browsers, further, path, says):
    sheet_id = set_sheet(asks=["second"]).json()["id"]
    answer = hand_in(browsers, sheet_id, with_further(valve_3=further))
    assert answer.status_code == 422
    (fault,) = answer.json()["fields"]
    assert fault["path"] == path
    assert says in fault["problem"]
    assert not Reading.objects.exists()


@pytest.mark.parametrize(
    ("fields", "path", "says"),
    [
        ({"asks": ["shims"]}, "asks", "this engine has no shims"),
        ({"asks": ["colour"]}, "asks", "“colour” is not known"),
        ({"gauge": "9"}, "gauge", "at most 1 mm"),
        ({"gauge": "x"}, "gauge", "is not a"),
    ],
)
def test_sheets_that_cannot_be_set(set_sheet, fields, path, says):
    before = Sheet.objects.count()
    answer = set_sheet(**fields)
    assert answer.status_code == 422
    (fault,) = answer.json()["fields"]
    assert fault["path"] == path
    assert says in fault["problem"]
    assert Sheet.objects.count() == before


def test_shims_are_marked_where_there_are_shims(school, set_sheet, browsers):
    version, _ = engines.add_engine(school.tove, engine_document([1, 3, 4, 2], adjuster=SHIM))
    stand = stands.create_stand(school.tove, school.class_a, "Stand 8", version.engine_id)
    gaps = [stands.TypedGap(valve, gap, "mm") for valve, gap in KEY_MM.items()]
    stands.enter_key(school.tove, stand.id, gaps)
    assert "no lock nuts" in set_sheet(stand_id=stand.id, asks=["nut"]).json()["detail"]
    sheet_id = set_sheet(stand_id=stand.id, asks=["shims"]).json()["id"]
    # Valve 3 is tight by about 0.06 and valve 5 loose by 0.07; both get a thicker one.
    lines = with_further(
        valve_3={"shim_fitted": "2.50", "shim_chosen": "2.55"},
        valve_5={"shim_fitted": "2.50", "shim_chosen": "2.55"},
    )
    made = hand_in(browsers, sheet_id, lines).json()
    by_valve = {valve["valve"]: mark_of(valve, "shim") for valve in made["valves"]}
    assert by_valve[3] == {
        "part": "shim",
        "label": "Shim",
        "right": False,
        "says": "2.50 mm + 0.19 mm − 2.55 mm = 0.14 mm, against 0.22 mm to 0.28 mm: tight.",
        "answer": None,
        "decided": None,
    }
    assert by_valve[5]["right"] is True


def test_what_cannot_be_told_is_a_right_answer_near_a_limit(set_sheet, browsers):
    sheet_id = set_sheet(gauge="0.01").json()["id"]
    lines = [
        # Valve 6 is 0.26, two hundredths below its limit; 0.27 is one.
        line | ({"reading": "0.27", "verdict": "cannot-tell"} if line["valve"] == 6 else {})
        for line in right_lines()
    ]
    valve = hand_in(browsers, sheet_id, lines).json()["valves"][5]
    assert mark_of(valve, "verdict")["right"] is True
    assert "tells no better than ±0.01 mm" in mark_of(valve, "verdict")["says"]


def test_a_decision_needs_a_mark(set_sheet, browsers):
    sheet_id = set_sheet().json()["id"]
    hand_in(browsers, sheet_id, right_lines())
    tove = browsers["instructor"]
    (row,) = [
        r for r in tove.get(f"/api/sheets/{sheet_id}/board").json()["rows"] if r["hand_in_id"]
    ]
    body = {"valve": 3, "part": "adjusted", "right": True, "reason": "seen"}
    answer = tove.send("POST", f"/api/hand-ins/{row['hand_in_id']}/decisions", body)
    assert (answer.status_code, answer.json()["fields"][0]["path"]) == (422, "part")


def test_findings_see_the_further_columns(set_sheet, browsers):
    sheet_id = set_sheet(asks=["second"]).json()["id"]
    hand_in(browsers, sheet_id, with_further(valve_1={"second": "0.48"}))
    rows = browsers["instructor"].get(f"/api/sheets/{sheet_id}/findings").json()["rows"]
    assert [finding["kind"] for finding in rows[0]["findings"]] == ["between-passes"]


def test_paper_takes_what_the_sheet_asks_for_and_the_board_names_it(set_sheet, browsers, school):
    sheet_id = set_sheet(asks=["second"]).json()["id"]
    board = browsers["instructor"].get(f"/api/sheets/{sheet_id}/board").json()
    assert [column["name"] for column in board["columns"]] == ["second"]
    lines = with_further(valve_3={"second": "0.20"})
    body = {"sheets": [{"student_id": school.ines.id, "lines": lines}]}
    took = browsers["instructor"].send("POST", f"/api/sheets/{sheet_id}/paper", body)
    assert took.status_code == 201
    kept = Reading.objects.get(hand_in__sheet_id=sheet_id, valve=3)
    assert kept.further == {"second": {"typed": "0.20", "mm": "0.2000"}}


NARROW = {"unit": "mm", "engine": "cold", "intake": {"min": 0.19, "max": 0.21},
          "exhaust": {"min": 0.32, "max": 0.38}}  # fmt: skip


@pytest.fixture
def narrow_stand(school):
    """A shimmed engine whose intakes have a spec narrower than a shim step."""
    document = engine_document([1, 3, 4, 2], adjuster=SHIM) | {"clearance": NARROW}
    version, _ = engines.add_engine(school.tove, document)
    stand = stands.create_stand(school.tove, school.class_a, "Stand 9", version.engine_id)
    gaps = [stands.TypedGap(valve, gap, "mm") for valve, gap in KEY_MM.items()]
    stands.enter_key(school.tove, stand.id, gaps)
    return stand


@pytest.mark.parametrize(("rule", "right"), [(["leave"], True), (["leave-over"], False)])
def test_a_valve_may_be_left_where_the_instructors_rule_and_the_sum_allow_it(
    narrow_stand, set_sheet, browsers, rule, right
):
    sheet_id = set_sheet(stand_id=narrow_stand.id, asks=["shims", *rule]).json()["id"]
    shown = browsers["student"].get(f"/api/sheets/{sheet_id}").json()
    assert shown["columns"][-1]["options"][0] == {
        "value": "no-better",
        "title": "the next size lands no better",
    }
    # Valve 3 reads 0.22, a hundredth loose of 0.19 to 0.21; 2.55 would leave 0.17, two tight.
    left = {"shim_fitted": "2.50", "leave": "no-better"}
    lines = [line | {"reading": "0.22"} if line["valve"] == 3 else line
             for line in with_further(valve_3=left)]  # fmt: skip
    made = hand_in(browsers, sheet_id, lines).json()
    (mark,) = [mark_of(v, "shim") for v in made["valves"] if v["valve"] == 3]
    assert mark["right"] is right
    assert made["lines"][2]["further"] == left
    assert Reading.objects.get(hand_in__sheet_id=sheet_id, valve=3).further["leave"] == {
        "typed": "no-better",
        "mm": None,
    }
    # The reason stands in the logbook of the stand.
    log = browsers["instructor"].get(f"/api/stands/{narrow_stand.id}/log").json()
    found = [gap for entry in log["entries"] for gap in entry["gaps"] if gap["reason"]]
    assert [(gap["valve"], gap["reason"]) for gap in found] == [
        (3, "the next size lands no better")
    ]


def test_leaving_alone_is_no_sheet(set_sheet):
    answer = set_sheet(asks=["leave"])
    assert answer.status_code == 422
    assert "ask for one of them too" in answer.json()["detail"]


def test_the_settled_figure_is_marked_and_kept_beside_both_passes(set_sheet, browsers):
    sheet_id = set_sheet(asks=["second", "final"]).json()["id"]
    lines = [line | {"reading": "0.30"} if line["valve"] == 3 else line
             for line in with_further(valve_3={"second": "0.18", "final": "0.19"})]  # fmt: skip
    made = hand_in(browsers, sheet_id, lines).json()
    valve = next(one for one in made["valves"] if one["valve"] == 3)
    assert [mark_of(valve, part)["right"] for part in ("reading", "verdict")] == [True, True]
    assert made["lines"][2]["reading"] == "0.30"


def test_a_stand_says_what_a_sheet_of_it_can_ask(school, browsers, narrow_stand):
    found = browsers["instructor"].get(f"/api/classes/{school.class_a}/stands").json()
    asks = {stand["name"]: stand["asks"] for stand in found}
    assert asks["Stand 9"] == ["second", "final", "shims", "leave", "leave-over"]
    assert "nut" in asks["Stand 3"]
