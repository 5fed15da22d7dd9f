"""Engines and their versions as rows of an archive, out and back in."""

from typing import Any

from edrix.engines.models import Engine, EngineVersion
from edrix.engines.services import content_hash, readable
from valvetrain.engine_file import write_engine

Row = dict[str, Any]


def version_rows(ids: set[int]) -> list[Row]:
    return [dict(row) for row in EngineVersion.objects.filter(id__in=ids).order_by("id").values()]


def engine_rows(ids: set[int]) -> list[Row]:
    return [dict(row) for row in Engine.objects.filter(id__in=ids).order_by("id").values()]


def take_in_rows(
    engines: list[Row], versions: list[Row], people: dict[int, int]
) -> tuple[dict[int, int], dict[int, int]]:
    """New ids of engines and versions by old ones. An engine that is on the shelf already, with
    just these versions, is not doubled. Raises InvalidError for a file that is no engine."""
    engine_ids: dict[int, int] = {}
    version_ids: dict[int, int] = {}
    for row in engines:
        own = [version for version in versions if version["engine_id"] == row["id"]]
        written = {v["id"]: write_engine(readable(v["document"])) for v in own}
        hashes = {v["id"]: content_hash(written[v["id"]]) for v in own}
        engine = _on_the_shelf({v["number"]: hashes[v["id"]] for v in own})
        if engine is None:
            engine = Engine.objects.create(
                name=str(row["name"])[:200], created_by_id=people[row["created_by_id"]]
            )
            EngineVersion.objects.bulk_create(
                EngineVersion(
                    engine=engine,
                    number=version["number"],
                    document=written[version["id"]],
                    content_hash=hashes[version["id"]],
                    created_by_id=people[version["created_by_id"]],
                )
                for version in own
            )
        engine_ids[row["id"]] = engine.id
        of_number = dict(engine.versions.values_list("number", "id"))
        version_ids |= {version["id"]: of_number[version["number"]] for version in own}
    return engine_ids, version_ids


def _on_the_shelf(hashes: dict[int, str]) -> Engine | None:
    """An engine that has each of these versions by its number."""
    for number, one in hashes.items():
        for version in EngineVersion.objects.filter(number=number, content_hash=one):
            known = dict(version.engine.versions.values_list("number", "content_hash"))
            if hashes.items() <= known.items():
                return version.engine
        return None
    return None
