"""Shims for several engines at once: from the store, or moved, before any is bought.

A plan keeps nothing. Holding it back takes from the store what it needs, all of it or nothing; each
shim is booked when it is fitted.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import NamedTuple

from django.db import transaction

from edrix.accounts.models import User
from edrix.engines import services as engines
from edrix.errors import FieldFault, InvalidError
from edrix.stands import hall
from edrix.stands import services as stands
from edrix.stands.services import Stand
from edrix.store import services
from valvetrain.adjusters import Sizes
from valvetrain.constants import MOST_SEATS
from valvetrain.engine import Engine
from valvetrain.gauges import Spec
from valvetrain.shim_swap import Seat, swap_shims
from valvetrain.units import LengthError, Unit, parse_mm, to_record_mm

SAME_ACROSS_MM = Decimal("0.05")
"""Diameters no further apart than this are one: files and boxes round them."""


@dataclass(frozen=True, slots=True)
class TypedSeat:
    """A valve as it was measured: what lies in it by micrometer, and the gap with it."""

    stand_id: int
    valve: int
    fitted: str
    measured: str
    unit: str = "mm"


class StandMove(NamedTuple):
    """source is keep, moved (from from_stand's from_valve), store (shim_id) or buy."""

    stand: Stand
    valve: int
    fitted_mm: Decimal
    size_mm: Decimal
    source: str
    clearance_mm: Decimal
    within: bool
    shim_id: int | None = None
    from_stand: str = ""
    from_valve: int | None = None
    returns_mm: Decimal | None = None
    """What is left over in the end where a shim comes from outside: the one that it takes out may
    go into another valve, and that one's into a third."""


class StorePlan(NamedTuple):
    moves: list[StandMove]
    buy_mm: list[Decimal]
    warnings: list[str]


class _Known(NamedTuple):
    stand: Stand
    valve: int
    seat: Seat
    sizes: Sizes


def plan(user: User, diameter: str, typed: Sequence[TypedSeat]) -> StorePlan:
    """The fewest bought over all these valves, from one diameter's boxes."""
    hall.require_teacher(user)
    diameter_mm, _ = services.read_size(diameter, "1")
    known = _read(user, typed, diameter_mm)
    free = services.free_by_size(diameter_mm)
    stock = [size for size, (_, count) in free.items() for _ in range(min(count, len(known)))]
    swap = swap_shims([one.seat for one in known], known[0].sizes, stock)
    by_number = {one.seat.valve: one for one in known}
    moves = []
    for move in swap.moves:
        one = by_number[move.valve]
        source, origin = move.source, None
        if source.startswith("valve "):
            origin = by_number[int(source.removeprefix("valve "))]
            source = "moved"
        moves.append(
            StandMove(
                one.stand,
                one.valve,
                one.seat.fitted_mm,
                move.size_mm,
                "store" if source == "stock" else source,
                move.clearance_mm,
                move.within,
                free[move.size_mm][0] if source == "stock" else None,
                origin.stand.name if origin else "",
                origin.valve if origin else None,
            )
        )
    moves = [move._replace(returns_mm=_left_over(move, moves)) for move in moves]
    said = [_with_names(words, by_number) for words in swap.warnings]
    return StorePlan(moves, list(swap.buy_mm), said)


@transaction.atomic
def hold(user: User, diameter: str, typed: Sequence[TypedSeat]) -> StorePlan:
    """Holds back what the plan takes from the store, all of it or nothing; what it buys is short
    from now on, and so on the order list."""
    made = plan(user, diameter, typed)
    services.require_unpromised([(one.stand_id, one.valve) for one in typed])
    diameter_mm, _ = services.read_size(diameter, "1")
    for move in made.moves:
        seat = move.stand.id, move.valve, move.returns_mm
        if move.shim_id is not None:
            services.hold(user, move.shim_id, *seat)
        elif move.source == "buy":
            services.order_for(user, (diameter_mm, move.size_mm), *seat)
    return made


def _left_over(move: StandMove, moves: Sequence[StandMove]) -> Decimal | None:
    if move.source not in ("store", "buy"):
        return None
    taken = {(one.from_stand, one.from_valve): one for one in moves if one.source == "moved"}
    last = move
    # Ends: each shim lies in one valve, and the first came from outside.
    while (last.stand.name, last.valve) in taken:
        last = taken[last.stand.name, last.valve]
    return last.fitted_mm


def _with_names(words: str, known: dict[int, _Known]) -> str:
    number = words.partition(" ")[2].partition(":")[0].split(" ")[0]
    if not number.isdigit() or int(number) not in known:
        return words
    one = known[int(number)]
    return words.replace(f"Valve {number}", f"{one.stand.name}, valve {one.valve}", 1)


def _read(user: User, typed: Sequence[TypedSeat], diameter_mm: Decimal) -> list[_Known]:
    """Raises InvalidError with every valve that cannot be used."""
    faults: list[FieldFault] = []
    known: list[_Known] = []
    at: dict[int, tuple[Stand, Engine]] = {}
    for line in typed:
        if line.stand_id not in at:
            stand = stands.get_stand(user, line.stand_id)
            at[line.stand_id] = stand, engines.core_engine(stand.engine_version)
        stand, engine = at[line.stand_id]
        if one := _seat(stand, engine, line, len(known) + 1, diameter_mm, faults):
            known.append(one)
    places = [(one.stand.id, one.valve) for one in known]
    if len(set(places)) < len(places):
        faults.append(FieldFault("valves", "name a valve twice; give each once"))
    if not known and not faults:
        faults.append(FieldFault("valves", "are none; measure at least one"))
    if len(known) > MOST_SEATS:
        faults.append(FieldFault("valves", f"are {len(known)}; give at most {MOST_SEATS}"))
    if len({one.sizes for one in known}) > 1:
        faults.append(
            FieldFault("valves", "are of engines whose shims come in other steps; plan them apart")
        )
    if faults:
        told = "; ".join(f"{fault.path} {fault.problem}" for fault in faults[:3])
        raise InvalidError(f"No plan could be made: {told}.", faults)
    return known


def _seat(
    stand: Stand,
    engine: Engine,
    line: TypedSeat,
    number: int,
    diameter_mm: Decimal,
    faults: list[FieldFault],
) -> _Known | None:
    path = f"{stand.name}, valve {line.valve}"
    if line.valve not in engine.valve:
        faults.append(FieldFault(path, "is not on this engine"))
        return None
    role = engine.valve[line.valve].role
    shim = engine.adjuster_of(role).shim
    if shim is None:
        faults.append(FieldFault(path, "has no shims"))
        return None
    across = shim.diameter_mm
    if across is not None and abs(Decimal(str(across)) - diameter_mm) > SAME_ACROSS_MM:
        faults.append(FieldFault(path, f"takes shims of {across:g} mm across, not {diameter_mm:g}"))
        return None
    try:
        fitted, measured = (
            to_record_mm(parse_mm(text.strip(), Unit(unit)))
            for text, unit in ((line.fitted, "mm"), (line.measured, line.unit))
        )
    except (LengthError, ValueError) as fault:
        faults.append(FieldFault(path, str(fault)))
        return None
    if fitted <= 0 or measured < 0:
        faults.append(FieldFault(path, "has a figure below zero; a shim is thicker than nothing"))
        return None
    spec = engine.clearance[role]
    seat = Seat(number, fitted, measured, Spec(spec.low_mm, spec.high_mm))
    return _Known(stand, line.valve, seat, shim.sizes)
