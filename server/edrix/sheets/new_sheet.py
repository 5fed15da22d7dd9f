"""A sheet as an instructor asks for it, read and checked."""

from dataclasses import dataclass
from decimal import Decimal
from typing import Literal

from edrix.errors import FieldFault, InvalidError
from valvetrain.engine import Engine, ShimAdjuster
from valvetrain.grading import Asks
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
    name = {"tolerance": "The tolerance", "gauge": "What the gauges tell"}[field]
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
    """The further columns in the core's order. Raises InvalidError for what cannot be asked."""
    fault = None
    shims = [isinstance(adjuster, ShimAdjuster) for adjuster in engine.adjusters.values()]
    if unknown := set(new.asks) - set(Asks):
        fault = f"“{min(unknown)[:20]}” is not known; ask for {', '.join(Asks)}"
    elif Asks.SHIMS in new.asks and not any(shims):
        fault = "this engine has no shims; leave that column out"
    elif Asks.NUT in new.asks and shims and all(shims):
        fault = "this engine has shims and no lock nuts; leave that column out"
    if fault:
        raise InvalidError(f"What the sheet asks: {fault}.", [FieldFault("asks", fault)])
    return [ask.value for ask in Asks if ask in new.asks]
