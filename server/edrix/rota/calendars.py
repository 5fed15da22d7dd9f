"""Calendars: a person's own bookings as RFC 5545 (by `icalendar`), at a secret address that can be
made anew; and the way in, a calendar that says when somebody is away."""

import hashlib
import secrets
from collections.abc import Iterator
from datetime import UTC, date, datetime, time, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from django.conf import settings
from django.db import transaction
from django.utils import timezone
from icalendar import Calendar, Event

from edrix.accounts.models import User
from edrix.errors import FieldFault, InvalidError, NotFoundError
from edrix.rota.models import CalendarFeed
from edrix.rota.own import OwnBooking, own_bookings, taught_slots
from edrix.rota.services import get_rota
from edrix.rota.wish import RotaWish, moment

MOST_EVENTS = 5000
MOST_BYTES = 2_000_000
REFRESH = timedelta(hours=1)
SECRET_BYTES = 24


def calendar_of(person: User) -> bytes:
    """Everything posted in which this person has a place, or which they teach."""
    made = Calendar()
    made.add("prodid", "-//Edrix//Rota//EN")
    made.add("version", "2.0")
    made.add("x-wr-calname", "Edrix: my rota")
    made.add("refresh-interval", REFRESH, parameters={"VALUE": "DURATION"})
    for one in (*own_bookings(person), *taught_slots(person)):
        made.add_component(_event(one, person))
    return bytes(made.to_ical())


def _event(one: OwnBooking, person: User) -> Event:
    event = Event()
    # The same slot of the same person is the same event, however often it is planned anew.
    start = one.starts_at.astimezone(UTC)
    event.add("uid", f"rota-{one.rota_id}-{start:%Y%m%dT%H%M}-{person.id}@edrix")
    event.add("dtstamp", timezone.now().astimezone(UTC).replace(microsecond=0))
    event.add("dtstart", start)
    event.add("dtend", one.ends_at.astimezone(UTC))
    event.add("summary", f"{one.task}, {one.place}" if one.place else one.task)
    if one.place:
        event.add("location", one.place)
    event.add("description", "\n".join([one.class_name, *_with(one)]))
    return event


def _with(one: OwnBooking) -> list[str]:
    if not one.others:
        return []
    return [f"With {', '.join(one.others)}"] if one.place else one.others


def has_feed(person: User) -> datetime | None:
    """Since when the address is as it is; None where there is none."""
    feed = CalendarFeed.objects.filter(person=person).first()
    return None if feed is None else feed.made_at


@transaction.atomic
def renew_feed(person: User) -> str:
    """A new secret for the address; the one before leads nowhere from now on."""
    secret = secrets.token_urlsafe(SECRET_BYTES)
    CalendarFeed.objects.update_or_create(person=person, defaults={"digest": _digest(secret)})
    return secret


def end_feed(person: User) -> None:
    end_feed_of(person.id)


def end_feed_of(person_id: int) -> None:
    CalendarFeed.objects.filter(person_id=person_id).delete()


def of_secret(secret: str) -> bytes:
    """The calendar at a secret address. Raises NotFoundError."""
    feed = CalendarFeed.objects.select_related("person").filter(digest=_digest(secret)).first()
    if feed is None or not feed.person.is_active:
        raise NotFoundError("There is no calendar here; its address may have been made anew.")
    return calendar_of(feed.person)


def _digest(secret: str) -> str:
    # 192 random bits need no slow hash.
    return hashlib.sha256(secret.encode()).hexdigest()


def away_in_calendar(user: User, rota_id: int, data: bytes) -> list[str]:
    """The slots of a rota that the events of a calendar touch; nothing is kept. Raises
    InvalidError."""
    rota = get_rota(user, rota_id)
    spans = list(_spans(_read(data)))
    return [
        slot.start
        for slot in RotaWish.model_validate(rota.wish).slots
        if any(start < moment(slot.end) and moment(slot.start) < end for start, end in spans)
    ]


def _read(data: bytes) -> Calendar:
    if len(data) > MOST_BYTES:
        raise _unfit("is larger than 2 MB; send the weeks that matter only")
    try:
        return Calendar.from_ical(data)
    except (ValueError, TypeError, IndexError, AttributeError, KeyError, UnicodeError):
        raise _unfit("is no calendar that can be read; give an iCalendar file (.ics)") from None


def _spans(calendar: Calendar) -> Iterator[tuple[datetime, datetime]]:
    events = calendar.walk("VEVENT")
    if len(events) > MOST_EVENTS:
        raise _unfit(f"has more than {MOST_EVENTS} events; send the weeks that matter only")
    for event in events:
        if str(event.get("transp", "")).upper() == "TRANSPARENT":
            # Whoever put it in said that it leaves them free.
            continue
        yield _span(event)


def _span(event: Any) -> tuple[datetime, datetime]:
    name = str(event.get("summary", "an event"))[:60]
    if any(key in event for key in ("rrule", "rdate")):
        raise _unfit(
            f"has “{name}”, which repeats; Edrix reads single events: mark its slots by hand, or "
            "export that week with every event by itself"
        )
    try:
        start = _moment(event.decoded("dtstart"))
        if "dtend" in event:
            end = _moment(event.decoded("dtend"))
        elif "duration" in event:
            end = start + event.decoded("duration")
        else:
            whole_day = not isinstance(event.decoded("dtstart"), datetime)
            end = start + (timedelta(days=1) if whole_day else timedelta(minutes=1))
    except (KeyError, ValueError, TypeError, AttributeError, OverflowError):
        raise _unfit(f"has “{name}” without a time that can be read") from None
    return start, end


def _moment(value: date | datetime) -> datetime:
    """In whatever zone it was; without one it is the school's."""
    if not isinstance(value, datetime):
        return datetime.combine(value, time(), ZoneInfo(settings.TIME_ZONE))
    if value.tzinfo is None:
        return value.replace(tzinfo=ZoneInfo(settings.TIME_ZONE))
    return value


def _unfit(problem: str) -> InvalidError:
    return InvalidError(f"The file {problem}.", [FieldFault("file", problem)])
