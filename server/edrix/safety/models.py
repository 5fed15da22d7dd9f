"""The record of what was ticked before an engine was turned by hand, and after."""

from typing import ClassVar

from django.conf import settings
from django.db import models


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
