"""Questions that were missed come back, spaced over days, until they are right twice in a row."""

from datetime import date, timedelta

from hypothesis import given
from hypothesis import strategies as st

from valvetrain.drill import looked_at, missed

MONDAY = date(2026, 11, 30)


def test_missed_on_monday_right_on_tuesday_and_on_friday_it_is_over():
    assert missed(MONDAY) == (0, MONDAY + timedelta(days=1))
    tuesday = MONDAY + timedelta(days=1)
    assert looked_at(0, tuesday, right=True) == (1, MONDAY + timedelta(days=4))
    friday = MONDAY + timedelta(days=4)
    assert looked_at(1, friday, right=True) == (2, None)
    assert looked_at(1, friday, right=False) == (0, friday + timedelta(days=1))


@given(st.lists(st.booleans(), max_size=30))
def test_it_is_over_exactly_where_it_was_right_twice_in_a_row(answers):
    again, today = missed(MONDAY), MONDAY
    for place, right in enumerate(answers):
        assert again.due > today
        today = again.due
        again = looked_at(again.right_in_a_row, today, right=right)
        was_twice = place > 0 and answers[place - 1] and right
        assert (again.due is None) == was_twice
        if again.due is None:
            break
