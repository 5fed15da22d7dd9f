"""Stands of the school: shared by classes, said to be as they are, and stale once adjusted."""

import pytest
from django.utils import timezone

from edrix.logbook import services as logbook
from edrix.marking import handing_in
from edrix.sheets import services as sheets
from edrix.sheets.lines import TypedLine
from edrix.stands import hall
from edrix.stands import services as stands
from edrix.stands.models import Key, Stand
from tests.server.conftest import DIESEL_LINES, KEY_MM, right_lines


def hall_row(browser, stand_id):
    return next(row for row in browser.get("/api/stands").json() if row["id"] == stand_id)


@pytest.fixture
def shared(school):
    """Class B uses stand 3, too, and has set a sheet on it."""
    hall.use(school.rolf, school.class_b, school.stand.id)
    new = sheets.NewSheet(school.stand.id, "B measures", "two-stop", "0.03", "mm")
    return sheets.set_sheet(school.rolf, school.class_b, new)


def adjusting(school):
    """A sheet of class A on stand 3 that asks for the reading with the nut tight, handed in."""
    new = sheets.NewSheet(school.stand.id, "Set it right", "two-stop", "0.03", "mm", "", ("nut",))
    sheet = sheets.set_sheet(school.tove, school.class_a, new)
    lines = [
        TypedLine(**line, further={"after": "0.25"} if line["valve"] == 3 else {})
        for line in right_lines()
    ]
    return handing_in.hand_in(
        school.ines, sheet.id, lines, request_key="adjusting-1", confirmed=True
    )


class TestShared:
    def test_both_classes_see_one_key(self, school, shared, browsers):
        (of_b,) = browsers["other instructor"].get(f"/api/classes/{school.class_b}/stands").json()
        (of_a,) = browsers["instructor"].get(f"/api/classes/{school.class_a}/stands").json()
        assert of_a["key"] == of_b["key"]
        assert (of_a["shared"], of_b["shared"]) == (True, True)

    def test_a_class_that_puts_it_away_takes_it_from_nobody(self, school, shared, browsers):
        address = f"/api/classes/{school.class_b}/stands/{school.stand.id}"
        rolf = browsers["other instructor"]
        assert rolf.send("PATCH", address, {"away": True}).status_code == 204
        (of_b,) = rolf.get(f"/api/classes/{school.class_b}/stands").json()
        (of_a,) = browsers["instructor"].get(f"/api/classes/{school.class_a}/stands").json()
        assert (of_a["away"], of_b["away"]) == (False, True)

    def test_a_study_is_of_one_class(self, school, shared, browsers):
        second = sheets.NewSheet(school.stand.id, "Second", "two-stop", "0.03", "mm")
        sheets.set_sheet(school.tove, school.class_a, second)
        tove, rolf = browsers["instructor"], browsers["other instructor"]
        address = f"/api/stands/{school.stand.id}/trials"
        assert [t["title"] for t in tove.get(address).json()["trials"]] == [
            "First measuring",
            "Second",
        ]
        assert [t["title"] for t in rolf.get(address).json()["trials"]] == ["B measures"]
        assert tove.get(f"{address}?class_id={school.class_b}").status_code == 404

    def test_whoever_is_a_student_on_it_does_not_reach_its_key_by_a_class_of_their_own(
        self, school, browsers
    ):
        school.ines.may_teach = True
        school.ines.save()
        ines = browsers["student"]
        own = ines.send("POST", "/api/classes", {"name": "My own"}).json()["id"]
        answer = ines.send("PUT", f"/api/classes/{own}/stands/{school.stand.id}")
        assert answer.status_code == 403
        assert "student on Stand 3" in answer.json()["detail"]
        # A sheet of another class cannot be set on it either.
        body = {"stand_id": school.stand.id, "title": "x", "method": "two-stop", "tolerance": "0"}
        assert ines.send("POST", f"/api/classes/{own}/sheets", body).status_code in (403, 404)

    def test_another_classes_sheet_is_not_named(self, school, shared, browsers):
        made = handing_in.hand_in(
            school.ines,
            school.sheet.id,
            [TypedLine(**line) for line in right_lines()],
            request_key="first-one-1",
            confirmed=True,
        )
        answer = browsers["instructor"].send(
            "POST", f"/api/sheets/{made.sheet_id}/give-back", {"confirmed": False}
        )
        assert answer.status_code == 409
        assert "B measures" not in answer.content.decode()
        assert "another class" in answer.content.decode()


class TestStale:
    def test_an_adjusting_makes_every_classes_open_sheet_stale(self, school, shared, browsers):
        rolf, bo = browsers["other instructor"], browsers["other student"]
        assert rolf.get(f"/api/sheets/{shared.id}/board").json()["stale"] == ""
        adjusting(school)
        said = rolf.get(f"/api/sheets/{shared.id}/board").json()["stale"]
        assert "Ines Falkner, Set it right" in said
        assert "Measure it again" in said
        # Before the next pair is marked by it, they are told.
        assert "adjusted since" in bo.get(f"/api/sheets/{shared.id}").json()["notices"][0]
        (stand,) = rolf.get(f"/api/classes/{school.class_b}/stands").json()
        assert stand["stale"] is True

    def test_measuring_again_makes_it_good(self, school, shared, browsers):
        adjusting(school)
        gaps = [stands.TypedGap(valve, gap, "mm") for valve, gap in KEY_MM.items()]
        stands.enter_key(school.tove, school.stand.id, gaps)
        (stand,) = browsers["instructor"].get(f"/api/classes/{school.class_a}/stands").json()
        assert stand["stale"] is False
        # A sheet that is still marked by the key of before says so until it is re-marked.
        board = browsers["other instructor"].get(f"/api/sheets/{shared.id}/board").json()
        assert board["stale"] != ""

    def test_a_sheet_that_only_measures_changes_nothing(self, school, browsers):
        lines = [TypedLine(**line) for line in right_lines()]
        handing_in.hand_in(
            school.ines, school.sheet.id, lines, request_key="measure-1", confirmed=True
        )
        assert Stand.objects.get(id=school.stand.id).adjusted_at is None

    def test_an_old_adjusting_that_is_written_late_changes_nothing(self, school):
        key = Key.objects.get(stand=school.stand)
        old = key.made_at - timezone.timedelta(days=30)
        gap = logbook.TypedLogGap(3, "0.19", "0.25")
        logbook.write(school.tove, school.stand.id, logbook.TypedEntry("adjusted", old, gaps=[gap]))
        assert not stands.is_stale(Stand.objects.get(id=school.stand.id), key)


class TestHowItIs:
    def test_somebody_works_on_it(self, school, browsers):
        opened = {
            "engine_id": school.engine_id,
            "stand_id": school.stand.id,
            "start": "diesel",
            "ticked": DIESEL_LINES,
        }
        browsers["student"].send("POST", "/api/openings", opened)
        row = hall_row(browsers["instructor"], school.stand.id)
        assert (row["state"], row["why"]) == ("worked-on", "Ines Falkner")

    def test_it_was_run_and_is_warm(self, school, browsers):
        tove, address = browsers["instructor"], f"/api/stands/{school.stand.id}"
        tove.send("POST", f"{address}/log", {"what": "run", "meter": "12"})
        row = hall_row(tove, school.stand.id)
        assert row["state"] == "warm"
        assert row["meter"] == "12.0"
        told = browsers["student"].get(f"/api/sheets/{school.sheet.id}").json()["notices"]
        assert "is warm until" in told[0]
        assert tove.send("POST", f"{address}/cold").status_code == 204
        assert hall_row(tove, school.stand.id)["state"] == "ready"

    def test_out_of_order_says_why(self, school, browsers):
        tove, address = browsers["instructor"], f"/api/stands/{school.stand.id}"
        tove.send("PATCH", address, {"out_of_order": "  stud   pulled out "})
        row = hall_row(tove, school.stand.id)
        assert (row["state"], row["why"]) == ("out-of-order", "stud pulled out")
        tove.send("PATCH", address, {"out_of_order": ""})
        assert hall_row(tove, school.stand.id)["state"] == "ready"

    @pytest.mark.parametrize(
        "facts", [{"cool_h": "-1"}, {"cool_h": "999"}, {"meter": "miles"}, {"name": " "}]
    )
    def test_what_cannot_be_is_refused(self, school, browsers, facts):
        answer = browsers["instructor"].send("PATCH", f"/api/stands/{school.stand.id}", facts)
        assert answer.status_code == 422

    def test_two_stands_of_one_name(self, school, browsers):
        body = {"name": "Stand 3", "engine_id": school.engine_id}
        answer = browsers["other instructor"].send("POST", "/api/stands", body)
        assert answer.status_code == 409
        assert "use that stand in this class" in answer.json()["detail"]

    def test_the_hall_asks_no_query_for_each_stand(
        self, school, browsers, django_assert_max_num_queries
    ):
        for number in range(4, 34):
            hall.create_in_hall(school.tove, f"Stand {number}", school.engine_id)
        tove = browsers["instructor"]
        with django_assert_max_num_queries(14):
            assert len(tove.get("/api/stands").json()) == 31
