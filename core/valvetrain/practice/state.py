"""Where a run stands: everything that actions change. Immutable; `setup.py` has what they do not.

Shim sizes are whole micrometres, so that none is made or lost by rounding.
"""

from typing import NamedTuple

from valvetrain.practice.setup import Setup


class ShimSeat(NamedTuple):
    """One valve now. clearance_mm is the true clearance on the heel of a cold engine with its
    screw, nut and shim as they are; below zero the valve is held off its seat."""

    clearance_mm: float
    nut_tight: bool = True
    creep_mm: float = 0.0
    """What the tight nut has moved the screw by; taken back when it is loosened."""
    torque_share: float = 1.0
    """Of the maker's torque, when it was last tightened."""
    seized: bool = False
    warned: bool = False
    """Told that the torque asked for is far above the maker's."""
    stretched: bool = False
    screw_deg: float = 0.0
    """Turned so far; clockwise is positive."""
    shim_um: int | None = None
    """None where it has a screw, and while its shim is out: clearance_mm is then without it."""
    aside_um: int | None = None
    """The shim that was last taken out here, lying in front of its valve."""
    face_up: bool = False
    closing_mm: float | None = None
    """The gap of the rocker that pulls the valve shut; None where it has none."""
    closing_um: int | None = None
    closing_aside_um: int | None = None
    """Its shim in place, and the one that was last taken out."""
    detent: bool = False
    """A brake rocker pushed back, a push rod pressed down or a follower lifted since the crank last
    moved."""
    near_only: bool = False
    """Whether the last leaf tried here is under one side of the bridge only."""
    done: bool = False


class Note(NamedTuple):
    """A figure on the notepad, as written."""

    valve: int
    column: str
    text: str


class State(NamedTuple):
    crank_deg: float
    seats: tuple[ShimSeat, ...]
    box_um: tuple[int, ...]
    """Shims in the box, sorted."""
    closing_box_um: tuple[int, ...] = ()
    """Closing shims, which are other parts."""
    lag_deg: float = 0.0
    """How far the cam stands ahead of the crank, after turning back against the slack."""
    turned_deg: float = 0.0
    stood_h: float = 0.0
    """How long the engine was let stand in this run."""
    step: int = 0
    """Actions applied so far; the scatter of a hand is drawn by it."""
    cam_late_deg: float = 0.0
    cams_out: bool = False
    cams_out_at_deg: float = 0.0
    crank_locked: bool = False
    tool_on: bool = True
    tools_counted: bool = False
    closed: bool = False
    started: bool = False
    notes: tuple[Note, ...] = ()
    dots_deg: tuple[float, ...] = ()
    """Dots of the student's own on the pulley, by the place in its turn at which each lines up."""

    @property
    def cam_deg(self) -> float:
        """The crank angle that the cams stand at."""
        return (self.crank_deg + self.lag_deg - self.cam_late_deg) % 720.0


def first_state(setup: Setup) -> State:
    """The engine as the student finds it, cover off and the turning tool on the crank."""
    seats = tuple(
        ShimSeat(
            clearance_mm=hidden.clearance_mm,
            creep_mm=hidden.creep_mm,
            seized=hidden.seized,
            shim_um=hidden.shim_um,
            closing_mm=hidden.closing_mm,
            closing_um=hidden.closing_um,
        )
        for hidden in setup.hidden
    )
    start_deg = setup.start_deg
    if start_deg is None:
        start_deg = float(setup.seed * 37 % 72 * 10)
    return State(
        start_deg,
        seats,
        setup.box_um,
        setup.closing_box_um,
        cam_late_deg=setup.cam_late_deg,
    )
