"""Engines over HTTP: the same answers as the core, cached; and the API's document."""

import gzip
import json
from pathlib import Path

import pytest

from edrix.api import api
from tests.core.conftest import engine_document
from valvetrain.cycle_table import cycle_table
from valvetrain.engine import Role
from valvetrain.engine_file import engine_schema, read_engine

OPENAPI = Path(__file__).parents[2] / "docs" / "openapi.json"


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


def test_engine_files_go_in_and_come_out(school, browsers):
    document = engine_document([1, 3, 2], notes="From the plate.", ramp=3)
    added = browsers["instructor"].send("POST", "/api/engines", document)
    assert added.status_code == 201
    assert any("$.ramp is no field" in text for text in added.json()["warnings"])
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
