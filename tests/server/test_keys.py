"""Keys of several passes and people, and keys that follow the stand as it is adjusted."""

import pytest

from edrix.marking import handing_in
from edrix.sheets import services as sheets
from edrix.sheets.lines import TypedLine
from edrix.sheets.models import HandIn
from edrix.stands.models import Key
from tests.server.conftest import KEY_MM, mark_of, right_lines


def passes_of(*changes, by=("Tove", "Rolf", "")):
    """One pass for each of changes, which are gaps by valve that differ from the key."""
    return {
        "passes": [
            {
                "by": by[number],
                "gaps": [
                    {"valve": valve, "gap": change.get(valve, gap), "unit": "mm"}
                    for valve, gap in KEY_MM.items()
                ],
            }
            for number, change in enumerate(changes)
        ]
    }


def enter(browsers, school, body, rest=""):
    path = f"/api/stands/{school.stand.id}/passes{rest}"
    return browsers["instructor"].send("POST", path, body)


def newest(browsers, school):
    (stand,) = browsers["instructor"].get(f"/api/classes/{school.class_a}/stands").json()
    return stand["key"]


def test_a_key_of_two_peoples_passes(school, browsers):
    body = passes_of({2: "0.25"}, {2: "0.27"})
    seen = enter(browsers, school, body, "/preview").json()
    assert Key.objects.count() == 1
    two = seen["gaps"][1]
    assert (two["gap_mm"], two["range_mm"], two["apart"]) == ("0.2600", "0.0200", False)
    # Squares 0.0002 over eight degrees of freedom: one pass 0.005, mean 0.00354, with the leaf's
    # 0.005 0.00612, doubled.
    assert seen["spread_mm"] == pytest.approx(0.005)
    assert two["uncertainty_mm"] == "0.0122"
    assert enter(browsers, school, body).json() == {"number": 2}
    key = newest(browsers, school)
    assert (key["origin"], key["note"], key["made_by"]) == ("passes", "Tove, Rolf", "Tove")
    assert key["gaps"][1]["passes"] == ["0.25 mm", "0.27 mm"]
    assert key["uncertainty_mm"] == "0.0122"


def test_passes_too_far_apart_are_told_before_they_are_kept(school, browsers):
    seen = enter(browsers, school, passes_of({3: "0.19"}, {3: "0.25"}), "/preview").json()
    assert [gap["valve"] for gap in seen["gaps"] if gap["apart"]] == [3]
    body = passes_of({3: "0.19"}, {3: "0.25"})
    asked = enter(browsers, school, body)
    assert asked.status_code == 409
    assert asked.json()["confirm"] is True
    (field,) = asked.json()["fields"]
    assert field["path"] == "valve 3"
    assert "0.06 mm apart" in field["problem"]
    assert Key.objects.count() == 1
    assert enter(browsers, school, body | {"confirmed": True}).status_code == 201
    # The slip of one valve is nobody else's uncertainty.
    gaps = newest(browsers, school)["gaps"]
    assert {gap["uncertainty_mm"] for gap in gaps} == {"0.0100"}


@pytest.mark.parametrize(
    ("body", "path", "says"),
    [
        ({"passes": []}, "passes", "measure once at least"),
        (passes_of({4: "abc"}), "pass 1.valve 4", "is not a"),
        (passes_of({}, {4: ""}), "pass 2.valve 4", "has no gap"),
        ({"passes": [{"gaps": []}]}, "pass 1.valve 1", "is missing"),
    ],
)
def test_passes_that_make_no_key(school, browsers, body, path, says):
    answer = enter(browsers, school, body)
    assert answer.status_code == 422
    fault = answer.json()["fields"][0]
    assert fault["path"] == path
    assert says in fault["problem"]
    assert Key.objects.count() == 1


def test_a_key_of_passes_is_known_as_well_as_they_agree(school, browsers):
    """0.04 off is more than the tolerance, and less than it and the key's own doubt together."""
    enter(browsers, school, passes_of({3: "0.17"}, {3: "0.19"}, {3: "0.21"}))
    new = sheets.NewSheet(school.stand.id, "By passes", "two-stop", "0.03", "mm")
    sheet = sheets.set_sheet(school.tove, school.class_a, new)
    lines = [
        TypedLine(**(line | ({"reading": "0.23"} if line["valve"] == 3 else {})))
        for line in right_lines()
    ]
    made = handing_in.hand_in(
        school.ines, sheet.id, lines, request_key="k-12345678", confirmed=True
    )
    told = browsers["instructor"].get(f"/api/hand-ins/{made.id}").json()["result"]["valves"][2]
    # Squares 0.0008 over sixteen: one pass 0.00707; the mean of three 0.00408, with the leaf
    # 0.00645; with a hundred effective degrees of freedom k is 2: 0.0129.
    assert mark_of(told, "reading")["right"] is True
    assert "the key is known to ±0.0129 mm only" in mark_of(told, "reading")["says"]


class TestTheStandMovesOn:
    def hand_in(self, school, student, **further):
        new = sheets.NewSheet(
            school.stand.id, "With the nut", "two-stop", "0.03", "mm", "", ("nut",)
        )
        sheet = sheets.set_sheet(school.tove, school.class_a, new)
        lines = [
            TypedLine(**line, further=further.get(f"v{line['valve']}", {}))
            for line in right_lines()
        ]
        return handing_in.hand_in(
            student, sheet.id, lines, request_key="k-12345678", confirmed=True
        )

    def see(self, browsers, made, who="instructor"):
        return browsers[who].get(f"/api/hand-ins/{made.id}/next-key")

    def move_on(self, browsers, made, based_on=1, **fields):
        body = {"based_on": based_on, "this_sheet": True, **fields}
        return browsers["instructor"].send("POST", f"/api/hand-ins/{made.id}/next-key", body)

    def test_what_a_checked_sheet_left_becomes_the_key(self, school, browsers):
        made = self.hand_in(school, school.ines, v3={"after": "0.25"}, v5={"after": "14 thou"})
        seen = self.see(browsers, made).json()
        assert seen["based_on"] == 1
        moved = {row["valve"]: row["becomes_mm"] for row in seen["gaps"] if row["moved"]}
        assert moved == {3: "0.2500", 5: "0.3556"}
        assert self.move_on(browsers, made).json() == {"number": 2}
        key = newest(browsers, school)
        assert (key["origin"], key["note"]) == ("adjusted", "Ines Falkner, With the nut")
        assert [gap["gap_mm"] for gap in key["gaps"]][:3] == ["0.3471", "0.2533", "0.2500"]

    def test_the_second_pair_is_marked_against_what_the_first_left(self, school, browsers):
        made = self.hand_in(school, school.ines, v3={"after": "0.25"}, v5={"after": "0.35"})
        self.move_on(browsers, made)
        lines = [
            TypedLine(
                **line
                | (
                    {"reading": {3: "0.25", 5: "0.35"}[line["valve"]], "verdict": "within"}
                    if line["valve"] in (3, 5)
                    else {}
                )
            )
            for line in right_lines()
        ]
        second = handing_in.hand_in(
            school.bo, made.sheet_id, lines, request_key="k-87654321", confirmed=True
        )
        assert second.markings.get().points == 32
        # The first keeps the marks and the key that it was measured against.
        first = HandIn.objects.get(id=made.id)
        assert (first.key.number, second.key.number) == (1, 2)
        rows = browsers["instructor"].get(f"/api/sheets/{made.sheet_id}/findings").json()["rows"]
        assert [row["findings"] for row in rows] == [[], []]

    def test_marking_anew_leaves_those_alone_who_measured_before(self, school, browsers):
        made = self.hand_in(school, school.ines, v3={"after": "0.25"})
        self.move_on(browsers, made)
        gaps = [{"valve": v, "gap": "0.9", "unit": "mm"} for v in KEY_MM]
        browsers["instructor"].send("POST", f"/api/stands/{school.stand.id}/keys", {"gaps": gaps})
        seen = browsers["instructor"].get(f"/api/sheets/{made.sheet_id}/remark").json()
        assert (seen["hand_ins"], seen["moves"]) == (0, [])

    def test_the_sheet_may_stay_behind(self, school, browsers):
        made = self.hand_in(school, school.ines, v3={"after": "0.25"})
        self.move_on(browsers, made, this_sheet=False)
        assert HandIn.objects.get(id=made.id).sheet.key.number == 1

    def test_only_once_and_only_on_what_was_seen(self, school, browsers):
        made = self.hand_in(school, school.ines, v3={"after": "0.25"})
        assert self.move_on(browsers, made).status_code == 201
        again = self.move_on(browsers, made)
        assert again.status_code == 409
        assert "has key 2 by now" in again.json()["detail"]

    def test_nothing_adjusted_moves_nothing(self, school, browsers):
        made = self.hand_in(school, school.ines)
        answer = self.move_on(browsers, made)
        assert answer.status_code == 409
        assert "nothing was adjusted" in answer.json()["detail"]

    def test_who_may_see_it(self, school, browsers):
        made = self.hand_in(school, school.ines, v3={"after": "0.25"})
        for who, status in (("nobody", 401), ("student", 403), ("other instructor", 404)):
            assert self.see(browsers, made, who).status_code == status
            answer = browsers[who].send(
                "POST", f"/api/hand-ins/{made.id}/next-key", {"based_on": 1}
            )
            assert answer.status_code == status


@pytest.mark.parametrize(
    ("gap", "unit", "asks"),
    [
        ("3.0", "mm", "is the decimal point right?"),
        ("12", "mm", "did you mean thou?"),
        ("0", "mm", "no gap at all?"),
    ],
)
def test_a_key_that_looks_like_a_slip_is_asked_about(school, browsers, gap, unit, asks):
    """A key of 3.0 mm for a spec near 0.3 would mark every reading of that valve wrong."""
    gaps = [
        {"valve": valve, "gap": gap if valve == 3 else right, "unit": unit}
        for valve, right in KEY_MM.items()
    ]
    path = f"/api/stands/{school.stand.id}/keys"
    asked = browsers["instructor"].send("POST", path, {"gaps": gaps})
    assert asked.status_code == 409
    (question,) = asked.json()["fields"]
    assert question["path"] == "valve 3"
    assert asks in question["problem"]
    assert Key.objects.count() == 1
    pass_of_it = {"passes": [{"by": "", "gaps": gaps}]}
    assert enter(browsers, school, pass_of_it).status_code == 409
    saved = browsers["instructor"].send("POST", path, {"gaps": gaps, "confirmed": True})
    assert saved.json() == {"number": 2}
