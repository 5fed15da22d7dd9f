"""Turning and looking: the crank, the slack, and what rockers, marks and lobes show.

What an engine has not got is refused only where its file says so: files of before say nothing of
valve train and ignition, and runs on those are replayed as they were.
"""

from valvetrain.angles import CYCLE_DEG, TURN_DEG, stroke_at
from valvetrain.engine import Role, TimingMark
from valvetrain.heel import ValveState, valve_margin_deg
from valvetrain.looks import GEAR, has_rotor, lobes_hidden, looks
from valvetrain.practice.actions import Look, Paint, Push, Turn, Wiggle
from valvetrain.practice.constants import (
    AT_POINTER_DEG,
    HAND_WARM,
    MOST_DOTS,
    PLAY_MM,
    RATTLES_MM,
    SEEN_DEG,
    WIGGLE_HAND_MM,
)
from valvetrain.practice.measuring import (
    lift_mm,
    need_cams,
    put_seat,
    raw_gap_mm,
    seat_of,
    warmth,
)
from valvetrain.practice.observation import Observation, RefusedActionError, scatter
from valvetrain.practice.setup import Setup
from valvetrain.practice.state import ShimSeat, State
from valvetrain.rocking import Rocked, rocked
from valvetrain.signs import signs_of
from valvetrain.turned import hand_turning


def apply_turn(setup: Setup, state: State, action: Turn) -> tuple[State, Observation]:
    if state.crank_locked:
        raise RefusedActionError("The crank is locked: free it before you turn it.")
    if not state.tool_on:
        raise RefusedActionError(f"Nothing turns: {hand_turning(setup.engine).is_off}.")
    slack_deg = setup.engine.turning.backlash_deg
    after = state._replace(
        crank_deg=round((state.crank_deg + action.by_deg) % CYCLE_DEG, 4) % CYCLE_DEG,
        lag_deg=min(slack_deg, max(0.0, state.lag_deg - action.by_deg)),
        turned_deg=state.turned_deg + abs(action.by_deg),
        seats=_off_detent(state),
    )
    way = "on" if action.by_deg >= 0 else "back"
    at = _mark_at(setup, after, AT_POINTER_DEG)
    says = f"Turned {abs(action.by_deg):g}° {way}" + (
        f": mark {at} is at the pointer." if at else "."
    )
    return after, Observation(says, {"turned_deg": action.by_deg, "mark": at})


def _off_detent(state: State) -> tuple[ShimSeat, ...]:
    """What was pushed back, pressed down or lifted hangs again once the crank has moved."""
    if not any(seat.detent for seat in state.seats):
        return state.seats
    return tuple(seat._replace(detent=False) if seat.detent else seat for seat in state.seats)


def apply_rock(setup: Setup, state: State) -> tuple[State, Observation]:
    """Which rockers move when the crank is rocked; the crank comes back to its place."""
    if state.crank_locked or not state.tool_on or state.cams_out:
        raise RefusedActionError("The crank cannot be rocked: it is locked, or the cams are out.")
    turned = setup.as_turned
    found: dict[tuple[int, str], Rocked] = {}
    moves: dict[int, Rocked] = {}
    for valve in turned.valves:
        place = (valve.cylinder, turned.cycle_key(valve))
        if place not in found:
            cycle_deg = turned.cycle_deg(valve.cylinder, state.cam_deg)
            found[place] = rocked(setup.lobes[valve.number], cycle_deg)
        moves[valve.number] = found[place]
    opens_on = [number for number, move in moves.items() if move.forward]
    opens_back = [number for number, move in moves.items() if move.back]
    says = f"Rocked on, {_listed(opens_on)} pressed down; rocked back, {_listed(opens_back)}."
    return state, Observation(says, {"opens_on": opens_on, "opens_back": opens_back})


def apply_wiggle(setup: Setup, state: State, action: Wiggle) -> tuple[State, Observation]:
    need_cams(setup, state, action.valve)
    if action.gap == "closing":
        return state, _turn_closing_shim(setup, state, action.valve)
    gear = GEAR[setup.engine.train(action.valve)]
    role = setup.engine.valve[action.valve].role
    if not gear.wiggles and not setup.engine.is_train_assumed(role):
        raise RefusedActionError(
            f"Valve {action.valve} has a {gear.part}: there is nothing to wiggle. Look at its lobe."
        )
    gap = raw_gap_mm(setup, state, action.valve) + scatter(setup, state, WIGGLE_HAND_MM)
    if gap > 2 * float(setup.engine.clearance[role].high_mm) + RATTLES_MM:
        play, says = "loose", "rattles: far more play than a gap should have"
    elif gap > PLAY_MM:
        play, says = "loose", "is loose"
    elif gap > 0:
        play, says = "little", "has hardly any play"
    else:
        play, says = "none", "has no play: it is held tight"
    part = gear.part.capitalize()
    return state, Observation(f"{part} {action.valve} {says}.", {"play": play})


def _turn_closing_shim(setup: Setup, state: State, valve: int) -> Observation:
    """Near nothing, and felt rather than measured: with the helper spring lifted off, the closing
    shim turns between two fingers as long as there is any gap (common practice)."""
    gap = raw_gap_mm(setup, state, valve, "closing") + scatter(setup, state, WIGGLE_HAND_MM)
    if gap > PLAY_MM:
        play, says = "loose", "turns freely, and its rocker gives when it is pressed"
    elif gap > 0:
        play, says = "little", "turns with hardly any play"
    else:
        play, says = "none", "does not turn: the closing rocker holds it fast"
    return Observation(f"The closing shim of valve {valve} {says}.", {"play": play})


def apply_paint(setup: Setup, state: State, action: Paint) -> tuple[State, Observation]:
    """A dot on the pulley where the pointer is: a place to come back to, whatever the marks say."""
    at_deg = state.crank_deg % TURN_DEG
    here = [
        dot
        for dot in state.dots_deg
        if abs(_turned_past_deg(at_deg, dot, TURN_DEG)) <= AT_POINTER_DEG
    ]
    if action.wipe:
        if not here:
            raise RefusedActionError("There is no dot of yours at the pointer to wipe off.")
        left = tuple(dot for dot in state.dots_deg if dot not in here)
        return state._replace(dots_deg=left), Observation("Your dot is wiped off.")
    if here:
        raise RefusedActionError("There is a dot of yours at the pointer already.")
    if len(state.dots_deg) >= MOST_DOTS:
        raise RefusedActionError(
            f"There are {MOST_DOTS} dots on the pulley: wipe one off, or nobody knows which is "
            "which."
        )
    dots = tuple(sorted((*state.dots_deg, round(at_deg, 4))))
    return state._replace(dots_deg=dots), Observation(
        "A dot of paint is on the pulley, at the pointer."
    )


def apply_push(setup: Setup, state: State, action: Push) -> tuple[State, Observation]:
    seat = seat_of(setup, state, action.valve)
    gear = GEAR[setup.engine.train(action.valve)]
    if setup.engine.valve[action.valve].role is Role.BRAKE:
        says = f"Brake rocker {action.valve} is pushed back to its detent."
    elif gear.has_rod:
        says = f"The push rod of valve {action.valve} is pressed down: its slack is out."
    elif gear.is_lifted:
        says = f"The {gear.part} of valve {action.valve} is lifted, and stays up."
    else:
        raise RefusedActionError(
            f"The {gear.part} of valve {action.valve} has nothing to push or to lift."
        )
    back = seat._replace(detent=True)
    return put_seat(setup, state, action.valve, back), Observation(says)


def apply_look(setup: Setup, state: State, action: Look) -> tuple[State, Observation]:
    looks = {
        "marks": _look_marks,
        "rotor": _look_rotor,
        "lobes": _look_lobes,
        "threads": _look_threads,
        "pads": _look_pads,
        "engine": _look_engine,
    }
    return state, looks[action.at](setup, state)


def _look_marks(setup: Setup, state: State) -> Observation:
    said = []
    for dot_deg in state.dots_deg:
        past = _turned_past_deg(state.crank_deg, dot_deg, TURN_DEG)
        if abs(past) <= SEEN_DEG:
            said.append(f"your own dot {_past_words(None, past)}")
    for mark in setup.marks:
        if mark.on == "crank":
            past = _turned_past_deg(state.crank_deg, mark.deg, TURN_DEG)
            if abs(past) <= SEEN_DEG:
                said.append(f"crank mark {mark.label} {_past_words(mark, past)}")
        elif not state.cams_out:
            past = _turned_past_deg(state.cam_deg, mark.deg, CYCLE_DEG)
            if abs(past) <= SEEN_DEG + setup.half_tooth_deg:
                tooth_deg = 2 * setup.half_tooth_deg
                said.append(f"cam mark {mark.label} {_past_words(mark, past, tooth_deg)}")
    return Observation(_sentence("; ".join(said) or "no mark is near the pointer"))


def _sentence(words: str) -> str:
    """A full sentence; labels keep the letters that are stamped on the engine."""
    return f"{words[0].upper()}{words[1:]}."


def _past_words(mark: TimingMark | None, past_deg: float, tooth_deg: float | None = None) -> str:
    """`3° past the notch`, `at the head face, at 12 o'clock`; of a cam mark that is off also in
    teeth of its sprocket."""
    pointer = f"the {mark.pointer}" if mark is not None and mark.pointer else "its pointer"
    if abs(past_deg) <= AT_POINTER_DEG:
        clock = "" if mark is None or mark.clock is None else f", at {mark.clock} o'clock"
        return f"at {pointer}{clock}"
    way = f"{abs(past_deg):.0f}° {'past' if past_deg > 0 else 'before'} {pointer}"
    return way if tooth_deg is None else f"{way} ({abs(past_deg) / tooth_deg:.1f} teeth)"


def _turned_past_deg(at_deg: float, mark_deg: float, period_deg: float) -> float:
    return (at_deg - mark_deg + period_deg / 2) % period_deg - period_deg / 2


def _mark_at(setup: Setup, state: State, within_deg: float) -> str | None:
    """The crank mark at the pointer. Its label only: whether it is the right one is not said."""
    near = [
        (abs(_turned_past_deg(state.crank_deg, mark.deg, TURN_DEG)), mark.label)
        for mark in setup.marks
        if mark.on == "crank"
    ]
    best = min(near, default=None)
    return best[1] if best is not None and best[0] <= within_deg else None


def _look_rotor(setup: Setup, state: State) -> Observation:
    """The rotor turns with the cam and points at the lead of the cylinder that fires nearest."""
    if setup.engine.ignition is not None and not has_rotor(setup.engine):
        raise RefusedActionError("This engine has no distributor, so no rotor to look at.")
    if state.cams_out:
        raise RefusedActionError("The cams are out: the rotor tells nothing.")
    away = {
        cylinder: abs(_turned_past_deg(state.cam_deg, fire_deg, CYCLE_DEG))
        for cylinder, fire_deg in setup.engine.fire_deg.items()
    }
    nearest = min(away, key=lambda cylinder: away[cylinder])
    return Observation(f"The rotor points towards lead {nearest}.", {"cylinder": nearest})


def _look_lobes(setup: Setup, state: State) -> Observation:
    if state.cams_out:
        raise RefusedActionError("The cams are out.")
    hidden = lobes_hidden(setup.engine)
    offered = any(look.name == "lobes" for look in looks(setup.engine))
    if hidden is not None and not offered and setup.engine.trains:
        raise RefusedActionError(hidden)
    said = []
    for cylinder in sorted(setup.engine.firing_order):
        states = {
            valve.role: _seen_state(setup, state, valve.number)
            for valve in setup.engine.valves_of(cylinder)
        }
        stroke = stroke_at(setup.engine.cycle_deg(cylinder, state.crank_deg))
        lobes = signs_of(setup.engine, stroke, states).lobes
        said.append(f"cylinder {cylinder}: {lobes or 'its lobes lie out of sight in the block'}")
    return Observation(_sentence("; ".join(said)))


def _seen_state(setup: Setup, state: State, number: int) -> ValveState:
    valve = setup.engine.valve[number]
    if valve_margin_deg(setup.as_turned, valve, state.cam_deg) >= 0:
        return ValveState.HEEL
    nominal = setup.lobes[number].clearance_mm
    return ValveState.OPEN if lift_mm(setup, state, number) > nominal else ValveState.RAMP


def _look_threads(setup: Setup, state: State) -> Observation:
    shown = []
    for valve, hidden, seat in zip(setup.engine.valves, setup.hidden, state.seats, strict=True):
        if hidden.shim_um is None:
            screw = setup.engine.adjuster(valve.number).screw
            turned_in_mm = seat.screw_deg / TURN_DEG * screw.pitch_mm if screw else 0.0
            above_mm = hidden.thread_mm - turned_in_mm
            shown.append(f"{valve.number}: {above_mm:.0f} mm")
    if not shown:
        raise RefusedActionError("This engine has shims; there are no threads to look at.")
    return Observation("Thread showing above each nut: " + ", ".join(shown) + ".")


def _look_pads(setup: Setup, _state: State) -> Observation:
    """A hollow pad is seen, not felt: a leaf bridges it."""
    valves = setup.engine.valves
    if not any(setup.engine.adjuster(valve.number).has_nut for valve in valves):
        raise RefusedActionError("This engine has no screws, so no pads to look at.")
    hollow = [
        valve.number for valve, hidden in zip(valves, setup.hidden, strict=True) if hidden.hollow_mm
    ]
    if not hollow:
        return Observation("No pad is worn hollow.", {"hollow": hollow})
    named = " and ".join(map(str, hollow))
    which = f"The pad of valve {named} is" if len(hollow) == 1 else f"The pads of {named} are"
    return Observation(f"{which} worn hollow: a leaf bridges the hollow.", {"hollow": hollow})


def _look_engine(setup: Setup, state: State) -> Observation:
    return Observation(warmth_words(setup, state))


def warmth_words(setup: Setup, state: State) -> str:
    """What a hand on the head tells."""
    if warmth(setup, state) <= HAND_WARM:
        return "The head is cold to the hand."
    if state.stood_h == 0:
        return "The head is warm to the hand: this engine was run not long ago."
    return "The head is still warm to the hand."


def _listed(valves: list[int]) -> str:
    if not valves:
        return "none is"
    return f"{', '.join(map(str, valves))} {'are' if len(valves) > 1 else 'is'}"
