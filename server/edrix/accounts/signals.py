"""What happens to an account, told to rooms that rest on this one; in the same transaction."""

from django.dispatch import Signal

passcode_given = Signal()
"""Gives `user_id`. An instructor made a new passcode for this person, because the old one was lost
or is known to others: secret addresses of theirs end with it."""
