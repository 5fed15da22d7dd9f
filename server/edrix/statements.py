"""The few statements that every signed-in request or every step of a practice run sends.

The ORM takes longer to write such a statement than PostgreSQL to answer it. So it is written
once, from the models, and sent as it is ever after; all others are the ORM's each time.
"""

from functools import cache
from typing import Any

from django.db import connection, models


def first_row(sql: str, parameters: list[Any]) -> tuple[Any, ...] | None:
    """None where nothing is found."""
    with connection.cursor() as cursor:
        cursor.execute(sql, parameters)
        found: tuple[Any, ...] | None = cursor.fetchone()
    return found


def insert(row: models.Model) -> None:
    """Adds a row as `save` does, without signals and without reading its number back.

    Raises IntegrityError as `save` does.
    """
    sql, fields = _insertion(type(row))
    values = [field.get_db_prep_save(field.pre_save(row, True), connection) for field in fields]
    with connection.cursor() as cursor:
        cursor.execute(sql, values)


@cache
def _insertion(model: type[models.Model]) -> "tuple[str, list[models.Field[Any, Any]]]":
    fields = [field for field in model._meta.concrete_fields if not field.primary_key]
    quoted = connection.ops.quote_name
    table = quoted(model._meta.db_table)
    columns = ", ".join(quoted(str(field.column)) for field in fields)
    places = ", ".join(["%s"] * len(fields))
    # Only names of our own models.
    return f"INSERT INTO {table} ({columns}) VALUES ({places})", fields  # noqa: S608
