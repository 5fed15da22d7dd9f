"""Lessons of the school: written once by whoever teaches, held by everybody who does."""

from django.conf import settings
from django.db import models


class Lesson(models.Model):
    title = models.CharField(max_length=120)
    document = models.JSONField()
    """edrix-lesson/1, as the core wrote it."""
    revision = models.PositiveIntegerField(default=1)
    """Moves on with every change, so that two who change it at once notice."""
    made_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    made_at = models.DateTimeField(auto_now_add=True)
    changed_at = models.DateTimeField(auto_now=True)
    put_away_at = models.DateTimeField(null=True)

    def __str__(self) -> str:
        return self.title
