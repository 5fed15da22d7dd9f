"""The sizes that shims are made in."""

from decimal import ROUND_FLOOR, Decimal
from typing import Any, NamedTuple

from valvetrain.adjusters.constants import MOST_SIZES
from valvetrain.adjusters.errors import AdjusterError
from valvetrain.document import Node


class Codes(NamedTuple):
    """What is stamped on a shim, where that is no size: code by code, or all times a factor."""

    sizes_mm: tuple[tuple[str, Decimal], ...] = ()
    times: Decimal | None = None

    def size_mm(self, stamped: str) -> Decimal | None:
        """The size of a stamped code; None for a code that is none of these."""
        code = stamped.strip()
        if self.times is None:
            return dict(self.sizes_mm).get(code)
        return Decimal(code) * self.times if code.isascii() and code.isdigit() else None

    def code_of(self, size_mm: Decimal) -> str | None:
        """What is stamped on a shim of this size; None where no code says it."""
        if self.times is None:
            return next((code for code, size in self.sizes_mm if size == size_mm), None)
        number = size_mm / self.times
        return f"{number:.0f}" if number == number.to_integral_value() else None

    def write(self) -> dict[str, float]:
        if self.times is not None:
            return {"times": float(self.times)}
        return {code: float(size) for code, size in self.sizes_mm}

    @staticmethod
    def read(node: Node) -> "Codes":
        """`{"235": 2.35, …}` or `{"times": 0.01}`."""
        if not node.is_object("a size for each stamped code, or times"):
            return Codes()
        if not node["times"].missing:
            for code in set(node.value) - {"times"}:
                node[code].fault("stands beside times; give a factor, or code by code")
            return Codes(times=node["times"].decimal("mm for each count", high=1, above=True))
        if len(node.value) > MOST_SIZES:
            node.fault(f"has {len(node.value)} codes; give at most {MOST_SIZES}")
            return Codes()
        return Codes(
            tuple((code, node[code].decimal("a size in mm", high=50)) for code in node.value)
        )

    @staticmethod
    def schema() -> dict[str, Any]:
        size = {"type": "number", "minimum": 0, "maximum": 50}
        return {"type": "object", "additionalProperties": size, "maxProperties": MOST_SIZES}


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


def typed_size(text: str, codes: Codes | None, sizes: Sizes) -> str:
    """What was typed for a shim, its stamped code turned into millimetres: `235` is `2.35` where
    this engine's stamps mean that. Anything else stays as it was typed, and so does a figure that
    would be a code of a size which nobody makes: `3` is 3 mm, not 0.03."""
    size_mm = None if codes is None else codes.size_mm(text)
    if size_mm is None or not sizes.from_mm <= size_mm <= sizes.to_mm:
        return text
    return f"{size_mm:f}"
