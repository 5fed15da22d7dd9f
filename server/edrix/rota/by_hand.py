"""A booking moved, made, pinned or taken out by hand; what it would break is said first."""

from dataclasses import dataclass

from django.db import transaction

from edrix.accounts.models import User
from edrix.errors import FieldFault, InvalidError, NotFoundError, QuestionsError
from edrix.rota.asked import AskedRota, Kept, kept_bookings
from edrix.rota.services import BrokenRule, get_rota, judge, lock, touched, write


@dataclass(frozen=True, slots=True)
class BookingChange:
    """What is to be another: None stays. take_out removes the booking."""

    slot: str | None = None
    place: str | None = None
    task: str | None = None
    students: list[int] | None = None
    pinned: bool | None = None
    take_out: bool = False


def after_change(
    asked: AskedRota, bookings: list[Kept], at: int | None, to: BookingChange
) -> list[Kept]:
    """The bookings as they would be; at None books a new one. What stands where one is moved to
    changes places with it. Raises InvalidError, NotFoundError."""
    here = next((one for one in bookings if one.at == at), None) if at is not None else None
    if at is not None and here is None:
        raise NotFoundError("This booking is there no more; somebody has changed the rota.")
    if here is not None and to.take_out:
        return [one for one in bookings if one is not here]
    base = here or Kept(None, "", "", "", ())
    moved = Kept(
        base.at,
        base.slot if to.slot is None else to.slot,
        base.place if to.place is None else to.place,
        base.task if to.task is None else to.task,
        base.students if to.students is None else tuple(sorted(set(to.students))),
        base.pinned if to.pinned is None else to.pinned,
    )
    _require_there(asked, moved)
    rest = []
    for one in bookings:
        if one is here:
            continue
        if (one.slot, one.place) == (moved.slot, moved.place):
            if here is None:
                raise InvalidError(
                    "There is a booking at this place in this slot already; change that.",
                    [FieldFault("place", "is taken in this slot")],
                )
            rest.append(one._replace(slot=here.slot, place=here.place))
        else:
            rest.append(one)
    return sorted([*rest, moved], key=lambda one: (one.slot, one.place))


def _require_there(asked: AskedRota, one: Kept) -> None:
    wish = asked.wish
    known = {
        "slot": (one.slot, {slot.start for slot in wish.slots}),
        "place": (one.place, {place.key for place in wish.places}),
        "task": (one.task, {task.key for task in wish.tasks}),
    }
    faults = [
        FieldFault(path, f"is no {path} of this rota; choose one that is")
        for path, (value, there) in known.items()
        if value not in there
    ]
    if not set(one.students) <= {student.id for student in asked.students}:
        faults.append(FieldFault("students", "names somebody who is not in this class"))
    if faults:
        raise InvalidError(f"The {faults[0].path} {faults[0].problem}.", faults)


def try_change(user: User, rota_id: int, at: int | None, to: BookingChange) -> list[BrokenRule]:
    """What would be broken that is not now; nothing is kept."""
    asked = AskedRota(get_rota(user, rota_id))
    before = kept_bookings(asked.rota)
    return _newly_broken(asked, before, after_change(asked, before, at, to))


def _newly_broken(asked: AskedRota, before: list[Kept], after: list[Kept]) -> list[BrokenRule]:
    problem = asked.problem()
    was = {one.says for one in judge(asked, problem, before)}
    return [one for one in judge(asked, problem, after) if one.says not in was]


@transaction.atomic
def change_booking(
    user: User,
    rota_id: int,
    revision: int,
    at: int | None,
    to: BookingChange,
    *,
    confirmed: bool = False,
) -> None:
    """Moves, books or takes out by hand. What breaks a rule is asked about first: the instructor
    may know better."""
    asked = AskedRota(lock(user, rota_id, revision))
    before = kept_bookings(asked.rota)
    after = after_change(asked, before, at, to)
    breaks = [] if confirmed else _newly_broken(asked, before, after)
    if breaks:
        raise QuestionsError(
            "This breaks what the rota keeps to.",
            [FieldFault("booking", one.says) for one in breaks],
        )
    write(asked, after)
    touched(asked.rota)
