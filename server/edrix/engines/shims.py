"""Shims of an engine: the printed table, the arithmetic for measured valves, and moving shims."""

from decimal import Decimal
from typing import Any, NamedTuple

from edrix.errors import FieldFault, InvalidError
from valvetrain.adjusters import (
    Prefer,
    Shimmed,
    advise_shim,
    shim_sum,
    shim_table,
)
from valvetrain.engine import Engine, Role
from valvetrain.gauges import Spec
from valvetrain.shim_swap import Seat, swap_shims
from valvetrain.units import LengthError, Unit, parse_figure, to_mm

GAP_STEP_MM = Decimal("0.02")
BEYOND_MM = Decimal("0.20")
"""The table goes so far beyond the spec; a larger gap is worth a question first."""
MOST_SHIM_MM = 20
MOST_GAP_MM = 5


class TypedShim(NamedTuple):
    valve: int
    fitted: str
    measured: str


def shim_roles(engine: Engine) -> list[Role]:
    return [role for role in engine.roles if engine.adjuster_of(role).has_shims]


def tables(engine: Engine) -> list[dict[str, Any]]:
    """One table for each role with shims: measured gap against fitted shim."""
    found = []
    for role in shim_roles(engine):
        spec = _spec(engine, role)
        count = int((spec.max_mm + BEYOND_MM) / GAP_STEP_MM) + 1
        made = shim_table(spec, _shims(engine, role).sizes, _steps(count))
        found.append(
            {
                "role": role.value,
                "low_mm": float(spec.min_mm),
                "high_mm": float(spec.max_mm),
                "gaps_mm": [float(gap) for gap in made.gaps_mm],
                "fitted_mm": [float(size) for size in made.fitted_mm],
                "new_mm": [
                    [None if new is None else float(new) for new in row] for row in made.new_mm
                ],
            }
        )
    return found


def plan(
    engine: Engine, typed: list[TypedShim], stock: list[str], unit: str, prefer: Prefer
) -> dict[str, Any]:
    """Each measured valve by itself, and all of them with shims moved between them.

    Raises InvalidError naming every figure that cannot be used.
    """
    faults: list[FieldFault] = []
    seats = [_seat(engine, line, unit, faults) for line in typed]
    at_hand = [_length(text, "mm", f"stock {text}", MOST_SHIM_MM, faults) for text in stock]
    if len({line.valve for line in typed}) < len(typed):
        faults.append(FieldFault("valves", "names a valve twice"))
    if faults or not seats:
        told = "; ".join(f"{fault.path} {fault.problem}" for fault in faults[:3])
        raise InvalidError(f"The shims were not worked out: {told or 'no valve is given'}.", faults)
    read = [seat for seat in seats if seat is not None]
    return {
        "valves": [_advice(engine, seat, prefer) for seat in read],
        "swap": _swap(engine, read, [size for size in at_hand if size is not None]),
    }


def _advice(engine: Engine, seat: Seat, prefer: Prefer) -> dict[str, Any]:
    sizes = _shims(engine, engine.valve[seat.valve].role).sizes
    advice = advise_shim(seat.fitted_mm, seat.measured_mm, seat.spec, sizes, prefer)
    return advice._asdict() | {
        "valve": seat.valve,
        "sum": shim_sum(seat.fitted_mm, seat.measured_mm, seat.spec),
        "choices": [choice._asdict() for choice in advice.choices],
    }


def _swap(engine: Engine, seats: list[Seat], stock: list[Decimal]) -> dict[str, Any]:
    """Shims of one kind are moved among themselves; the stock is of the first kind."""
    moves: list[dict[str, Any]] = []
    buy: list[Decimal] = []
    left: list[Decimal] = []
    warnings: list[str] = []
    for adjuster in dict.fromkeys(_shims(engine, engine.valve[s.valve].role) for s in seats):
        own = [s for s in seats if _shims(engine, engine.valve[s.valve].role) == adjuster]
        swap = swap_shims(own, adjuster.sizes, stock)
        stock = []
        moves += [move._asdict() for move in swap.moves]
        buy += swap.buy_mm
        left += swap.left_over_mm
        warnings += swap.warnings
    return {"moves": moves, "buy_mm": buy, "left_over_mm": left, "warnings": warnings}


def _seat(engine: Engine, line: TypedShim, unit: str, faults: list[FieldFault]) -> Seat | None:
    path = f"valve {line.valve}"
    valve = engine.valve.get(line.valve)
    if valve is None or valve.role not in shim_roles(engine):
        faults.append(FieldFault(path, "has no shim on this engine"))
        return None
    fitted = _length(line.fitted, "mm", f"{path}, fitted shim", MOST_SHIM_MM, faults)
    measured = _length(line.measured, unit, f"{path}, measured gap", MOST_GAP_MM, faults)
    if fitted is None or measured is None:
        return None
    if fitted == 0:
        faults.append(FieldFault(f"{path}, fitted shim", "is 0; give its thickness"))
        return None
    return Seat(line.valve, fitted, measured, _spec(engine, valve.role))


def _length(
    text: str, unit: str, path: str, most_mm: int, faults: list[FieldFault]
) -> Decimal | None:
    try:
        length = to_mm(parse_figure(text), Unit(unit))
    except LengthError as fault:
        faults.append(FieldFault(path, str(fault)))
        return None
    if not 0 <= length <= most_mm:
        faults.append(FieldFault(path, f"is {text}; give 0 to {most_mm} mm"))
        return None
    return length


def _spec(engine: Engine, role: Role) -> Spec:
    limits = engine.clearance[role]
    return Spec(limits.low_mm, limits.high_mm)


def _shims(engine: Engine, role: Role) -> Shimmed:
    adjuster = engine.adjuster_of(role).shim
    if adjuster is None:
        raise TypeError(f"{role} has no shims; ask shim_roles first")
    return adjuster


def _steps(count: int) -> list[Decimal]:
    return [index * GAP_STEP_MM for index in range(count)]
