"""Drills: questions dealt to one person, or to a class before a projector, and the answers."""

from typing import ClassVar

from django.conf import settings
from django.db import models


class Drill(models.Model):
    """The questions are kept with their answers as dealt, so that a score stays what it was."""

    ALONE, CLASS = "alone", "class"

    person = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    engine_version = models.ForeignKey(
        "engines.EngineVersion", models.PROTECT, related_name="drills"
    )
    teaching_class = models.ForeignKey(
        "classes.TeachingClass", models.PROTECT, related_name="drills", null=True
    )
    """The class that it was drilled in, or asked: its instructors see the score, no others."""
    title = models.CharField(max_length=120, blank=True)
    """As its person calls it; blank: by its engine and day."""
    held = models.CharField(max_length=8)
    """alone, or class: asked of a whole class, who answer aloud."""
    questions = models.JSONField()
    comes_back = models.JSONField(default=list)
    """Which of its first questions came back, in their order: numbers of what was missed."""
    made_at = models.DateTimeField(auto_now_add=True)
    put_away_at = models.DateTimeField(null=True)
    """When its person put it out of their way; its class keeps the score."""

    class Meta:
        constraints: ClassVar = [
            models.CheckConstraint(
                condition=models.Q(held__in=["alone", "class"]), name="drill_held_known"
            ),
        ]

    def __str__(self) -> str:
        return f"drill {self.id} of {self.person_id}"


class DrillAnswer(models.Model):
    """One question answered, once. right is null while a class's answer is not scored yet."""

    drill = models.ForeignKey(Drill, models.PROTECT, related_name="answers")
    number = models.PositiveIntegerField()
    given = models.JSONField(default=list)
    right = models.BooleanField(null=True)
    answered_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["drill", "number"], name="drill_answer_once"),
        ]

    def __str__(self) -> str:
        return f"question {self.number} of drill {self.drill_id}"


class Missed(models.Model):
    """A kind of question about an engine that somebody got wrong; it comes back on a day, until it
    was right twice."""

    person = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="+")
    engine_version = models.ForeignKey("engines.EngineVersion", models.PROTECT, related_name="+")
    kind = models.CharField(max_length=40)
    right_in_a_row = models.PositiveSmallIntegerField(default=0)
    due_on = models.DateField(null=True)
    """Null once it is over."""

    class Meta:
        verbose_name = "question that comes back"
        verbose_name_plural = "questions that come back"
        constraints: ClassVar = [
            models.UniqueConstraint(
                fields=["person", "engine_version", "kind"], name="missed_question_once"
            ),
        ]

    def __str__(self) -> str:
        return f"{self.kind} of {self.person_id}"
