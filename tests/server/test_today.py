"""Today: one's own day, the hall for its instructor, and hands that are up."""

from datetime import datetime, timedelta
from decimal import Decimal

import pytest
from django.utils import timezone

from edrix.classes import roll
from edrix.marking import handing_in
from edrix.practice.models import PracticeRun
from edrix.rota.models import Rota, RotaBooking
from edrix.sheets import drafts
from edrix.sheets.lines import TypedLine
from edrix.today.models import Hand
from tests.server.conftest import KEY_MM, right_lines
from tests.server.rota_table import rota_of


@pytest.fixture
def booked(school):
    """Ines is at stand 3 from now on for an hour; Bo is next, in two hours."""
    rota = rota_of(school)
    Rota.objects.filter(id=rota.id).update(posted_at=timezone.now())
    now = RotaBooking.objects.get()
    now.starts_at = timezone.now() - timedelta(minutes=10)
    now.ends_at = timezone.now() + timedelta(minutes=50)
    now.save()
    later = RotaBooking.objects.create(
        rota=rota, slot=now.slot, place=now.place, task=now.task, stand=now.stand,
        starts_at=timezone.now() + timedelta(hours=2), ends_at=timezone.now() + timedelta(hours=3),
    )  # fmt: skip
    later.seats.create(student=school.bo)
    return now


@pytest.fixture
def wall(school, browsers):
    return lambda: browsers["instructor"].get(f"/api/classes/{school.class_a}/now").json()


def written(school, *valves):
    blank = {"crank_deg": None, "verdict": None}
    changes = [
        drafts.Change(
            TypedLine(valve=valve, reading="0.25", unit="mm", **blank),
            TypedLine(valve=valve, reading="", unit="mm", **blank),
        )
        for valve in valves
    ]
    drafts.save(school.ines, school.sheet.id, changes)


def of(wall, name):
    return next(one for one in wall["people"] if one["name"] == name)


class TestOnesOwn:
    def test_where_with_whom_and_what_is_next(self, booked, browsers):
        own = browsers["student"].get("/api/my/now").json()["day"]
        (now,) = own["now"]
        assert now["place"]
        assert now["others"] == []
        assert own["next"] == []
        bo = browsers["classmate"].get("/api/my/now").json()["day"]
        assert bo["now"] == []
        assert len(bo["next"]) == 1

    def test_what_is_to_be_done(self, school, browsers):
        own = browsers["student"].get("/api/my/now").json()["day"]
        assert [one["title"] for one in own["sheets"]] == ["First measuring"]
        assert [one["id"] for one in own["runs"]] == [school.run_id]
        lines = [TypedLine(**line) for line in right_lines()]
        handing_in.hand_in(
            school.ines, school.sheet.id, lines, request_key="k-12345678", confirmed=True
        )
        assert browsers["student"].get("/api/my/now").json()["day"]["sheets"] == []

    def test_practice_engines_that_are_not_begun(self, school, browsers):
        def offered():
            return browsers["student"].get("/api/my/now").json()["day"]["practice"]

        assert offered() == [], "the only one has a run"
        body = {"engine_id": school.engine_id, "title": "Second run", "level": "test"}
        made = browsers["instructor"].send(
            "POST", f"/api/classes/{school.class_a}/practice", body | {"minutes": 30, "attempts": 1}
        )
        assert made.status_code == 201, made.content
        (one,) = offered()
        assert (one["title"], one["level"], one["minutes"]) == ("Second run", "test", 30)
        begun = browsers["student"].send("POST", f"/api/practice/{one['id']}/runs")
        assert begun.status_code in (200, 201), begun.content
        assert offered() == []

    def test_nothing_about_the_marks_of_anybody(self, school, browsers):
        lines = [TypedLine(**line) for line in right_lines()]
        handing_in.hand_in(
            school.ines, school.sheet.id, lines, request_key="k-12345678", confirmed=True
        )
        for who in ("student", "classmate"):
            told = browsers[who].get("/api/my/now").content.decode()
            assert "points" not in told
            assert not [gap for gap in KEY_MM.values() if gap in told]


class TestTheHall:
    def test_who_is_where_and_how_far(self, booked, school, wall):
        written(school, 1, 2, 3)
        told = wall()
        ines = of(told, "Ines Falkner")
        assert ines["place"] == told["now"]["places"][0]["place"]
        sheet = next(one for one in ines["doing"] if one["what"] == "sheet")
        assert (sheet["done"], sheet["of"], sheet["state"]) == (3, 8, "writing")
        run = next(one for one in ines["doing"] if one["what"] == "run")
        assert (run["state"], run["done"]) == ("running", 0)
        bo = of(told, "Bo Hallgrim")
        assert (bo["place"], bo["doing"]) == ("", [])
        assert told["next"]["places"][0]["students"] == [school.bo.id]

    def test_what_came_in_and_what_explains_it(self, school, wall):
        """Every figure a tenth of what was measured: a decimal point explains them."""
        lines = [TypedLine(**line) for line in right_lines()]
        slipped = [
            line.model_copy(update={"reading": str(Decimal(line.reading) / 10)}) for line in lines
        ]
        handing_in.hand_in(
            school.ines, school.sheet.id, slipped, request_key="k-12345678", confirmed=True
        )
        told = wall()
        (sheet,) = [one for one in of(told, "Ines Falkner")["doing"] if one["what"] == "sheet"]
        assert (sheet["state"], sheet["done"]) == ("handed-in", 8)
        assert {"kind": "decimal-slip", "label": "Decimal point", "students": 1} in told["findings"]

    def test_the_stands_by_state(self, school, wall):
        school.stand.out_of_order = "bent push rod"
        school.stand.save()
        (stand,) = wall()["stands"]
        assert (stand["name"], stand["state"], stand["why"]) == (
            "Stand 3", "out-of-order", "bent push rod",
        )  # fmt: skip

    def test_no_query_for_each_student(self, school, browsers, django_assert_max_num_queries):
        path = f"/api/classes/{school.class_a}/now"
        names = "\n".join(f"Student {number}" for number in range(58))
        roll.add_students(school.tove, school.class_a, names)
        browsers["instructor"].get(path)
        with django_assert_max_num_queries(16):
            assert len(browsers["instructor"].get(path).json()["people"]) == 60

    def test_yesterday_is_over(self, school, wall):
        from edrix.sheets.models import Draft

        written(school, 1)
        Draft.objects.update(saved_at=timezone.now() - timedelta(days=2))
        assert [one["what"] for one in of(wall(), "Ines Falkner")["doing"]] == ["run"]


def test_runs_that_ended_are_no_idle_day(school, browsers, wall):
    """Sixteen finished runs stood there as "nothing begun today"."""
    run = PracticeRun.objects.get(id=school.run_id)
    PracticeRun.objects.filter(id=run.id).update(ended_at=timezone.now(), outcome="quiet")
    (doing,) = of(wall(), "Ines Falkner")["doing"]
    assert (doing["what"], doing["state"], doing["title"]) == ("run", "ended", run.practice.title)
    assert "quiet" not in str(wall()["people"]), "how it ended is nobody's but theirs"
    PracticeRun.objects.update(ended_at=timezone.now() - timedelta(days=1, hours=1))
    assert of(wall(), "Ines Falkner")["doing"] == []


class TestHands:
    def up(self, browsers, school, who, *, up=True):
        path = f"/api/classes/{school.class_a}/hand"
        return browsers[who].send("PUT", path, {"up": up})

    def test_up_keeps_its_place_and_comes_down(self, school, browsers, wall):
        assert self.up(browsers, school, "student").status_code == 204
        first = of(wall(), "Ines Falkner")["hand_at"]
        assert first is not None
        self.up(browsers, school, "student")
        assert of(wall(), "Ines Falkner")["hand_at"] == first
        assert Hand.objects.count() == 1
        own = browsers["student"].get("/api/my/now").json()["day"]
        assert own["classes"][0]["hand_at"] == first
        self.up(browsers, school, "student", up=False)
        assert of(wall(), "Ines Falkner")["hand_at"] is None

    def test_one_that_nobody_took_down_is_not_up_in_the_next_lesson(self, school, browsers, wall):
        self.up(browsers, school, "student")
        Hand.objects.update(raised_at=timezone.now() - timedelta(hours=3, minutes=1))
        assert of(wall(), "Ines Falkner")["hand_at"] is None
        own = browsers["student"].get("/api/my/now").json()["day"]
        assert own["classes"][0]["hand_at"] is None
        # Up anew, it stands at the end of the row.
        assert self.up(browsers, school, "student").status_code == 204
        up_since = datetime.fromisoformat(of(wall(), "Ines Falkner")["hand_at"])
        assert timezone.now() - up_since < timedelta(minutes=1)
        assert Hand.objects.filter(lowered_at__isnull=True).count() == 1

    def test_taken_down_by_who_has_been_there(self, school, browsers, wall):
        self.up(browsers, school, "student")
        path = f"/api/classes/{school.class_a}/hands/{school.ines.id}"
        assert browsers["instructor"].send("DELETE", path).status_code == 204
        assert of(wall(), "Ines Falkner")["hand_at"] is None
        again = browsers["instructor"].send("DELETE", path)
        assert again.status_code == 404
        assert again.json()["detail"].startswith("No hand of theirs is up")


class TestTheBeat:
    """What a page of today shows of moves the beat of its class, and of no other."""

    @pytest.fixture
    def moves(self, school, browsers, django_capture_on_commit_callbacks):
        def seen():
            desk = browsers["instructor"].get(f"/api/classes/{school.class_a}/now")
            phone = browsers["classmate"].get("/api/my/now")
            return desk.json()["cursor"], phone.json()["cursor"]

        def moved(act):
            before = seen()
            with django_capture_on_commit_callbacks(execute=True):
                act()
            return tuple(one != other for one, other in zip(before, seen(), strict=True))

        return moved

    def test_a_draft_a_hand_and_a_hand_in_are_the_desks(self, school, browsers, moves):
        lines = [TypedLine(**line) for line in right_lines()]
        assert moves(lambda: written(school, 1)) == (True, False)
        path = f"/api/classes/{school.class_a}/hand"
        assert moves(lambda: browsers["student"].send("PUT", path, {"up": True})) == (True, False)
        assert moves(
            lambda: handing_in.hand_in(
                school.ines, school.sheet.id, lines, request_key="k-12345678", confirmed=True
            )
        ) == (True, False)

    def test_an_action_of_a_run(self, school, browsers, moves):
        act = {"key": "act-00000001", "step": 0, "action": {"do": "turn", "by_deg": 90.0}}
        path = f"/api/runs/{school.run_id}/actions"

        def turn():
            answer = browsers["student"].send("POST", path, act)
            assert answer.status_code == 200, answer.content

        assert moves(turn) == (True, False)

    def test_a_practice_engine_is_everybodys(self, school, browsers, moves):
        body = {"engine_id": school.engine_id, "title": "Second run"}
        path = f"/api/classes/{school.class_a}/practice"
        assert moves(lambda: browsers["instructor"].send("POST", path, body)) == (True, True)

    def test_a_stand_and_a_rota_are_everybodys(self, school, booked, moves):
        def breaks():
            school.stand.out_of_order = "bent push rod"
            school.stand.save()

        assert moves(breaks) == (True, True)
        assert moves(booked.save) == (True, True)

    def test_another_class_hears_nothing(self, school, browsers, moves):
        path = f"/api/classes/{school.class_b}/now"
        before = browsers["other instructor"].get(path).json()["cursor"].split("-")[0]
        moves(lambda: written(school, 1))
        # Behind the dash stands the time, by which a page looks again now and then.
        after = browsers["other instructor"].get(path).json()["cursor"]
        assert after.split("-")[0] == before
