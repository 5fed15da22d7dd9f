"""Questions that were missed, alone or in class, and come back to whoever missed them.

Example: asked in class, Ines was sure and wrong about the companion. On the next day her Today says
that a question about the pump comes back; a drill on the pump begins with it. Right then and three
days later, it stays away.
"""

import secrets
from collections.abc import Iterable
from typing import NamedTuple

from django.db import transaction
from django.db.models import Count, QuerySet
from django.utils import timezone

from edrix.accounts.models import User
from edrix.drills.models import Missed
from edrix.engines import services as engines
from edrix.engines.services import EngineVersion
from valvetrain.drill import Again, Question, looked_at, missed, put_anew

MOST_AT_ONCE = 5
"""Of the ten questions of a drill."""


class ComesBack(NamedTuple):
    """How many questions about an engine come back today."""

    engine_id: int
    version: int
    engine_name: str
    questions: int


class OneMissed(NamedTuple):
    person_id: int
    version: EngineVersion
    kind: str


def were_missed(found: Iterable[OneMissed]) -> None:
    """They come back; what is on its way back already begins anew. Right once and missed since, it
    is one question still."""
    again = missed(timezone.localdate())
    rows = [
        Missed(
            person_id=one.person_id,
            engine_version=one.version,
            kind=one.kind,
            right_in_a_row=again.right_in_a_row,
            due_on=again.due,
        )
        for one in dict.fromkeys(found)
    ]
    Missed.objects.bulk_create(
        rows,
        update_conflicts=True,
        unique_fields=["person", "engine_version", "kind"],
        update_fields=["right_in_a_row", "due_on"],
    )


def due(user: User, version: EngineVersion) -> list[tuple[int, Question]]:
    """What comes back of an engine today, each put anew at another place; with its number."""
    engine = engines.core_engine(version)
    found = []
    for one in _due(user).filter(engine_version=version).order_by("due_on", "id")[:MOST_AT_ONCE]:
        question = put_anew(engine, one.kind, secrets.randbits(32))
        if question is not None:
            found.append((one.id, question))
    return found


def comes_back(user: User) -> list[ComesBack]:
    """By engine, most first."""
    version = "engine_version__"
    rows = _due(user).values_list(
        f"{version}engine_id", f"{version}number", f"{version}engine__name"
    )
    counted = rows.annotate(questions=Count("id")).order_by("-questions", f"{version}engine_id")
    return [ComesBack(*row) for row in counted]


@transaction.atomic
def was_answered(missed_id: int, of: OneMissed, *, right: bool) -> None:
    """One that came back: right twice it is over, wrong it begins anew."""
    found = Missed.objects.select_for_update().filter(
        id=missed_id, person_id=of.person_id, engine_version=of.version, kind=of.kind
    )
    one = found.first()
    if one is None:
        # A drill that came with a class from elsewhere: there it had another number.
        return
    told: Again = looked_at(one.right_in_a_row, timezone.localdate(), right=right)
    one.right_in_a_row, one.due_on = told
    one.save(update_fields=["right_in_a_row", "due_on"])


def _due(user: User) -> QuerySet[Missed]:
    return Missed.objects.filter(person=user, due_on__lte=timezone.localdate())
