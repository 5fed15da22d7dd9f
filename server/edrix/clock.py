"""Times as the school's clock shows them."""

from datetime import datetime, timedelta

from django.utils import timezone

from edrix.errors import FieldFault, InvalidError

MOST_AHEAD = timedelta(days=3650)
LONGEST_LESSON = timedelta(hours=3)
"""What belongs to a lesson and that nobody ended (a question, a held step, a hand that is up) is
over then: a laptop that was shut must not go on in the next one. Chosen: two periods."""


def this_lesson() -> datetime:
    """Since when something can have begun that belongs to a lesson now."""
    return timezone.now() - LONGEST_LESSON


def in_school(at: datetime) -> datetime:
    """The same moment in the school's time zone."""
    return timezone.localtime(at)


def moment(at: datetime) -> str:
    """`27 November 2026, 08:00`, in the school's time zone."""
    here = in_school(at)
    return f"{here.day} {here:%B %Y, %H:%M}"


def day(at: datetime) -> str:
    """`27 November 2026`."""
    here = in_school(at)
    return f"{here.day} {here:%B %Y}"


def given(at: datetime, field: str) -> datetime:
    """A time as somebody set it: without a zone it is the school's. Raises InvalidError for one
    that no school works at."""
    try:
        known = timezone.make_aware(at) if timezone.is_naive(at) else at
        fits = abs(known - timezone.now()) < MOST_AHEAD
    except (OverflowError, ValueError):
        fits = False
    if not fits:
        problem = f"is {at:%Y-%m-%d}; give a day within ten years"
        raise InvalidError(f"The time {problem}.", [FieldFault(field, problem)])
    return known
