"""Adjusting: lock nuts, screws, shims, cams out and in."""

from decimal import Decimal

from valvetrain.adjusters import Screwed, Shimmed
from valvetrain.angles import CYCLE_DEG, TURN_DEG
from valvetrain.constants import UM_PER_MM
from valvetrain.engine import ValveTrain
from valvetrain.practice.actions import (
    Cams,
    FitShim,
    GapKind,
    Loosen,
    ReadShim,
    Screw,
    SetByLeaf,
    TakeShim,
    Tighten,
    Zero,
)
from valvetrain.practice.constants import (
    ANGLE_STEP_DEG,
    BY_HAND,
    JUMP_DEG,
    JUMP_SCATTER_DEG,
    MICROMETER_HAND_MM,
    MICROMETER_MM,
    OVER_TORQUE,
    RIGHT_DRAG_MM,
    SET_HAND_MM,
    SPRUNG_MM,
)
from valvetrain.practice.measuring import (
    felt_total_mm,
    gap_for_mm,
    hidden_bias_mm,
    leaf_words,
    lift_mm,
    need_cams,
    need_leaves,
    need_reach,
    put_seat,
    raw_gap_mm,
    seat_of,
)
from valvetrain.practice.observation import Observation, RefusedActionError, scatter
from valvetrain.practice.setup import Setup
from valvetrain.practice.state import ShimSeat, State


def _screw_of(setup: Setup, valve: int) -> Screwed:
    """Raises RefusedActionError where this valve has no adjusting screw."""
    adjuster = setup.engine.adjuster(valve)
    if adjuster.screw is None:
        raise RefusedActionError(adjuster.without_screw(valve))
    return adjuster.screw


def apply_loosen(setup: Setup, state: State, action: Loosen) -> tuple[State, Observation]:
    seat = seat_of(setup, state, action.valve)
    _screw_of(setup, action.valve)
    if not seat.nut_tight:
        raise RefusedActionError(f"The lock nut of valve {action.valve} is loose already.")
    if seat.seized and not action.oil:
        return state, Observation(
            f"The lock nut of valve {action.valve} does not move. Oil it, wait, and use the ring "
            "spanner: forcing it rounds it off.",
            {"seized": True},
        )
    loose = seat._replace(
        nut_tight=False,
        seized=False,
        clearance_mm=seat.clearance_mm - seat.creep_mm,
        creep_mm=0.0,
        done=False,
    )
    return put_seat(setup, state, action.valve, loose), Observation(
        f"The lock nut of valve {action.valve} is loose."
    )


def apply_tighten(setup: Setup, state: State, action: Tighten) -> tuple[State, Observation]:
    """The nut takes the screw with it: this rocker's own creep, by the torque it is given."""
    seat = seat_of(setup, state, action.valve)
    adjuster = _screw_of(setup, action.valve)
    if seat.nut_tight and action.torque_nm is None:
        raise RefusedActionError(f"The lock nut of valve {action.valve} is tight already.")
    maker_nm = adjuster.locknut_torque_nm
    if action.torque_nm is None or maker_nm is None:
        middle, half = sum(BY_HAND) / 2, (BY_HAND[1] - BY_HAND[0]) / 2
        share = min(BY_HAND[1], max(BY_HAND[0], middle + scatter(setup, state, half / 2)))
    else:
        share = action.torque_nm / maker_nm
    if maker_nm is not None and share > OVER_TORQUE and not seat.warned:
        warned = put_seat(setup, state, action.valve, seat._replace(warned=True))
        return warned, Observation(
            f"{action.torque_nm:g} N·m is far above the {round(maker_nm, 1):g} N·m of this nut: "
            "the screw will stretch. It has not been tightened.",
            {"warned": True},
        )
    creep = setup.hidden[setup.place[action.valve]].creep_mm * min(share, OVER_TORQUE)
    tight = seat._replace(
        nut_tight=True,
        torque_share=share,
        stretched=seat.stretched or share > OVER_TORQUE,
        clearance_mm=seat.clearance_mm - seat.creep_mm + creep,
        creep_mm=creep,
    )
    how = "by hand"
    if action.torque_nm is not None:
        how = (
            "as a ring spanner makes it: the maker gives no torque for it"
            if maker_nm is None
            else f"to {action.torque_nm:g} N·m"
        )
    soft = " It went soft before it came tight." if tight.stretched else ""
    return put_seat(setup, state, action.valve, tight), Observation(
        f"The lock nut of valve {action.valve} is tight, {how}.{soft}"
    )


def _loose_screw(setup: Setup, state: State, valve: int) -> tuple[ShimSeat, Screwed]:
    seat = need_cams(setup, state, valve)
    adjuster = _screw_of(setup, valve)
    if seat.nut_tight:
        raise RefusedActionError(f"The lock nut of valve {valve} is still tight.")
    return seat, adjuster


def apply_screw(setup: Setup, state: State, action: Screw) -> tuple[State, Observation]:
    seat, adjuster = _loose_screw(setup, state, action.valve)
    by_mm = action.by_deg / TURN_DEG * adjuster.gap_per_turn_mm
    way = "in" if action.by_deg >= 0 else "out"
    return _turned(setup, state, action.valve, seat, by_mm), Observation(
        f"The screw of valve {action.valve} is turned {abs(action.by_deg):g}° {way}."
    )


def apply_set(setup: Setup, state: State, action: SetByLeaf) -> tuple[State, Observation]:
    """The screw turned until the leaf drags; whatever misleads the hand is set in."""
    seat, _ = _loose_screw(setup, state, action.valve)
    need_leaves(setup, action.leaves_um, angled=action.angled)
    need_reach(setup, action.valve, angled=action.angled)
    bias = hidden_bias_mm(setup, state, action.valve, action.how, pressing=action.pressing)
    wanted_mm = felt_total_mm(action.leaves_um) + RIGHT_DRAG_MM + scatter(setup, state, SET_HAND_MM)
    found_mm = raw_gap_mm(setup, state, action.valve)
    # What a leaf finds is a multiple of the gap; the gap is turned until it finds what is wanted.
    by_mm = found_mm - (bias + wanted_mm) / gap_for_mm(setup, action.valve, action.how, 1.0)
    return _turned(setup, state, action.valve, seat, by_mm), Observation(
        f"The screw of valve {action.valve} is turned until the {leaf_words(action.leaves_um)} "
        "drags.",
        {"feel": "drag", "pull": 0.5},
    )


def apply_zero(setup: Setup, state: State, action: Zero) -> tuple[State, Observation]:
    seat, adjuster = _loose_screw(setup, state, action.valve)
    by_mm = raw_gap_mm(setup, state, action.valve) + scatter(setup, state, SET_HAND_MM)
    turned_deg = by_mm / adjuster.gap_per_turn_mm * TURN_DEG
    seen_deg = int(round(turned_deg / ANGLE_STEP_DEG) * ANGLE_STEP_DEG)
    way = "in" if seen_deg >= 0 else "out"
    return _turned(setup, state, action.valve, seat, by_mm), Observation(
        f"The screw of valve {action.valve} just touches: no gap, no pressure. It was turned "
        f"{abs(seen_deg)}° {way}.",
        {"turned_deg": seen_deg},
    )


def _turned(setup: Setup, state: State, valve: int, seat: ShimSeat, closing_mm: float) -> State:
    per_turn_mm = _screw_of(setup, valve).gap_per_turn_mm
    turned = seat._replace(
        clearance_mm=seat.clearance_mm - closing_mm,
        screw_deg=seat.screw_deg + closing_mm / per_turn_mm * TURN_DEG,
        done=False,
    )
    return put_seat(setup, state, valve, turned)


def _shim_of(setup: Setup, valve: int, gap: GapKind) -> Shimmed:
    if gap == "closing":
        closing = setup.engine.closing_adjuster_of(setup.engine.valve[valve].role).shim
        if closing is None:
            raise RefusedActionError(f"Valve {valve} has no closing shim.")
        return closing
    adjuster = setup.engine.adjuster(valve).shim
    if adjuster is None or gap == "running":
        raise RefusedActionError(f"Valve {valve} has no shim.")
    return adjuster


def _need_reach(setup: Setup, state: State, valve: int, adjuster: Shimmed) -> None:
    if adjuster.cams_out and not state.cams_out:
        raise RefusedActionError("These shims lie under the cam: take the cams out first.")
    if not adjuster.cams_out and lift_mm(setup, state, valve) > 0:
        raise RefusedActionError(
            f"The lobe presses on valve {valve}: turn until it points away, then "
            f"{_reached(setup, valve, adjuster)}."
        )


def _reached(setup: Setup, valve: int, adjuster: Shimmed) -> str:
    """How a shim is got at. Common practice."""
    if setup.engine.train(valve) is ValveTrain.POSITIVE:
        return "slide its rockers aside and take the shim off the stem"
    if adjuster.place == "over-bucket":
        return "hold the bucket down with the depressor tool and lift the shim out"
    return "press the follower down and slide the shim out"


def _in_place(seat: ShimSeat, gap: GapKind) -> tuple[int | None, int | None]:
    """The shim that is in, and the one that was last taken out."""
    if gap == "closing":
        return seat.closing_um, seat.closing_aside_um
    return seat.shim_um, seat.aside_um


def _with_shims(
    seat: ShimSeat, gap: GapKind, shim_um: int | None, aside_um: int | None
) -> ShimSeat:
    if gap == "closing":
        return seat._replace(closing_um=shim_um, closing_aside_um=aside_um)
    return seat._replace(shim_um=shim_um, aside_um=aside_um)


def _thinner(seat: ShimSeat, gap: GapKind, by_um: int) -> ShimSeat:
    """The gaps with so much less metal in. A closing shim moves where the valve rests, and so both
    of its gaps by as much (common practice: it is set first)."""
    by_mm = by_um / UM_PER_MM
    changed = seat._replace(clearance_mm=seat.clearance_mm + by_mm, done=False)
    if gap != "closing" or seat.closing_mm is None:
        return changed
    return changed._replace(closing_mm=seat.closing_mm + by_mm)


def _called(gap: GapKind) -> str:
    return "closing shim" if gap == "closing" else "shim"


def apply_take_shim(setup: Setup, state: State, action: TakeShim) -> tuple[State, Observation]:
    seat = seat_of(setup, state, action.valve)
    _need_reach(setup, state, action.valve, _shim_of(setup, action.valve, action.gap))
    shim_um, aside_um = _in_place(seat, action.gap)
    called = _called(action.gap)
    if shim_um is None:
        raise RefusedActionError(f"The {called} of valve {action.valve} is out already.")
    if aside_um is not None:
        state = _into_box(state, action.gap, aside_um)
    out = _with_shims(_thinner(seat, action.gap, shim_um), action.gap, None, shim_um)
    return put_seat(setup, state, action.valve, out), Observation(
        f"The {called} of valve {action.valve} is out and lies in front of it."
    )


def apply_read_shim(setup: Setup, state: State, action: ReadShim) -> tuple[State, Observation]:
    seat = seat_of(setup, state, action.valve)
    _shim_of(setup, action.valve, action.gap)
    _, aside_um = _in_place(seat, action.gap)
    if aside_um is None:
        raise RefusedActionError(
            f"Take the {_called(action.gap)} of valve {action.valve} out to read it."
        )
    hidden = setup.hidden[setup.place[action.valve]]
    if action.by == "stamp":
        if hidden.stamp_worn and action.gap == "opening" and aside_um == hidden.shim_um:
            return state, Observation(
                "The stamp is worn off: use the micrometer.", {"size_mm": None}
            )
        size_mm = aside_um / UM_PER_MM
        return state, Observation(_stamp(setup, action, size_mm), {"size_mm": size_mm})
    read_mm = aside_um / UM_PER_MM + scatter(setup, state, MICROMETER_HAND_MM)
    read_mm = round(round(read_mm / MICROMETER_MM) * MICROMETER_MM, 3)
    return state, Observation(f"The micrometer shows {read_mm:.2f} mm.", {"size_mm": read_mm})


def size_words(size_um: int) -> str:
    """A shim's size in mm: two decimals, three where it has them."""
    return f"{size_um / UM_PER_MM:.2f}" if size_um % 10 == 0 else f"{size_um / UM_PER_MM:.3f}"


def _stamp(setup: Setup, action: ReadShim, size_mm: float) -> str:
    """The code that is stamped where this engine's shims have codes, and what it means."""
    codes = _shim_of(setup, action.valve, action.gap).codes
    code = None if codes is None else codes.code_of(Decimal(str(size_mm)))
    if code is None:
        return f"Stamped {size_mm:.3f} mm."
    return f"Stamped {code}, which is {size_mm:.3f} mm."


def apply_fit_shim(setup: Setup, state: State, action: FitShim) -> tuple[State, Observation]:
    seat = seat_of(setup, state, action.valve)
    _need_reach(setup, state, action.valve, _shim_of(setup, action.valve, action.gap))
    called = _called(action.gap)
    if _in_place(seat, action.gap)[0] is not None:
        raise RefusedActionError(f"Valve {action.valve} has a {called} in: take it out first.")
    place = setup.place[action.valve]
    state, found = _take_from_bench(state, place, action.size_um, action.gap)
    if not found:
        raise RefusedActionError(
            f"No {called} of {size_words(action.size_um)} mm is in the box or on the bench."
        )
    seat = _thinner(state.seats[place], action.gap, -action.size_um)
    seat = _with_shims(seat, action.gap, action.size_um, _in_place(seat, action.gap)[1])
    if action.gap == "opening":
        seat = seat._replace(face_up=not action.face_down)
    fitted = _shim_of(setup, action.valve, action.gap)
    over = action.gap == "opening" and fitted.place == "over-bucket"
    face = f", its printed face {'down' if action.face_down else 'up'}" if over else ""
    return put_seat(setup, state, action.valve, seat), Observation(
        f"A {called} of {size_words(action.size_um)} mm is in at valve {action.valve}{face}."
    )


def _into_box(state: State, gap: GapKind, size_um: int) -> State:
    if gap == "closing":
        return state._replace(closing_box_um=tuple(sorted((*state.closing_box_um, size_um))))
    return state._replace(box_um=tuple(sorted((*state.box_um, size_um))))


def _take_from_bench(state: State, place: int, size_um: int, gap: GapKind) -> tuple[State, bool]:
    """The shim from in front of its own valve, else of another, else from the box."""
    for index in (place, *(i for i in range(len(state.seats)) if i != place)):
        seat = state.seats[index]
        shim_um, aside_um = _in_place(seat, gap)
        if aside_um == size_um:
            seats = list(state.seats)
            seats[index] = _with_shims(seat, gap, shim_um, None)
            return state._replace(seats=tuple(seats)), True
    box = list(state.closing_box_um if gap == "closing" else state.box_um)
    if size_um not in box:
        return state, False
    box.remove(size_um)
    if gap == "closing":
        return state._replace(closing_box_um=tuple(box)), True
    return state._replace(box_um=tuple(box)), True


def apply_cams(setup: Setup, state: State, action: Cams) -> tuple[State, Observation]:
    if action.out == state.cams_out:
        raise RefusedActionError(f"The cams are {'out' if action.out else 'in'} already.")
    if not any(adjuster.has_shims for adjuster in setup.engine.adjusters.values()):
        raise RefusedActionError("Nothing on this engine needs its cams out.")
    return _take_cams_out(setup, state) if action.out else _put_cams_in(setup, state)


def _take_cams_out(setup: Setup, state: State) -> tuple[State, Observation]:
    """The springs of lifted valves turn a crank that is not locked."""
    out = state._replace(cams_out=True, cams_out_at_deg=state.crank_deg)
    sprung = any(lift_mm(setup, state, v.number) > SPRUNG_MM for v in setup.engine.valves)
    if state.crank_locked or not sprung:
        return out, Observation("The cams are out; the crank has not moved.", {"jumped": False})
    jump_deg = JUMP_DEG + abs(scatter(setup, state, JUMP_SCATTER_DEG))
    out = out._replace(crank_deg=round((state.crank_deg + jump_deg) % CYCLE_DEG, 1) % CYCLE_DEG)
    return out, Observation(
        "As the caps came off, the valve springs turned the camshaft, and its drive turned the "
        "crank with it. The cams are out.",
        {"jumped": True},
    )


def _put_cams_in(setup: Setup, state: State) -> tuple[State, Observation]:
    half = CYCLE_DEG / 4
    moved = (state.crank_deg - state.cams_out_at_deg + half) % (2 * half) - half
    back = state._replace(cams_out=False, cam_late_deg=state.cam_late_deg + moved, lag_deg=0.0)
    return back, Observation("The cams are in, their marks to their lines as you saw them.")
