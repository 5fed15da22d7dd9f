"""Opening an engine for work and closing it: the lists ticked, and kept as they were read.

Example: before Ines turns stand 3 she ticks its isolation list; the record says who, when, and
the very words. When she is done she ticks the closing list in the same record. A sheet that is
handed in without them says so to her instructor; nothing she has measured is refused for it.
"""

from collections.abc import Iterable
from datetime import datetime, timedelta
from typing import Any

from django.db import transaction
from django.db.models import Q
from django.utils import timezone

from edrix.accounts.models import User
from edrix.engines import services as engines
from edrix.engines.services import core_engine
from edrix.errors import FieldFault, InvalidError, NotFoundError
from edrix.safety import own
from edrix.safety.models import Opening as Opening
from edrix.safety.signals import list_ticked
from edrix.stands import services as stands
from valvetrain.cautions import (
    DEFERS,
    START_WORDS,
    Caution,
    StartKind,
    closing_list,
    likely_starts,
    opening_list,
)

HOLDS = timedelta(hours=12)
"""An opening is for one working day: the next day the engine is isolated again."""


def lists_for(engine_id: int, version: int | None) -> dict[str, Any]:
    """The lists of an engine for every way of starting it; see `api.CautionsOut`."""
    engine = core_engine(engines.get_version(engine_id, version))
    before, after = own.lines_of(engine_id)
    return {
        "starts": [
            {
                "start": start.value,
                "says": START_WORDS[start],
                "lines": [line._asdict() for line in (*opening_list(engine, start), *before)],
                "closing": [line._asdict() for line in (*closing_list(engine, start), *after)],
            }
            for start in likely_starts(engine)
        ],
        "defers": DEFERS,
    }


@transaction.atomic
def open_for_work(
    user: User,
    *,
    engine_id: int,
    version: int | None,
    start: str,
    ticked: list[str],
    stand_id: int | None,
) -> Opening:
    """Keeps that the whole isolation list was ticked. Raises InvalidError naming what was not."""
    if stand_id is not None:
        stand = stands.stand_for_member(user, stand_id)
        shelved = stand.engine_version
        if shelved.engine_id != engine_id:
            raise NotFoundError(f"Stand {stand_id} has another engine; open it from its sheet.")
    else:
        stand, shelved = None, engines.get_version(engine_id, version)
    before, _ = own.lines_of(shelved.engine_id)
    lines = (*opening_list(core_engine(shelved), _start(start)), *before)
    opening = Opening.objects.create(
        person=user,
        engine_version=shelved,
        stand=stand,
        start=start,
        opened=_all_ticked(lines, ticked),
    )
    list_ticked.send(Opening, opening=opening, closing=False)
    return opening


@transaction.atomic
def close_after_work(user: User, opening_id: int, ticked: list[str]) -> Opening:
    """Keeps that the closing list was ticked; a second time changes nothing."""
    mine = Opening.objects.select_for_update(of=("self",)).select_related("engine_version")
    opening = mine.filter(id=opening_id, person=user).first()
    if opening is None:
        raise NotFoundError(f"There is no record {opening_id} of yours; open the engine first.")
    if opening.closed is None:
        _, after = own.lines_of(opening.engine_version.engine_id)
        engine = core_engine(opening.engine_version)
        lines = (*closing_list(engine, StartKind(opening.start)), *after)
        opening.closed = _all_ticked(lines, ticked)
        opening.closed_at = timezone.now()
        opening.save(update_fields=["closed", "closed_at"])
        list_ticked.send(Opening, opening=opening, closing=True)
    return opening


def current(user: User, *, engine_id: int, stand_id: int | None) -> Opening | None:
    """This person's newest opening of this engine (and stand) within the working day."""
    return (
        Opening.objects.filter(
            person=user,
            engine_version__engine_id=engine_id,
            opened_at__gte=timezone.now() - HOLDS,
        )
        .filter(Q(stand__isnull=True) if stand_id is None else Q(stand_id=stand_id))
        .order_by("-id")
        .first()
    )


def open_now(stand_ids: Iterable[int]) -> dict[int, list[str]]:
    """Who has opened each of these stands within the working day, and has not closed it."""
    found = Opening.objects.filter(
        stand_id__in=stand_ids, closed__isnull=True, opened_at__gte=timezone.now() - HOLDS
    )
    names: dict[int, list[str]] = {}
    for stand_id, name in found.order_by("id").values_list("stand_id", "person__display_name"):
        known = names.setdefault(stand_id, [])
        if name not in known:
            known.append(name)
    return names


def records(stand_id: int, handed_in: Iterable[tuple[int, datetime, bool]]) -> list[Opening | None]:
    """The opening that belongs to each hand-in: a person's newest before it, of the working day.

    handed_in has the person, when, and whether it was taken in from paper: then the day is not
    known, and the newest before it counts.
    """
    asked = list(handed_in)
    found: dict[int, list[Opening]] = {}
    people = {person_id for person_id, _, _ in asked}
    for opening in Opening.objects.filter(stand_id=stand_id, person_id__in=people).order_by("-id"):
        found.setdefault(opening.person_id, []).append(opening)
    return [
        next(
            (
                opening
                for opening in found.get(person_id, [])
                if opening.opened_at <= at and (from_paper or opening.opened_at >= at - HOLDS)
            ),
            None,
        )
        for person_id, at, from_paper in asked
    ]


def _start(start: str) -> StartKind:
    try:
        return StartKind(start)
    except ValueError:
        known = ", ".join(known.value for known in StartKind)
        fault = FieldFault("start", f"give one of {known}")
        raise InvalidError(
            f"The way of starting is not known; give one of {known}.", [fault]
        ) from None


def _all_ticked(lines: tuple[Caution, ...], ticked: list[str]) -> list[dict[str, str]]:
    missing = [line for line in lines if line.id not in ticked]
    if missing:
        faults = [FieldFault(line.id, f"is not ticked: {line.says}") for line in missing]
        raise InvalidError(
            f"Not everything is ticked yet: {missing[0].says} Do it, then tick it.", faults
        )
    return [line._asdict() for line in lines]
