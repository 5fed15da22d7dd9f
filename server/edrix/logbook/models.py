"""The logbook of each stand: what was found, what it was left at, and what else was done."""

from typing import ClassVar

from django.conf import settings
from django.db import models


class LogEntry(models.Model):
    """Something that was done at a stand. Never edited: a later entry corrects an earlier one."""

    class What(models.TextChoices):
        KEY = "key"
        SHEET = "sheet"
        MEASURED = "measured"
        ADJUSTED = "adjusted"
        SERVICE = "service"
        RUN = "run"
        FAULT_IN = "fault-in"
        FAULT_OUT = "fault-out"
        LISTS = "lists"
        NOTE = "note"

    stand = models.ForeignKey("stands.Stand", models.PROTECT, related_name="log")
    what = models.CharField(max_length=10, choices=What.choices)
    at = models.DateTimeField()
    """When it was done, which may be long before it was written down."""
    meter = models.DecimalField(max_digits=9, decimal_places=1, null=True)
    """Hours or kilometres, as the stand counts; null where nobody knows."""
    cold = models.BooleanField(null=True)
    by = models.CharField(max_length=200)
    """Who did it, as a name: also people who have no account."""
    note = models.CharField(max_length=500, blank=True, default="")
    source = models.CharField(max_length=40, null=True)
    """What filled it in by itself, like `key 12` or `hand-in 40`; null where a person wrote it."""
    corrects = models.OneToOneField("self", models.PROTECT, related_name="corrected_by", null=True)
    written_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    written_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        verbose_name_plural = "log entries"
        constraints: ClassVar = [
            models.CheckConstraint(condition=models.Q(meter__gte=0), name="log_meter_not_negative"),
            models.UniqueConstraint(fields=["stand", "source"], name="log_source_once"),
        ]
        indexes: ClassVar = [models.Index(fields=["stand", "-at", "-id"], name="log_of_stand")]

    def __str__(self) -> str:
        return f"{self.what} of stand {self.stand_id} at {self.at:%Y-%m-%d}"


class LogGap(models.Model):
    """One valve of an entry: the gap found, what it was left at, and the shim that lies in it."""

    entry = models.ForeignKey(LogEntry, models.CASCADE, related_name="gaps")
    valve = models.PositiveIntegerField()
    found_typed = models.CharField(max_length=40, blank=True, default="")
    found_mm = models.DecimalField(max_digits=9, decimal_places=4, null=True)
    left_typed = models.CharField(max_length=40, blank=True, default="")
    left_mm = models.DecimalField(max_digits=9, decimal_places=4, null=True)
    shim_mm = models.DecimalField(max_digits=9, decimal_places=4, null=True)
    reason = models.CharField(max_length=120, blank=True, default="")
    """Why a valve was left out of its spec, in words; empty where it was not."""

    class Meta:
        verbose_name_plural = "log gaps"
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["entry", "valve"], name="log_valve_once"),
            models.CheckConstraint(
                condition=models.Q(found_mm__isnull=True) | models.Q(found_mm__gte=0),
                name="log_found_not_negative",
            ),
            models.CheckConstraint(
                condition=models.Q(left_mm__isnull=True) | models.Q(left_mm__gte=0),
                name="log_left_not_negative",
            ),
        ]

    def __str__(self) -> str:
        return f"valve {self.valve}: {self.found_typed} to {self.left_typed}"
