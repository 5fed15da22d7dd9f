"""A list that was ticked, told to rooms that rest on this one; in the same transaction."""

from django.dispatch import Signal

list_ticked = Signal()
"""Gives `opening`, and `closing`: whether it was the closing list."""
