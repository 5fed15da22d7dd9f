"""Skills that an instructor has signed off: a record, taken back by another record."""

from typing import ClassVar

from django.conf import settings
from django.db import models


class SignOff(models.Model):
    """The newest of a student's skill in a class counts."""

    teaching_class = models.ForeignKey(
        "classes.TeachingClass", models.PROTECT, related_name="sign_offs"
    )
    student = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    skill = models.CharField(max_length=10)
    signed = models.BooleanField()
    """False takes an earlier one back."""
    note = models.CharField(max_length=200, blank=True)
    made_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        verbose_name_plural = "skills signed off"
        constraints: ClassVar = [
            models.CheckConstraint(
                condition=models.Q(skill__in=["place", "measure", "screw", "shim", "close"]),
                name="sign_off_skill_known",
            ),
        ]
        indexes: ClassVar = [
            models.Index(fields=["teaching_class", "student"], name="sign_off_of_student"),
        ]

    def __str__(self) -> str:
        return f"{self.skill} of {self.student_id}"
