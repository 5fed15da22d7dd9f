"""One mark, and how its reasons write lengths."""

from decimal import Decimal
from functools import lru_cache
from typing import NamedTuple


class Mark(NamedTuple):
    right: bool
    student_says: str
    instructor_says: str


@lru_cache(maxsize=4096)
def in_mm(length: Decimal | None) -> str:
    return "nothing" if length is None else f"{figure(length)} mm"


@lru_cache(maxsize=4096)
def figure(length: Decimal) -> str:
    """Two decimals, as gaps are written, or as many more as the length has."""
    in_hundredths = length.quantize(Decimal("0.01")) == length
    return f"{length:.2f}" if in_hundredths else f"{length.normalize():f}"
