"""The shim store, for people who teach: in and out, counted, never below zero, and what is short.

Every booking takes the row of its size under lock: when two people take the last shim at once, one
of them is told that it is gone. What is held back for a valve is in the box, but not free.
"""

from collections.abc import Collection, Iterable, Mapping
from dataclasses import dataclass
from decimal import Decimal
from typing import NamedTuple

from django.db import transaction
from django.db.models import Count, QuerySet

from edrix.accounts.models import User
from edrix.errors import ConflictError, FieldFault, InvalidError, NotFoundError
from edrix.logbook import services as logbook
from edrix.stands import hall
from edrix.store.models import Held as Held
from edrix.store.models import ShimMove, ShimSize
from valvetrain.constants import MOST_SHIM_MM
from valvetrain.units import LengthError, parse_figure

MOST_AT_ONCE = 500
"""Shims of one booking. Limit."""
MOST_DIAMETER_MM = 60
NEWEST_MOVES = 60
Why = ShimMove.Why


class Stock(NamedTuple):
    """A size as it lies in the store: free is what nobody holds back, short how many are missing to
    the least stock."""

    shim: ShimSize
    held: int

    @property
    def free(self) -> int:
        return max(0, self.shim.count - self.held)

    @property
    def short(self) -> int:
        """What a plan has promised a valve and is not there yet is to be ordered, too."""
        return max(0, self.shim.least + self.held - self.shim.count)


def store(user: User) -> list[Stock]:
    """Every size, by diameter and thickness."""
    hall.require_teacher(user)
    sizes = ShimSize.objects.annotate(held_back=Count("held")).order_by("diameter_mm", "size_mm")
    return [Stock(shim, shim.held_back) for shim in sizes]


def short(user: User) -> list[Stock]:
    """What should be ordered."""
    return [stock for stock in store(user) if stock.short]


def newest_moves(user: User, shim_id: int | None = None) -> QuerySet[ShimMove]:
    hall.require_teacher(user)
    moves = ShimMove.objects.select_related("shim", "stand", "made_by").order_by("-id")
    return (moves if shim_id is None else moves.filter(shim_id=shim_id))[:NEWEST_MOVES]


@dataclass(frozen=True, slots=True)
class TypedSize:
    """A size as somebody typed it; figures of length as text."""

    diameter: str
    size: str
    count: int = 0
    least: int = 0
    place: str = ""


@transaction.atomic
def add_size(user: User, typed: TypedSize) -> ShimSize:
    """A size that the store has not yet. Raises InvalidError, or ConflictError where it has."""
    hall.require_teacher(user)
    diameter, size = read_size(typed.diameter, typed.size)
    shim, is_new = ShimSize.objects.get_or_create(
        diameter_mm=diameter,
        size_mm=size,
        defaults={"least": typed.least, "place": " ".join(typed.place.split())},
    )
    if not is_new:
        raise ConflictError(
            f"The store has {size.normalize():f} of {diameter.normalize():f} mm already; "
            "book what came in there."
        )
    if typed.count:
        _book(user, shim.id, typed.count, Why.IN)
    return shim


def read_size(diameter: str, size: str) -> tuple[Decimal, Decimal]:
    """Raises InvalidError with every figure that is none."""
    faults: list[FieldFault] = []
    found = [
        _length(diameter, "diameter", MOST_DIAMETER_MM, Decimal("0.01"), faults),
        _length(size, "size", MOST_SHIM_MM, Decimal("0.001"), faults),
    ]
    if faults:
        told = "; ".join(f"{fault.path}: {fault.problem}" for fault in faults)
        raise InvalidError(f"That is no shim. {told}.", faults)
    return found[0], found[1]


def _length(text: str, path: str, most: int, step: Decimal, faults: list[FieldFault]) -> Decimal:
    try:
        length = parse_figure(text).quantize(step)
    except LengthError as fault:
        faults.append(FieldFault(path, str(fault)))
        return Decimal(0)
    if not 0 < length <= most:
        faults.append(FieldFault(path, f"is {length} mm; give more than 0, to {most} mm"))
    return length


@transaction.atomic
def change_size(
    user: User, shim_id: int, *, least: int | None = None, place: str | None = None
) -> None:
    hall.require_teacher(user)
    shim = _locked(shim_id)
    if least is not None:
        shim.least = least
    if place is not None:
        shim.place = " ".join(place.split())
    shim.save(update_fields=["least", "place"])


@transaction.atomic
def book(
    user: User,
    shim_id: int,
    change: int,
    *,
    note: str = "",
    stand_id: int | None = None,
    valve: int | None = None,
) -> ShimMove:
    """In (positive) or out (negative). Raises ConflictError where so many are not free."""
    hall.require_teacher(user)
    if change == 0 or abs(change) > MOST_AT_ONCE:
        problem = f"is {change}; give how many came in, or went out with a minus, to {MOST_AT_ONCE}"
        raise InvalidError(f"The change {problem}.", [FieldFault("change", problem)])
    why = Why.IN if change > 0 else Why.OUT
    return _book(user, shim_id, change, why, note=note, stand_id=stand_id, valve=valve)


def _book(
    user: User,
    shim_id: int,
    change: int,
    why: str,
    *,
    note: str = "",
    stand_id: int | None = None,
    valve: int | None = None,
) -> ShimMove:
    """Within a transaction. What is held back can't be taken for anything else."""
    shim = _locked(shim_id)
    asks = change < 0 and why != Why.FITTED
    held = Held.objects.filter(shim=shim).count() if asks else 0
    if change < 0 and shim.count - held < -change:
        free = max(0, shim.count - held)
        also = f" ({held} more held back for valves)" if held else ""
        raise ConflictError(
            f"Of {shim.size_mm.normalize():f} mm {free or 'none'} "
            f"{'is' if free < 2 else 'are'} free{also}; {-change} can't be taken out."
        )
    shim.count += change
    shim.save(update_fields=["count"])
    return ShimMove.objects.create(
        shim=shim,
        why=why,
        change=change,
        count_after=shim.count,
        stand_id=stand_id,
        valve=valve,
        note=" ".join(note.split()),
        made_by=user,
    )


def _locked(shim_id: int) -> ShimSize:
    shim = ShimSize.objects.select_for_update().filter(id=shim_id).first()
    if shim is None:
        raise NotFoundError(f"There is no shim {shim_id} in the store.")
    return shim


class Counted(NamedTuple):
    """there is how many were counted, seen how many the page showed then."""

    shim_id: int
    there: int
    seen: int


@transaction.atomic
def take_count(user: User, counted: Iterable[Counted]) -> int:
    """What was counted by hand, all of it or nothing; gives how many sizes differed. Raises
    ConflictError where something was booked since the sheet was printed or opened."""
    hall.require_teacher(user)
    changed = 0
    for one in sorted(counted):
        shim = _locked(one.shim_id)
        if shim.count != one.seen:
            raise ConflictError(
                f"{shim.size_mm.normalize():f} mm of {shim.diameter_mm.normalize():f} mm was "
                f"booked meanwhile: it was {one.seen}, and is {shim.count}. Count that box again."
            )
        held = Held.objects.filter(shim=shim).count()
        if one.there < held:
            raise ConflictError(
                f"{held} of {shim.size_mm.normalize():f} mm are held back for valves, and "
                f"{one.there} were counted; let some go first."
            )
        if one.there != shim.count:
            changed += 1
            difference = one.there - shim.count
            shim.count = one.there
            shim.save(update_fields=["count"])
            ShimMove.objects.create(
                shim=shim,
                why=Why.COUNTED,
                change=difference,
                count_after=one.there,
                made_by=user,
            )
    return changed


@transaction.atomic
def hold(user: User, shim_id: int, stand_id: int, valve: int, returns: Decimal | None) -> Held:
    """Holds one back for a valve. Raises ConflictError where none is free, or the valve has one."""
    shim = _locked(shim_id)
    held = Held.objects.filter(shim=shim).count()
    if shim.count - held < 1:
        raise ConflictError(f"No shim of {shim.size_mm.normalize():f} mm is free any more.")
    return _promise(user, shim, stand_id, valve, returns)


def order_for(
    user: User,
    sizes: tuple[Decimal, Decimal],
    stand_id: int,
    valve: int,
    returns: Decimal | None,
) -> Held:
    """Promises a valve a shim that is still to be bought, diameter and size: it is short from now
    on. Raises ConflictError where the valve has one."""
    diameter, size = sizes
    box, _ = ShimSize.objects.get_or_create(diameter_mm=diameter, size_mm=size)
    return _promise(user, _locked(box.id), stand_id, valve, returns)


def require_unpromised(valves: Collection[tuple[int, int]]) -> None:
    """Stands and valves. Raises ConflictError: a plan made again would promise them twice."""
    stands = {stand_id for stand_id, _ in valves}
    for held in Held.objects.filter(stand_id__in=stands).select_related("stand"):
        if (held.stand_id, held.valve) in valves:
            raise ConflictError(
                f"A shim is held back for valve {held.valve} of {held.stand.name} already; fit it, "
                "or let it go first."
            )


def _promise(
    user: User, shim: ShimSize, stand_id: int, valve: int, returns: Decimal | None
) -> Held:
    if Held.objects.filter(stand_id=stand_id, valve=valve).exists():
        raise ConflictError(
            f"A shim is held back for valve {valve} already; fit it, or let it go first."
        )
    return Held.objects.create(
        shim=shim, stand_id=stand_id, valve=valve, returns_mm=returns, made_by=user
    )


def held_now(user: User) -> QuerySet[Held]:
    hall.require_teacher(user)
    return Held.objects.select_related("shim", "stand", "made_by").order_by("stand__name", "valve")


@transaction.atomic
def let_go(user: User, held_id: int) -> None:
    hall.require_teacher(user)
    _held(held_id).delete()


@transaction.atomic
def fitted(user: User, held_id: int, took_out: str = "") -> ShimMove:
    """The held shim went into its valve. took_out is the micrometer size of the one that is left
    over: it goes into its box, by what was measured; blank where none is."""
    hall.require_teacher(user)
    held = _held(held_id)
    stand_id, valve = held.stand_id, held.valve
    shim_id, diameter = held.shim_id, held.shim.diameter_mm
    fitted_mm = held.shim.size_mm
    held.delete()
    move = _book(user, shim_id, -1, Why.FITTED, stand_id=stand_id, valve=valve)
    if took_out.strip():
        _, size = read_size(f"{diameter:f}", took_out)
        box, _ = ShimSize.objects.get_or_create(diameter_mm=diameter, size_mm=size)
        _book(user, box.id, 1, Why.BACK, stand_id=stand_id, valve=valve)
    logbook.shim_fitted(user, held.stand, valve, fitted_mm)
    return move


def _held(held_id: int) -> Held:
    held = (
        Held.objects.select_for_update(of=("self",))
        .select_related("shim", "stand")
        .filter(id=held_id)
        .first()
    )
    if held is None:
        raise NotFoundError("That shim is held back no more: it was fitted or let go meanwhile.")
    return held


def free_by_size(diameter_mm: Decimal) -> Mapping[Decimal, tuple[int, int]]:
    """Size to (id, how many are free) of one diameter."""
    sizes = ShimSize.objects.filter(diameter_mm=diameter_mm).annotate(held_back=Count("held"))
    return {shim.size_mm: (shim.id, max(0, shim.count - shim.held_back)) for shim in sizes}
