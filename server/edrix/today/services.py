"""Today: what a student is to do now, and how far everybody in the hall is.

Example. On Tuesday at ten, Ines's phone says: stand 3, with Bo, first measuring; next, the drill at
the board. She puts her hand up. Tove's page shows her hand at the top, up for two minutes, and that
she has written five of eight valves; of Ines's marks it says nothing, for it hangs on the wall.
"""

from collections.abc import Iterable
from datetime import datetime, timedelta
from typing import NamedTuple

from django.db import transaction
from django.utils import timezone

from edrix import clock
from edrix.accounts.models import User
from edrix.asking import services as asking
from edrix.classes import beats
from edrix.classes import services as classes
from edrix.drills.again import ComesBack, comes_back
from edrix.engines import services as engines
from edrix.errors import NotFoundError
from edrix.lessons import holding
from edrix.marking import findings
from edrix.practice import live
from edrix.practice import services as practice
from edrix.rota import own as rotas
from edrix.rota.own import ClassBooking, OwnBooking
from edrix.safety import services as safety
from edrix.sheets import services as sheets
from edrix.stands import services as stands
from edrix.stands.services import Stand
from edrix.today.models import Hand
from edrix.workshop import services as workshop

AHEAD = timedelta(days=7)
"""How far the next slot is looked for."""
MOST_TO_DO = 6
MOST_TO_BEGIN = 3


class OwnClass(NamedTuple):
    """A class of one's own; hand_at is since when one's hand is up there."""

    id: int
    name: str
    hand_at: datetime | None


class OwnSheet(NamedTuple):
    id: int
    title: str
    stand: str
    engine: str
    closes_at: datetime | None


class OwnRun(NamedTuple):
    id: int
    title: str
    until: datetime | None


class OwnPractice(NamedTuple):
    """A practice engine on which a student has not begun a run."""

    id: int
    title: str
    engine: str
    level: str
    minutes: int | None


class OwnDay(NamedTuple):
    classes: list[OwnClass]
    now: list[OwnBooking]
    next: list[OwnBooking]
    sheets: list[OwnSheet]
    runs: list[OwnRun]
    practice: list[OwnPractice]
    back: list[ComesBack]


class Doing(NamedTuple):
    """What a student is at: a sheet with `done` of `of` valves, or a run at step `done`. state is
    writing, handed-in, running or ended."""

    what: str
    title: str
    done: int
    of: int | None
    state: str
    at: datetime
    until: datetime | None


class OwnNow(NamedTuple):
    """What is asked of a student, with their own answers, where the lesson that is held leads, and
    their day: None where it was not asked for, or has not changed."""

    beat: str
    questions: list[tuple[asking.PutQuestion, asking.OwnAnswer | None]]
    opens: list[holding.Opens]
    day: OwnDay | None


class PersonNow(NamedTuple):
    """One student of the class; booked is where the rota has them now."""

    id: int
    name: str
    hand_at: datetime | None
    booked: ClassBooking | None
    doing: list[Doing]


class StandNow(NamedTuple):
    stand: Stand
    state: str
    why: str
    warm_until: datetime | None
    students: list[int]


class ClassNow(NamedTuple):
    """What the page of a class shows; hands are students, who has waited longest first."""

    beat: str
    name: str
    now: list[ClassBooking]
    next: list[ClassBooking]
    people: list[PersonNow]
    stands: list[StandNow]
    findings: list[findings.RoomFinding]
    is_asked: bool


def own_now(user: User, after: str, *, with_day: bool) -> OwnNow | None:
    """What is new for a student since they looked last, None where nothing is. after is the cursor
    of then, empty at first."""
    # The cursor first: what changes while the rest is read is told at the next look.
    now = beats.own_cursor(user)
    cursor = f"{now.asked}~{now.day}" if with_day else now.asked
    if after == cursor:
        return None
    is_new = with_day and after.partition("~")[2] != now.day
    day = own_day(user) if is_new else None
    return OwnNow(cursor, asking.for_student(user), holding.opens(user), day)


def own_day(user: User) -> OwnDay:
    """A student's own day, in all classes where they are at work."""
    at = timezone.now()
    own = [member.teaching_class for member in classes.at_work(user)]
    own_ids = [one.id for one in own]
    hands = {hand.teaching_class_id: hand.raised_at for hand in _hands_up(student=user)}
    booked = rotas.own_bookings(user, since=at)
    runs = [
        OwnRun(run.id, run.practice.title, live.deadline(run))
        for run in practice.open_runs(own_ids, user.id)
    ]
    begins = [
        OwnPractice(one.id, one.title, one.engine_version.engine.name, one.level, one.minutes)
        for one in practice.to_begin(own_ids, user.id)[:MOST_TO_BEGIN]
    ]
    return OwnDay(
        [OwnClass(one.id, one.name, hands.get(one.id)) for one in own],
        [one for one in booked if one.starts_at <= at],
        _first_slot(one for one in booked if one.starts_at > at),
        _sheets_to_do(user),
        runs,
        begins,
        comes_back(user),
    )


def _first_slot(booked: Iterable[OwnBooking]) -> list[OwnBooking]:
    """Those of the next slot."""
    ahead = list(booked)
    return [one for one in ahead if one.starts_at == ahead[0].starts_at]


def _sheets_to_do(user: User) -> list[OwnSheet]:
    found = sheets.sheets_to_do(user)[:MOST_TO_DO]
    return [
        OwnSheet(
            one.id, one.title, one.stand.name, one.stand.engine_version.engine.name, one.closes_at
        )
        for one in found
    ]


def class_now(user: User, class_id: int, after: str) -> ClassNow | None:
    """The hall as it is now, for the instructors of a class; None where nothing has changed since
    the cursor after."""
    teaching_class = classes.require_instructor(user, class_id)
    cursor = beats.desk_cursor(class_id)
    if after == cursor:
        return None
    at = timezone.now()
    booked = rotas.class_bookings(class_id, at, at + AHEAD)
    now = [one for one in booked if one.starts_at <= at]
    ahead = [one for one in booked if one.starts_at > at]
    begun = timezone.localtime(at).replace(hour=0, minute=0, second=0, microsecond=0)
    handed_in = sheets.handed_in_since(class_id, begun)
    doing = _doing(class_id, begun, handed_in)
    hands = {hand.student_id: hand.raised_at for hand in _hands_up(class_id=class_id)}
    place = {student: one for one in now for student in one.students}
    people = [
        PersonNow(
            one.id, one.display_name, hands.get(one.id), place.get(one.id), doing.get(one.id, [])
        )
        for one in classes.students_of(class_id)
    ]
    return ClassNow(
        cursor,
        teaching_class.name,
        now,
        [one for one in ahead if one.starts_at == ahead[0].starts_at],
        people,
        _stands(class_id, now),
        findings.of_room(handed_in),
        asking.is_asked(class_id),
    )


def _doing(
    class_id: int, since: datetime, handed_in: list[sheets.HandIn]
) -> dict[int, list[Doing]]:
    """By student, the newest last."""
    found: dict[int, list[Doing]] = {}
    for begun in sheets.at_work(class_id, since):
        of = _valves(begun.sheet)
        doing = Doing("sheet", begun.sheet.title, begun.begun, of, "writing", begun.saved_at, None)
        found.setdefault(begun.student_id, []).append(doing)
    for made in handed_in:
        of = _valves(made.sheet)
        doing = Doing("sheet", made.sheet.title, of, of, "handed-in", made.handed_in_at, None)
        found.setdefault(made.student_id, []).append(doing)
    for run in practice.open_runs([class_id]).filter(began_at__gte=since):
        step: int = run.step  # type: ignore[attr-defined]  # annotated
        doing = Doing(
            "run", run.practice.title, step, None, "running", run.began_at, live.deadline(run)
        )
        found.setdefault(run.student_id, []).append(doing)
    for run in practice.ended_since(class_id, since):
        # How it ended is not said: this hangs on the wall.
        ended_at = run.ended_at or since
        doing = Doing("run", run.practice.title, 1, None, "ended", ended_at, None)
        found.setdefault(run.student_id, []).append(doing)
    for own in found.values():
        own.sort(key=lambda one: one.at)
    return found


def _valves(sheet: sheets.Sheet) -> int:
    return len(engines.core_engine(sheet.stand.engine_version).valves)


def _stands(class_id: int, now: list[ClassBooking]) -> list[StandNow]:
    known = list(stands.in_use(class_id))
    at_work = safety.open_now([stand.id for stand in known])
    students: dict[int | None, list[int]] = {}
    for one in now:
        students.setdefault(one.stand_id, []).extend(one.students)
    return [
        StandNow(
            stand,
            *workshop.state_of(stand, at_work.get(stand.id, [])),
            stand.warm_until if workshop.is_warm(stand) else None,
            students.get(stand.id, []),
        )
        for stand in known
    ]


def _hands_up(*, class_id: int | None = None, student: User | None = None) -> list[Hand]:
    up = Hand.objects.filter(lowered_at__isnull=True, raised_at__gt=clock.this_lesson())
    if class_id is not None:
        up = up.filter(teaching_class_id=class_id)
    if student is not None:
        up = up.filter(student=student)
    return list(up.order_by("raised_at", "id"))


@transaction.atomic
def raise_hand(user: User, class_id: int, *, up: bool) -> None:
    """A student's own hand, up or down. Up again keeps its place in the row; one of a lesson before
    is taken down first."""
    classes.require_at_work(user, class_id)
    if up:
        _lower(class_id, user.id, before=clock.this_lesson())
        Hand.objects.get_or_create(
            teaching_class_id=class_id, student=user, lowered_at__isnull=True
        )
    else:
        _lower(class_id, user.id)


def lower_hand(user: User, class_id: int, student_id: int) -> None:
    """An instructor who has been there takes it down."""
    classes.require_instructor(user, class_id)
    if not _lower(class_id, student_id):
        raise NotFoundError("No hand of theirs is up; they may have taken it down.")


def _lower(class_id: int, student_id: int, *, before: datetime | None = None) -> bool:
    """before: only what was up since then or longer. Gives whether anything was."""
    up = Hand.objects.filter(
        teaching_class_id=class_id, student_id=student_id, lowered_at__isnull=True
    )
    if before is not None:
        up = up.filter(raised_at__lte=before)
    was_up = list(up)
    for hand in was_up:
        hand.lowered_at = timezone.now()
        hand.save(update_fields=["lowered_at"])
    return bool(was_up)
