"""What can be seen of a practice engine without touching it. Nothing hidden is in it."""

from typing import NamedTuple

from valvetrain.angles import TURN_DEG
from valvetrain.practice.constants import SEEN_STEP_MM
from valvetrain.practice.measuring import lift_mm
from valvetrain.practice.setup import Setup
from valvetrain.practice.state import Note, State


class SeenValve(NamedTuple):
    valve: int
    down_mm: float
    """How far its rocker or bucket is pressed down, to the tenth of a millimetre."""
    nut_tight: bool | None
    """None where it has no lock nut."""
    shim_out: bool
    shim_aside: bool
    done: bool
    closing_shim_out: bool = False
    closing_shim_aside: bool = False


class View(NamedTuple):
    """crank_turn_deg tells the crank's place in its turn, not which of the two turns it is; cam_deg
    tells where the cams stand, and so the stroke: only where everything is shown."""

    step: int
    crank_turn_deg: float
    valves: tuple[SeenValve, ...]
    notes: tuple[Note, ...]
    box_um: tuple[int, ...]
    closing_box_um: tuple[int, ...]
    cams_out: bool
    crank_locked: bool
    tool_on: bool
    tools_counted: bool
    closed: bool
    started: bool
    cam_deg: float | None
    dots_deg: tuple[float, ...]
    """The student's own, on the pulley."""


def view(setup: Setup, state: State) -> View:
    valves = []
    for valve, hidden, seat in zip(setup.engine.valves, setup.hidden, state.seats, strict=True):
        has_nut = setup.engine.adjuster(valve.number).has_nut
        lift = 0.0 if state.cams_out else lift_mm(setup, state, valve.number)
        down = max(0.0, lift - setup.lobes[valve.number].clearance_mm)
        valves.append(
            SeenValve(
                valve=valve.number,
                down_mm=round(round(down / SEEN_STEP_MM) * SEEN_STEP_MM, 1),
                nut_tight=seat.nut_tight if has_nut else None,
                shim_out=hidden.shim_um is not None and seat.shim_um is None,
                shim_aside=seat.aside_um is not None,
                done=seat.done,
                closing_shim_out=hidden.closing_um is not None and seat.closing_um is None,
                closing_shim_aside=seat.closing_aside_um is not None,
            )
        )
    return View(
        step=state.step,
        crank_turn_deg=state.crank_deg % TURN_DEG,
        valves=tuple(valves),
        notes=state.notes,
        box_um=state.box_um,
        closing_box_um=state.closing_box_um,
        cams_out=state.cams_out,
        crank_locked=state.crank_locked,
        tool_on=state.tool_on,
        tools_counted=state.tools_counted,
        closed=state.closed,
        started=state.started,
        cam_deg=state.cam_deg if setup.level == "shown" and not state.cams_out else None,
        dots_deg=state.dots_deg,
    )
