"""Stands (real practice engines) and their keys: the reference clearance of every valve."""

from decimal import Decimal
from typing import ClassVar

from django.conf import settings
from django.db import models


class Stand(models.Model):
    """A real practice engine in the hall. Several classes may use it."""

    class Meter(models.TextChoices):
        HOURS = "h"
        KM = "km"

    name = models.CharField(max_length=80)
    place = models.CharField(max_length=80, blank=True, default="")
    """Where in the hall it stands."""
    engine_version = models.ForeignKey(
        "engines.EngineVersion", models.PROTECT, related_name="stands"
    )
    meter = models.CharField(max_length=2, choices=Meter.choices, default=Meter.HOURS)
    cool_h = models.DecimalField(max_digits=5, decimal_places=1, default=Decimal(12))
    """How long it stands after it was run until it counts as cold."""
    warm_until = models.DateTimeField(null=True)
    out_of_order = models.CharField(max_length=200, blank=True, default="")
    """Why nobody works on it; empty while it is in order."""
    adjusted_at = models.DateTimeField(null=True)
    """When anybody last adjusted it: keys that were measured before are stale."""
    adjusted_by = models.CharField(max_length=200, blank=True, default="")
    created_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, models.PROTECT, related_name="+", null=True
    )
    created_at = models.DateTimeField(auto_now_add=True)
    put_away_at = models.DateTimeField(null=True)
    """When it was put out of the way; nothing is lost, and it can be brought back."""

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["name"], name="stand_name_in_school"),
            models.CheckConstraint(
                condition=models.Q(cool_h__gte=0), name="stand_cool_not_negative"
            ),
            models.CheckConstraint(
                condition=models.Q(meter__in=["h", "km"]), name="stand_meter_known"
            ),
        ]

    def __str__(self) -> str:
        return self.name


class ClassStand(models.Model):
    """A class that uses a stand."""

    teaching_class = models.ForeignKey("classes.TeachingClass", models.PROTECT, related_name="uses")
    stand = models.ForeignKey(Stand, models.CASCADE, related_name="uses")
    put_away_at = models.DateTimeField(null=True)
    """When the class stopped using it; its sheets stay."""

    class Meta:
        verbose_name = "stand"
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["teaching_class", "stand"], name="class_stand_once"),
        ]

    def __str__(self) -> str:
        return f"stand {self.stand_id} of class {self.teaching_class_id}"


class Key(models.Model):
    """One measuring of a stand by its instructor. A new measuring is a new key."""

    stand = models.ForeignKey(Stand, models.PROTECT, related_name="keys")
    number = models.PositiveIntegerField()
    uncertainty_mm = models.DecimalField(max_digits=6, decimal_places=4, default=0)
    """Expanded (k = 2), of every gap; 0 where the key is taken as exact. Where gaps have their own,
    the largest of them."""
    origin = models.CharField(max_length=10, default="measured")
    """measured once, pooled from several passes, or adjusted: what a checked sheet left."""
    note = models.CharField(max_length=200, blank=True)
    """Who measured the passes, or whose sheet left the stand so."""
    made_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints: ClassVar = [
            models.CheckConstraint(
                condition=models.Q(uncertainty_mm__gte=0), name="key_uncertainty_not_negative"
            ),
            models.CheckConstraint(
                condition=models.Q(origin__in=["measured", "passes", "adjusted"]),
                name="key_origin_known",
            ),
            models.UniqueConstraint(fields=["stand", "number"], name="key_number_unique"),
        ]

    def __str__(self) -> str:
        return f"key {self.number} of stand {self.stand_id}"


class KeyGap(models.Model):
    key = models.ForeignKey(Key, models.PROTECT, related_name="gaps")
    valve = models.PositiveIntegerField()
    typed = models.CharField(max_length=40)
    unit = models.CharField(max_length=4)
    gap_mm = models.DecimalField(max_digits=9, decimal_places=4)
    closing_typed = models.CharField(max_length=40, blank=True, default="")
    closing_mm = models.DecimalField(max_digits=9, decimal_places=4, null=True)
    """The closing gap of a valve that is pulled shut; null where it has none, or none was measured.
    It is known as well as the other."""
    uncertainty_mm = models.DecimalField(max_digits=6, decimal_places=4, null=True)
    """Expanded, of this gap; null where the key's own counts."""
    passes = models.JSONField(default=list)
    """What each pass said, as typed; empty where there was one."""

    class Meta:
        verbose_name_plural = "gaps"
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["key", "valve"], name="key_valve_once"),
            models.CheckConstraint(condition=models.Q(gap_mm__gte=0), name="key_gap_not_negative"),
            models.CheckConstraint(
                condition=models.Q(unit__in=["mm", "thou"]), name="key_unit_known"
            ),
        ]

    def __str__(self) -> str:
        return f"valve {self.valve}: {self.typed} {self.unit}"
