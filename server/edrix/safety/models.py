"""The record of what was ticked before an engine was turned by hand, and after."""

from typing import ClassVar

from django.conf import settings
from django.db import models


class OwnLine(models.Model):
    """A line that an instructor put on the lists, of one engine or of all."""

    class On(models.TextChoices):
        OPENING = "opening"
        CLOSING = "closing"

    on = models.CharField(max_length=7, choices=On.choices)
    says = models.CharField(max_length=200)
    engine = models.ForeignKey(
        "engines.Engine", models.CASCADE, related_name="+", null=True, blank=True
    )
    """Null: every engine of the school."""
    made_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints: ClassVar = [
            models.CheckConstraint(
                condition=models.Q(on__in=["opening", "closing"]), name="own_line_on_a_list"
            ),
        ]

    def __str__(self) -> str:
        return self.says


class Opening(models.Model):
    """One person opening one engine (of a stand, or from a route card) for work."""

    person = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    engine_version = models.ForeignKey(
        "engines.EngineVersion", models.PROTECT, related_name="openings"
    )
    stand = models.ForeignKey(
        "stands.Stand", models.PROTECT, related_name="openings", null=True, blank=True
    )
    start = models.CharField(max_length=8)
    """How the engine is fired and started, as the person said."""
    opened = models.JSONField()
    """The lines as they were read and ticked: id and words."""
    opened_at = models.DateTimeField(auto_now_add=True)
    closed = models.JSONField(null=True)
    closed_at = models.DateTimeField(null=True)

    class Meta:
        verbose_name_plural = "safety records"
        indexes: ClassVar = [models.Index(fields=["person", "stand"], name="opening_of_person")]

    def __str__(self) -> str:
        return f"opening {self.id} by {self.person_id}"
