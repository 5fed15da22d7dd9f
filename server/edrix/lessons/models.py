"""Lessons of the school: written once by whoever teaches, held by everybody who does."""

from typing import ClassVar

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


class HeldNow(models.Model):
    """Where a class goes at the step that is held: the drill, practice engine or sheet of the
    moment. None where the step leads nowhere."""

    teaching_class = models.OneToOneField(
        "classes.TeachingClass", models.CASCADE, related_name="held_now"
    )
    kind = models.CharField(max_length=12)
    of_id = models.PositiveBigIntegerField()
    """Of an engine for a drill, else of the practice engine or the sheet."""
    title = models.CharField(max_length=120)
    named = models.CharField(max_length=200)
    held_at = models.DateTimeField(auto_now=True)

    class Meta:
        verbose_name = "step that is held"
        verbose_name_plural = "steps that are held"
        constraints: ClassVar = [
            models.CheckConstraint(
                condition=models.Q(kind__in=["drill", "practice", "sheet"]),
                name="held_now_leads_somewhere",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.title} in class {self.teaching_class_id}"
