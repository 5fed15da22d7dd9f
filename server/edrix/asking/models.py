"""Questions put to a whole class, and what each student answered."""

from typing import ClassVar

from django.conf import settings
from django.db import models


class ClassQuestion(models.Model):
    """Put at one moment. It is open until it is closed or its time is up; then what the room
    answered is shown, then the proof; and it ends when the next one is asked, or by a word."""

    teaching_class = models.ForeignKey(
        "classes.TeachingClass", models.PROTECT, related_name="questions"
    )
    engine_version = models.ForeignKey("engines.EngineVersion", models.PROTECT, related_name="+")
    asked_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    request_key = models.CharField(max_length=64)
    """Names the one press that asked it, so that a retry of it is no second question."""
    question = models.JSONField()
    """As the core put it, with its answer and what is wrong about the others."""
    asked_at = models.DateTimeField(auto_now_add=True)
    closes_at = models.DateTimeField(null=True)
    """When its count-down ends; null where it is closed by hand."""
    closed_at = models.DateTimeField(null=True)
    spread_at = models.DateTimeField(null=True)
    proof_at = models.DateTimeField(null=True)
    """Since when phones may know the answer."""
    ended_at = models.DateTimeField(null=True)

    class Meta:
        verbose_name = "question"
        constraints: ClassVar = [
            models.UniqueConstraint(
                fields=["teaching_class", "request_key"], name="class_question_asked_once"
            ),
            models.UniqueConstraint(
                fields=["teaching_class"],
                condition=models.Q(ended_at__isnull=True),
                name="class_question_one_at_a_time",
            ),
        ]

    def __str__(self) -> str:
        return f"question {self.id} of class {self.teaching_class_id}"


class ClassAnswer(models.Model):
    """What a student answered; changed until the question is closed."""

    question = models.ForeignKey(ClassQuestion, models.PROTECT, related_name="answers")
    student = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    given = models.JSONField()
    sure = models.PositiveSmallIntegerField(default=0)
    """1 a guess, 2 fairly sure, 3 sure; 0 where they did not say."""
    right = models.BooleanField()
    mistake = models.CharField(max_length=40, blank=True)
    """The misconception that it comes from, where one can be told."""
    answered_at = models.DateTimeField(auto_now=True)

    class Meta:
        verbose_name = "answer in class"
        verbose_name_plural = "answers in class"
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["question", "student"], name="class_answer_once"),
            models.CheckConstraint(condition=models.Q(sure__lte=3), name="class_answer_sure_known"),
        ]

    def __str__(self) -> str:
        return f"answer of {self.student_id} to {self.question_id}"
