"""Lengths in millimetres and thousandths of an inch (thou), exactly.

1 in = 25.4 mm exactly (international yard and pound agreement of 1959; ISO 80000-3),
so 1 thou = 0.0254 mm exactly. Lengths are Decimal; records keep 0.0001 mm.
"""

import re
from decimal import ROUND_HALF_EVEN, Decimal
from enum import StrEnum
from typing import NamedTuple

from valvetrain.constants import MM_PER_INCH as MM_PER_INCH
from valvetrain.constants import MM_PER_THOU as MM_PER_THOU
from valvetrain.constants import PRINTED_STEP_MM, RECORD_STEP_MM
from valvetrain.errors import RefusedError


class Unit(StrEnum):
    MM = "mm"
    THOU = "thou"


_MM_PER_UNIT = {"mm": Decimal(1), "thou": MM_PER_THOU, "in": MM_PER_INCH}
_CALLED = {"inch": "in", "inches": "in", '"': "in", "thousandths": "thou", "thousandth": "thou"}
"""Other names of the same units."""
# Ten digits are plenty for a gap; the bound keeps a pasted novel out of Decimal.
_NUMBER = r"[0-9]{0,10}(?:[.,][0-9]{0,10})?"
_LENGTH = re.compile(rf"\s*(?P<number>[+-]?{_NUMBER})\s*(?P<unit>[a-zA-Z\"µμ]*)\s*")
_WANTED = "give a number and its unit, like 0.25 mm or 10 thou"


class LengthError(RefusedError):
    """A text that is no length; the message says what was given and what would be right."""


class Length(NamedTuple):
    """A length as it was written: the figure, its unit and the step of its last digit."""

    figure: Decimal
    unit: str

    @property
    def mm(self) -> Decimal:
        return self.figure * _MM_PER_UNIT[self.unit]

    @property
    def thou(self) -> Decimal:
        return self.mm / MM_PER_THOU


def to_mm(figure: Decimal, unit: Unit) -> Decimal:
    return figure * _MM_PER_UNIT[unit]


def to_record_mm(length_mm: Decimal) -> Decimal:
    """Rounded to what is stored: 0.0001 mm, halves to even."""
    return length_mm.quantize(RECORD_STEP_MM, rounding=ROUND_HALF_EVEN)


def in_both(length_mm: Decimal, first: Unit = Unit.MM) -> str:
    """Both units side by side, as people read them: `0.25 mm (9.8 thou)`, `5 thou (0.127 mm)`."""
    thou = f"{length_mm / MM_PER_THOU:.1f}"
    if first is Unit.MM:
        return f"{length_mm:.2f} mm ({thou} thou)"
    return f"{thou.removesuffix('.0')} thou ({length_mm:.3f} mm)"


def parse_figure(text: str) -> Decimal:
    """A plain number with a decimal point or comma. Raises LengthError."""
    cleaned = text.strip().replace(",", ".")
    if not re.fullmatch(rf"[+-]?{_NUMBER}", cleaned) or not any(c.isdigit() for c in cleaned):
        raise LengthError(f"“{_shown(text)}” is not a number; give one like 0.25 or 0,25")
    return Decimal(cleaned)


def parse_length(text: str) -> Length:
    """Reads `0.25 mm`, `0,25mm` or `10 thou` (inches as `in`). Raises LengthError."""
    match = _LENGTH.fullmatch(text)
    if not match or not any(c.isdigit() for c in match["number"]):
        raise LengthError(f"“{_shown(text)}” is not a length; {_WANTED}")
    unit = match["unit"].lower()
    unit = _CALLED.get(unit, unit)
    if not unit:
        raise LengthError(f"“{_shown(text)}” has no unit; {_WANTED}")
    if unit not in _MM_PER_UNIT:
        raise LengthError(
            f"the unit “{_shown(match['unit'])}” is not known here; use mm, thou "
            "(thousandths of an inch) or in"
        )
    return Length(Decimal(match["number"].replace(",", ".")), unit)


def parse_mm(text: str, unit: Unit) -> Decimal:
    """A length in mm: the unit typed behind the figure wins over unit. Raises LengthError."""
    if text[-1:].isalpha():
        return parse_length(text).mm
    return to_mm(parse_figure(text), unit)


def agree(one: Length, other: Length) -> bool:
    """Whether one true length rounds to both figures as written: 5 thou and 0.12 mm agree (0.12 is
    0.115 to 0.125, 5 thou 0.114 to 0.140), 9 thou and 0.2 mm do not. Millimetres are taken to 0.01
    and thou to whole ones, unless more digits are written; trailing zeros count for nothing. Common
    practice."""
    (low, high), (other_low, other_high) = _rounded_from(one), _rounded_from(other)
    return low <= other_high and other_low <= high


def _rounded_from(length: Length) -> tuple[Decimal, Decimal]:
    """The lengths in mm that round to this one as it is written."""
    exponent = length.figure.normalize().as_tuple().exponent
    written = Decimal(1).scaleb(min(0, exponent if isinstance(exponent, int) else 0))
    usual = {"mm": PRINTED_STEP_MM, "thou": Decimal(1), "in": Decimal("0.001")}[length.unit]
    half_mm = min(written, usual) * _MM_PER_UNIT[length.unit] / 2
    return length.mm - half_mm, length.mm + half_mm


def _shown(text: str) -> str:
    shown = " ".join(text.split())
    return shown if len(shown) <= 40 else shown[:37] + "…"
