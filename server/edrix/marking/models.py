"""What becomes of a hand-in: marks, decisions and answers beside them, and what they weigh."""

from typing import ClassVar

from django.conf import settings
from django.db import models


class Rubric(models.Model):
    """What a sheet's marks are worth together. New weights are a new rubric; the newest counts."""

    sheet = models.ForeignKey("sheets.Sheet", models.PROTECT, related_name="rubrics")
    number = models.PositiveIntegerField()
    document = models.JSONField()
    """items (part, weight, least_percent), pass_percent, zero_at_mm, minutes."""
    made_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["sheet", "number"], name="rubric_number_unique"),
        ]

    def __str__(self) -> str:
        return f"rubric {self.number} of sheet {self.sheet_id}"


class Marking(models.Model):
    """What the core made of a hand-in, with the version of its rules. Made again, never edited."""

    hand_in = models.ForeignKey("sheets.HandIn", models.PROTECT, related_name="markings")
    rules_version = models.CharField(max_length=40)
    points = models.PositiveIntegerField()
    out_of = models.PositiveIntegerField()
    valves = models.JSONField()
    """One entry for each valve; holds the key's figures, so it is for instructors only."""
    made_at = models.DateTimeField(auto_now_add=True)

    def __str__(self) -> str:
        return f"{self.points}/{self.out_of}"


class ReMarking(models.Model):
    """That a sheet was marked anew by another key, so that it can be taken back."""

    sheet = models.ForeignKey("sheets.Sheet", models.PROTECT, related_name="re_markings")
    from_key = models.ForeignKey("stands.Key", models.PROTECT, related_name="+")
    to_key = models.ForeignKey("stands.Key", models.PROTECT, related_name="+")
    made_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    made_at = models.DateTimeField(auto_now_add=True)
    taken_back_at = models.DateTimeField(null=True)

    def __str__(self) -> str:
        return f"sheet {self.sheet_id} from key {self.from_key_id} to {self.to_key_id}"


class Decision(models.Model):
    """An instructor's own judgement of one mark, with the reason. A record; never edited."""

    hand_in = models.ForeignKey("sheets.HandIn", models.PROTECT, related_name="decisions")
    valve = models.PositiveIntegerField()
    part = models.CharField(max_length=20)
    """The kind of mark; which there are is for the core to say."""
    right = models.BooleanField()
    reason = models.CharField(max_length=300)
    made_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints: ClassVar = [
            models.CheckConstraint(condition=~models.Q(reason=""), name="decision_has_a_reason"),
        ]

    def __str__(self) -> str:
        return f"valve {self.valve}, {self.part}: {self.reason}"


class Answer(models.Model):
    """What a student answers to one mark, once. A record; the instructor decides."""

    hand_in = models.ForeignKey("sheets.HandIn", models.PROTECT, related_name="answers")
    valve = models.PositiveIntegerField()
    part = models.CharField(max_length=20)
    text = models.CharField(max_length=400)
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["hand_in", "valve", "part"], name="answer_once"),
            models.CheckConstraint(condition=~models.Q(text=""), name="answer_has_a_text"),
        ]

    def __str__(self) -> str:
        return f"valve {self.valve}, {self.part}: {self.text}"
