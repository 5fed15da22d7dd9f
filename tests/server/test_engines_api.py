"""Engines over HTTP: the same answers as the core, cached; and the API's document."""

import gzip
import io
import json
import re
from collections import Counter
from pathlib import Path

import pypdf
import pytest
from ninja import Schema

from edrix.api import api
from edrix.engines.models import EngineVersion
from tests.core.conftest import engine_document
from valvetrain.cycle_table import cycle_table
from valvetrain.engine import Role
from valvetrain.engine_file import engine_schema, read_engine
from valvetrain.sequences import METHODS

SHELF = Path(__file__).parents[2] / "demo" / "engines"
OPENAPI = Path(__file__).parents[2] / "docs" / "openapi.json"


def test_no_two_schemas_or_operations_share_a_name():
    """One of them would silently stand in the document, and in the page's types, for both."""
    names = Counter(
        kind.__name__
        for kind in _below(Schema)
        if kind.__module__.startswith("edrix.") and kind.__name__ != "In"
    )
    paths = api.get_openapi_schema()["paths"]
    names.update(
        operation["operationId"] for methods in paths.values() for operation in methods.values()
    )
    assert [name for name, count in names.items() if count > 1] == []


def _below(kind):
    return {below for one in kind.__subclasses__() for below in (one, *_below(one))}


def test_the_openapi_document_is_current():
    """docs/openapi.json is what the TypeScript types are made from; remake it by
    `./edrix api`."""
    assert json.loads(OPENAPI.read_text()) == json.loads(json.dumps(api.get_openapi_schema()))


def test_the_cycle_table_is_the_cores(school, browsers):
    answer = browsers["student"].get(f"/api/engines/{school.engine_id}/cycle")
    table = answer.json()
    core = cycle_table(read_engine(engine_document([1, 3, 4, 2])))
    assert table["roles"]["intake"]["lift_mm"] == pytest.approx(
        core.roles[Role.INTAKE].lift_mm.tolist(), abs=1e-4
    )
    assert len(table["segments"]) == len(core.segments)
    assert [c["companion"] for c in table["engine"]["cylinders"]] == [4, 3, 2, 1]


def test_the_cycle_table_is_small_and_asked_for_once(school, browsers):
    path = f"/api/engines/{school.engine_id}/cycle"
    answer = browsers["student"].get(path, headers={"Accept-Encoding": "gzip"})
    assert answer["Content-Encoding"] == "gzip"
    assert len(answer.content) < 20_000
    assert json.loads(gzip.decompress(answer.content))["engine"]["firing_order"] == [1, 3, 4, 2]
    again = browsers["student"].get(
        path, headers={"Accept-Encoding": "gzip", "If-None-Match": answer["ETag"]}
    )
    assert again.status_code == 304


def test_the_largest_table_is_small_on_the_wire(school, browsers):
    document = json.loads((SHELF / "16-tunnel-vee-24.json").read_text())
    added = browsers["instructor"].send("POST", "/api/engines", document).json()
    path = f"/api/engines/{added['engine']['id']}/cycle"
    answer = browsers["student"].get(path, headers={"Accept-Encoding": "gzip"})
    assert len(answer.content) < 60_000


def test_engine_files_go_in_and_come_out(school, browsers):
    document = engine_document([1, 3, 2], notes="From the plate.")
    refused = browsers["instructor"].send("POST", "/api/engines", document | {"ramp": 3})
    assert refused.status_code == 422
    assert "did you mean “ramp_deg”?" in refused.json()["detail"]
    del document["lift_mm"]["intake"]
    added = browsers["instructor"].send("POST", "/api/engines", document)
    assert added.status_code == 201
    assert any("8 mm is assumed" in text for text in added.json()["warnings"])
    out = browsers["student"].get(f"/api/engines/{added.json()['engine']['id']}/file")
    assert "attachment" in out["Content-Disposition"]
    assert read_engine(out.json()) == read_engine(document)


def test_the_schema_is_published(db, client):
    assert client.get("/api/engine-schema").json() == engine_schema()


def test_a_route_card(school, browsers):
    path = f"/api/engines/{school.engine_id}/route?method=two-stop&start_deg=90"
    plan = browsers["student"].get(path).json()
    assert [(stop["crank_deg"], stop["turn_deg"]) for stop in plan["stops"]] == [
        (360, 270),
        (0, 360),
    ]
    assert plan["complete"] is True


def test_the_methods_side_by_side(school, browsers):
    path = f"/api/engines/{school.engine_id}/methods?start_deg=90&stops=marks"
    rows = browsers["student"].get(path).json()
    assert [row["plan"]["method"] for row in rows] == list(METHODS)
    failing = next(row for row in rows if row["plan"]["method"] == "opening-closing")
    assert failing["plan"]["complete"] is False
    assert "No mark lines up" in failing["says"]


@pytest.mark.parametrize(
    "query", ["direction=sideways", "stops=few", "min_margin_deg=-1", "start_deg=nan"]
)
def test_routes_that_cannot_be_asked_for(school, browsers, query):
    answer = browsers["student"].get(f"/api/engines/{school.engine_id}/methods?{query}")
    assert answer.status_code == 422


class TestWhatAClearanceDoes:
    def test_in_either_unit(self, school, browsers):
        path = f"/api/engines/{school.engine_id}/effect?valve=2"
        mm = browsers["student"].get(f"{path}&gap=0,254").json()
        thou = browsers["student"].get(f"{path}&gap=10&unit=thou").json()
        assert mm["changed"] == thou["changed"]
        assert mm["changed"]["clearance_mm"] == 0.254
        assert mm["nominal"]["opens_cycle_deg"] == pytest.approx(348)
        assert len(mm["changed_curve"]["gap_mm"]) == len(mm["changed_curve"]["cycle_deg"])

    def test_setting_in_the_wrong_place(self, school, browsers):
        path = f"/api/engines/{school.engine_id}/set-here?valve=2&gap=0.25"
        wrong = browsers["student"].get(f"{path}&crank_deg=348").json()
        assert wrong["true_mm"] == pytest.approx(0.5)
        right = browsers["student"].get(f"{path}&crank_deg=0").json()
        assert right["true_mm"] == 0.25

    @pytest.mark.parametrize(
        ("query", "says"),
        [
            ("valve=99&gap=0.2", "no valve 99"),
            ("valve=1&gap=wide", "is not a number"),
            ("valve=1&gap=-0.1", "from 0 to 20 mm"),
            ("valve=1&gap=900", "from 0 to 20 mm"),
            ("valve=1&gap=0.2&unit=inch", "unit"),
            ("valve=1", "gap"),
        ],
    )
    def test_gaps_that_cannot_be(self, school, browsers, query, says):
        answer = browsers["student"].get(f"/api/engines/{school.engine_id}/effect?{query}")
        assert answer.status_code == 422
        assert says in answer.json()["detail"]


class TestWritingAnEngine:
    def test_patterns_can_be_previewed_and_shelved(self, school, browsers):
        tove = browsers["instructor"]
        found = tove.get("/api/engine-patterns").json()
        assert len(found) >= 10
        for pattern in found:
            preview = tove.send("POST", "/api/engine-preview", pattern["document"]).json()
            assert preview["faults"] == []
            assert preview["warnings"] == []
            assert preview["table"]["engine"]["name"] == "New engine"
        assert tove.send("POST", "/api/engines", found[0]["document"]).status_code == 201

    def test_faults_are_told_by_path_and_nothing_is_kept(self, school, browsers):
        document = engine_document([1, 3, 3, 2], ramp_deg=-4)
        preview = browsers["instructor"].send("POST", "/api/engine-preview", document)
        assert preview.status_code == 200
        assert {f["path"] for f in preview.json()["faults"]} == {"$.firing_order", "$.ramp_deg"}
        assert preview.json()["table"] is None
        assert EngineVersion.objects.count() == 1

    @pytest.mark.parametrize("body", [[], "engine", 7, None, {"format": "other/1"}])
    def test_what_is_no_engine_at_all(self, school, browsers, body):
        preview = browsers["instructor"].send("POST", "/api/engine-preview", body)
        assert preview.status_code in (200, 400)
        if preview.status_code == 200:
            assert preview.json()["faults"]


class TestVersions:
    def add(self, browsers, school, based_on, **fields):
        path = f"/api/engines/{school.engine_id}/versions?based_on={based_on}"
        return browsers["instructor"].send("POST", path, engine_document([1, 3, 4, 2], **fields))

    def test_the_shelf_shows_the_newest_and_a_sheet_keeps_its_own(self, school, browsers):
        made = self.add(browsers, school, 1, name="Renamed", ramp_deg=10)
        assert made.status_code == 201
        assert made.json()["engine"]["version"] == 2
        row = browsers["student"].get("/api/engines").json()[0]
        assert (row["name"], row["version"]) == ("Renamed", 2)
        sheet = browsers["student"].get(f"/api/sheets/{school.sheet.id}").json()
        assert sheet["engine_version"] == 1
        old = browsers["student"].get(f"/api/engines/{school.engine_id}/file?version=1").json()
        assert old["ramp_deg"] == 16

    def test_somebody_elses_change_is_not_lost(self, school, browsers):
        self.add(browsers, school, 1, ramp_deg=10)
        late = self.add(browsers, school, 1, ramp_deg=12)
        assert late.status_code == 409
        assert "in version 2 by now" in late.json()["detail"]
        assert EngineVersion.objects.count() == 2

    def test_the_same_again_makes_no_new_version(self, school, browsers):
        for _ in range(2):
            made = self.add(browsers, school, 1, ramp_deg=10)
            assert made.json()["engine"]["version"] == 2
        assert EngineVersion.objects.count() == 2

    def test_an_engine_that_is_not_there(self, school, browsers):
        answer = browsers["instructor"].send(
            "POST", "/api/engines/9999/versions?based_on=1", engine_document([1])
        )
        assert answer.status_code == 404


class TestQrCode:
    def test_it_leads_to_a_place_here(self, school, browsers):
        answer = browsers["student"].get("/api/qr.svg?path=/sheet/12")
        assert answer["Content-Type"] == "image/svg+xml"
        assert b"<svg" in answer.content

    @pytest.mark.parametrize(
        "path", ["//elsewhere", "https://a.b/sheet/1", "/sheet/1/../../x", "/sheet/", "/api/x", ""]
    )
    def test_it_leads_nowhere_else(self, school, browsers, path):
        answer = browsers["student"].get("/api/qr.svg", {"path": path})
        assert answer.status_code == 422


def test_every_route_is_reached(browsers, db):
    """Two routers with one address would hide each other's methods: the first answers 405."""
    for path, methods in json.loads(OPENAPI.read_text())["paths"].items():
        place = re.sub(r"\{\w+\}", "1", path)
        for method in methods:
            assert browsers["nobody"].generic(method.upper(), place).status_code != 405, path


class TestAddressForPhones:
    """What leads to 127.0.0.1 leads a phone to itself."""

    @pytest.fixture(autouse=True)
    def here(self, settings):
        settings.ALLOWED_HOSTS = ["*"]

    @pytest.mark.parametrize("host", ["127.0.0.1:8000", "localhost:8000", "[::1]:8000"])
    def test_none_where_only_this_machine_can_open_it(self, school, browsers, host):
        own = {"headers": {"host": host}}
        tove = browsers["instructor"]
        assert tove.get("/api/address", **own).json() == {"address": None}
        refused = tove.get("/api/qr.svg?path=/sheet/12", **own)
        assert refused.status_code == 404
        assert "Start it with --host" in refused.json()["detail"]
        for path in (f"sheets/{school.sheet.id}/blank.pdf", f"stands/{school.stand.id}/label.pdf"):
            without = tove.get(f"/api/{path}", **own)
            assert without.status_code == 200
            # A code is hundreds of squares.
            assert len(without.content) < len(tove.get(f"/api/{path}").content) - 500
        people = [{"id": school.ines.id, "passcode": "abcd-efgh"}]
        slips = tove.send(
            "POST", f"/api/classes/{school.class_a}/slips.pdf", {"people": people}, host=host
        )
        text = pypdf.PdfReader(io.BytesIO(slips.content)).pages[0].extract_text()
        assert "Address: ____" in text
        assert host not in text

    def test_by_the_name_it_was_asked_by(self, school, browsers):
        own = {"headers": {"host": "edrix.workshop:8000"}}
        told = browsers["instructor"].get("/api/address", **own).json()
        assert told == {"address": "http://edrix.workshop:8000/"}

    def test_by_what_the_start_command_found(self, school, browsers, settings):
        """The instructor sits at the machine itself, and prints for phones."""
        settings.ADDRESS = "http://192.0.2.7:8000"
        own = {"headers": {"host": "127.0.0.1:8000"}}
        told = browsers["instructor"].get("/api/address", **own).json()
        assert told == {"address": "http://192.0.2.7:8000/"}
        assert browsers["instructor"].get("/api/qr.svg?path=/", **own).status_code == 200
