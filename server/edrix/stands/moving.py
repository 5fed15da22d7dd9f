"""Stands and keys that come back with a class: whether they can have been."""

from typing import Any

from pydantic import TypeAdapter

from edrix.engines import services as engines
from edrix.stands.models import Key, KeyGap, Stand

_PASSES = TypeAdapter(list[str])


def prove(class_id: int) -> None:
    """Raises ValueError for a key that does not have each valve of its engine."""
    keys = Key.objects.filter(stand__uses__teaching_class_id=class_id)
    gaps = KeyGap.objects.filter(key__in=keys)
    by_key: dict[int, list[int]] = {}
    for gap in gaps.order_by("key_id", "id"):
        _PASSES.validate_python(gap.passes, strict=True)
        by_key.setdefault(gap.key_id, []).append(gap.valve)
    for key in keys.select_related("stand__engine_version"):
        engine = engines.core_engine(key.stand.engine_version)
        if sorted(by_key.get(key.id, ())) != sorted(engine.valve):
            raise ValueError(f"key {key.number} of {key.stand.name} has other valves")


def fill_in_uses(stands: list[dict[str, Any]], uses: list[dict[str, Any]]) -> None:
    """An archive of an older Edrix says of each stand whose class it is, which is now a row."""
    if stands and "teaching_class_id" in stands[0]:
        uses += [
            {
                "id": stand["id"],
                "teaching_class_id": stand["teaching_class_id"],
                "stand_id": stand["id"],
                "put_away_at": None,
            }
            for stand in stands
        ]


def free_names(stands: list[dict[str, Any]]) -> None:
    """A stand that comes back beside one of its name says so: they may be two engines by now."""
    taken = set(Stand.objects.values_list("name", flat=True))
    for stand in stands:
        name, number = str(stand["name"]), 1
        while stand["name"] in taken:
            number += 1
            also = f" ({number})"
            stand["name"] = name[: MOST_NAME - len(also)] + also
        taken.add(stand["name"])


MOST_NAME = 80
