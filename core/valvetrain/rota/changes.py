"""What becomes of each student's places where a rota is planned again."""

from collections.abc import Iterable
from typing import NamedTuple

from valvetrain.rota.problem import Booking, TakenSeat, seats_of


class Change(NamedTuple):
    """What becomes of one student's place for one task; None where there was, or is, none."""

    student: int
    task: int
    was: TakenSeat | None
    now: TakenSeat | None


def lost(changes: Iterable[Change]) -> int:
    """How many seats are taken from somebody who had them."""
    return sum(change.was is not None for change in changes)


def changes_between(before: Iterable[Booking], after: Iterable[Booking]) -> tuple[Change, ...]:
    """By student and task."""
    was, now = seats_of(before), seats_of(after)
    return tuple(
        Change(*key, was.get(key), now.get(key))
        for key in sorted(was.keys() | now.keys())
        if was.get(key) != now.get(key)
    )
