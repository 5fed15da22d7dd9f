"""The life of things: put out of the way, brought back, and removed where nothing hangs on them."""

from collections import Counter
from typing import Any

from django.db import transaction
from django.db.models import Model, ProtectedError, QuerySet
from django.utils import timezone

from edrix.errors import ConflictError


def put_away(row: Model, *, away: bool | None) -> None:
    """Of a model with put_away_at; None leaves it where it is. What hangs on it stays as it is;
    again changes nothing."""
    if away is None or away is (getattr(row, "put_away_at") is not None):  # noqa: B009 (of several models)
        return
    setattr(row, "put_away_at", timezone.now() if away else None)  # noqa: B010
    row.save(update_fields=["put_away_at"])


def remove(row: Model, called: str, *parts: "QuerySet[Any]") -> None:
    """Deletes a row with what is but a part of it, for good. Raises ConflictError, and deletes
    nothing, where anything else hangs on it: that is somebody's work."""
    try:
        with transaction.atomic():
            for part in parts:
                part.delete()
            row.delete()
    except ProtectedError as refused:
        raise ConflictError(
            f"{called} can't be deleted: it has {_told(refused)}. Put it away instead; nothing is "
            "lost then."
        ) from None


def _told(refused: ProtectedError) -> str:
    """`2 hand-ins and 1 draft`: what hangs on it, most first."""
    counts = Counter(type(one)._meta for one in refused.protected_objects)
    said = [
        f"{count} {meta.verbose_name if count == 1 else meta.verbose_name_plural}"
        for meta, count in counts.most_common(3)
    ]
    return " and ".join(said)
