"""Marks put right: decisions with reasons, and marking anew by a corrected key."""

import csv
import io
import threading
from decimal import Decimal

import pytest
from django.db import connections

from edrix.marking import handing_in, remark
from edrix.marking.models import Decision, Marking
from edrix.sheets import services as sheets
from edrix.sheets.lines import TypedLine
from edrix.stands import services as stands
from tests.server.conftest import KEY_MM, mark_of, right_lines


def typed(**changes):
    """Right lines; a valve may be given another reading, v3="0.25"."""
    return [
        TypedLine(**(line | ({"reading": changes[key]} if (key := f"v{line['valve']}") in changes
                             else {})))
        for line in right_lines()
    ]  # fmt: skip


@pytest.fixture
def handed_in(school):
    return handing_in.hand_in(
        school.ines, school.sheet.id, typed(v3="0.25"), request_key="k-12345678", confirmed=True
    )


def decide(browsers, hand_in, who="instructor", **changes):
    body = {"valve": 3, "part": "reading", "right": True, "reason": "Accepted at the stand."}
    return browsers[who].send("POST", f"/api/hand-ins/{hand_in.id}/decisions", body | changes)


def new_key(school, changes=None):
    gaps = {valve: str(gap) for valve, gap in KEY_MM.items()} | (changes or {})
    return stands.enter_key(
        school.tove, school.stand.id, [stands.TypedGap(v, gap, "mm") for v, gap in gaps.items()]
    )


class TestDecisions:
    def test_a_mark_is_counted_otherwise_with_name_time_and_reason(
        self, browsers, school, handed_in
    ):
        before = browsers["instructor"].get(f"/api/hand-ins/{handed_in.id}").json()["result"]
        told = decide(browsers, handed_in).json()["result"]
        assert told["points"] == before["points"] + 1
        mark = mark_of(told["valves"][2], "reading")
        assert mark["right"]
        assert (mark["decided"]["by"], mark["decided"]["reason"]) == (
            "Tove",
            "Accepted at the stand.",
        )
        mine = browsers["student"].get(f"/api/sheets/{school.sheet.id}").json()["result"]
        assert mine["points"] == told["points"]
        assert (
            mark_of(mine["valves"][2], "reading")["decided"]["reason"] == "Accepted at the stand."
        )
        board = browsers["instructor"].get(f"/api/sheets/{school.sheet.id}/board").json()
        assert told["points"] in [row["points"] for row in board["rows"]]
        work = browsers["student"].get("/api/work").json()
        assert work[0]["points"] == told["points"]

    def test_the_marking_itself_is_never_edited_and_a_later_decision_wins(
        self, browsers, handed_in
    ):
        stored = Marking.objects.values().get(hand_in=handed_in)
        decide(browsers, handed_in)
        told = decide(browsers, handed_in, right=False, reason="Looked again.").json()["result"]
        assert mark_of(told["valves"][2], "reading")["right"] is False
        assert mark_of(told["valves"][2], "reading")["decided"]["reason"] == "Looked again."
        assert Decision.objects.count() == 2
        assert Marking.objects.values().get(hand_in=handed_in) == stored

    def test_the_export_tells_who_decided(self, browsers, school, handed_in):
        decide(browsers, handed_in, reason="=1+1 was meant")
        text = browsers["instructor"].get(f"/api/sheets/{school.sheet.id}/marks.csv")
        rows = list(csv.DictReader(io.StringIO(text.content.decode("utf-8-sig"))))
        row = next(row for row in rows if row["valve"] == "3")
        assert row["reading_right"] == "1"
        assert "Decided by Tove: =1+1 was meant" in row["reading_reason"]

    @pytest.mark.parametrize(
        ("change", "says"),
        [
            ({"valve": 99}, "no valve 99"),
            ({"reason": "   "}, "needs its reason"),
            ({"reason": "x" * 301}, "reason"),
            ({"part": "shoes"}, "part"),
            ({"right": "perhaps"}, "right"),
            ({"extra": 1}, "extra"),
        ],
    )
    def test_what_is_no_decision(self, browsers, handed_in, change, says):
        answer = decide(browsers, handed_in, **change)
        assert answer.status_code == 422
        assert says in answer.content.decode()
        assert not Decision.objects.exists()


class TestMarkingAnew:
    def see(self, browsers, school):
        return browsers["instructor"].get(f"/api/sheets/{school.sheet.id}/remark").json()

    def test_whose_marks_move_is_seen_before_it_is_done(self, browsers, school, handed_in):
        assert self.see(browsers, school)["moves"] == []
        new_key(school)
        new_key(school, {3: "0.25"})
        seen = self.see(browsers, school)
        assert (seen["key_number"], seen["newest_key_number"], seen["hand_ins"]) == (1, 3, 1)
        (move,) = seen["moves"]
        assert (move["student"], move["after"] - move["before"]) == ("Ines Falkner", 1)
        assert Marking.objects.count() == 1
        path = f"/api/sheets/{school.sheet.id}/remark"
        done = browsers["instructor"].send("POST", path, {"key_number": 3})
        assert done.json()["key_number"] == 3
        assert Marking.objects.count() == 2
        again = self.see(browsers, school)
        assert (again["key_number"], again["moves"]) == (3, [])
        mine = browsers["student"].get(f"/api/sheets/{school.sheet.id}").json()["result"]
        assert mine["points"] == move["after"]

    def test_decisions_stay(self, browsers, school, handed_in):
        decide(browsers, handed_in)
        new_key(school)
        browsers["instructor"].send(
            "POST", f"/api/sheets/{school.sheet.id}/remark", {"key_number": 2}
        )
        told = browsers["instructor"].get(f"/api/hand-ins/{handed_in.id}").json()["result"]
        assert mark_of(told["valves"][2], "reading")["decided"]["by"] == "Tove"

    def test_a_key_that_came_meanwhile_is_looked_at_first(self, browsers, school, handed_in):
        new_key(school)
        answer = browsers["instructor"].send(
            "POST", f"/api/sheets/{school.sheet.id}/remark", {"key_number": 1}
        )
        assert answer.status_code == 409
        assert "has key 2 by now" in answer.json()["detail"]
        assert Marking.objects.count() == 1


class TestUncertainKeys:
    def enter(self, browsers, school, **fields):
        gaps = [{"valve": v, "gap": str(g), "unit": "mm"} for v, g in KEY_MM.items()]
        return browsers["instructor"].send(
            "POST", f"/api/stands/{school.stand.id}/keys", {"gaps": gaps, **fields}
        )

    def test_a_reading_in_doubt_is_counted_right_and_the_reason_says_so(
        self, browsers, school, handed_in
    ):
        """Valve 3 was read 0.25 against 0.19; the tolerance is 0.03."""
        assert self.enter(browsers, school, uncertainty="0,03").status_code == 201
        browsers["instructor"].send(
            "POST", f"/api/sheets/{school.sheet.id}/remark", {"key_number": 2}
        )
        told = browsers["instructor"].get(f"/api/hand-ins/{handed_in.id}").json()["result"]
        mark = mark_of(told["valves"][2], "reading")
        assert mark["right"]
        assert "in doubt" in mark["says"]
        (stand,) = browsers["instructor"].get(f"/api/classes/{school.class_a}/stands").json()
        assert float(stand["key"]["uncertainty_mm"]) == 0.03

    @pytest.mark.parametrize("typed", ["wide", "-0.01", "0.5", "1e9", "nan"])
    def test_what_is_no_uncertainty(self, browsers, school, typed):
        answer = self.enter(browsers, school, uncertainty=typed)
        assert answer.status_code == 422
        assert answer.json()["fields"][0]["path"] == "uncertainty"
        assert school.stand.keys.count() == 1

    def test_thou(self, browsers, school):
        self.enter(browsers, school, uncertainty="0.5", uncertainty_unit="thou")
        assert school.stand.keys.last().uncertainty_mm == Decimal("0.0127")


@pytest.mark.django_db(transaction=True)
def test_who_hands_in_while_all_is_marked_anew_is_marked_by_the_new_key(school, monkeypatch):
    """The key is corrected between the student's look at the sheet and the hand-in's record."""
    new_key(school, {3: "0.25"})
    looked = handing_in.questions

    def corrected_meanwhile(*given):
        other = threading.Thread(
            target=lambda: (remark.remark(school.tove, school.sheet.id, 2), connections.close_all())
        )
        other.start()
        other.join(30)
        return looked(*given)

    monkeypatch.setattr(handing_in, "questions", corrected_meanwhile)
    made = handing_in.hand_in(
        school.ines, school.sheet.id, typed(v3="0.25"), request_key="k-12345678", confirmed=True
    )
    (marking,) = Marking.objects.filter(hand_in=made)
    assert marking.valves[2]["reading"]["right"]


@pytest.mark.django_db(transaction=True)
def test_two_who_mark_anew_at_once_end_in_one_state(school):
    """Both are done, one after the other: each hand-in's newest marking is by the new key."""
    made = handing_in.hand_in(
        school.ines, school.sheet.id, typed(), request_key="k-12345678", confirmed=True
    )
    new_key(school)
    barrier = threading.Barrier(2, timeout=20)
    faults = []

    def go():
        try:
            barrier.wait()
            remark.remark(school.tove, school.sheet.id, 2)
        except Exception as fault:
            faults.append(fault)
        finally:
            connections.close_all()

    threads = [threading.Thread(target=go) for _ in range(2)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join(30)
    assert faults == []
    assert Marking.objects.filter(hand_in=made).count() == 3
    assert sheets.sheet_for_instructor(school.tove, school.sheet.id).key.number == 2


class TestAnswers:
    def answer(self, browsers, school, **change):
        body = {"valve": 3, "part": "reading", "text": "The stand was warm.", **change}
        return browsers["student"].send("POST", f"/api/sheets/{school.sheet.id}/answers", body)

    def open(self, browsers, school):
        board = browsers["instructor"].get(f"/api/sheets/{school.sheet.id}/board").json()
        return [row["open_answers"] for row in board["rows"] if row["hand_in_id"]]

    def test_a_student_answers_once_and_the_instructor_decides(self, browsers, school, handed_in):
        said = self.answer(browsers, school)
        assert said.status_code == 201
        assert (
            mark_of(said.json()["valves"][2], "reading")["answer"]["text"] == "The stand was warm."
        )
        assert self.open(browsers, school) == [1]
        again = self.answer(browsers, school, text="And once more.")
        assert again.status_code == 409
        assert "answered this mark already" in again.json()["detail"]
        told = mark_of(decide(browsers, handed_in).json()["result"]["valves"][2], "reading")
        assert told["answer"]["text"] == "The stand was warm."
        assert told["decided"] is not None
        assert self.open(browsers, school) == [0]

    @pytest.mark.parametrize(
        ("change", "status"),
        [
            ({"text": "  "}, 422),
            ({"text": "x" * 401}, 422),
            ({"valve": 99}, 422),
            ({"part": "shim"}, 422),
            ({"part": "shoes"}, 422),
        ],
    )
    def test_what_is_no_answer(self, browsers, school, handed_in, change, status):
        assert self.answer(browsers, school, **change).status_code == status
        assert self.open(browsers, school) == [0]
