"""The practice engine as a machine: an action in, an observation out, and replays."""

from collections.abc import Callable, Iterable
from typing import Any, NamedTuple

from valvetrain.angles import apart_deg
from valvetrain.engine import TimingMark
from valvetrain.practice import actions as a
from valvetrain.practice.adjusting import (
    apply_cams,
    apply_fit_shim,
    apply_loosen,
    apply_read_shim,
    apply_screw,
    apply_set,
    apply_take_shim,
    apply_tighten,
    apply_zero,
)
from valvetrain.practice.closing import first_start
from valvetrain.practice.constants import PIN_DEG
from valvetrain.practice.measuring import apply_try, put_seat, seat_of
from valvetrain.practice.observation import Observation, RefusedActionError
from valvetrain.practice.setup import Setup
from valvetrain.practice.state import Note, State, first_state
from valvetrain.practice.turning import (
    apply_look,
    apply_paint,
    apply_push,
    apply_rock,
    apply_turn,
    apply_wiggle,
    warmth_words,
)
from valvetrain.turned import hand_turning


def apply(setup: Setup, state: State, action: a.Action) -> tuple[State, Observation]:
    """The state after an action and what a person notices. Pure: neither argument changes.

    Raises RefusedActionError for what cannot be done at the engine as it stands.
    """
    if state.started:
        raise RefusedActionError("The engine has been started: this run is over.")
    if state.closed and not isinstance(action, _WITH_THE_COVER_ON):
        raise RefusedActionError("The cover is on: take it off first.")
    after, seen = _APPLY[type(action)](setup, state, action)
    return after._replace(step=state.step + 1), seen


def replay(setup: Setup, done: Iterable[a.Action]) -> tuple[State, list[Observation]]:
    """The same state and observations as when it was done live."""
    state, seen = first_state(setup), []
    for action in done:
        state, observation = apply(setup, state, action)
        seen.append(observation)
    return state, seen


def _done(setup: Setup, state: State, action: a.Done) -> tuple[State, Observation]:
    seat = seat_of(setup, state, action.valve)
    says = f"Valve {action.valve} is {'marked' if action.done else 'no longer marked'} as done."
    after = put_seat(setup, state, action.valve, seat._replace(done=action.done))
    return after, Observation(says)


def _write(setup: Setup, state: State, action: a.Write) -> tuple[State, Observation]:
    seat_of(setup, state, action.valve)
    kept = tuple(n for n in state.notes if (n.valve, n.column) != (action.valve, action.column))
    text = action.text.strip()
    notes = (*kept, Note(action.valve, action.column, text)) if text else kept
    return state._replace(notes=notes), Observation("Written down." if text else "Wiped out.")


def _lock(setup: Setup, state: State, action: a.LockCrank) -> tuple[State, Observation]:
    if state.crank_locked == action.locked:
        raise RefusedActionError(f"The crank is {'locked' if action.locked else 'free'} already.")
    pins = [mark for mark in setup.marks if mark.means == "pin"]
    if action.locked and pins and not any(_goes_in(state, mark) for mark in pins):
        raise RefusedActionError(
            "The timing pin does not go in here: turn the crank to its place, feeling for the hole."
        )
    if pins:
        says = (
            "The timing pin is in, which proves the place; the holding tool locks the crank."
            if action.locked
            else "The timing pin and the holding tool are out; the crank is free."
        )
    else:
        says = "The crank is locked." if action.locked else "The crank is free."
    return state._replace(crank_locked=action.locked), Observation(says)


def _goes_in(state: State, mark: TimingMark) -> bool:
    """Whether the hole stands before the pin."""
    at_deg = state.crank_deg if mark.on == "crank" else state.cam_deg
    return any(apart_deg(at_deg, hole) <= PIN_DEG for hole in mark.crank_degs())


def _wait(setup: Setup, state: State, action: a.Wait) -> tuple[State, Observation]:
    after = state._replace(stood_h=state.stood_h + action.hours)
    hours = f"{action.hours:g} hour{'' if action.hours == 1 else 's'}"
    return after, Observation(f"The engine has stood for {hours}. {warmth_words(setup, after)}")


def _tools(setup: Setup, state: State, action: a.CountTools) -> tuple[State, Observation]:
    still = f" Still so: {hand_turning(setup.engine).is_on}." if state.tool_on else ""
    return state._replace(tools_counted=True), Observation(
        f"All leaves and spanners are here.{still}"
    )


def _tool_off(setup: Setup, state: State, action: a.ToolOff) -> tuple[State, Observation]:
    if not state.tool_on:
        raise RefusedActionError(f"Done already: {hand_turning(setup.engine).is_off}.")
    return state._replace(tool_on=False), Observation(f"{hand_turning(setup.engine).off}.")


def _cover(setup: Setup, state: State, action: a.Cover) -> tuple[State, Observation]:
    if state.closed == action.on:
        raise RefusedActionError(f"The cover is {'on' if action.on else 'off'} already.")
    return state._replace(closed=action.on), Observation(
        "The cover is on, its gasket looked over." if action.on else "The cover is off."
    )


def _start(setup: Setup, state: State, action: a.FirstStart) -> tuple[State, Observation]:
    result = first_start(setup, state)
    return state._replace(started=True), Observation(result.headline, {"start": result.start.value})


_WITH_THE_COVER_ON = (
    a.Cover,
    a.FirstStart,
    a.CountTools,
    a.ToolOff,
    a.LockCrank,
    a.Write,
    a.Turn,
    a.Paint,
    a.Wait,
)
_Apply = Callable[[Setup, State, Any], tuple[State, Observation]]
_APPLY: dict[type, _Apply] = {
    a.Turn: apply_turn,
    a.Rock: lambda setup, state, _: apply_rock(setup, state),
    a.Wiggle: apply_wiggle,
    a.Push: apply_push,
    a.Look: apply_look,
    a.Wait: _wait,
    a.Paint: apply_paint,
    a.Try: apply_try,
    a.Loosen: apply_loosen,
    a.Tighten: apply_tighten,
    a.Screw: apply_screw,
    a.SetByLeaf: apply_set,
    a.Zero: apply_zero,
    a.TakeShim: apply_take_shim,
    a.ReadShim: apply_read_shim,
    a.FitShim: apply_fit_shim,
    a.Cams: apply_cams,
    a.LockCrank: _lock,
    a.Done: _done,
    a.Write: _write,
    a.CountTools: _tools,
    a.ToolOff: _tool_off,
    a.Cover: _cover,
    a.FirstStart: _start,
}


class Stretch(NamedTuple):
    """One thing done, where it was done, and what it led to; for the debrief."""

    before: State
    action: a.Action
    seen: Observation
    after: State


def stretches(setup: Setup, done: Iterable[a.Action]) -> list[Stretch]:
    state, found = first_state(setup), []
    for action in done:
        after, seen = apply(setup, state, action)
        found.append(Stretch(state, action, seen, after))
        state = after
    return found
