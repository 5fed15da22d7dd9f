"""The hall as an instructor sees it in the morning: which stands are ready, and why the others are
not."""

from datetime import datetime
from decimal import Decimal
from typing import NamedTuple

from django.db import transaction
from django.utils import timezone

from edrix.accounts.models import User
from edrix.logbook import services as logbook
from edrix.safety import services as safety
from edrix.stands import hall
from edrix.stands import services as stands
from edrix.stands.services import Stand


class Standing(NamedTuple):
    """state is ready, warm, worked-on or out-of-order. mine: whether this person teaches with it,
    and so reads its log and key."""

    stand: Stand
    state: str
    why: str
    warm_until: datetime | None
    meter: Decimal | None
    classes: list[str]
    mine: bool


def stands_in_hall(user: User) -> list[Standing]:
    """Every stand of the school, for people who teach."""
    known = list(hall.hall(user))
    meters = logbook.newest_meters([stand.id for stand in known])
    open_now = safety.open_now([stand.id for stand in known])
    mine = stands.kept_by(user, known)
    return [
        Standing(
            stand,
            *state_of(stand, open_now.get(stand.id, [])),
            stand.warm_until if is_warm(stand) else None,
            meters.get(stand.id),
            [use.teaching_class.name for use in stand.uses.all() if use.put_away_at is None],
            stand.id in mine,
        )
        for stand in known
    ]


@transaction.atomic
def remove(user: User, stand_id: int) -> None:
    """A stand that nobody has measured, with what of its log was filled in by itself. Raises
    ConflictError where somebody's work hangs on it."""
    stands.get_stand(user, stand_id)
    logbook.forget_filled(stand_id)
    stands.remove(user, stand_id)


def is_warm(stand: Stand) -> bool:
    return stand.warm_until is not None and stand.warm_until > timezone.now()


def state_of(stand: Stand, at_work: list[str]) -> tuple[str, str]:
    """Its state and why: what keeps people from it most comes first."""
    if stand.out_of_order:
        return "out-of-order", stand.out_of_order
    if at_work:
        return "worked-on", ", ".join(at_work)
    return ("warm", "") if is_warm(stand) else ("ready", "")
