"""Classes, and who is what in them."""

from typing import ClassVar

from django.conf import settings
from django.db import models


class TeachingClass(models.Model):
    name = models.CharField(max_length=120)
    created_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    created_at = models.DateTimeField(auto_now_add=True)

    def __str__(self) -> str:
        return self.name


class Membership(models.Model):
    INSTRUCTOR = "instructor"
    STUDENT = "student"

    teaching_class = models.ForeignKey(TeachingClass, models.PROTECT, related_name="memberships")
    user = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="memberships")
    role = models.CharField(max_length=10)
    joined_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["teaching_class", "user"], name="membership_once"),
            models.CheckConstraint(
                condition=models.Q(role__in=["instructor", "student"]), name="membership_role_known"
            ),
        ]

    def __str__(self) -> str:
        return f"{self.user_id} is {self.role} of {self.teaching_class_id}"
