"""A valve that is left loose, with its reason on the notepad: where no shim that is made lands any
nearer to the spec on the loose side, leaving it is right (common practice). Below the minimum no
reason counts."""

from decimal import Decimal

from valvetrain.constants import UM_PER_MM
from valvetrain.grading.leaving import ACCEPTED_BY, Left, mark_left
from valvetrain.practice.measuring import is_out
from valvetrain.practice.setup import Setup
from valvetrain.practice.state import State
from valvetrain.units import to_record_mm

LEAVE_COLUMN, NO_BETTER = "leave", "no-better"
"""The column of the notepad, and the one reason that a run takes: the same word as on a sheet."""


def is_left_with_reason(setup: Setup, state: State, valve: int) -> bool:
    """Whether the reason is written and true of the gap as it stands."""
    note = next((n for n in state.notes if (n.valve, n.column) == (valve, LEAVE_COLUMN)), None)
    seat = state.seats[setup.place[valve]]
    shim = setup.engine.adjuster(valve).shim
    if note is None or note.text != NO_BETTER or shim is None or seat.shim_um is None:
        return False
    if is_out(setup, state, valve):
        return False
    return no_better(setup, valve, Decimal(str(seat.clearance_mm)), seat.shim_um)


def no_better(setup: Setup, valve: int, gap_mm: Decimal, fitted_um: int) -> bool:
    """Whether a valve is loose, and the next thicker shim would leave it below its minimum."""
    spec = setup.engine.clearance[setup.engine.valve[valve].role]
    shim = setup.engine.adjuster(valve).shim
    if shim is None or gap_mm <= spec.high_mm:
        return False
    left = Left(
        to_record_mm(gap_mm),
        (to_record_mm(spec.low_mm), to_record_mm(spec.high_mm)),
        shim.sizes,
        Decimal(fitted_um) / UM_PER_MM,
        spec.unit,
    )
    return mark_left(left, NO_BETTER, {ACCEPTED_BY[NO_BETTER]}).right
