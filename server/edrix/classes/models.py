"""Classes, and who is what in them."""

from typing import ClassVar

from django.conf import settings
from django.db import models


class TeachingClass(models.Model):
    name = models.CharField(max_length=120)
    created_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    created_at = models.DateTimeField(auto_now_add=True)
    put_away_at = models.DateTimeField(null=True)
    """When it was put out of the way; nothing is lost, and it can be brought back."""

    class Meta:
        verbose_name_plural = "classes"

    def __str__(self) -> str:
        return self.name


class Membership(models.Model):
    INSTRUCTOR = "instructor"
    STUDENT = "student"

    teaching_class = models.ForeignKey(TeachingClass, models.PROTECT, related_name="memberships")
    user = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="memberships")
    role = models.CharField(max_length=10)
    joined_at = models.DateTimeField(auto_now_add=True)
    left_at = models.DateTimeField(null=True)
    """When a student left the class; what they handed in stays on record. Null for who is there."""

    class Meta:
        verbose_name_plural = "people"
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["teaching_class", "user"], name="membership_once"),
            models.CheckConstraint(
                condition=models.Q(role__in=["instructor", "student"]), name="membership_role_known"
            ),
        ]

    def __str__(self) -> str:
        return f"{self.user_id} is {self.role} of {self.teaching_class_id}"


class ClassBeat(models.Model):
    """How often something in a class has changed: what pages that look again and again compare."""

    teaching_class = models.OneToOneField(
        TeachingClass, models.CASCADE, primary_key=True, related_name="beat"
    )
    desk = models.PositiveBigIntegerField(default=0)
    """Of all that its instructors see."""
    everybody = models.PositiveBigIntegerField(default=0)
    """Of what its students see of their day."""
    asked = models.PositiveBigIntegerField(default=0)
    """Of what it is asked."""

    def __str__(self) -> str:
        return f"beat of {self.teaching_class_id}"
