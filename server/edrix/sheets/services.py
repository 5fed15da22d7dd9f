"""Reading sheets: setting them as work, drafts, and the record of a hand-in.

Who sees what, by example. Ines and Bo are students of class A, Tove its instructor, Rolf
instructor of class B. Ines sees sheet 7 of class A, her own draft, hand-in and marks; of
Bo's she sees nothing at all. Tove sees everybody's. For Rolf sheet 7 does not exist.
"""

from collections.abc import Collection, Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta
from decimal import Decimal
from typing import NamedTuple

from django.db import transaction
from django.db.models import Count, F, Q, QuerySet
from django.utils import timezone

from edrix import clock, life
from edrix.accounts.models import User
from edrix.classes import beats
from edrix.classes import services as classes
from edrix.engines import services as engines
from edrix.errors import ConflictError, FieldFault, InvalidError, NotAllowedError, NotFoundError
from edrix.names import tidy
from edrix.sheets.lines import TypedLine, record_of
from edrix.sheets.models import Draft

# Other apps name the types of what they are given.
from edrix.sheets.models import HandIn as HandIn
from edrix.sheets.models import Reading as Reading
from edrix.sheets.models import Sheet as Sheet
from edrix.sheets.new_sheet import NewSheet as NewSheet
from edrix.sheets.new_sheet import asks_of, length_mm
from edrix.stands import services as stands
from edrix.stands.services import Stand
from valvetrain.grading import Entry
from valvetrain.grading.weights import RUBRIC_VERSION

GRACE = timedelta(minutes=2)
"""For a sheet that was sent before it closed and came late, over thin Wi-Fi."""
SHEETS_TO_LEARN = 6
"""So many of a stand's newest sheets tell how hands scatter: a hand of last year is another one,
and a board that is looked at every few seconds must not read a whole record."""
READINGS_AT_ONCE = 2000
"""Rows of one INSERT when many sheets come in."""


@dataclass(frozen=True, slots=True)
class Submission:
    """A whole sheet of one student, read and ready to be kept.

    request_key names the one click, file or stack of paper that brings it. entered_by is the
    instructor who takes it in; None where the student hands it in. not_asked names the columns of
    reading, stop and verdict that it was never to have.
    """

    student_id: int
    entries: list[Entry]
    request_key: str
    entered_by: User | None = None
    not_asked: frozenset[str] = frozenset()


def set_sheet(user: User, class_id: int, new: NewSheet) -> Sheet:
    """Sets a sheet as work for a class, marked by the stand's newest key."""
    teaching_class = classes.require_instructor(user, class_id)
    stand = stands.stand_of_class(user, class_id, new.stand_id)
    title = _title(new.title)
    engines.plan(stand.engine_version, new.method)  # refuses an unknown method
    return Sheet.objects.create(
        teaching_class=teaching_class,
        stand=stand,
        key=stands.newest_key(stand),
        title=title,
        method=new.method,
        tolerance_mm=length_mm(new, "tolerance"),
        gauge_mm=length_mm(new, "gauge") if new.gauge.strip() else Decimal(0),
        asks=asks_of(new, engines.core_engine(stand.engine_version)),
        weights_version=RUBRIC_VERSION,
        set_by=user,
    )


@transaction.atomic
def change(
    user: User,
    sheet_id: int,
    *,
    name: str | None = None,
    away: bool | None = None,
    times: Mapping[str, datetime | None],
) -> None:
    """Renames it, puts it away or brings it back, and sets its times; None stays as it is. What is
    put away is off the lists of those who have not handed it in.

    times: opens_at and closes_at, those that are to be changed; None is at once, or never.
    """
    sheet = sheet_for_instructor(user, sheet_id)
    if name is not None:
        sheet.title = _title(name, "name")
        sheet.save(update_fields=["title"])
    if times:
        _set_times(sheet, times)
    life.put_away(sheet, away=away)


def _set_times(sheet: Sheet, times: Mapping[str, datetime | None]) -> None:
    for field, at in times.items():
        setattr(sheet, field, None if at is None else clock.given(at, field))
    if sheet.opens_at and sheet.closes_at and sheet.opens_at >= sheet.closes_at:
        problem = f"is not after it opens ({clock.moment(sheet.opens_at)})"
        raise InvalidError(f"The time to close {problem}.", [FieldFault("closes_at", problem)])
    sheet.save(update_fields=["opens_at", "closes_at"])


def not_open_yet(sheet: Sheet) -> bool:
    return sheet.opens_at is not None and timezone.now() < sheet.opens_at


def closed(sheet: Sheet) -> bool:
    """Whether nobody hands in by themselves any more."""
    late = sheet.closes_at is not None and timezone.now() >= sheet.closes_at
    return late or sheet.put_away_at is not None


def require_open(sheet: Sheet) -> None:
    """For handing in. Raises ConflictError; what is on its way at the bell is let in."""
    at = sheet.closes_at
    if sheet.put_away_at is None and (at is None or timezone.now() < at + GRACE):
        return
    when = f" on {clock.moment(at)}" if at is not None and sheet.put_away_at is None else ""
    raise ConflictError(
        f"This sheet was closed{when}. What you wrote is kept; ask your instructor to open it."
    )


def _title(typed: str, field: str = "title") -> str:
    return tidy(typed, "The sheet has no title.", field=field, problem="give it a title")


def sheets_of_class(user: User, class_id: int) -> QuerySet[Sheet]:
    """For instructors: the sheets of a class with the number of hand-ins, newest first."""
    classes.require_instructor(user, class_id)
    sheets = Sheet.objects.filter(teaching_class_id=class_id)
    sheets = sheets.select_related("stand__engine_version__engine", "key")
    return sheets.annotate(handed_in=Count("hand_ins")).order_by("-set_at", "-id")


def sheets_for_student(user: User) -> QuerySet[Sheet]:
    """Every sheet set to this person as a student, newest first: those that are open, those that
    were missed, and for good what they handed in."""
    now_there = Q(
        Q(opens_at__isnull=True) | Q(opens_at__lte=timezone.now()),
        teaching_class_id__in=classes.class_ids_at_work(user),
        put_away_at__isnull=True,
    )
    mine = Q(
        teaching_class_id__in=classes.class_ids_of(user, "student"),
        id__in=HandIn.objects.filter(student=user).values("sheet_id"),
    )
    sheets = Sheet.objects.filter(now_there | mine)
    sheets = sheets.select_related("stand__engine_version__engine", "teaching_class")
    return sheets.order_by("-set_at", "-id")


def sheets_to_do(user: User) -> QuerySet[Sheet]:
    """Those of a student that are open and not handed in; what is due first stands first."""
    at = timezone.now()
    found = Sheet.objects.filter(
        Q(opens_at__isnull=True) | Q(opens_at__lte=at),
        Q(closes_at__isnull=True) | Q(closes_at__gt=at),
        teaching_class_id__in=classes.class_ids_at_work(user),
        put_away_at__isnull=True,
    ).exclude(id__in=HandIn.objects.filter(student=user).values("sheet_id"))
    found = found.select_related("stand__engine_version__engine")
    return found.order_by(F("closes_at").asc(nulls_last=True), "-set_at", "-id")


def is_open_in(class_id: int, sheet_id: int) -> bool:
    """Whether students of a class may write on it now."""
    sheet = Sheet.objects.filter(id=sheet_id, teaching_class_id=class_id).first()
    return sheet is not None and not (not_open_yet(sheet) or closed(sheet))


def sheet_for_student(user: User, sheet_id: int) -> Sheet:
    """A sheet of one of this student's classes. Raises NotFoundError for any other."""
    sheet = _sheet(user, sheet_id)
    classes.require_student(user, sheet.teaching_class_id)
    if sheet.opens_at is not None and not_open_yet(sheet):
        raise NotAllowedError(
            f"This sheet opens on {clock.moment(sheet.opens_at)}; come back then."
        )
    return sheet


def sheet_to_write(user: User, sheet_id: int) -> Sheet:
    """The same for a student who writes on it: nobody does who has left the class."""
    sheet = sheet_for_student(user, sheet_id)
    classes.require_at_work(user, sheet.teaching_class_id)
    return sheet


def sheet_for_instructor(user: User, sheet_id: int) -> Sheet:
    sheet = _sheet(user, sheet_id)
    classes.require_instructor(user, sheet.teaching_class_id)
    return sheet


def locked(sheet_id: int) -> Sheet:
    """The sheet and its key, held until the transaction ends: nobody corrects the key between a
    marking and its record, and nobody hands in while all are re-marked."""
    # Two statements: who waited for the lock and joined the old key would find no row at all.
    Sheet.objects.select_for_update().get(id=sheet_id)
    return Sheet.objects.select_related("key", "stand__engine_version").get(id=sheet_id)


def draft_lines(user: User, sheet: Sheet) -> list[TypedLine]:
    draft = Draft.objects.filter(sheet=sheet, student=user).first()
    return [TypedLine.model_validate(line) for line in draft.lines] if draft else []


def lines_begun(sheet: Sheet) -> dict[int, int]:
    """By student: how many lines of their draft have a reading."""
    drafts = Draft.objects.filter(sheet=sheet).values_list("student_id", "lines")
    return {who: sum(1 for line in lines if line.get("reading")) for who, lines in drafts}


class SheetAtWork(NamedTuple):
    """A sheet that a student writes on; begun is how many lines have a reading."""

    student_id: int
    sheet: Sheet
    begun: int
    saved_at: datetime


def at_work(class_id: int, since: datetime) -> list[SheetAtWork]:
    """What students of a class have written on since then; the caller has asked who may see it."""
    drafts = Draft.objects.filter(
        sheet__teaching_class_id=class_id, sheet__put_away_at__isnull=True, saved_at__gte=since
    ).select_related("sheet__stand__engine_version")
    return [
        SheetAtWork(
            one.student_id,
            one.sheet,
            sum(1 for line in one.lines if line.get("reading")),
            one.saved_at,
        )
        for one in drafts.order_by("saved_at")
    ]


def handed_in_since(class_id: int, since: datetime) -> list[HandIn]:
    """With their readings, the oldest first; the caller has asked who may see them."""
    found = HandIn.objects.filter(sheet__teaching_class_id=class_id, handed_in_at__gte=since)
    found = found.select_related("sheet__stand__engine_version", "key")
    return list(found.prefetch_related("readings").order_by("handed_in_at", "id"))


def keep(sheet: Sheet, brought: list[Submission]) -> list[HandIn]:
    """The record of hand-ins and their readings, however they were brought; in the order given.

    For a transaction that also marks them. Raises IntegrityError where one of these students has
    handed in already: that there is one hand-in each is the table's to say.
    """
    made = HandIn.objects.bulk_create(
        HandIn(
            sheet=sheet,
            student_id=one.student_id,
            request_key=one.request_key,
            entered_by=one.entered_by,
            key=sheet.key,
            not_asked=sorted(one.not_asked),
        )
        for one in brought
    )
    Reading.objects.bulk_create(
        (
            record_of(hand_in, entry)
            for hand_in, one in zip(made, brought, strict=True)
            for entry in one.entries
        ),
        batch_size=READINGS_AT_ONCE,
    )
    beats.moved(sheet.teaching_class_id, "desk")
    students = [one.student_id for one in brought]
    Draft.objects.filter(sheet=sheet, student_id__in=students).delete()
    return made


def hand_ins_on_stands(stand_ids: Collection[int], student_ids: Collection[int]) -> list[HandIn]:
    """Every hand-in of these students that was measured on one of these stands, with its key."""
    found = HandIn.objects.filter(key__stand_id__in=stand_ids, student_id__in=student_ids)
    return list(found.select_related("key").order_by("id"))


def hand_ins_of_class(class_id: int, stand_id: int) -> list[HandIn]:
    """What a class handed in on a stand lately, with its readings: that of its newest sheets. The
    caller has asked who may see them."""
    newest = Sheet.objects.filter(teaching_class_id=class_id, stand_id=stand_id)
    ids = list(newest.order_by("-set_at", "-id").values_list("id", flat=True)[:SHEETS_TO_LEARN])
    found = HandIn.objects.filter(sheet_id__in=ids)
    return list(found.prefetch_related("readings").order_by("id"))


def has_written(class_id: int, student_id: int) -> bool:
    """Whether a student has a draft or a hand-in on any sheet of a class."""
    own = {"sheet__teaching_class_id": class_id, "student_id": student_id}
    return Draft.objects.filter(**own).exists() or HandIn.objects.filter(**own).exists()


def who_handed_in(sheet: Sheet) -> set[int]:
    """The ids of the students who have."""
    return set(HandIn.objects.filter(sheet=sheet).values_list("student_id", flat=True))


def stands_with_sheets(class_id: int) -> list[Stand]:
    """The stands that a class measures on, the one of the newest sheet first."""
    sheets = Sheet.objects.filter(teaching_class_id=class_id)
    sheets = sheets.select_related("stand__engine_version__engine").order_by("-set_at", "-id")
    return list(dict.fromkeys(sheet.stand for sheet in sheets))


def sheets_on_key(stand: Stand, key_id: int) -> list[Sheet]:
    """A stand's sheets that are marked by this key, in the order in which they were set."""
    found = Sheet.objects.filter(stand=stand, key_id=key_id)
    return list(found.select_related("stand__engine_version").order_by("set_at", "id"))


def move_to_key(sheet_id: int, key_id: int, hand_in_ids: list[int] | None = None) -> None:
    """Who hands in from now on is marked by this key, and so are these who have."""
    Sheet.objects.filter(id=sheet_id).update(key_id=key_id)
    HandIn.objects.filter(id__in=hand_in_ids or []).update(key_id=key_id)


def stops_of(sheet: Sheet) -> list[tuple[int, float]]:
    """The numbers and crank angles of the stops that the sheet offers."""
    plan = engines.plan(sheet.stand.engine_version, sheet.method)
    return [(stop.stop, stop.crank_deg) for stop in plan.stops]


def stop_of_valves(sheet: Sheet) -> Mapping[int, float]:
    """The crank angle at which the sheet's method has each valve, the first if it has several."""
    stops: dict[int, float] = {}
    for stop in engines.plan(sheet.stand.engine_version, sheet.method).stops:
        for valve in stop.valves:
            stops.setdefault(valve, stop.crank_deg)
    return stops


def _sheet(user: User, sheet_id: int) -> Sheet:
    """A sheet that this person's membership lets them know of."""
    sheet = (
        Sheet.objects.select_related("stand__engine_version__engine", "teaching_class", "key")
        .filter(id=sheet_id, teaching_class__memberships__user=user)
        .first()
    )
    if sheet is None:
        raise NotFoundError(
            f"There is no sheet {sheet_id} for you; open one from your list of sheets."
        )
    return sheet
