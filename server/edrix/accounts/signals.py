"""What happens to an account, told to rooms that rest on this one; in the same transaction."""

from django.dispatch import Signal

passcode_given = Signal()
"""Gives `user_id`: somebody else made a new passcode for them, because the old one is not safe or
is forgotten. What opens by a secret of theirs must not open any more."""
