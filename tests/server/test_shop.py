"""The school's shop tolerance, and its own lines on the lists: who states them, what follows."""

import pytest

from edrix.engines import services as engines
from edrix.practice import services as practice
from edrix.safety.models import Opening
from edrix.stands import services as stands
from tests.core.conftest import engine_document

SINGLE = {
    "unit": "mm",
    "engine": "cold",
    "intake": {"nominal": 0.15},
    "exhaust": {"nominal": 8, "unit": "thou"},
}


@pytest.fixture
def single(school):
    document = engine_document([1, 2], clearance=SINGLE) | {"name": "One figure"}
    return engines.add_engine(school.tove, document)[0]


def specs(browsers, version):
    table = browsers["student"].get(f"/api/engines/{version.engine_id}/cycle").json()
    return {spec["role"]: spec for spec in table["engine"]["specs"]}


def state(browsers, who="instructor", mm="0.01", thou="2"):
    return browsers[who].send("PUT", "/api/shop", {"tolerance_mm": mm, "tolerance_thou": thou})


class TestTolerance:
    def test_it_is_common_practice_until_somebody_states_another(self, browsers, single):
        told = specs(browsers, single)
        assert (told["intake"]["low_mm"], told["intake"]["high_mm"]) == (0.13, 0.17)
        assert told["intake"]["says"] == "0.15 mm, ±0.02 mm by the shop"
        assert told["intake"]["says_other"] == "5.9 thou"
        assert told["exhaust"]["says"] == "8 thou, ±1 thou by the shop"
        assert told["exhaust"]["says_other"] == "0.2032 mm"
        assert told["exhaust"]["low_mm"] == pytest.approx(7 * 0.0254)

    def test_a_head_states_it_and_everybody_is_judged_by_it(self, browsers, school, single):
        school.tove.is_head = True
        school.tove.save()
        assert state(browsers, mm="0,01", thou="2").status_code == 200
        told = specs(browsers, single)
        assert (told["intake"]["low_mm"], told["intake"]["high_mm"]) == (0.14, 0.16)
        assert told["exhaust"]["says"] == "8 thou, ±2 thou by the shop"
        assert told["exhaust"]["high_mm"] == pytest.approx(10 * 0.0254)
        effect = browsers["student"].get(
            f"/api/engines/{single.engine_id}/effect?valve=2&gap=0.165&unit=mm"
        )
        assert "±0.01 mm" in effect.json()["says"][-1]

    def test_a_list_of_engines_asks_for_it_once(
        self, browsers, school, single, django_assert_max_num_queries
    ):
        for number in range(6):
            stands.create_stand(school.tove, school.class_a, f"S{number}", single.engine_id)
        address = f"/api/classes/{school.class_a}/stands"
        browsers["instructor"].get("/api/session")
        with django_assert_max_num_queries(9) as asked:
            assert len(browsers["instructor"].get(address).json()) == 7
        assert sum("shop_shop" in query["sql"] for query in asked.captured_queries) == 1

    def test_only_a_head(self, browsers, school):
        for who in ("student", "instructor"):
            assert state(browsers, who).status_code == 403
        assert browsers["student"].get("/api/shop").json()["tolerance_mm"] == "0.02"

    @pytest.mark.parametrize(
        ("mm", "thou", "says"),
        [
            ("x", "1", "is not a number"),
            ("0.5", "1", "0.5 is given"),
            ("0.02", "-1", "-1 is given"),
        ],
    )
    def test_what_is_no_tolerance_changes_nothing(self, browsers, school, mm, thou, says):
        school.tove.is_head = True
        school.tove.save()
        answer = state(browsers, mm=mm, thou=thou)
        assert answer.status_code == 422
        assert says in answer.json()["detail"]
        assert browsers["student"].get("/api/shop").json()["tolerance_thou"] == "1"

    def test_a_practice_engine_keeps_the_one_it_was_made_with(self, browsers, school, single):
        new = practice.NewPractice(
            single.engine_id, "Singles", [], "alone", "metric", False, True, None
        )
        made = practice.create(school.tove, school.class_a, new)
        school.tove.is_head = True
        school.tove.save()
        state(browsers, mm="0.005")
        run = practice.open_run(school.ines, made.id)
        spec = practice.setup_of(run).engine.clearance["intake"]
        assert float(spec.high_mm) == 0.17


class TestOwnLines:
    def add(self, browsers, school, says="Floor drain covered.", who="instructor", **more):
        body = {"on": "opening", "says": says, **more}
        return browsers[who].send("POST", f"/api/engines/{school.engine_id}/own-lines", body)

    def lists(self, browsers, school):
        return browsers["student"].get(f"/api/engines/{school.engine_id}/cautions").json()

    def opened(self, browsers, school, ticked):
        body = {"engine_id": school.engine_id, "start": "diesel", "ticked": ticked}
        return browsers["student"].send("POST", "/api/openings", body)

    def test_it_stands_on_the_list_and_has_to_be_ticked(self, browsers, school):
        own = self.add(browsers, school).json()
        lines = next(s for s in self.lists(browsers, school)["starts"] if s["start"] == "diesel")
        assert lines["lines"][-1] == {"id": f"own-{own['id']}", "says": "Floor drain covered."}
        ticked = [line["id"] for line in lines["lines"]]
        refused = self.opened(browsers, school, ticked[:-1])
        assert refused.status_code == 422
        assert "Floor drain" in refused.json()["detail"]
        assert self.opened(browsers, school, ticked).status_code == 201

    def test_what_was_ticked_keeps_its_words(self, browsers, school):
        own = self.add(browsers, school).json()
        lines = next(s for s in self.lists(browsers, school)["starts"] if s["start"] == "diesel")
        made = self.opened(browsers, school, [line["id"] for line in lines["lines"]]).json()
        assert (
            browsers["instructor"].send("DELETE", f"/api/own-lines/{own['id']}").status_code == 204
        )
        assert Opening.objects.get(id=made["id"]).opened[-1]["says"] == "Floor drain covered."
        now = self.lists(browsers, school)
        assert "Floor drain" not in str(now["starts"])
        assert "Floor drain" in str(now["current"])

    def test_of_one_engine_or_of_every_one(self, browsers, school, single):
        self.add(browsers, school, "Only here.", on="closing")
        self.add(browsers, school, "Everywhere.", on="closing", all_engines=True)
        other = browsers["student"].get(f"/api/engines/{single.engine_id}/cautions").json()
        assert [line["says"] for line in other["starts"][0]["closing"]][-1] == "Everywhere."
        assert "Only here." not in str(other)
        assert "Only here." in str(self.lists(browsers, school)["starts"][0]["closing"])

    def test_students_neither_add_nor_see_who_did(self, browsers, school):
        assert self.add(browsers, school, who="student").status_code == 403
        address = f"/api/engines/{school.engine_id}/own-lines"
        assert browsers["student"].get(address).status_code == 403
        own = self.add(browsers, school).json()
        assert browsers["student"].send("DELETE", f"/api/own-lines/{own['id']}").status_code == 403
        assert browsers["instructor"].send("DELETE", "/api/own-lines/999").status_code == 404

    @pytest.mark.parametrize("says", ["", "   ", "x" * 201])
    def test_what_is_no_line(self, browsers, school, says):
        assert self.add(browsers, school, says).status_code == 422

    def test_a_list_nobody_reads_is_refused(self, browsers, school):
        for number in range(20):
            assert self.add(browsers, school, f"Line {number}.").status_code == 201
        refused = self.add(browsers, school, "One more.")
        assert refused.status_code == 422
        assert "20 lines" in refused.json()["detail"]
