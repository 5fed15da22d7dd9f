"""Leaves in the gap: what a hand feels, and why it can be wrong.

With true clearance c the gap is max(0, c - l), l the follower's lift where the cam stands. A
worn pad, a skewed leaf, a caught tip, an oil film, a pressing hand and a warm engine all make
the gap feel smaller than it is when cold; so does a brake rocker that hangs off its detent.
The figures are in `constants`.
"""

import math

from valvetrain.constants import UM_PER_MM
from valvetrain.engine import Role
from valvetrain.heel import valve_margin_deg
from valvetrain.looks import GEAR
from valvetrain.practice.actions import GapKind, How, Try
from valvetrain.practice.constants import (
    COOLING_H,
    DRAG_MM,
    DRAG_PULL,
    DRAG_PULL_FALL,
    EACH_LEAF_MM,
    FORCED_MM,
    FREE_PULL,
    FREE_PULL_PER_MM,
    HAND_MM,
    HANGING_MM,
    HOW_MM,
    OIL_MM,
    PRESSING_MM,
    PULL_STEP,
    TIGHT_PULL,
    TIGHT_PULL_RISE,
    TIPPED,
    WARM_MM,
)
from valvetrain.practice.observation import Fact, Observation, RefusedActionError, scatter
from valvetrain.practice.setup import Setup
from valvetrain.practice.state import ShimSeat, State


def seat_of(setup: Setup, state: State, valve: int) -> ShimSeat:
    """Raises RefusedActionError for a valve that the engine does not have."""
    place = setup.place.get(valve)
    if place is None:
        raise RefusedActionError(f"This engine has no valve {valve}.")
    return state.seats[place]


def put_seat(setup: Setup, state: State, valve: int, seat: ShimSeat) -> State:
    place = setup.place[valve]
    return state._replace(seats=(*state.seats[:place], seat, *state.seats[place + 1 :]))


def lift_mm(setup: Setup, state: State, valve: int) -> float:
    """The follower's lift at this valve where the cams stand now."""
    there = setup.engine.valve[valve]
    cycle_deg = setup.engine.cycle_deg(there.cylinder, state.cam_deg)
    return setup.lobes[valve].lift_at_mm(cycle_deg)


def is_out(setup: Setup, state: State, valve: int) -> bool:
    """Whether a shim that belongs at this valve is not in."""
    place = setup.place[valve]
    hidden, seat = setup.hidden[place], state.seats[place]
    return (hidden.shim_um is not None and seat.shim_um is None) or (
        hidden.closing_um is not None and seat.closing_um is None
    )


def margin_now_deg(setup: Setup, state: State, valve: int) -> float:
    """Degrees to the edge of this valve's heel, where its cam really stands."""
    return valve_margin_deg(setup.as_turned, setup.engine.valve[valve], state.cam_deg)


def warm_mm(setup: Setup, state: State, role: Role) -> float:
    """What warmth still takes of a cold gap: it comes back as the engine cools, as the difference
    to its surroundings falls (Newton's law of cooling; growth in proportion to that)."""
    return WARM_MM[role] * warmth(setup, state)


def warmth(setup: Setup, state: State) -> float:
    """What is left of the warmth of an engine that was just run, 1 to 0."""
    return math.exp(-state.stood_h / COOLING_H) if setup.warm else 0.0


def leaf_words(leaves_um: tuple[int, ...]) -> str:
    """`0.25 mm`, `7 mm`."""
    return f"{sum(leaves_um) / UM_PER_MM:.3f}".rstrip("0").rstrip(".") + " mm"


def raw_gap_mm(setup: Setup, state: State, valve: int, gap: GapKind = "opening") -> float:
    """Clearance less lift, on the engine as warm as it is; below zero the valve is lifted.

    Raises RefusedActionError where this valve has no such gap.
    """
    warm = warm_mm(setup, state, setup.engine.valve[valve].role)
    lift = lift_mm(setup, state, valve)
    if gap == "closing":
        # The play of both sides comes to lie here while the opening rocker presses.
        taken_up = min(lift, max(0.0, clearance_mm(setup, state, valve)))
        return clearance_mm(setup, state, valve, gap) + taken_up
    return clearance_mm(setup, state, valve, gap) - lift - warm


def clearance_mm(setup: Setup, state: State, valve: int, gap: GapKind = "opening") -> float:
    """One of a valve's clearances as it now is. Raises RefusedActionError where it has none."""
    place = setup.place[valve]
    seat, hidden = state.seats[place], setup.hidden[place]
    if gap == "closing":
        if seat.closing_mm is None:
            raise RefusedActionError(f"Valve {valve} has no closing rocker: springs close it.")
        return seat.closing_mm
    if gap == "running":
        if hidden.running_mm is None:
            raise RefusedActionError(f"Valve {valve} has no running gap of its own.")
        return hidden.running_mm + seat.clearance_mm - hidden.clearance_mm
    return seat.clearance_mm


def hidden_bias_mm(
    setup: Setup, state: State, valve: int, how: How, *, oiled: bool = False, pressing: bool = False
) -> float:
    """How much smaller than the gap it feels."""
    return (
        setup.hidden[setup.place[valve]].hollow_mm
        + hanging_mm(setup, state, valve)
        + HOW_MM[how]
        + (OIL_MM if oiled else 0.0)
        + (PRESSING_MM if pressing else 0.0)
    )


def hanging_mm(setup: Setup, state: State, valve: int) -> float:
    """What a brake rocker off its detent, a push rod that oil holds up or a follower that hangs on
    its lobe takes of the gap; 0 once it was pushed back, pressed down or lifted."""
    place = setup.place[valve]
    if state.seats[place].detent:
        return 0.0
    brake_mm = HANGING_MM if setup.engine.valve[valve].role is Role.BRAKE else 0.0
    return setup.hidden[place].slack_mm + brake_mm


def gap_for_mm(setup: Setup, valve: int, how: How, gap_mm: float) -> float:
    """What a leaf put in so at a valve finds where its gap is gap_mm. Raises RefusedActionError."""
    if how != "one-side":
        return gap_mm
    if not setup.is_bridged(valve):
        raise RefusedActionError(
            f"Valve {valve} has no bridge, so its leaf has no other side to miss."
        )
    return gap_mm * TIPPED


def felt_total_mm(leaves_um: tuple[int, ...]) -> float:
    return sum(leaves_um) / UM_PER_MM + EACH_LEAF_MM * (len(leaves_um) - 1)


def need_leaves(setup: Setup, leaves_um: tuple[int, ...], *, angled: bool = False) -> None:
    """Raises RefusedActionError for a leaf that is not in the box, or is used twice."""
    box_um = setup.angled_um if angled else setup.leaves_um
    for leaf in leaves_um:
        if leaf not in box_um:
            bent = "angled leaf" if angled else "leaf"
            raise RefusedActionError(
                f"There is no {bent} of {leaf / UM_PER_MM:.3f} mm in your box."
            )
    if len(set(leaves_um)) < len(leaves_um):
        raise RefusedActionError("Each leaf is in your box once: a stack needs different leaves.")


def need_reach(setup: Setup, valve: int, *, angled: bool) -> None:
    """Raises RefusedActionError where no straight leaf gets in."""
    bent = angled or setup.box == "angled"
    if setup.hidden[setup.place[valve]].hard_reach and not bent:
        raise RefusedActionError(
            f"A straight leaf does not reach the gap of valve {valve}: take an angled one."
        )


def _need_step(setup: Setup, action: Try) -> None:
    """Raises RefusedActionError for a step leaf that is not in the box."""
    if action.body_um is None:
        need_leaves(setup, action.leaves_um, angled=action.angled)
    elif len(action.leaves_um) != 1 or (*action.leaves_um, action.body_um) not in setup.steps_um:
        raise RefusedActionError(
            f"There is no step leaf of {step_words(action.leaves_um[0], action.body_um)} in your "
            "box."
        )


def step_words(tip_um: int, body_um: int) -> str:
    """`0.20/0.25 mm`."""
    return f"{tip_um / UM_PER_MM:.2f}/{body_um / UM_PER_MM:.2f} mm"


def need_cams(setup: Setup, state: State, valve: int) -> ShimSeat:
    """The seat, where there is something to measure. Raises RefusedActionError."""
    seat = seat_of(setup, state, valve)
    if state.cams_out:
        raise RefusedActionError("The cams are out: there is no gap to measure.")
    if setup.hidden[setup.place[valve]].shim_um is not None and seat.shim_um is None:
        raise RefusedActionError(f"Valve {valve} has no shim in.")
    if seat.closing_mm is not None and seat.closing_um is None:
        raise RefusedActionError(f"Valve {valve} has no closing shim in: nothing holds it up.")
    return seat


def apply_try(setup: Setup, state: State, action: Try) -> tuple[State, Observation]:
    need_cams(setup, state, action.valve)
    _need_step(setup, action)
    need_reach(setup, action.valve, angled=action.angled)
    bias = hidden_bias_mm(
        setup, state, action.valve, action.how, oiled=action.oiled, pressing=action.pressing
    )
    gap_mm = max(0.0, raw_gap_mm(setup, state, action.valve, action.gap))
    room_mm = (
        gap_for_mm(setup, action.valve, action.how, gap_mm) - bias + scatter(setup, state, HAND_MM)
    )
    feel, pull = feel_of(room_mm - felt_total_mm(action.leaves_um))
    facts: dict[str, Fact] = {"feel": feel, "pull": pull, "total_um": sum(action.leaves_um)}
    where = _where(setup, action)
    seat = state.seats[setup.place[action.valve]]
    near_only = action.how == "one-side" and feel != "no"
    if near_only != seat.near_only:
        state = put_seat(setup, state, action.valve, seat._replace(near_only=near_only))
    if action.body_um is None:
        return state, Observation(
            f"{leaf_words(action.leaves_um)}: {_FEEL_WORDS[feel]}{where}.", facts
        )
    says = f"{step_words(action.leaves_um[0], action.body_um)}: its tip {_FEEL_WORDS[feel]}{where}"
    if feel != "no":
        # One tool: the same push goes on until its body comes to the gap.
        facts["body_feel"], facts["pull"] = feel_of(room_mm - action.body_um / UM_PER_MM)
        says += f", its body {_FEEL_WORDS[str(facts['body_feel'])]}"
    return state, Observation(f"{says}.", facts)


_FEEL_WORDS = {
    "free": "goes in freely",
    "drag": "drags",
    "tight": "goes in only when forced",
    "no": "does not go in",
}


def _where(setup: Setup, action: Try) -> str:
    """Where the leaf lies, on gear that is no rocker over a stem."""
    gear = GEAR[setup.engine.train(action.valve)]
    if action.gap != "opening" or gear.part == "rocker":
        return ""
    return f" between {gear.between}"


def told_while(setup: Setup, seen: Observation) -> Observation:
    """What is told while a run is under way: to those who work on their own no word for what they
    felt, only whether the leaf is in. The hand is to tell, by the pull."""
    if setup.is_coached or not {"feel", "total_um"} <= seen.facts.keys():
        return seen
    facts = dict(seen.facts)
    leaf = seen.says.split(":")[0]
    tip_in = facts.pop("feel") != "no"
    facts["is_in"] = tip_in
    says = f"{leaf}: {'it is in' if tip_in else 'it stays out'}."
    if (body := facts.pop("body_feel", None)) is not None:
        facts["body_in"] = body != "no"
        says = f"{leaf}: the tip is in, the body {'too' if body != 'no' else 'stays out'}."
    return Observation(says, facts)


def feel_of(spare_mm: float) -> tuple[str, float]:
    """The word and the pull (0 to 1) for a gap wider than the leaf by spare_mm."""
    if spare_mm > DRAG_MM:
        pull = max(0.0, FREE_PULL - FREE_PULL_PER_MM * (spare_mm - DRAG_MM))
        return "free", _stepped(pull)
    if spare_mm >= 0:
        return "drag", _stepped(DRAG_PULL - DRAG_PULL_FALL * spare_mm / DRAG_MM)
    if spare_mm >= -FORCED_MM:
        return "tight", _stepped(TIGHT_PULL - TIGHT_PULL_RISE * spare_mm / FORCED_MM)
    return "no", 1.0


def _stepped(pull: float) -> float:
    return round(round(pull / PULL_STEP) * PULL_STEP, 2)
