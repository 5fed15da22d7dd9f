"""A sheet as an instructor asks for it, read and checked."""

from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from edrix.errors import FieldFault, InvalidError
from valvetrain.engine import Engine
from valvetrain.grading import ASKS, cannot_be_asked
from valvetrain.units import LengthError, Unit, parse_figure, to_mm, to_record_mm

MOST_TOLERANCE_MM = Decimal(1)


@dataclass(frozen=True, slots=True)
class NewSheet:
    stand_id: int
    title: str
    method: str
    tolerance: str
    tolerance_unit: str
    gauge: str = ""
    """How near a limit the gauges cannot tell, in the tolerance's unit; blank is nowhere."""
    asks: tuple[str, ...] = ()


def length_mm(new: NewSheet, field: Literal["tolerance", "gauge"]) -> Decimal:
    """The tolerance or the gauge's uncertainty. Raises InvalidError."""
    if new.tolerance_unit not in ("mm", "thou"):
        fault = FieldFault("tolerance_unit", "give mm or thou")
        raise InvalidError("The unit of the tolerance is not known; give mm or thou.", [fault])
    name = {"tolerance": "The tolerance", "gauge": "The gauge uncertainty"}[field]
    try:
        typed = parse_figure(getattr(new, field))
        length = to_record_mm(to_mm(typed, Unit(new.tolerance_unit)))
    except LengthError as fault:
        raise InvalidError(f"{name}: {fault}.", [FieldFault(field, str(fault))]) from None
    if not 0 < length <= MOST_TOLERANCE_MM:
        problem = f"is {length} mm; give more than 0 and at most {MOST_TOLERANCE_MM} mm"
        raise InvalidError(f"{name} {problem}.", [FieldFault(field, problem)])
    return length


def asks_of(new: NewSheet, engine: Engine) -> list[str]:
    """The asks in the core's order. Raises InvalidError for what cannot be asked."""
    unknown = set(new.asks) - set(ASKS)
    if unknown:
        raise _cannot(f"“{min(unknown)[:20]}” is not known; ask for {', '.join(ASKS)}")
    asked = [ask for ask in ASKS.values() if ask.name in new.asks]
    for ask in asked:
        if (why := cannot_be_asked(ask, engine, new.asks)) is not None:
            raise _cannot(why)
    return [ask.name for ask in asked]


def _cannot(why: str) -> InvalidError:
    return InvalidError(f"What the sheet asks: {why}.", [FieldFault("asks", why)])
