"""Moving shims between valves before any are bought: the fewest purchases, exactly.

Every shim at hand (fitted or in stock) and one bought shim for each valve stand against every
valve; the assignment of least cost is found by `scipy.optimize.linear_sum_assignment` (the
modified Jonker-Volgenant algorithm of D. F. Crouse, 2016, as SciPy documents it). Costs are
whole numbers in tiers, so that one valve without a gap outweighs all that are out of spec, one
out of spec all purchases, one purchase all distances from the middle of the spec, and half a step
of distance all moves: the optimum is exact.
"""

from decimal import Decimal
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from valvetrain.adjusters import Sizes
from valvetrain.constants import (
    MOST_SEATS,
    MOST_SHIM_MM,
    MOST_SPREAD_MM,
    MOST_STOCK,
    RECORD_STEP_MM,
)
from valvetrain.document import DocumentError, Node
from valvetrain.gauges import Spec

# What a swap costs, in moves of one shim. The order is the rule; the sizes follow from it.
MOVE = 1
HALF_STEP = MOST_SEATS + 1
"""Half a step away from the middle outweighs moving every shim."""
FURTHEST = int(MOST_SPREAD_MM / RECORD_STEP_MM)
"""In half steps. What lies further from the middle is all alike."""
BUY = HALF_STEP * (FURTHEST + 1) * MOST_SEATS
OUT = BUY * (MOST_SEATS + 1)
NO_GAP = OUT * (MOST_SEATS + 1)
"""NO_GAP times MOST_SEATS stays below 2**53, where float64 still counts every whole number."""


class Seat(NamedTuple):
    """One valve: what lies in it and what was measured."""

    valve: int
    fitted_mm: Decimal
    measured_mm: Decimal
    spec: Spec

    @property
    def together_mm(self) -> Decimal:
        return self.fitted_mm + self.measured_mm


class Move(NamedTuple):
    """source is `keep`, `valve N`, `stock` or `buy`."""

    valve: int
    size_mm: Decimal
    source: str
    clearance_mm: Decimal
    within: bool


class Swap(NamedTuple):
    moves: tuple[Move, ...]
    buy_mm: tuple[Decimal, ...]
    left_over_mm: tuple[Decimal, ...]
    warnings: tuple[str, ...]


def read_swap(document: Any) -> tuple[list[Seat], Sizes, list[Decimal]]:
    """The file of `edrix calc shim-swap`. Raises DocumentError with every fault found."""
    root = Node(document)
    if not root.is_object("an object with valves, sizes_mm and stock_mm"):
        raise DocumentError(root.faults)
    seats = [
        _read_seat(node)
        for node in root["valves"].items("a list of measured valves", most=MOST_SEATS)
    ]
    sizes = root["sizes_mm"]
    grid = Sizes(*(sizes[key].decimal("a length", high=MOST_SHIM_MM, above=True) for key in _GRID))
    stock = root["stock_mm"]
    at_hand = (
        []
        if stock.missing
        else [
            node.decimal("a shim's thickness", high=MOST_SHIM_MM, above=True)
            for node in stock.items("a list of thicknesses", most=MOST_STOCK)
        ]
    )
    if not root.faults and not seats:
        root["valves"].fault("is empty; give at least one measured valve")
    if len({seat.valve for seat in seats}) < len(seats):
        root["valves"].fault("names a valve twice; give each valve once")
    if not root.faults and grid.from_mm > grid.to_mm:
        sizes.fault("goes from thick to thin; give the thinnest size as from")
    if root.faults:
        raise DocumentError(root.faults)
    return seats, grid, at_hand


_GRID = ("from", "to", "step")


def _read_seat(node: Node) -> Seat:
    length = "a length in mm"
    seat = Seat(
        valve=node["valve"].whole("the valve's number", low=1, high=9999),
        fitted_mm=node["fitted_mm"].decimal(length, high=MOST_SHIM_MM, above=True),
        measured_mm=node["measured_mm"].decimal(length, high=5),
        spec=Spec(
            node["min_mm"].decimal(length, high=2, above=True),
            node["max_mm"].decimal(length, high=2, above=True),
        ),
    )
    if seat.spec.min_mm > seat.spec.max_mm:
        node["min_mm"].fault("is above max_mm; give the smaller limit as min_mm")
    return seat


def swap_shims(seats: list[Seat], sizes: Sizes, stock_mm: list[Decimal]) -> Swap:
    """The fewest bought shims that bring every valve within its spec, then as close to the
    middle as possible (the sum of distances), then the fewest moved.

    A valve that nothing reaches is named in `warnings` and comes as near as what is at hand
    allows. None is left without a gap where any shim, bought if need be, gives it one.
    Raises adjusters.AdjusterError for sizes that cannot be.
    """
    from scipy.optimize import linear_sum_assignment  # slow to load, and needed only here

    at_hand = [seat.fitted_mm for seat in seats] + list(stock_mm)
    bought = _best_bought(seats, sizes)
    costs = np.hstack([_costs_at_hand(seats, at_hand), _costs_bought(seats, bought)])
    _, columns = linear_sum_assignment(costs)
    moves = tuple(
        _move(seat, int(column), seats, at_hand, bought[row])
        for row, (seat, column) in enumerate(zip(seats, columns, strict=True))
    )
    used = {int(column) for column in columns}
    left = [size for index, size in enumerate(at_hand) if index not in used]
    return Swap(
        moves=moves,
        buy_mm=tuple(sorted(move.size_mm for move in moves if move.source == "buy")),
        left_over_mm=tuple(sorted(left)),
        warnings=_warnings(seats, moves),
    )


def _steps(length_mm: Decimal) -> int:
    return int((length_mm / RECORD_STEP_MM).to_integral_value())


def _costs_at_hand(seats: list[Seat], at_hand: list[Decimal]) -> NDArray[np.float64]:
    sizes = np.array([_steps(size) for size in at_hand], dtype=np.int64)
    costs = np.empty((len(seats), len(at_hand)))
    for row, seat in enumerate(seats):
        costs[row] = _of_gaps(seat, _steps(seat.together_mm) - sizes) + MOVE
        costs[row, row] -= MOVE
    return costs


def _of_gaps(seat: Seat, gaps: NDArray[np.int64]) -> NDArray[np.float64]:
    """What these gaps at one valve cost, in record steps; every array of one length."""
    low, high = _steps(seat.spec.min_mm), _steps(seat.spec.max_mm)
    # Halves of a step count: the middle of a spec may lie between two steps.
    away = np.minimum(np.abs(2 * gaps - low - high), FURTHEST)
    out = (gaps < low) | (gaps > high)
    return (away * HALF_STEP + np.where(out, OUT, 0) + np.where(gaps <= 0, NO_GAP, 0)).astype(
        np.float64
    )


def _best_bought(seats: list[Seat], sizes: Sizes) -> list[Decimal]:
    """For each valve the size that is made which costs least by the rule of all others: within the
    spec before out of it, a gap before none, then nearest the middle; of equals the thinner."""
    grid = sizes.all()
    made = np.array([_steps(size) for size in grid], dtype=np.int64)
    costs = (_of_gaps(seat, _steps(seat.together_mm) - made) for seat in seats)
    return [grid[int(own.argmin())] for own in costs]


def _costs_bought(seats: list[Seat], bought: list[Decimal]) -> NDArray[np.float64]:
    """One column for each valve's own purchase; no other valve may take it."""
    costs = np.full((len(seats), len(seats)), np.inf)
    for row, (seat, size) in enumerate(zip(seats, bought, strict=True)):
        gap = np.array([_steps(seat.together_mm) - _steps(size)], dtype=np.int64)
        costs[row, row] = BUY + _of_gaps(seat, gap)[0] + MOVE
    return costs


def _move(
    seat: Seat, column: int, seats: list[Seat], at_hand: list[Decimal], bought: Decimal
) -> Move:
    if column >= len(at_hand):
        size, source = bought, "buy"
    else:
        size = at_hand[column]
        source = "stock" if column >= len(seats) else f"valve {seats[column].valve}"
        if column < len(seats) and seats[column].valve == seat.valve:
            source = "keep"
    clearance = seat.together_mm - size
    within = seat.spec.min_mm <= clearance <= seat.spec.max_mm
    return Move(seat.valve, size, source, clearance, within)


def _warnings(seats: list[Seat], moves: tuple[Move, ...]) -> tuple[str, ...]:
    said = [
        f"Valve {move.valve}: no shim at hand and none that is made brings it within its spec."
        for move in moves
        if not move.within
    ]
    said += [
        f"Valve {move.valve}: every shim that is made or at hand leaves it no gap at all."
        for move in moves
        if move.clearance_mm <= 0
    ]
    said += [
        f"Valve {seat.valve} was measured with no gap: its true clearance may be below zero. "
        "Fit a shim that leaves a gap for certain, measure, and work it out again."
        for seat in seats
        if seat.measured_mm == 0
    ]
    return tuple(said)
