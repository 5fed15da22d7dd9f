"""A job as it is told over HTTP."""

from datetime import datetime
from typing import Any

from ninja import Schema

from edrix.problems import FieldProblem


class JobOut(Schema):
    """state is waiting, working, done, failed or stopped; says is why it failed."""

    id: int
    kind: str
    state: str
    is_over: bool
    progress: dict[str, Any]
    result: dict[str, Any]
    says: str
    faults: list[FieldProblem]
    file_name: str
    made_at: datetime
    ended_at: datetime | None
