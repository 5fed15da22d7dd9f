"""Shims of an engine: the printed table, the arithmetic for measured valves, and moving shims."""

from decimal import Decimal
from typing import Any, NamedTuple

from edrix.errors import FieldFault, InvalidError
from valvetrain.adjusters import (
    MeasuredSeat,
    Prefer,
    ShimAdvice,
    Shimmed,
    Sizes,
    advise_pair,
    advise_shim,
    shim_sum,
    shim_table,
    typed_size,
)
from valvetrain.engine import Engine, Role
from valvetrain.gauges import Spec
from valvetrain.shim_swap import Seat, swap_shims
from valvetrain.spec_words import spec_texts
from valvetrain.units import LengthError, Unit, parse_figure, to_mm

MOST_SHIM_MM = 20
MOST_GAP_MM = 5


class TypedShim(NamedTuple):
    valve: int
    fitted: str
    measured: str
    closing_fitted: str = ""
    closing_measured: str = ""
    """Of a valve that is pulled shut."""


def shim_roles(engine: Engine) -> list[Role]:
    return [role for role in engine.roles if engine.adjuster_of(role).has_shims]


def tables(engine: Engine) -> list[dict[str, Any]]:
    """One table for each role with shims, and one for the closing shims of each that has them:
    measured gap against fitted shim."""
    found = []
    for role in shim_roles(engine):
        if role in engine.closing:
            found.append(_table(role, "closing", _closing_spec(engine, role), engine))
        found.append(_table(role, "opening", _spec(engine, role), engine))
    return found


def _table(role: Role, gap: str, spec: Spec, engine: Engine) -> dict[str, Any]:
    made = shim_table(spec, _shims(engine, role, gap).sizes)
    limits = engine.closing[role] if gap == "closing" else engine.clearance[role]
    # Rows that no figure of a gauge falls into, or that no shim serves, are none to look up.
    rows = [
        (band, row, words)
        for band, row in zip(made.bands, made.new_mm, strict=True)
        if (words := band.words(limits.unit)) and any(size is not None for size in row)
    ]
    says, says_other = spec_texts(limits)
    return {
        "role": role.value,
        "gap": gap,
        "says": says,
        "says_other": says_other,
        "low_mm": float(spec.min_mm),
        "high_mm": float(spec.max_mm),
        "unit": limits.unit.value,
        "bands": [
            {"from_mm": float(band.from_mm), "to_mm": float(band.to_mm), "says": words}
            for band, _, words in rows
        ],
        "fitted_mm": [float(size) for size in made.fitted_mm],
        "new_mm": [[None if new is None else float(new) for new in row] for _, row, _ in rows],
    }


def plan(
    engine: Engine, typed: list[TypedShim], stock: list[str], unit: str, prefer: Prefer
) -> dict[str, Any]:
    """Each measured valve by itself, and all of them with shims moved between them.

    A valve of which a figure is blank is left out, and said to be. Of a valve that is pulled shut
    the closing shim comes first. Raises InvalidError naming every figure that cannot be used.
    """
    faults: list[FieldFault] = []
    if len({line.valve for line in typed}) < len(typed):
        faults.append(FieldFault("valves", "names a valve twice"))
    left_out = {line.valve: why for line in typed if (why := _blank(engine, line))}
    whole = [line for line in typed if line.valve not in left_out]
    read = [_seats(engine, line, unit, faults) for line in whole]
    at_hand = [_size(text, None, f"stock {text}", faults, engine) for text in stock]
    if not whole and not faults:
        faults.append(FieldFault("valves", "have none with both its shim and its gap; give one"))
    if faults:
        told = "; ".join(f"{fault.path} {fault.problem}" for fault in faults[:3])
        raise InvalidError(f"The shims were not worked out: {told}.", faults)
    told_valves = [_advice(engine, seats, prefer) for seats in read if seats is not None]
    closing = [one.closing for one in read if one is not None and one.closing is not None]
    opening = [_moved(one, advice) for one, advice in zip(read, told_valves, strict=True) if one]
    sizes = [size for size in at_hand if size is not None]
    return {
        "valves": told_valves,
        "swap": _swap(engine, opening, sizes, "opening"),
        "closing_swap": _swap(engine, closing, [], "closing") if closing else None,
        "left_out": [{"valve": valve, "why": why} for valve, why in left_out.items()],
    }


class Seats(NamedTuple):
    """A valve's opening shim, and its closing shim where both of its figures were given."""

    opening: Seat
    closing: Seat | None


def _blank(engine: Engine, line: TypedShim) -> str:
    """What is missing of a valve; empty where nothing is."""
    if not line.fitted.strip() or not line.measured.strip():
        return f"the {'measured gap' if line.fitted.strip() else 'fitted shim'} is blank"
    if bool(line.closing_fitted.strip()) is not bool(line.closing_measured.strip()):
        blank = "closing gap" if line.closing_fitted.strip() else "fitted closing shim"
        return f"the {blank} is blank"
    return ""


def _advice(engine: Engine, seats: Seats, prefer: Prefer) -> dict[str, Any]:
    opening, closing = seats
    role = engine.valve[opening.valve].role
    sizes = _shims(engine, role).sizes
    if closing is None:
        advice = advise_shim(opening.fitted_mm, opening.measured_mm, opening.spec, sizes, prefer)
        told = shim_sum(opening.fitted_mm, opening.measured_mm, opening.spec)
        return _told(opening.valve, advice, told)
    pair = advise_pair(
        _measured(closing, _shims(engine, role, "closing").sizes),
        _measured(opening, sizes),
        prefer,
    )
    told = shim_sum(opening.fitted_mm, pair.opening_gap_mm, opening.spec)
    first = shim_sum(closing.fitted_mm, closing.measured_mm, closing.spec)
    return _told(opening.valve, pair.opening, told) | {
        "closing": _told(closing.valve, pair.closing, first),
        "opening_gap_mm": pair.opening_gap_mm,
        "says": list(pair.says),
    }


def _measured(seat: Seat, sizes: Sizes) -> MeasuredSeat:
    return MeasuredSeat(seat.fitted_mm, seat.measured_mm, seat.spec, sizes)


def _told(valve: int, advice: ShimAdvice, told: str) -> dict[str, Any]:
    return advice._asdict() | {
        "valve": valve,
        "sum": told,
        "choices": [choice._asdict() for choice in advice.choices],
        "closing": None,
        "opening_gap_mm": None,
        "says": [],
    }


def _moved(seats: Seats, advice: dict[str, Any]) -> Seat:
    """The opening seat as it is once the closing shim is right. Its gap may then be below zero: the
    length of shim and gap together is known all the same."""
    gap_mm = advice["opening_gap_mm"]
    return seats.opening if gap_mm is None else seats.opening._replace(measured_mm=gap_mm)


def _swap(engine: Engine, seats: list[Seat], stock: list[Decimal], gap: str) -> dict[str, Any]:
    """Shims of one kind are moved among themselves; the stock is of the first kind."""
    moves: list[dict[str, Any]] = []
    buy: list[Decimal] = []
    left: list[Decimal] = []
    warnings: list[str] = []

    def kind_of(seat: Seat) -> Shimmed:
        return _shims(engine, engine.valve[seat.valve].role, gap)

    for adjuster in dict.fromkeys(kind_of(seat) for seat in seats):
        own = [seat for seat in seats if kind_of(seat) == adjuster]
        swap = swap_shims(own, adjuster.sizes, stock)
        stock = []
        moves += [move._asdict() for move in swap.moves]
        buy += swap.buy_mm
        left += swap.left_over_mm
        warnings += swap.warnings
    return {"moves": moves, "buy_mm": buy, "left_over_mm": left, "warnings": warnings}


def _seats(engine: Engine, line: TypedShim, unit: str, faults: list[FieldFault]) -> Seats | None:
    path = f"valve {line.valve}"
    valve = engine.valve.get(line.valve)
    if valve is None or valve.role not in shim_roles(engine):
        faults.append(FieldFault(path, "has no shim on this engine"))
        return None
    role = valve.role
    fitted = _size(line.fitted, _shims(engine, role), f"{path}, fitted shim", faults, engine)
    measured = _length(line.measured, unit, f"{path}, measured gap", MOST_GAP_MM, faults)
    closing = None
    if line.closing_fitted.strip():
        if role not in engine.closing:
            faults.append(FieldFault(path, "has no closing shim on this engine"))
            return None
        kind = _shims(engine, role, "closing")
        its_shim = _size(line.closing_fitted, kind, f"{path}, closing shim", faults, engine)
        gap = _length(line.closing_measured, unit, f"{path}, closing gap", MOST_GAP_MM, faults)
        if its_shim is not None and gap is not None:
            closing = Seat(line.valve, its_shim, gap, _closing_spec(engine, role))
    if fitted is None or measured is None:
        return None
    return Seats(Seat(line.valve, fitted, measured, _spec(engine, role)), closing)


def _size(
    text: str, kind: Shimmed | None, path: str, faults: list[FieldFault], engine: Engine
) -> Decimal | None:
    """A shim's thickness in mm, or its stamped code. Without a kind, those of the engine."""
    kinds = [kind] if kind else [_shims(engine, role) for role in shim_roles(engine)]
    plain = next(
        (
            size
            for one in kinds
            if (size := typed_size(text.strip(), one.codes, one.sizes)) != text.strip()
        ),
        text,
    )
    size_mm = _length(plain, "mm", path, MOST_SHIM_MM, faults)
    if size_mm == 0:
        faults.append(FieldFault(path, "is 0; give its thickness"))
        return None
    return size_mm


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


def _closing_spec(engine: Engine, role: Role) -> Spec:
    limits = engine.closing[role]
    return Spec(limits.low_mm, limits.high_mm)


def _shims(engine: Engine, role: Role, gap: str = "opening") -> Shimmed:
    kind = engine.closing_adjuster_of(role) if gap == "closing" else engine.adjuster_of(role)
    adjuster = kind.shim
    if adjuster is None:
        raise TypeError(f"{role} has no {gap} shims; ask shim_roles first")
    return adjuster
