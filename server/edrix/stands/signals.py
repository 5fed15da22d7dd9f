"""What happens at a stand, told to rooms that rest on this one; in the same transaction."""

from django.dispatch import Signal

key_entered = Signal()
"""Gives `key`, and `meter`: what the stand's meter read, as typed."""
