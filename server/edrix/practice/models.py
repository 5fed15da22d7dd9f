"""Practice engines that instructors set, students' runs on them, and what was done in each."""

from typing import ClassVar

from django.conf import settings
from django.db import models

from valvetrain.constants import SHOP_TOLERANCE_MM, SHOP_TOLERANCE_THOU


class PracticeEngine(models.Model):
    """What a class is to practise on. seed and faults never leave the server before the end."""

    teaching_class = models.ForeignKey(
        "classes.TeachingClass", models.PROTECT, related_name="practice_engines"
    )
    engine_version = models.ForeignKey(
        "engines.EngineVersion", models.PROTECT, related_name="practice_engines"
    )
    title = models.CharField(max_length=80)
    seed = models.PositiveBigIntegerField()
    same_for_all = models.BooleanField(default=True)
    """Otherwise every student is dealt another engine with the same faults."""
    faults = models.JSONField(default=list)
    level = models.CharField(max_length=8)
    box = models.CharField(max_length=16)
    stack_help = models.BooleanField(default=False)
    bridged = models.BooleanField(null=True, default=None)
    """Whether its rockers work their valves through bridges; null: as its engine file says."""
    minutes = models.PositiveIntegerField(null=True)
    attempts = models.PositiveSmallIntegerField(null=True)
    """How many runs a student may begin; null: as many as they like."""
    debriefs_at = models.DateTimeField(null=True)
    """Of a test: since when its students may read their debriefs. Whoever ends first must not tell
    the others what is hidden."""
    shop_mm = models.DecimalField(max_digits=5, decimal_places=3, default=SHOP_TOLERANCE_MM)
    shop_thou = models.DecimalField(max_digits=5, decimal_places=2, default=SHOP_TOLERANCE_THOU)
    """The school's shop tolerance when it was made: what is dealt and told from it must not change
    under those who work on it."""
    made_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    made_at = models.DateTimeField(auto_now_add=True)
    put_away_at = models.DateTimeField(null=True)
    """When it was put out of the way; nothing is lost, and it can be brought back."""

    class Meta:
        verbose_name_plural = "practice engines"
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["teaching_class", "title"], name="practice_title"),
            models.CheckConstraint(
                condition=models.Q(level__in=["shown", "prompted", "alone", "test"]),
                name="practice_level_known",
            ),
        ]

    def __str__(self) -> str:
        return self.title


class RunRubric(models.Model):
    """What runs on a practice engine are worth by their parts. New weights are a new one; the
    newest counts."""

    practice = models.ForeignKey(PracticeEngine, models.PROTECT, related_name="rubrics")
    number = models.PositiveIntegerField()
    document = models.JSONField()
    """items (part, weight, least_percent), pass_percent, minutes."""
    made_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        verbose_name_plural = "weights of runs"
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["practice", "number"], name="run_rubric_number"),
        ]

    def __str__(self) -> str:
        return f"weights {self.number} of practice engine {self.practice_id}"


class PracticeRun(models.Model):
    """One student's attempt: where it stands is what replaying its events gives.

    services annotate `step`, how many actions were done in it.
    """

    practice = models.ForeignKey(PracticeEngine, models.PROTECT, related_name="runs")
    student = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    attempt = models.PositiveIntegerField()
    seed = models.PositiveBigIntegerField()
    """What its engine was dealt from; never leaves the server before the end. Kept, since a
    student may have another number where the class is brought to."""
    faults_moved = models.BooleanField(default=False)
    """Whether its faults lie on other valves than they were planted on, as a second attempt at a
    test does."""
    rules_version = models.CharField(max_length=40)
    """Of the practice rules that it was begun under. Only by the same ones is it ever replayed."""
    began_at = models.DateTimeField(auto_now_add=True)
    ended_at = models.DateTimeField(null=True)
    outcome = models.CharField(max_length=16, blank=True)
    """How the first start went, or why there was none."""
    debrief = models.JSONField(null=True)
    """What the core told of it at its end, kept: later rules never tell it otherwise. Null while
    it is open, and where rules changed before it was told."""

    class Meta:
        verbose_name_plural = "runs"
        constraints: ClassVar = [
            models.UniqueConstraint(
                fields=["practice", "student", "attempt"], name="practice_run_attempt"
            ),
            models.UniqueConstraint(
                fields=["practice", "student"],
                condition=models.Q(ended_at__isnull=True),
                name="practice_run_open_once",
            ),
        ]

    def __str__(self) -> str:
        return f"run {self.id} of {self.student_id}"


class BlindTry(models.Model):
    """One gap felt blind. What was dealt follows from the seed, and leaves the server only once it
    is guessed; a student has one open at a time."""

    teaching_class = models.ForeignKey(
        "classes.TeachingClass", models.PROTECT, related_name="blind_tries"
    )
    student = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    seed = models.PositiveBigIntegerField()
    pushes = models.PositiveIntegerField(default=0)
    named = models.CharField(max_length=8, blank=True)
    """What it was called; empty while it is open."""
    guessed_mm = models.DecimalField(max_digits=6, decimal_places=4, null=True)
    made_at = models.DateTimeField(auto_now_add=True)
    guessed_at = models.DateTimeField(null=True)

    class Meta:
        verbose_name_plural = "blind tries"
        constraints: ClassVar = [
            models.UniqueConstraint(
                fields=["teaching_class", "student"],
                condition=models.Q(guessed_at__isnull=True),
                name="blind_try_open_once",
            ),
        ]

    def __str__(self) -> str:
        return f"blind try {self.id} of {self.student_id}"


class PracticeEvent(models.Model):
    """One action, applied once. key is the client's own, so that a retry is known."""

    # Found by its constraints' indexes, which begin with the run: one of its own would only cost.
    run = models.ForeignKey(PracticeRun, models.PROTECT, related_name="events", db_index=False)
    step = models.PositiveIntegerField()
    key = models.CharField(max_length=40)
    action = models.JSONField()
    says = models.TextField()
    facts = models.JSONField()
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["run", "step"], name="practice_event_step"),
            models.UniqueConstraint(fields=["run", "key"], name="practice_event_key"),
        ]

    def __str__(self) -> str:
        return f"step {self.step} of run {self.run_id}"
