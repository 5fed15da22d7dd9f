"""Reading sheets: set as work, filled in, handed in once."""

from typing import ClassVar

from django.conf import settings
from django.db import models

from valvetrain.grading.rubric import WITHOUT_LIMITS


class Sheet(models.Model):
    """Work set to a class: measure this stand. It keeps the key it was set with."""

    teaching_class = models.ForeignKey(
        "classes.TeachingClass", models.PROTECT, related_name="sheets"
    )
    stand = models.ForeignKey("stands.Stand", models.PROTECT, related_name="sheets")
    key = models.ForeignKey("stands.Key", models.PROTECT, related_name="sheets")
    title = models.CharField(max_length=120)
    method = models.CharField(max_length=40)
    """The method whose stops the sheet offers."""
    tolerance_mm = models.DecimalField(max_digits=6, decimal_places=4)
    gauge_mm = models.DecimalField(max_digits=6, decimal_places=4, default=0)
    """How near a limit the students' gauges cannot tell: their expanded uncertainty."""
    asks = models.JSONField(default=list)
    """What it asks for besides reading, stop and verdict: names of the core's `ASKS`."""
    weights_version = models.CharField(max_length=20, default=WITHOUT_LIMITS)
    """By which version's weights it counts while nobody has set others; sheets from before this
    was kept are of the version that had no limits."""
    given_back_at = models.DateTimeField(null=True)
    """When grades that tell how far off a reading is were shown to students; null while not."""
    opens_at = models.DateTimeField(null=True)
    """Before then students do not see it; null is at once."""
    closes_at = models.DateTimeField(null=True)
    """When it is due: from then on nobody hands in by themselves; null is never."""
    put_away_at = models.DateTimeField(null=True)
    """When it was put out of the way; nothing is lost, and it can be brought back."""
    set_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    set_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints: ClassVar = [
            models.CheckConstraint(
                condition=models.Q(tolerance_mm__gt=0), name="sheet_tolerance_positive"
            ),
            models.CheckConstraint(
                condition=models.Q(gauge_mm__gte=0), name="sheet_gauge_not_negative"
            ),
            models.CheckConstraint(
                condition=models.Q(opens_at__isnull=True)
                | models.Q(closes_at__isnull=True)
                | models.Q(opens_at__lt=models.F("closes_at")),
                name="sheet_opens_before_it_closes",
            ),
        ]

    def __str__(self) -> str:
        return self.title


class Draft(models.Model):
    """What a student has written so far, as typed; it may be wrong or half done."""

    sheet = models.ForeignKey(Sheet, models.PROTECT, related_name="drafts")
    student = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    lines = models.JSONField(default=list)
    saved_at = models.DateTimeField(auto_now=True)

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["sheet", "student"], name="draft_once"),
        ]

    def __str__(self) -> str:
        return f"draft of {self.student_id} for {self.sheet_id}"


class HandIn(models.Model):
    """A sheet handed in: never changed afterwards, and one for each student and sheet."""

    sheet = models.ForeignKey(Sheet, models.PROTECT, related_name="hand_ins")
    student = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    request_key = models.CharField(max_length=64)
    """Names the one click that made it, so that a retry of it is no second hand-in."""
    key = models.ForeignKey("stands.Key", models.PROTECT, related_name="+")
    """What it is marked by: the sheet's key when it was handed in, or when it was re-marked. A
    sheet's key may move on as the stand is adjusted."""
    entered_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, models.PROTECT, related_name="+", null=True
    )
    """The instructor who took it in from a file or from paper; null where the student handed in."""
    not_asked = models.JSONField(default=list)
    """Which of reading, stop and verdict this work left out as a whole, by the names of their
    columns: a list of figures without stops. They are neither marked nor missing."""
    handed_in_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        verbose_name_plural = "hand-ins"
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["sheet", "student"], name="hand_in_once"),
        ]

    def __str__(self) -> str:
        return f"hand-in of {self.student_id} for {self.sheet_id}"


class Reading(models.Model):
    hand_in = models.ForeignKey(HandIn, models.PROTECT, related_name="readings")
    valve = models.PositiveIntegerField()
    typed = models.CharField(max_length=40, blank=True)
    unit = models.CharField(max_length=4)
    reading_mm = models.DecimalField(max_digits=9, decimal_places=4, null=True)
    crank_deg = models.FloatField(null=True)
    verdict = models.CharField(max_length=12, blank=True)
    further = models.JSONField(default=dict)
    """The further columns by name, each as typed and in millimetres; a choice has no mm."""

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["hand_in", "valve"], name="reading_valve_once"),
            models.CheckConstraint(
                condition=models.Q(reading_mm__isnull=True) | models.Q(reading_mm__gte=0),
                name="reading_not_negative",
            ),
            models.CheckConstraint(
                condition=models.Q(verdict__in=["", "tight", "within", "loose", "cannot-tell"]),
                name="reading_verdict_known",
            ),
        ]

    def __str__(self) -> str:
        return f"valve {self.valve}: {self.typed} {self.unit}"
