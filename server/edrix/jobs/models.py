"""Long work that somebody asked for: where it stands, what it said, and what came of it."""

from typing import ClassVar

from django.conf import settings
from django.db import models


class Job(models.Model):
    class State(models.TextChoices):
        WAITING = "waiting"
        WORKING = "working"
        DONE = "done"
        FAILED = "failed"
        STOPPED = "stopped"

    kind = models.CharField(max_length=30)
    """Which room does it: jobs/services.py knows by whom."""
    about = models.CharField(max_length=60, blank=True, default="")
    """What it is about, so that the room finds it again."""
    asked_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="jobs")
    given = models.JSONField(default=dict)
    file_in = models.BinaryField(null=True)
    state = models.CharField(max_length=8, choices=State.choices, default=State.WAITING)
    progress = models.JSONField(default=dict)
    result = models.JSONField(default=dict)
    file_out = models.BinaryField(null=True)
    file_name = models.CharField(max_length=200, blank=True, default="")
    says = models.TextField(blank=True, default="")
    """Why it failed, for people."""
    faults = models.JSONField(default=list)
    """What was wrong with what was given, field by field."""
    stop_asked = models.BooleanField(default=False)
    tries = models.PositiveIntegerField(default=0)
    """How often a worker has begun: one that is killed leaves it to the next."""
    made_at = models.DateTimeField(auto_now_add=True)
    ended_at = models.DateTimeField(null=True)

    class Meta:
        indexes: ClassVar = [models.Index(fields=["kind", "about", "-id"], name="jobs_about")]

    def __str__(self) -> str:
        return f"{self.kind} {self.about}: {self.state}"

    @property
    def is_over(self) -> bool:
        return self.state not in (self.State.WAITING, self.State.WORKING)
