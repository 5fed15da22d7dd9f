"""An engine whose valves are pulled shut: key, sheet, marks, files and runs with two gaps each."""

import pytest

from edrix.engines import services as engines
from edrix.marking import handing_in
from edrix.practice import services as practice
from edrix.sheets import services as sheets
from edrix.sheets.lines import TypedLine
from edrix.stands import services as stands
from tests.core.practice.conftest import shelf_engine
from tests.server.conftest import new_practice
from valvetrain.engine_file import write_engine

ASKS = ("closing", "closing-shims", "shims")
OPENING = {1: "0.20", 2: "0.15", 3: "0.15", 4: "0.10"}
CLOSING = {1: "0.1237", 2: "0.0321", 3: "0.0419", 4: "0.1243"}
"""Odd decimals, so that a leak can be searched for as text."""


@pytest.fixture
def stand(school):
    version, _ = engines.add_engine(school.tove, write_engine(shelf_engine(17)))
    return stands.create_stand(school.tove, school.class_a, "Vee twin", version.engine_id)


@pytest.fixture
def sheet(school, stand, browsers):
    gaps = [{"valve": v, "gap": OPENING[v], "unit": "mm", "closing": CLOSING[v]} for v in OPENING]
    answer = browsers["instructor"].send("POST", f"/api/stands/{stand.id}/keys", {"gaps": gaps})
    assert answer.status_code == 201, answer.json()
    new = sheets.NewSheet(stand.id, "Both gaps", "each-cylinder", "0.02", "mm", "", ASKS)
    return sheets.set_sheet(school.tove, school.class_a, new)


def lines(**further):
    """Right figures; v1={"closing": …} adds to those of valve 1."""
    return [
        TypedLine(
            valve=valve,
            reading=gap,
            unit="mm",
            crank_deg=0.0 if valve < 3 else 270.0,
            verdict={"0.20": "loose", "0.15": "within", "0.10": "tight"}[gap],
            further={"closing": f"{float(CLOSING[valve]):.2f}"} | further.get(f"v{valve}", {}),
        )
        for valve, gap in OPENING.items()
    ]


CHANGED = {
    "closing_fitted": "7.00",
    "closing_chosen": "7.10",
    "shim_fitted": "3.00",
    "shim_chosen": "2.95",
}
"""Of valve 1: 7.00 + 0.12 − 7.10 = 0.02; the opening gap falls to 0.10; 3.00 + 0.10 − 2.95."""
AT_4 = CHANGED | {"shim_chosen": "2.85"}
"""Of valve 4: the opening gap falls to 0.00; 3.00 + 0.00 − 2.85 = 0.15."""


def hand_in(school, sheet, typed):
    key = "k-12345678"
    return handing_in.hand_in(school.ines, sheet.id, typed, request_key=key, confirmed=True)


def marks_of(browsers, sheet, valve):
    result = browsers["student"].get(f"/api/sheets/{sheet.id}").json()["result"]
    (found,) = [one for one in result["valves"] if one["valve"] == valve]
    return {mark["part"]: mark for mark in found["marks"]}


def test_both_gaps_and_both_shims_are_marked(school, sheet, browsers):
    hand_in(school, sheet, lines(v1=CHANGED, v4=AT_4))
    for valve in (1, 4):
        marks = marks_of(browsers, sheet, valve)
        assert {"closing", "closing_shim", "shim"} <= set(marks)
        assert all(mark["right"] for mark in marks.values()), marks
    assert "moves it to 0.10 mm first" in marks_of(browsers, sheet, 1)["shim"]["says"]


def test_a_closing_shim_left_out_of_the_sum_is_wrong_and_hinted_at(school, sheet, browsers):
    forgot = CHANGED | {"shim_chosen": "3.05"}
    hand_in(school, sheet, lines(v1=forgot, v4=AT_4 | {"shim_chosen": "2.95"}))
    assert not marks_of(browsers, sheet, 1)["shim"]["right"]
    hints = browsers["student"].get(f"/api/sheets/{sheet.id}").json()["result"]["hints"]
    assert any("closing shim" in hint for hint in hints)


def test_no_closing_key_reaches_a_student(school, sheet, browsers):
    hand_in(school, sheet, lines(v1={"closing": "0.30"}))
    told = browsers["student"].get(f"/api/sheets/{sheet.id}").content.decode()
    assert not [gap for gap in CLOSING.values() if gap in told]
    assert browsers["student"].get(f"/api/classes/{school.class_a}/stands").status_code == 403


def test_a_sheet_of_another_engine_cannot_ask_for_it(school, browsers):
    body = {
        "stand_id": school.stand.id,
        "title": "No closing here",
        "method": "two-stop",
        "tolerance": "0.03",
        "tolerance_unit": "mm",
        "asks": ["closing"],
    }
    answer = browsers["instructor"].send("POST", f"/api/classes/{school.class_a}/sheets", body)
    assert answer.status_code == 422
    assert "pulled shut" in answer.json()["detail"]


def test_a_key_refuses_a_closing_gap_where_there_is_none(school, browsers):
    gaps = [{"valve": v, "gap": "0.25", "unit": "mm", "closing": "0.1"} for v in range(1, 9)]
    address = f"/api/stands/{school.stand.id}/keys"
    answer = browsers["instructor"].send("POST", address, {"gaps": gaps})
    assert answer.status_code == 422
    assert "has no closing rocker" in answer.json()["detail"]


def test_passes_pool_the_closing_gap_too(school, stand, browsers):
    passes = [
        {
            "by": "",
            "gaps": [{"valve": v, "gap": "0.15", "unit": "mm", "closing": gap} for v in OPENING],
        }
        for gap in ("0.02", "0.04")
    ]
    address = f"/api/stands/{stand.id}/passes"
    assert browsers["instructor"].send("POST", address, {"passes": passes}).status_code == 201
    rows = browsers["instructor"].get(f"/api/classes/{school.class_a}/stands").json()
    (key,) = [row["key"] for row in rows if row["id"] == stand.id]
    assert {gap["closing_mm"] for gap in key["gaps"]} == {"0.0300"}


def test_what_the_sheet_left_becomes_the_key_of_both(school, sheet, browsers):
    made = hand_in(school, sheet, lines(v1=CHANGED))
    address = f"/api/hand-ins/{made.id}/next-key"
    moved = {
        row["valve"]: row
        for row in browsers["instructor"].get(address).json()["gaps"]
        if row["moved"]
    }
    # 0.20 − 0.10 by the closing shim, + 0.05 by the opening shim.
    assert moved[1]["becomes_mm"] == "0.1500"
    body = {"based_on": 1, "this_sheet": False}
    assert browsers["instructor"].send("POST", address, body).status_code == 201
    key = stands.newest_key(sheet.stand)
    assert f"{stands.closing_gaps_mm(key.id)[1]:f}" == "0.0237"
    assert f"{stands.closing_gaps_mm(key.id)[2]:f}" == "0.0321"


def test_the_sheet_as_a_file_carries_both(school, sheet, browsers):
    made = hand_in(school, sheet, lines(v1=CHANGED))
    answer = browsers["instructor"].get(f"/api/hand-ins/{made.id}/sheet.json")
    document = answer.json()
    assert document["key"][0]["closing"] == "0.1237"
    assert document["lines"][0]["closing_chosen_mm"] == 7.1
    assert {"closing", "closing-shims", "shims"} <= set(document["asks"])


class TestStudyOfTheClosingGap:
    """Each gap is an instrument's own job: their readings are compared apart."""

    CLOSING_READ = ("0.12", "0.03", "0.05", "0.13")

    @pytest.fixture
    def trials(self, school, stand, sheet):
        again = sheets.NewSheet(stand.id, "Again", "each-cylinder", "0.02", "mm", "", ASKS)
        plain = sheets.NewSheet(stand.id, "Opening only", "each-cylinder", "0.02", "mm")
        return [
            sheet,
            sheets.set_sheet(school.tove, school.class_a, again),
            sheets.set_sheet(school.tove, school.class_a, plain),
        ]

    def read(self, school, trials, browsers, students=("ines", "bo"), blank=None):
        for student, by in ((getattr(school, name), at) for at, name in enumerate(students)):
            for trial, sheet in enumerate(trials):
                read = [
                    {"closing": f"{float(gap) + 0.01 * (by + trial * (valve % 2)):.2f}"}
                    for valve, gap in enumerate(self.CLOSING_READ)
                ]
                if (student, sheet) == (school.bo, blank):
                    read[2] = {"closing": ""}
                further = {f"v{valve}": one for valve, one in enumerate(read, start=1)}
                typed = lines(**(further if "closing" in sheet.asks else {}))
                if "closing" not in sheet.asks:
                    typed = [line.model_copy(update={"further": {}}) for line in typed]
                handing_in.hand_in(
                    student,
                    sheet.id,
                    typed,
                    request_key=f"both-{student.id}-{sheet.id}",
                    confirmed=True,
                )
        return browsers["instructor"].get

    def test_it_is_one_of_its_own_against_the_closing_key(self, school, stand, trials, browsers):
        get = self.read(school, trials, browsers)
        known = get(f"/api/stands/{stand.id}/trials").json()
        assert known["gaps"] == ["opening", "closing"]
        told = get(f"/api/stands/{stand.id}/study?gap=closing").json()
        assert (told["gap"], told["trials"]) == ("closing", ["Both gaps", "Again"])
        bias = {hand["student"]: hand["bias_mm"] for hand in told["hands"]}
        # By hand: read 0.12 0.03 0.05 0.13, and on the second sheet valves 2 and 4 by 0.01 more:
        # a mean of 0.0850; the key's is (0.1237 + 0.0321 + 0.0419 + 0.1243) / 4 = 0.0805.
        assert bias[school.ines.display_name] == pytest.approx(0.0045)
        assert bias[school.bo.display_name] == pytest.approx(0.0145)
        # No verdict is asked of a closing gap, so nobody agrees with anybody.
        assert told["together"] is None
        assert [hand["agreed"] for hand in told["hands"]] == [None, None]

    def test_the_opening_gap_is_what_it_is_of_otherwise(self, school, stand, trials, browsers):
        told = self.read(school, trials, browsers)(f"/api/stands/{stand.id}/study").json()
        assert (told["gap"], len(told["trials"])) == ("opening", 3)

    def test_a_blank_closing_gap_leaves_its_student_out(self, school, stand, trials, browsers):
        get = self.read(school, trials, browsers, blank=trials[1])
        answer = get(f"/api/stands/{stand.id}/study?gap=closing")
        assert answer.status_code == 409
        assert "1 of the students" in answer.json()["detail"]

    def test_it_is_offered_only_where_it_was_asked_for(self, school, browsers):
        known = browsers["instructor"].get(f"/api/stands/{school.stand.id}/trials").json()
        assert known["gaps"] == ["opening"]
        answer = browsers["instructor"].get(f"/api/stands/{school.stand.id}/study?gap=closing")
        assert answer.status_code == 409
        assert "closing gap" in answer.json()["detail"]


def test_a_run_has_four_shims_a_cylinder_pair(school, stand, browsers):
    new = new_practice(
        stand.engine_version.engine_id, title="Vee twin", faults=[("wrong-closing", 1)]
    )
    made = practice.create(school.tove, school.class_a, new)
    run = practice.open_run(school.ines, made.id)
    step = 0

    def do(**action):
        nonlocal step
        body = {"key": f"key-{step:08}", "step": step, "action": action}
        answer = browsers["student"].send("POST", f"/api/runs/{run.id}/actions", body)
        assert answer.status_code == 200, answer.json()
        step += 1
        return answer.json()

    crank = run_view(browsers, run)["crank_turn_deg"]
    do(do="turn", by_deg=720 - crank if crank else 720)
    turned = do(do="wiggle", valve=1, gap="closing")
    assert "closing shim of valve 1" in turned["says"]
    view = run_view(browsers, run)
    assert min(view["closing_box_um"]) == 5000
    seen = view["valves"][0]
    assert (seen["closing_shim_out"], seen["closing_shim_aside"]) == (False, False)
    told = browsers["instructor"].get(f"/api/runs/{run.id}/debrief").json()
    first = told["valves"][0]
    assert first["closing_left_mm"] > 0.05 or first["closing_left_mm"] < 0
    assert not first["within"]


def run_view(browsers, run):
    return browsers["student"].get(f"/api/runs/{run.id}").json()["view"]
