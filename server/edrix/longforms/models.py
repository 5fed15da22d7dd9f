"""What stands in a long form that is not saved yet."""

from typing import ClassVar

from django.conf import settings
from django.db import models


class LongForm(models.Model):
    """One form of one person: as the last of their devices to be heard left it."""

    person = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="+")
    place = models.CharField(max_length=60)
    """Which form: `paper-12`, `rubric-12-3`, `engine-new`."""
    typed = models.JSONField()
    """Field by field, as the page has it; nothing but the page reads it."""
    revision = models.PositiveIntegerField(default=1)
    saved_at = models.DateTimeField(auto_now=True)

    class Meta:
        verbose_name_plural = "long forms"
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["person", "place"], name="long_form_once"),
        ]

    def __str__(self) -> str:
        return f"{self.place} of {self.person_id}"
