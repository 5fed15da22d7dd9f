"""When a question that was missed comes back: spaced over days, until it is right twice.

Example: missed on Monday it comes on Tuesday; right then, it comes on Friday; right again, it is
over. Missed on Friday, it begins anew. Common practice of spaced repetition.
"""

from datetime import date, timedelta
from typing import NamedTuple

from valvetrain.drill.constants import AFTER_MISSED_DAYS, AFTER_RIGHT_DAYS, RIGHT_IN_A_ROW


class Again(NamedTuple):
    """due is None once it is over."""

    right_in_a_row: int
    due: date | None


def missed(today: date) -> Again:
    """It was missed: it comes back soon."""
    return Again(0, today + timedelta(days=AFTER_MISSED_DAYS))


def looked_at(right_in_a_row: int, today: date, *, right: bool) -> Again:
    """It came back, and was answered."""
    if not right:
        return missed(today)
    if right_in_a_row + 1 >= RIGHT_IN_A_ROW:
        return Again(right_in_a_row + 1, None)
    return Again(right_in_a_row + 1, today + timedelta(days=AFTER_RIGHT_DAYS))
