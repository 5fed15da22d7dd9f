"""Nobody is stuck: things are put away, brought back, corrected, and removed where nothing hangs on
them; people leave and come back; a sheet opens, closes, and its re-marking is taken back."""

from datetime import timedelta

import pytest
from django.utils import timezone

from edrix.accounts.models import User
from edrix.classes import roll
from edrix.engines import services as engines
from edrix.marking import handing_in
from edrix.marking.models import Marking
from edrix.sheets.lines import TypedLine
from edrix.sheets.models import Draft, HandIn, Sheet
from edrix.stands import services as stands
from edrix.stands.models import Key, Stand
from tests.core.conftest import engine_document
from tests.server.conftest import KEY_MM, right_lines
from tests.server.test_drafts import changes


def hand_in_now(school, who, key="k-12345678"):
    lines = [TypedLine(**line) for line in right_lines()]
    return handing_in.hand_in(who, school.sheet.id, lines, request_key=key, confirmed=True)


def work_titles(browser):
    return [row["title"] for row in browser.get("/api/work").json()]


# ── put away and brought back ──


def things(school):
    """Address, and the list in which it is seen with a flag."""
    return {
        "class": (f"/api/classes/{school.class_a}", "/api/classes"),
        "stand": (f"/api/stands/{school.stand.id}", f"/api/classes/{school.class_a}/stands"),
        "sheet": (f"/api/sheets/{school.sheet.id}", f"/api/classes/{school.class_a}/sheets"),
        "practice": (
            f"/api/practice/{school.practice.id}",
            f"/api/classes/{school.class_a}/practice",
        ),
        "engine": (f"/api/engines/{school.engine_id}", "/api/engines"),
    }


@pytest.mark.parametrize("what", ["class", "stand", "sheet", "practice", "engine"])
def test_what_is_put_away_can_be_brought_back(school, browsers, what):
    address, listed = things(school)[what]
    tove = browsers["instructor"]
    for away in (True, True, False):
        assert tove.send("PATCH", address, {"away": away}).status_code == 204
        assert [row["away"] for row in tove.get(listed).json()] == [away]


def test_students_are_not_asked_for_what_was_put_away(school, browsers):
    ines, tove = browsers["student"], browsers["instructor"]
    tove.send("PATCH", f"/api/sheets/{school.sheet.id}", {"away": True})
    tove.send("PATCH", f"/api/practice/{school.practice.id}", {"away": True})
    assert work_titles(ines) == []
    assert ines.get(f"/api/classes/{school.class_a}/practice").json() == []
    refused = ines.send("POST", f"/api/sheets/{school.sheet.id}/hand-in", sheet_of("away-0001"))
    assert refused.status_code == 409
    assert "ask your instructor to open it" in refused.json()["detail"]
    # An open run goes on; nobody begins another.
    assert ines.send("POST", f"/api/practice/{school.practice.id}/runs").status_code == 200
    begun = browsers["classmate"].send("POST", f"/api/practice/{school.practice.id}/runs")
    assert begun.status_code == 409


def test_marks_of_a_sheet_that_was_put_away_stay_readable(school, browsers):
    hand_in_now(school, school.ines)
    browsers["instructor"].send("PATCH", f"/api/sheets/{school.sheet.id}", {"away": True})
    assert work_titles(browsers["student"]) == ["First measuring"]
    assert browsers["student"].get(f"/api/sheets/{school.sheet.id}").status_code == 200


def test_a_class_that_is_put_away_asks_nothing_of_anybody(school, browsers):
    browsers["instructor"].send("PATCH", f"/api/classes/{school.class_a}", {"away": True})
    assert work_titles(browsers["student"]) == []


# ── removed ──


def test_what_nothing_hangs_on_can_be_deleted(school, browsers):
    tove = browsers["instructor"]
    engine = engines.add_engine(school.tove, engine_document([1]))[0].engine_id
    stand = stands.create_stand(school.tove, school.class_a, "Stand 9", engine)
    stands.enter_key(school.tove, stand.id, [stands.TypedGap(1, "0.3", "mm"), _second()])
    empty = tove.send("POST", "/api/classes", {"name": "By mistake"}).json()["id"]
    for address in (
        f"/api/stands/{stand.id}",
        f"/api/engines/{engine}",
        f"/api/classes/{empty}",
        f"/api/sheets/{school.sheet.id}",
    ):
        assert tove.send("DELETE", address).status_code == 204, address
    assert not Stand.objects.filter(id=stand.id).exists()
    assert not Sheet.objects.exists()


def _second():
    return stands.TypedGap(2, "0.25", "mm")


def test_what_somebody_worked_on_is_refused_with_what_hangs_on_it(school, browsers):
    browsers["student"].send(
        "PATCH", f"/api/sheets/{school.sheet.id}/draft", changes(right_lines()[:1])
    )
    tove = browsers["instructor"]
    told = {
        f"/api/sheets/{school.sheet.id}": "1 draft",
        f"/api/stands/{school.stand.id}": "1 sheet",
        f"/api/practice/{school.practice.id}": "1 practice run",
        f"/api/engines/{school.engine_id}": "1 stand",
        f"/api/classes/{school.class_a}": "people",
    }
    before = [Key.objects.count(), Draft.objects.count(), Stand.objects.count()]
    for address, says in told.items():
        answer = tove.send("DELETE", address)
        assert answer.status_code == 409, address
        assert says in answer.json()["detail"]
        assert "Put it away instead" in answer.json()["detail"]
    assert [Key.objects.count(), Draft.objects.count(), Stand.objects.count()] == before


def test_an_engine_is_renamed_by_a_new_version(school, browsers):
    address = f"/api/engines/{school.engine_id}"
    assert (
        browsers["instructor"].send("PATCH", address, {"name": " Lake  pump "}).status_code == 204
    )
    (row,) = browsers["instructor"].get("/api/engines").json()
    assert (row["name"], row["version"]) == ("Lake pump", 2)
    # The stand keeps the version it was made with, and its figures.
    assert Stand.objects.get(id=school.stand.id).engine_version.number == 1


# ── people ──


def test_who_leaves_keeps_their_record_and_can_come_back(school, browsers):
    hand_in_now(school, school.ines)
    tove, ines = browsers["instructor"], browsers["student"]
    address = f"/api/classes/{school.class_a}/students/{school.ines.id}"
    assert tove.send("PATCH", address, {"left": True}).status_code == 204
    found = tove.get(f"/api/classes/{school.class_a}").json()
    assert [one["display_name"] for one in found["students"]] == ["Bo Hallgrim"]
    assert [one["display_name"] for one in found["left"]] == ["Ines Falkner"]
    board = tove.get(f"/api/sheets/{school.sheet.id}/board").json()
    assert {row["display_name"] for row in board["rows"]} == {"Bo Hallgrim", "Ines Falkner"}
    assert tove.get(f"{address}/progress").status_code == 200
    assert ines.get(f"/api/sheets/{school.sheet.id}").json()["result"] is not None
    begun = ines.send("POST", f"/api/practice/{school.practice.id}/runs")
    assert begun.status_code == 403
    assert "You have left Class A" in begun.json()["detail"]
    tove.send("PATCH", address, {"left": False})
    assert ines.send("POST", f"/api/practice/{school.practice.id}/runs").status_code == 200


def test_who_has_done_nothing_and_left_is_on_no_board(school, browsers):
    address = f"/api/classes/{school.class_a}/students/{school.bo.id}"
    browsers["instructor"].send("PATCH", address, {"left": True})
    board = browsers["instructor"].get(f"/api/sheets/{school.sheet.id}/board").json()
    assert [row["display_name"] for row in board["rows"]] == ["Ines Falkner"]
    draft = f"/api/sheets/{school.sheet.id}/draft"
    assert browsers["classmate"].send("PATCH", draft, changes(right_lines())).status_code == 403


def test_one_who_was_added_by_mistake_is_gone_with_their_account(school, browsers):
    address = f"/api/classes/{school.class_a}/students/{school.bo.id}/membership"
    assert browsers["instructor"].send("DELETE", address).status_code == 204
    assert not User.objects.filter(id=school.bo.id).exists()


def test_one_who_has_worked_is_not_taken_out(school, browsers):
    address = f"/api/classes/{school.class_a}/students/{school.ines.id}/membership"
    answer = browsers["instructor"].send("DELETE", address)
    assert answer.status_code == 409
    assert "practice runs of theirs. Let them leave" in answer.json()["detail"]
    assert User.objects.filter(id=school.ines.id).exists()


def test_one_of_two_classes_keeps_their_account(school, browsers):
    roll.add_students(school.rolf, school.class_b, "Bo, bo.hallgrim")
    address = f"/api/classes/{school.class_b}/students/{school.bo.id}/membership"
    assert browsers["other instructor"].send("DELETE", address).status_code == 204
    assert browsers["classmate"].get("/api/work").status_code == 200


def test_another_class_sees_nothing_of_a_shared_student(school, browsers):
    """Ines drills and practises in class A; Rolf adds her to his class B."""
    drill = browsers["student"].send("POST", "/api/drills", {"engine_id": school.engine_id})
    assert drill.status_code == 201
    roll.add_students(school.rolf, school.class_b, "Ines, ines.falkner")
    rolf = browsers["other instructor"]
    assert rolf.get(f"/api/classes/{school.class_b}/drills").json() == []
    progress = f"/api/classes/{school.class_b}/students/{school.ines.id}/progress"
    assert rolf.get(progress).json()["hands"] == []
    tove = browsers["instructor"].get(f"/api/classes/{school.class_a}/drills").json()
    assert [one["person"] for one in tove] == ["Ines Falkner"]
    from tests.server.test_archive import spoiled, taken_away

    packed = taken_away(rolf, school.class_b).content
    spoiled(packed, lambda tables, _m: [tables["drills.Drill"] == [] or pytest.fail("drills")])


# ── sheets open and close ──


def sheet_of(key):
    return {"lines": right_lines(), "request_key": key, "confirmed": True}


def test_a_sheet_that_opens_later_waits(school, browsers):
    tove, ines = browsers["instructor"], browsers["student"]
    address = f"/api/sheets/{school.sheet.id}"
    later = (timezone.now() + timedelta(hours=2)).isoformat()
    assert tove.send("PATCH", address, {"opens_at": later}).status_code == 204
    assert work_titles(ines) == []
    refused = ines.get(address)
    assert refused.status_code == 403
    assert "opens on" in refused.json()["detail"]
    tove.send("PATCH", address, {"opens_at": None})
    assert work_titles(ines) == ["First measuring"]


def test_a_closed_sheet_keeps_what_was_written_and_opens_by_hand(school, browsers):
    tove, ines = browsers["instructor"], browsers["student"]
    address = f"/api/sheets/{school.sheet.id}"
    past = (timezone.now() - timedelta(minutes=10)).isoformat()
    tove.send("PATCH", address, {"closes_at": past})
    saved = ines.send("PATCH", f"{address}/draft", changes(right_lines()[:2]))
    assert saved.status_code == 200
    refused = ines.send("POST", f"{address}/hand-in", sheet_of("late-0001"))
    assert refused.status_code == 409
    assert "This sheet was closed on" in refused.json()["detail"]
    assert (ines.get(address).json()["closed"], HandIn.objects.count()) == (True, 0)
    tove.send("PATCH", address, {"closes_at": None})
    assert ines.send("POST", f"{address}/hand-in", sheet_of("late-0001")).status_code == 201


def test_what_is_on_its_way_at_the_bell_is_let_in(school, browsers):
    bell = (timezone.now() - timedelta(seconds=30)).isoformat()
    address = f"/api/sheets/{school.sheet.id}"
    browsers["instructor"].send("PATCH", address, {"closes_at": bell})
    sent = browsers["student"].send("POST", f"{address}/hand-in", sheet_of("bell-0001"))
    assert sent.status_code == 201
    # The very same again, an hour later, is still the same hand-in.
    past = (timezone.now() - timedelta(hours=1)).isoformat()
    browsers["instructor"].send("PATCH", address, {"closes_at": past})
    again = browsers["student"].send("POST", f"{address}/hand-in", sheet_of("bell-0001"))
    assert again.status_code == 201


def test_a_time_without_a_zone_is_the_schools(school, browsers, settings):
    settings.TIME_ZONE = "Europe/Oslo"
    address = f"/api/sheets/{school.sheet.id}"
    sent = browsers["instructor"].send("PATCH", address, {"closes_at": "2027-01-15T16:00"})
    assert sent.status_code == 204
    assert Sheet.objects.get().closes_at.isoformat() == "2027-01-15T15:00:00+00:00"


@pytest.mark.parametrize(
    ("times", "field"),
    [
        ({"opens_at": "2027-02-02T10:00", "closes_at": "2027-02-02T10:00"}, "closes_at"),
        ({"closes_at": "9999-12-31T23:59"}, "closes_at"),
        ({"opens_at": "0001-01-01T00:00"}, "opens_at"),
    ],
)
def test_times_that_cannot_be(school, browsers, times, field):
    answer = browsers["instructor"].send("PATCH", f"/api/sheets/{school.sheet.id}", times)
    assert answer.status_code == 422
    assert answer.json()["fields"][0]["path"] == field
    assert Sheet.objects.get().opens_at is None


def test_of_two_changes_one_that_cannot_be_leaves_the_other_undone(school, browsers):
    both = {"name": "Renamed", "closes_at": "9999-12-31T23:59", "away": True}
    answer = browsers["instructor"].send("PATCH", f"/api/sheets/{school.sheet.id}", both)
    assert answer.status_code == 422
    sheet = Sheet.objects.get()
    assert (sheet.title, sheet.put_away_at) == ("First measuring", None)


# ── a re-marking is taken back ──


def test_a_re_marking_is_taken_back(school, browsers):
    tove = browsers["instructor"]
    hand_in_now(school, school.ines)
    before = tove.get(f"/api/sheets/{school.sheet.id}/board").json()
    wrong = [stands.TypedGap(v, f"{float(g) + 0.2:.4f}", "mm") for v, g in KEY_MM.items()]
    key = stands.enter_key(school.tove, school.stand.id, wrong)
    address = f"/api/sheets/{school.sheet.id}/remark"
    made = tove.send("POST", address, {"key_number": key.number}).json()
    assert made["moves"]
    assert made["may_take_back"] is True
    hand_in_now(school, school.bo, "k-87654321")  # marked by the wrong key, meanwhile
    back = tove.send("DELETE", address)
    assert back.status_code == 200
    assert (back.json()["key_number"], back.json()["may_take_back"]) == (1, False)
    after = tove.get(f"/api/sheets/{school.sheet.id}/board").json()
    points = {row["display_name"]: row["points"] for row in after["rows"]}
    assert points["Ines Falkner"] == before["rows"][1]["points"] == points["Bo Hallgrim"]
    assert Marking.objects.filter(hand_in__student=school.ines).count() == 3, "all on record"
    assert tove.send("DELETE", address).status_code == 409


def test_re_markings_are_taken_back_one_after_the_other(school, browsers):
    tove, address = browsers["instructor"], f"/api/sheets/{school.sheet.id}/remark"
    hand_in_now(school, school.ines)
    gaps = [stands.TypedGap(valve, gap, "mm") for valve, gap in KEY_MM.items()]
    for number in (2, 3):
        stands.enter_key(school.tove, school.stand.id, gaps)
        assert tove.send("POST", address, {"key_number": number}).status_code == 200
    told = [tove.send("DELETE", address).json() for _ in range(2)]
    assert [(one["key_number"], one["may_take_back"]) for one in told] == [(2, True), (1, False)]
