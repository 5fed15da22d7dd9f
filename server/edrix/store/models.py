"""The shims of the school: how many of each size lie where, what came in and went out, what is held
back for a valve."""

from typing import ClassVar

from django.conf import settings
from django.db import models


class ShimSize(models.Model):
    """One size of one diameter. The measured size counts, not the stamp."""

    diameter_mm = models.DecimalField(max_digits=5, decimal_places=2)
    size_mm = models.DecimalField(max_digits=6, decimal_places=3)
    count = models.PositiveIntegerField(default=0)
    least = models.PositiveIntegerField(default=0)
    """So many should lie there; with fewer it is short."""
    place = models.CharField(max_length=80, blank=True, default="")

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["diameter_mm", "size_mm"], name="shim_size_once"),
            models.CheckConstraint(
                condition=models.Q(count__gte=0), name="shim_count_not_negative"
            ),
            models.CheckConstraint(
                condition=models.Q(diameter_mm__gt=0, size_mm__gt=0), name="shim_has_a_size"
            ),
        ]

    def __str__(self) -> str:
        return f"{self.size_mm} of {self.diameter_mm} mm"


class Held(models.Model):
    """One shim held back for a valve by a plan, until it is fitted or let go."""

    shim = models.ForeignKey(ShimSize, models.PROTECT, related_name="held")
    stand = models.ForeignKey("stands.Stand", models.CASCADE, related_name="held_shims")
    valve = models.PositiveIntegerField()
    returns_mm = models.DecimalField(max_digits=6, decimal_places=3, null=True)
    """What is left over once it is fitted, and comes back to the store; null where nothing does."""
    made_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        verbose_name_plural = "held shims"
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["stand", "valve"], name="held_once_for_a_valve"),
        ]

    def __str__(self) -> str:
        return f"shim {self.shim_id} for valve {self.valve} of stand {self.stand_id}"


class ShimMove(models.Model):
    """What came in or went out; never edited, and the count after it is kept with it."""

    class Why(models.TextChoices):
        IN = "in"
        OUT = "out"
        COUNTED = "counted"
        FITTED = "fitted"
        BACK = "back"

    shim = models.ForeignKey(ShimSize, models.PROTECT, related_name="moves")
    why = models.CharField(max_length=8, choices=Why.choices)
    change = models.IntegerField()
    count_after = models.PositiveIntegerField()
    stand = models.ForeignKey("stands.Stand", models.SET_NULL, related_name="shim_moves", null=True)
    valve = models.PositiveIntegerField(null=True)
    note = models.CharField(max_length=200, blank=True, default="")
    made_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        indexes: ClassVar = [models.Index(fields=["shim", "-id"], name="moves_of_shim")]

    def __str__(self) -> str:
        return f"{self.change:+d} of shim {self.shim_id}"
