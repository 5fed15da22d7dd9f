"""Rows that were made once, laid out again for each test.

Making a school takes a hundred statements and their checks; laying its rows out takes one for each
table. They keep their numbers: PostgreSQL never takes a sequence back, so nothing that a test makes
meets them. What has happened happened as long before the test as before their making; what is
planned for a day stays on it.
"""

import copy
from collections.abc import Callable
from datetime import datetime, timedelta
from typing import Any, Generic, TypeVar

from django.apps import apps
from django.db import models
from django.utils import timezone

Model = type[models.Model]
Made = TypeVar("Made")


def _tables() -> list[Model]:
    every = apps.get_models(include_auto_created=True)
    return [one for one in every if one._meta.managed and not one._meta.proxy]


class KeptRows(Generic[Made]):
    """What `make` leaves in the database, and what it gives. over: what is laid out before, and
    may be changed by it."""

    def __init__(self, make: Callable[[], Made], over: "KeptRows[Any] | None" = None) -> None:
        before = {table: set(_keys(table)) for table in _tables()}
        for table, rows in (over._rows if over else {}).items():
            before[table] -= {one.pk for one in rows}
        self._made = make()
        self._at = timezone.now()
        self._rows = {
            table: rows
            for table, keys in before.items()
            if (rows := [one for one in table._base_manager.all() if one.pk not in keys])
        }

    def made(self) -> Made:
        """A copy of its own for each test, which may change it."""
        return copy.deepcopy(self._made)

    def lay_out(self) -> None:
        """Into a database that has none of them, or those of what it was made over."""
        later = timezone.now() - self._at
        for table, rows in self._rows.items():
            others = [one.name for one in table._meta.concrete_fields if not one.primary_key]
            # Foreign keys are looked at when all is done, so any order will do.
            table._base_manager.bulk_create(
                [self._moved(row, later) for row in rows],
                update_conflicts=True,
                unique_fields=["pk"],
                update_fields=others,
            )

    def _moved(self, row: models.Model, later: timedelta) -> models.Model:
        moved = copy.copy(row)
        moved._state = copy.copy(row._state)
        for field in row._meta.concrete_fields:
            value = getattr(row, field.attname)
            if isinstance(value, datetime) and value <= self._at:
                setattr(moved, field.attname, value + later)
        return moved


def _keys(table: Model) -> Any:
    return table._base_manager.values_list("pk", flat=True)
