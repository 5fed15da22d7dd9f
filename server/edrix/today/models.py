"""Hands that are up."""

from typing import ClassVar

from django.conf import settings
from django.db import models


class Hand(models.Model):
    """A student who asks for their instructor: up since then, until it was taken down."""

    teaching_class = models.ForeignKey(
        "classes.TeachingClass", models.CASCADE, related_name="hands"
    )
    student = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="+")
    raised_at = models.DateTimeField(auto_now_add=True)
    lowered_at = models.DateTimeField(null=True)

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(
                fields=["teaching_class", "student"],
                condition=models.Q(lowered_at__isnull=True),
                name="hand_up_once",
            ),
        ]

    def __str__(self) -> str:
        return f"hand of {self.student_id} in class {self.teaching_class_id}"
