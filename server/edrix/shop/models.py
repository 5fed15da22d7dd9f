"""What the school states for all its classes: its shop tolerance."""

from typing import ClassVar

from django.db import models

from valvetrain.constants import SHOP_TOLERANCE_MM, SHOP_TOLERANCE_THOU


class Shop(models.Model):
    """One row at most; none is as good as one with its defaults."""

    tolerance_mm = models.DecimalField(max_digits=5, decimal_places=3, default=SHOP_TOLERANCE_MM)
    """How far a gap may lie from a spec of one figure in mm."""
    tolerance_thou = models.DecimalField(
        max_digits=5, decimal_places=2, default=SHOP_TOLERANCE_THOU
    )
    """The same of a spec in thou."""

    class Meta:
        constraints: ClassVar = [
            models.CheckConstraint(condition=models.Q(id=1), name="shop_is_one"),
            models.CheckConstraint(
                condition=models.Q(tolerance_mm__gte=0, tolerance_thou__gte=0),
                name="shop_tolerance_not_negative",
            ),
        ]

    def __str__(self) -> str:
        return f"±{self.tolerance_mm} mm, ±{self.tolerance_thou} thou"
