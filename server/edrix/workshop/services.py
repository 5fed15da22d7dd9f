"""The hall as an instructor sees it in the morning: which stands are ready, and why the others are
not."""

from datetime import datetime
from decimal import Decimal
from typing import NamedTuple

from django.db import transaction
from django.utils import timezone

from edrix import clock
from edrix.accounts.models import User
from edrix.logbook import services as logbook
from edrix.safety import services as safety
from edrix.stands import hall
from edrix.stands import services as stands
from edrix.stands.services import Key, Stand


class HallStand(NamedTuple):
    """state is ready, warm, worked-on or out-of-order. mine: whether this person teaches with it,
    and so reads its log and key."""

    stand: Stand
    state: str
    why: str
    warm_until: datetime | None
    meter: Decimal | None
    classes: list[str]
    mine: bool


def stands_in_hall(user: User) -> list[HallStand]:
    """Every stand of the school, for people who teach."""
    known = list(hall.hall(user))
    meters = logbook.newest_meters([stand.id for stand in known])
    open_now = safety.open_now([stand.id for stand in known])
    mine = stands.kept_by(user, known)
    return [
        HallStand(
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


def notices(stand: Stand, key: Key) -> list[str]:
    """What whoever works at a stand must know before they measure it."""
    told = []
    if stand.out_of_order:
        told.append(f"{stand.name} is out of order: {stand.out_of_order}. Ask your instructor.")
    if is_warm(stand) and stand.warm_until is not None:
        until = clock.moment(stand.warm_until)
        told.append(f"{stand.name} was run, and is warm until {until}: let it stand first.")
    if stands.is_stale(stand, key):
        told.append(
            f"{stand.name} was adjusted since its key was measured. Tell your instructor before "
            "you measure: your sheet would be marked by the gaps of before."
        )
    return told


def stale_words(stand: Stand, key: Key) -> str:
    """For instructors: since when a key is stale, and the way out; empty where it is not."""
    if not stands.is_stale(stand, key) or stand.adjusted_at is None:
        return ""
    return (
        f"{stand.name} was adjusted on {clock.moment(stand.adjusted_at)} by {stand.adjusted_by}, "
        f"after key {key.number} was measured. Measure it again, or make what a checked sheet left "
        "its next key, before the next pair is marked by this one."
    )


def is_warm(stand: Stand) -> bool:
    return stand.warm_until is not None and stand.warm_until > timezone.now()


def state_of(stand: Stand, at_work: list[str]) -> tuple[str, str]:
    """Its state and why: what keeps people from it most comes first."""
    if stand.out_of_order:
        return "out-of-order", stand.out_of_order
    if at_work:
        return "worked-on", ", ".join(at_work)
    return ("warm", "") if is_warm(stand) else ("ready", "")
