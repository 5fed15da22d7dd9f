"""Django's own migrate, one process at a time."""

from typing import Any

import pglock
from django.core.management.commands.migrate import Command as Migrate

PATIENCE_S = 600


class Command(Migrate):
    """Two servers that start at once on one database: the second waits, and finds it all done."""

    def handle(self, *args: Any, database: str, **options: Any) -> None:
        with pglock.advisory(
            "edrix.migrate", timeout=PATIENCE_S, side_effect=pglock.Raise, using=database
        ):
            super().handle(*args, database=database, **options)
