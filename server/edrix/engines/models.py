"""Engines on the shelf. A version is never changed: sheets keep the one they were made with."""

from typing import ClassVar

from django.conf import settings
from django.db import models


class Engine(models.Model):
    name = models.CharField(max_length=200)
    created_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    created_at = models.DateTimeField(auto_now_add=True)
    put_away_at = models.DateTimeField(null=True)
    """When it was put out of the way; nothing is lost, and it can be brought back."""

    def __str__(self) -> str:
        return self.name


class EngineVersion(models.Model):
    engine = models.ForeignKey(Engine, models.PROTECT, related_name="versions")
    number = models.PositiveIntegerField()
    document = models.JSONField()
    """An edrix-engine/1 file as the core wrote it."""
    content_hash = models.CharField(max_length=64)
    created_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        verbose_name_plural = "versions"
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["engine", "number"], name="engine_version_unique"),
        ]

    def __str__(self) -> str:
        return f"{self.engine_id} v{self.number}"
