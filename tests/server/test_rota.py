"""A rota of a class: wished for, planned by a worker, moved by hand, planned anew, posted."""

from datetime import datetime, timedelta

import pytest
from django.utils import timezone
from icalendar import Calendar

from edrix.accounts import services as accounts
from edrix.accounts.models import User
from edrix.jobs import services as jobs
from edrix.jobs.models import Job
from edrix.rota.models import RotaBooking
from edrix.stands.models import Stand

DAYS_AHEAD = 3


def day(ahead=DAYS_AHEAD):
    return f"{timezone.localtime() + timedelta(days=ahead):%Y-%m-%d}"


def slots(count=3, ahead=DAYS_AHEAD):
    return [
        {"start": f"{day(ahead)}T{8 + 2 * at:02}:00", "end": f"{day(ahead)}T{9 + 2 * at:02}:30"}
        for at in range(count)
    ]


def wish(school, **fields):
    asked = {
        "slots": slots(),
        "places": [
            {"key": "a", "name": "Stand 3", "stand": school.stand.id},
            {"key": "b", "name": "Table 1", "stand": None},
        ],
        "tasks": [
            {"key": "t1", "title": "Cold clearances", "kind": "sheet", "of": school.sheet.id,
             "places": ["a"], "least": 1, "most": 1, "needs_cold": True},
            {"key": "t2", "title": "Firing orders", "kind": "drill", "places": ["b"],
             "least": 1, "most": 2},
        ],
    }  # fmt: skip
    return asked | fields


def finish():
    """What a worker does with all that waits."""
    for job in Job.objects.filter(state="waiting").order_by("id"):
        jobs.run(job.id)


@pytest.fixture
def tove(browsers):
    return browsers["instructor"]


class Desk:
    """One rota, as its instructor works on it."""

    def __init__(self, school, tove):
        self.school, self.tove = school, tove
        made = tove.send("POST", f"/api/classes/{school.class_a}/rotas", {"title": "Week 49"})
        assert made.status_code == 201, made.content
        self.path = f"/api/rotas/{made.json()['id']}"

    def read(self):
        answer = self.tove.get(self.path)
        assert answer.status_code == 200, answer.content
        return answer.json()

    def save(self, wished, **more):
        body = {"revision": self.read()["revision"], "wish": wished} | more
        return self.tove.send("PUT", f"{self.path}/wish", body)

    def plan(self, *, few_changes=False):
        answer = self.tove.send("POST", f"{self.path}/plan", {"few_changes": few_changes})
        if answer.status_code == 202:
            finish()
        return answer

    def change(self, **body):
        revision = self.read()["revision"]
        return self.tove.send("POST", f"{self.path}/bookings", {"revision": revision} | body)

    def planned(self, wished=None):
        assert self.save(wished or wish(self.school)).status_code == 204
        assert self.plan().status_code == 202
        return self.read()


@pytest.fixture
def desk(school, tove):
    return Desk(school, tove)


class TestPlanning:
    def test_the_first_plan_is_kept_and_everybody_is_placed(self, desk, school):
        found = desk.planned()
        planning = found["planning"]
        assert (planning["state"], planning["kept"], planning["missing"]) == ("done", True, 0)
        assert found["missing"] == found["broken"] == []
        done = {(who, one["task"]) for one in found["bookings"] for who in one["students"]}
        assert done == {
            (one, task) for one in (school.ines.id, school.bo.id) for task in ("t1", "t2")
        }

    def test_why_a_place_is_missing_and_what_would_make_room(self, desk):
        found = desk.planned(wish(desk.school, slots=slots(1)))
        assert len(found["missing"]) == 2
        assert all(one["why"] for one in found["missing"])
        assert any(one["helps"] for one in found["missing"])

    def test_what_cannot_be_planned_says_so(self, desk):
        answer = desk.plan()
        assert answer.status_code == 422
        assert "give at least one slot" in answer.json()["detail"]
        desk.save(wish(desk.school, tasks=[]))
        answer = desk.plan()
        assert answer.status_code == 422
        assert answer.json()["detail"] == "There are no tasks yet to plan for."

    def test_one_plan_at_a_time_and_it_can_be_stopped(self, desk):
        desk.save(wish(desk.school))
        first = desk.tove.send("POST", f"{desk.path}/plan", {})
        assert first.json()["state"] == "waiting"
        assert desk.tove.send("POST", f"{desk.path}/plan", {}).status_code == 409
        assert desk.tove.send("POST", f"{desk.path}/planning/stop").status_code == 204
        finish()
        assert desk.tove.get(f"{desk.path}/planning").json()["state"] == "stopped"
        assert desk.read()["bookings"] == []

    def test_stopped_while_it_works_it_keeps_the_best_until_then(self, desk, monkeypatch):
        desk.save(wish(desk.school))
        desk.tove.send("POST", f"{desk.path}/plan", {})
        job = Job.objects.get()
        monkeypatch.setattr(jobs, "LOOK_S", 0)
        told = jobs.Working.tell

        def stop_soon(working, **progress):
            told(working, **progress)
            if "missing" in progress:
                Job.objects.filter(id=job.id).update(stop_asked=True)

        monkeypatch.setattr(jobs.Working, "tell", stop_soon)
        finish()
        assert desk.read()["planning"]["state"] == "stopped"
        assert desk.read()["bookings"]


class TestAnew:
    def test_a_stand_out_of_order_and_one_ill(self, desk, school):
        wished = wish(school, slots=slots(4))
        wished["places"].append({"key": "c", "name": "Table 2", "stand": None})
        wished["tasks"][0]["places"] = ["a", "c"]
        before = desk.planned(wished)
        Stand.objects.update(out_of_order="cracked rocker")
        ill = f"student-{school.ines.id}"
        wished["away"] = {ill: [before["wish"]["slots"][0]["start"]]}
        assert desk.save(wished).status_code == 204
        now = desk.read()
        assert {one["why"] for one in now["blocked"]} == {"out of order: cracked rocker"}
        assert desk.plan(few_changes=True).status_code == 202
        planning = desk.read()["planning"]
        assert planning["offered"]
        assert not planning["kept"]
        assert planning["missing"] == 0
        assert planning["moved"] == planning["fewest"] == len(planning["changes"])
        assert desk.read()["bookings"] == now["bookings"], "nothing moves until somebody says so"
        kept = desk.tove.send("POST", f"{desk.path}/keep", {"job_id": planning["job_id"]})
        assert kept.status_code == 204
        after = desk.read()
        assert after["broken"] == after["missing"] == []
        assert all(one["place"] != "a" for one in after["bookings"])
        undone = desk.tove.send("POST", f"{desk.path}/undo", {"revision": after["revision"]})
        assert undone.status_code == 204
        strip = [{k: v for k, v in one.items() if k != "id"} for one in desk.read()["bookings"]]
        assert strip == [{k: v for k, v in one.items() if k != "id"} for one in now["bookings"]]

    def test_what_was_found_for_another_rota_is_not_kept(self, desk):
        desk.planned()
        desk.plan(few_changes=True)
        job = desk.read()["planning"]["job_id"]
        assert desk.save(wish(desk.school, stands_each=3)).status_code == 204
        assert not desk.read()["planning"]["offered"]
        answer = desk.tove.send("POST", f"{desk.path}/keep", {"job_id": job})
        assert answer.status_code == 409
        assert "changed meanwhile" in answer.json()["detail"]

    def test_what_has_begun_stays_and_nothing_is_booked_into_it(self, desk, school):
        # Yesterday, Ines did one task; the rest is to be planned for the days to come.
        wished = wish(school, slots=[*slots(2, ahead=-1), *slots(3)])
        assert desk.save(wished).status_code == 204
        slot = wished["slots"][0]["start"]
        body = {"slot": slot, "place": "a", "task": "t1", "students": [school.ines.id]}
        assert desk.change(**body, confirmed=True).status_code == 204
        assert desk.plan(few_changes=True).status_code == 202
        planning = desk.read()["planning"]
        assert planning["missing"] == 0
        desk.tove.send("POST", f"{desk.path}/keep", {"job_id": planning["job_id"]})
        found = desk.read()
        assert found["begun"] == 2
        early = [one for one in found["bookings"] if one["slot"] < wished["slots"][2]["start"]]
        assert [(one["slot"], one["students"]) for one in early] == [(slot, [school.ines.id])]

    def test_who_was_ill_does_it_later(self, desk, school):
        """Ines was booked yesterday and did not come: she is given another slot."""
        wished = wish(school, slots=[*slots(1, ahead=-1), *slots(3)])
        desk.save(wished)
        slot = wished["slots"][0]["start"]
        body = {"slot": slot, "place": "a", "task": "t1", "students": [school.ines.id]}
        assert desk.change(**body).status_code == 204
        wished["away"] = {f"student-{school.ines.id}": [slot]}
        assert desk.save(wished).status_code == 204
        desk.plan(few_changes=True)
        found = desk.read()["planning"]
        assert found["missing"] == 0
        desk.tove.send("POST", f"{desk.path}/keep", {"job_id": found["job_id"]})
        when = [one["slot"] for one in desk.read()["bookings"]
                if one["task"] == "t1" and school.ines.id in one["students"]]  # fmt: skip
        assert len(when) == 1
        assert when[0] > slot

    def test_slots_that_have_begun_make_no_room(self, desk, school):
        wished = wish(school, slots=slots(2, ahead=-1))
        desk.save(wished)
        body = {"slot": wished["slots"][0]["start"], "place": "a", "task": "t1"}
        desk.change(**body, students=[school.ines.id])
        whys = {one["why"] for one in desk.read()["missing"]}
        assert whys == {"no slot is left: 2 of 2 have begun"}

    def test_what_is_pinned_stays_where_it_is_and_pinned(self, desk):
        found = desk.planned()
        one = next(one for one in found["bookings"] if one["place"] == "b")
        assert desk.change(id=one["id"], pinned=True).status_code == 204
        assert desk.plan().status_code == 202
        job = desk.read()["planning"]["job_id"]
        assert desk.tove.send("POST", f"{desk.path}/keep", {"job_id": job}).status_code == 204
        kept = [b for b in desk.read()["bookings"] if b["pinned"]]
        assert [(b["slot"], b["place"], b["students"]) for b in kept] == [
            (one["slot"], one["place"], one["students"])
        ]

    def test_a_pinned_booking_that_breaks_a_rule_is_said(self, desk, school):
        found = desk.planned()
        one = next(one for one in found["bookings"] if one["place"] == "a")
        assert desk.change(id=one["id"], pinned=True).status_code == 204
        Stand.objects.update(out_of_order="cracked rocker")
        answer = desk.plan(few_changes=True)
        assert answer.status_code == 422
        assert "Unpin it" in answer.json()["detail"]


class TestByHand:
    def test_what_a_move_would_break_is_shown_then_asked_about(self, desk, school):
        found = desk.planned()
        one = next(one for one in found["bookings"] if one["task"] == "t1")
        body = {"id": one["id"], "place": "b"}
        tried = desk.tove.send("POST", f"{desk.path}/bookings/try", body).json()
        assert any("is no stand for Cold clearances" in fault["says"] for fault in tried)
        asked = desk.change(**body)
        assert asked.status_code == 409
        assert asked.json()["confirm"]
        assert desk.read()["bookings"] == found["bookings"]
        assert desk.change(**body, confirmed=True).status_code == 204
        assert any("is no stand for" in fault["says"] for fault in desk.read()["broken"])

    def test_where_another_stands_they_change_places(self, desk):
        found = desk.planned()
        first, second = [one for one in found["bookings"] if one["place"] == "a"][:2]
        answer = desk.change(id=first["id"], slot=second["slot"], confirmed=True)
        assert answer.status_code == 204
        now = {
            one["slot"]: one["students"] for one in desk.read()["bookings"] if one["place"] == "a"
        }
        assert now == {first["slot"]: second["students"], second["slot"]: first["students"]}

    @pytest.mark.parametrize(
        ("body", "says"),
        [
            ({"slot": "2031-01-01T08:00"}, "is no slot of this rota"),
            ({"place": "z"}, "is no place of this rota"),
            ({"task": "z"}, "is no task of this rota"),
            ({"students": [999_999]}, "not in this class"),
        ],
    )
    def test_what_is_not_there_is_refused(self, desk, body, says):
        one = desk.planned()["bookings"][0]
        answer = desk.change(id=one["id"], **body)
        assert answer.status_code == 422
        assert says in answer.json()["detail"]

    def test_two_windows_notice_each_other(self, desk):
        found = desk.planned()
        body = {"revision": found["revision"], "id": found["bookings"][0]["id"], "pinned": True}
        assert desk.tove.send("POST", f"{desk.path}/bookings", body).status_code == 204
        again = desk.tove.send("POST", f"{desk.path}/bookings", body)
        assert again.status_code == 409
        assert "changed meanwhile" in again.json()["detail"]


class TestWishes:
    def test_bookings_that_would_go_are_asked_about(self, desk):
        desk.planned()
        smaller = wish(desk.school, slots=slots(1))
        asked = desk.save(smaller)
        assert asked.status_code == 409
        assert asked.json()["confirm"]
        assert "would go" in asked.json()["detail"]
        assert desk.save(smaller, confirmed=True).status_code == 204
        assert {one["slot"] for one in desk.read()["bookings"]} <= {slots(1)[0]["start"]}

    @pytest.mark.parametrize(
        ("slot", "says"),
        [
            (("2031-02-30T08:00", "2031-02-30T09:00"), "no clock shows"),
            (("2027-03-01T09:00", "2027-03-01T08:00"), "ends before it begins"),
            (("2027-03-01T06:00", "2027-03-01T20:00"), "longer than 12 hours"),
            (("2099-03-01T06:00", "2099-03-01T08:00"), "within ten years"),
        ],
    )
    def test_slots_that_cannot_be(self, desk, slot, says):
        answer = desk.save(wish(desk.school, slots=[{"start": slot[0], "end": slot[1]}]))
        assert answer.status_code == 422
        assert says in str(answer.json())

    def test_a_change_of_the_clocks_inside_a_slot(self, desk, settings):
        """28 March 2027 is the last Sunday of March: Central European clocks go forward at 02:00
        (Directive 2000/84/EC; the day from the calendar)."""
        settings.TIME_ZONE = "Europe/Berlin"
        night = {"start": "2027-03-28T01:00", "end": "2027-03-28T04:00"}
        answer = desk.save(wish(desk.school, slots=[night]))
        assert answer.status_code == 422
        assert "change of the clocks" in answer.json()["detail"]
        day_after = {"start": "2027-03-29T01:00", "end": "2027-03-29T04:00"}
        assert desk.save(wish(desk.school, slots=[day_after])).status_code == 204

    def test_overlapping_slots(self, desk):
        first = slots(1)[0]
        second = {"start": first["start"][:-5] + "09:00", "end": first["end"][:-5] + "11:00"}
        answer = desk.save(wish(desk.school, slots=[second, first]))
        assert answer.status_code == 422
        assert "begins before the one before it ends" in answer.json()["detail"]

    def test_a_week_later_nobody_is_away(self, desk, school):
        away = {f"student-{school.ines.id}": [slots()[0]["start"]]}
        desk.save(wish(school, away=away))
        body = {"title": "Week 50", "based_on": desk.read()["id"]}
        made = desk.tove.send("POST", f"/api/classes/{school.class_a}/rotas", body)
        later = desk.tove.get(f"/api/rotas/{made.json()['id']}").json()
        assert later["wish"]["away"] == {}
        first = datetime.fromisoformat(later["wish"]["slots"][0]["start"])
        assert first - datetime.fromisoformat(slots()[0]["start"]) == timedelta(days=7)
        assert later["wish"]["tasks"] == desk.read()["wish"]["tasks"]

    def test_a_stand_that_another_class_has_then(self, desk, school, browsers):
        rolf = browsers["other instructor"]
        rolf.send("PUT", f"/api/classes/{school.class_b}/stands/{school.stand.id}")
        other = Desk.__new__(Desk)
        other.school, other.tove = school, rolf
        made = rolf.send("POST", f"/api/classes/{school.class_b}/rotas", {"title": "Theirs"})
        other.path = f"/api/rotas/{made.json()['id']}"
        wished = wish(school)
        wished["tasks"][0] |= {"kind": "text", "of": None, "runs_engine": True, "needs_cold": False}
        found = other.planned(wished)
        taken = next(one["slot"] for one in found["bookings"] if one["place"] == "a")
        desk.save(wish(school))
        why = {one["slot"]: one["why"] for one in desk.read()["blocked"]}
        assert why[taken] == "Class B has it then"
        # They run it; and here it is needed cold.
        later = [slot["start"] for slot in slots() if slot["start"] > taken]
        assert all(why[slot].startswith("warm from Class B") for slot in later)


class TestOut:
    def test_students_see_what_is_posted_and_only_that(self, desk, school, browsers):
        desk.planned()
        ines = browsers["student"]
        assert ines.get("/api/my/rota").json()["bookings"] == []
        assert desk.tove.send("PATCH", desk.path, {"posted": True}).status_code == 204
        mine = ines.get("/api/my/rota").json()["bookings"]
        assert [one["task"] for one in mine] != []
        assert {one["task"] for one in mine} == {"Cold clearances", "Firing orders"}

    def test_a_calendar_at_an_address_that_can_be_renewed(self, desk, school, browsers, client):
        desk.planned()
        desk.tove.send("PATCH", desk.path, {"posted": True})
        ines = browsers["student"]
        first = ines.send("POST", "/api/my/rota/feed").json()["address"]
        path = first.partition("testserver")[2]
        answer = client.get(path)
        assert answer.status_code == 200
        assert answer["Content-Type"].startswith("text/calendar")
        events = Calendar.from_ical(answer.content).walk("VEVENT")
        assert len(events) == 2
        kept = {one.starts_at for one in RotaBooking.objects.filter(seats__student=school.ines)}
        assert {event.decoded("dtstart") for event in events} == kept
        second = ines.send("POST", "/api/my/rota/feed").json()["address"]
        assert second != first
        assert client.get(path).status_code == 404
        User.objects.filter(id=school.ines.id).update(is_active=False)
        assert client.get(second.partition("testserver")[2]).status_code == 404
        User.objects.filter(id=school.ines.id).update(is_active=True)
        assert client.get(second.partition("testserver")[2]).status_code == 200
        assert ines.send("DELETE", "/api/my/rota/feed").status_code == 204
        assert client.get(second.partition("testserver")[2]).status_code == 404
        # Who gets a new passcode may have lost the address with the old one.
        third = ines.send("POST", "/api/my/rota/feed").json()["address"].partition("testserver")[2]
        assert client.get(third).status_code == 200
        accounts.give_new_passcode(school.ines.id)
        assert client.get(third).status_code == 404

    def test_an_instructor_s_calendar_has_the_slots_they_teach(self, desk):
        found = desk.planned()
        desk.tove.send("PATCH", desk.path, {"posted": True})
        events = Calendar.from_ical(desk.tove.get("/api/my/rota.ics").content).walk("VEVENT")
        assert len(events) == len({one["slot"] for one in found["bookings"]})
        assert "Stand 3: Cold clearances" in str(events[0].get("description"))


ICS = """BEGIN:VCALENDAR
VERSION:2.0
PRODID:-//x//x//EN
BEGIN:VEVENT
UID:1
DTSTAMP:20270101T000000Z
SUMMARY:Dentist
{times}
END:VEVENT
END:VCALENDAR
"""


def test_more_bookings_ask_for_no_more_rows_one_by_one(desk, django_assert_max_num_queries):
    desk.planned()
    with django_assert_max_num_queries(22):
        desk.read()


class TestAwayByCalendar:
    @pytest.mark.parametrize(
        ("times", "touched"),
        [
            # 09:30 to 10:30 in Berlin is 08:30 to 09:30 in Lisbon, and 03:30 in New York.
            ("DTSTART;TZID=Europe/Lisbon:20270301T083000\nDTEND;TZID=Europe/Lisbon:20270301T093000",
             ["2027-03-01T09:00"]),
            ("DTSTART;TZID=America/New_York:20270301T033000\nDURATION:PT1H", ["2027-03-01T09:00"]),
            ("DTSTART:20270301T083000Z\nDTEND:20270301T093000Z", ["2027-03-01T09:00"]),
            ("DTSTART:20270301T083000\nDTEND:20270301T093000", ["2027-03-01T09:00"]),
            ("DTSTART;VALUE=DATE:20270301\nDTEND;VALUE=DATE:20270302",
             ["2027-03-01T09:00", "2027-03-01T13:00"]),
            ("DTSTART:20270301T083000Z\nDTEND:20270301T093000Z\nTRANSP:TRANSPARENT", []),
        ],
    )  # fmt: skip
    def test_events_of_other_zones_find_their_slots(self, desk, settings, times, touched):
        settings.TIME_ZONE = "Europe/Berlin"
        two = [
            {"start": "2027-03-01T09:00", "end": "2027-03-01T11:00"},
            {"start": "2027-03-01T13:00", "end": "2027-03-01T15:00"},
        ]
        desk.save(wish(desk.school, slots=two))
        data = ICS.format(times=times).replace("\n", "\r\n").encode()
        answer = desk.tove.send_file(f"{desk.path}/away", data, "away.ics")
        assert answer.status_code == 200, answer.content
        assert answer.json()["slots"] == touched

    @pytest.mark.parametrize(
        ("data", "says"),
        [
            (b"no calendar", "no calendar that can be read"),
            (b"\xff\xfe\x00", "no calendar that can be read"),
            (ICS.format(times="DTSTART:20270301T083000Z\nRRULE:FREQ=DAILY").encode(), "repeats"),
            (ICS.format(times="LOCATION:here").encode(), "without a time"),
        ],
    )
    def test_what_cannot_be_read_is_said(self, desk, data, says):
        answer = desk.tove.send_file(f"{desk.path}/away", data, "away.ics")
        assert answer.status_code == 422
        assert says in answer.json()["detail"]
