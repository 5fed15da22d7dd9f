"""Stands and keys that come back with a class: whether they can have been."""

from pydantic import TypeAdapter

from edrix.engines import services as engines
from edrix.stands.models import Key, KeyGap

_PASSES = TypeAdapter(list[str])


def prove(class_id: int) -> None:
    """Raises ValueError for a key that does not have each valve of its engine."""
    keys = Key.objects.filter(stand__teaching_class_id=class_id)
    gaps = KeyGap.objects.filter(key__in=keys)
    by_key: dict[int, list[int]] = {}
    for gap in gaps.order_by("key_id", "id"):
        _PASSES.validate_python(gap.passes, strict=True)
        by_key.setdefault(gap.key_id, []).append(gap.valve)
    for key in keys.select_related("stand__engine_version"):
        engine = engines.core_engine(key.stand.engine_version)
        if sorted(by_key.get(key.id, ())) != sorted(engine.valve):
            raise ValueError(f"key {key.number} of {key.stand.name} has other valves")
