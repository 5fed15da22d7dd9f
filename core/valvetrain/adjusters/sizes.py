"""The sizes that shims are made in."""

from decimal import ROUND_FLOOR, Decimal
from typing import NamedTuple

from valvetrain.adjusters.constants import MOST_SIZES
from valvetrain.adjusters.errors import AdjusterError


class Sizes(NamedTuple):
    """From the thinnest to the thickest, by a step; in mm."""

    from_mm: Decimal
    to_mm: Decimal
    step_mm: Decimal

    def all(self) -> list[Decimal]:
        """Every size from the thinnest. Raises AdjusterError where there can be none."""
        if not (0 < self.from_mm <= self.to_mm and self.step_mm > 0):
            raise AdjusterError(
                f"the sizes are {self.from_mm:f} to {self.to_mm:f} by {self.step_mm:f} mm; give "
                "the thinnest, the thickest and a step above zero"
            )
        count = int(((self.to_mm - self.from_mm) / self.step_mm).to_integral_value(ROUND_FLOOR)) + 1
        if count > MOST_SIZES:
            raise AdjusterError(f"that makes {count} sizes; give at most {MOST_SIZES}")
        return [self.from_mm + index * self.step_mm for index in range(count)]
