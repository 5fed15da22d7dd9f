"""Rotas of a class, for its instructors: made, changed, moved by hand, posted; and what breaks."""

from collections.abc import Iterable, Sequence
from datetime import timedelta
from typing import Any, NamedTuple

from django.db import transaction
from django.db.models import Count, QuerySet
from django.utils import timezone

from edrix import life
from edrix.accounts.models import User
from edrix.classes import services as classes
from edrix.errors import (
    ConflictError,
    FieldFault,
    InvalidError,
    NotFoundError,
    QuestionsError,
)
from edrix.rota.asked import AskedRota, Kept, kept_bookings
from edrix.rota.models import Rota as Rota
from edrix.rota.models import RotaBooking, RotaSeat
from edrix.rota.wish import LOCAL, RotaWish, checked, local, moment
from valvetrain.rota.constants import MISSING_COST
from valvetrain.rota.problem import Problem
from valvetrain.rota.rules import broken, cost_of
from valvetrain.rota.why import why_missing

MOST_TITLE = 120
WEEK = timedelta(days=7)


class BrokenRule(NamedTuple):
    """A rule that bookings break; bookings are their places in the list, students ids."""

    says: str
    bookings: list[int]
    students: list[int]


class MissingPlace(NamedTuple):
    """why and helps are empty where nobody has proved that some place must be missing."""

    student: int
    task: str
    why: str
    helps: str


class RotaStanding(NamedTuple):
    """A rota as it stands. says is why nothing can be planned of it yet, empty where it can."""

    asked: AskedRota
    bookings: list[Kept]
    broken: list[BrokenRule]
    missing: list[MissingPlace]
    repeats: int
    says: str


def rotas_of(user: User, class_id: int) -> QuerySet[Rota]:
    """The newest first."""
    classes.require_instructor(user, class_id)
    found = Rota.objects.filter(teaching_class_id=class_id)
    return found.annotate(booked=Count("bookings")).order_by("-id")


def get_rota(user: User, rota_id: int) -> Rota:
    """For an instructor of its class. Raises NotFoundError, NotAllowedError."""
    rota = Rota.objects.select_related("teaching_class").filter(id=rota_id).first()
    if rota is None:
        raise _no_rota()
    try:
        classes.require_instructor(user, rota.teaching_class_id)
    except NotFoundError:
        raise _no_rota() from None
    return rota


def _no_rota() -> NotFoundError:
    return NotFoundError("There is no such rota, or it is of a class that you are not in.")


@transaction.atomic
def create(user: User, class_id: int, title: str, based_on: int | None = None) -> Rota:
    """A new one, with what another of the class asks for a week later where one is named."""
    classes.require_instructor(user, class_id)
    wish = RotaWish.model_validate({})
    if based_on is not None:
        model = get_rota(user, based_on)
        if model.teaching_class_id != class_id:
            raise _no_rota()
        wish = _a_week_later(RotaWish.model_validate(model.wish))
    return Rota.objects.create(
        teaching_class_id=class_id,
        title=" ".join(title.split()),
        wish=wish.model_dump(),
        created_by=user,
    )


def _a_week_later(wish: RotaWish) -> RotaWish:
    """Its slots, places and tasks; who is away is another matter every week."""
    for slot in wish.slots:
        slot.start = (local(slot.start) + WEEK).strftime(LOCAL)
        slot.end = (local(slot.end) + WEEK).strftime(LOCAL)
    return checked(wish.model_copy(update={"away": {}}))


@transaction.atomic
def change(
    user: User,
    rota_id: int,
    *,
    title: str | None = None,
    away: bool | None = None,
    posted: bool | None = None,
) -> None:
    """Renames it, posts it to its students or takes it down, puts it away or brings it back."""
    rota = get_rota(user, rota_id)
    if title is not None:
        rota.title = " ".join(title.split())
    if posted is not None:
        rota.posted_at = (rota.posted_at or timezone.now()) if posted else None
    rota.save(update_fields=["title", "posted_at", "changed_at"])
    life.put_away(rota, away=away)


@transaction.atomic
def remove(user: User, rota_id: int) -> None:
    """With its bookings: they are plans, and nobody's work."""
    rota = get_rota(user, rota_id)
    life.remove(rota, rota.title, RotaBooking.objects.filter(rota=rota))


@transaction.atomic
def save_wish(
    user: User, rota_id: int, revision: int, wish: RotaWish, *, confirmed: bool = False
) -> None:
    """What it is to hold. Bookings in what is taken out go; it is asked about them first."""
    rota = lock(user, rota_id, revision)
    wish = checked(wish)
    _require_known(rota, wish)
    keys = ({s.start: s for s in wish.slots}, {p.key for p in wish.places}, _task_keys(wish))
    gone: list[RotaBooking] = []
    others: list[RotaBooking] = []
    for one in RotaBooking.objects.filter(rota=rota):
        is_there = one.slot in keys[0] and one.place in keys[1] and one.task in keys[2]
        (others if is_there else gone).append(one)
    if gone and not confirmed:
        told = f"{len(gone)} booking{'s' if len(gone) > 1 else ''}"
        question = f"{told} would go: their slot, place or task is taken out."
        raise QuestionsError(question, [FieldFault("wish", question)])
    RotaBooking.objects.filter(id__in=[one.id for one in gone]).delete()
    runs = {task.key: task.runs_engine for task in wish.tasks}
    for one in others:
        one.ends_at = moment(keys[0][one.slot].end)
        one.runs_engine = runs[one.task]
    RotaBooking.objects.bulk_update(others, ["ends_at", "runs_engine"])
    rota.wish = wish.model_dump()
    touched(rota)


def _task_keys(wish: RotaWish) -> set[str]:
    return {task.key for task in wish.tasks}


def _require_known(rota: Rota, wish: RotaWish) -> None:
    """Stands are those that the class uses, or that the rota had before."""
    asked = AskedRota(rota)
    had = {place.stand for place in asked.wish.places}
    known = {None, *asked.stands, *had}
    strange = [place.name for place in wish.places if place.stand not in known]
    if strange:
        problem = "is no stand that this class uses; let the class use it first"
        raise InvalidError(f"{strange[0]} {problem}.", [FieldFault("places", problem)])


def lock(user: User, rota_id: int, revision: int) -> Rota:
    """For a change that was made of this revision. Raises ConflictError where another came
    between."""
    get_rota(user, rota_id)
    rota = Rota.objects.select_for_update().get(id=rota_id)
    if rota.revision != revision:
        raise ConflictError(
            "This rota has been changed meanwhile, in another window or by a colleague. Look at "
            "it as it is now, then change it again."
        )
    return rota


def touched(rota: Rota) -> None:
    rota.revision += 1
    rota.save()


def standing(rota: Rota) -> RotaStanding:
    """As it stands, judged by the core."""
    asked = AskedRota(rota)
    bookings = kept_bookings(rota)
    try:
        problem = asked.problem()
    except InvalidError as refusal:
        return RotaStanding(asked, bookings, [], [], 0, str(refusal))
    in_core = asked.to_core(bookings)
    judged = judge(asked, problem, bookings)
    missing = why_missing(problem.fixing((), (), asked.first), in_core) if bookings else []
    bound = rota.bound if rota.bound is not None and rota.bound_of == asked.digest else 0
    proven = bound >= MISSING_COST * len(missing)
    return RotaStanding(
        asked,
        bookings,
        judged,
        [
            MissingPlace(
                asked.students[one.student].id,
                asked.wish.tasks[one.task].key,
                *((one.why, one.helps) if proven or one.certain else ("", "")),
            )
            for one in missing
        ],
        cost_of(problem, in_core).repeats,
        "",
    )


def judge(asked: AskedRota, problem: Problem, bookings: Sequence[Kept]) -> list[BrokenRule]:
    """What these bookings break. Groups that came with one too few have been, and stand."""
    in_core = asked.to_core(bookings)
    begun = [core for core in in_core if core.slot < asked.first and core.students]
    return [
        BrokenRule(
            _readable(fault.says, asked),
            list(fault.at),
            [asked.students[student].id for student in fault.students],
        )
        for fault in broken(problem.fixing((), begun, asked.first), in_core)
    ]


def _readable(says: str, asked: AskedRota) -> str:
    """Slots by day and time instead of their ids."""
    for slot in asked.wish.slots:
        says = says.replace(slot.start, slot_words(slot.start))
    return says.replace("in slot ", "on ")


def slot_words(slot: str) -> str:
    """`Monday 08:00`."""
    return f"{local(slot):%A %H:%M}"


def write(asked: AskedRota, bookings: Iterable[Kept]) -> None:
    """These and no others."""
    RotaBooking.objects.filter(rota=asked.rota).delete()
    places = {place.key: place.stand for place in asked.wish.places}
    slots = {slot.start: slot for slot in asked.wish.slots}
    runs = {task.key: task.runs_engine for task in asked.wish.tasks}
    kept = [one for one in bookings if one.students]
    rows = RotaBooking.objects.bulk_create(
        RotaBooking(
            rota=asked.rota,
            slot=one.slot,
            place=one.place,
            task=one.task,
            stand_id=places[one.place],
            starts_at=moment(one.slot),
            ends_at=moment(slots[one.slot].end),
            runs_engine=runs[one.task],
            pinned=one.pinned,
        )
        for one in kept
    )
    RotaSeat.objects.bulk_create(
        RotaSeat(booking=row, student_id=student)
        for row, one in zip(rows, kept, strict=True)
        for student in one.students
    )


def as_rows(bookings: Iterable[Kept]) -> list[list[Any]]:
    """As a JSON column keeps them."""
    return [[one.slot, one.place, one.task, list(one.students), one.pinned] for one in bookings]


def of_rows(rows: Iterable[Sequence[Any]]) -> list[Kept]:
    return [
        Kept(None, str(slot), str(place), str(task), tuple(students), bool(pinned))
        for slot, place, task, students, pinned in rows
    ]


@transaction.atomic
def undo(user: User, rota_id: int, revision: int) -> None:
    """The bookings as they were before the last plan was kept, and the other way round."""
    rota = lock(user, rota_id, revision)
    if rota.before is None:
        raise ConflictError("There is no plan before this one.")
    asked = AskedRota(rota)
    now = as_rows(kept_bookings(rota))
    there = {(slot.start, place.key) for slot in asked.wish.slots for place in asked.wish.places}
    tasks, students = _task_keys(asked.wish), {one.id for one in asked.students}
    write(
        asked,
        [
            one._replace(students=tuple(set(one.students) & students))
            for one in of_rows(rota.before)
            if (one.slot, one.place) in there and one.task in tasks
        ],
    )
    rota.before = now
    touched(rota)
