"""Acting in a run: each action is applied exactly once; and what may be told while it is done.

Example: Ines's tablet sends "leaf 0.25 on valve 3" as step 12 with its own key, and the answer is
lost on the way. It sends the same again: step 12 is taken, its key is known, and she gets the
answer that she missed. Nothing was felt twice. Whoever is at another step is told to read again.
"""

from dataclasses import dataclass
from decimal import Decimal
from typing import Any, NoReturn

from django.db import IntegrityError, transaction
from django.utils import timezone

from edrix.accounts.models import User
from edrix.classes import services as classes
from edrix.errors import ConflictError, FieldFault, InvalidError, NotAllowedError, NotFoundError
from edrix.practice.live import Live, caught_up, done_in, keep, live, setup_of
from edrix.practice.models import PracticeEvent, PracticeRun
from edrix.practice.services import OTHER_RULES, no_run, own_run
from valvetrain.constants import UM_PER_MM
from valvetrain.document import DocumentError
from valvetrain.gauges import GaugeError, Stack, best_stack
from valvetrain.practice import (
    PRACTICE_VERSION,
    Action,
    Advice,
    GapKind,
    Observation,
    RefusedActionError,
    Setup,
    State,
    Step,
    View,
    advise,
    apply,
    asks,
    debrief,
    next_step,
    read_action,
    told_while,
    view,
    write_action,
    write_debrief,
)
from valvetrain.practice.run import stretches
from valvetrain.units import LengthError, Unit, parse_figure, to_mm

MOST_STEPS = 5000
"""Of one run."""
MOST_STACKED = 3
"""Leaves of a stack that is looked for."""


@dataclass(frozen=True, slots=True)
class Acted:
    """asks is a question instead of an observation: nothing was done yet."""

    step: int
    asks: str | None
    says: str
    facts: dict[str, Any]
    view: View


def act(
    user: User, run_id: int, *, key: str, step: int, document: dict[str, Any], sure: bool
) -> Acted:
    """Applies one action to a student's own run, once. See the example above.

    Raises InvalidError for what is no action or cannot be done now (nothing changes), and
    ConflictError where the run stands at another step.
    """
    known = live(run_id)
    if known is None or known.student_id != user.id:
        raise no_run(run_id)
    if known.rules_version != PRACTICE_VERSION:
        raise ConflictError(OTHER_RULES)
    if classes.has_left(user, known.class_id):
        raise NotAllowedError("You have left this class: what you did in the run stays.")
    if step > known.state.step:
        known = caught_up(known)
    if step != known.state.step:
        return _again(known, key)
    action = _action(document)
    if known.until is not None and timezone.now() > known.until:
        raise ConflictError("The time of this run is up. What you did is kept; see its debrief.")
    _need_valve(known.setup, action)
    asked = asks(known.setup, known.state, action) if known.setup.is_coached and not sure else None
    try:
        if asked is not None:
            return _still_there(known, step, key) or _acted(known, asked=asked)
        after, seen = apply(known.setup, known.state, action)
    except RefusedActionError as refusal:
        return _still_there(known, step, key) or _refuse(refusal)
    try:
        _store(known, key, action, after, seen)
    except IntegrityError:
        return _again(caught_up(known), key, step)
    return _acted(keep(known._replace(state=after)), seen)


def _still_there(known: Live, step: int, key: str) -> Acted | None:
    """The answer that was lost, where another process or device took this step meanwhile."""
    now = caught_up(known)
    return None if now.state.step == step else _again(now, key)


def _refuse(refusal: RefusedActionError) -> NoReturn:
    raise InvalidError(str(refusal), [FieldFault("action", str(refusal))]) from None


def _acted(known: Live, seen: Observation | None = None, asked: str | None = None) -> Acted:
    seen = seen and told_while(known.setup, seen)
    says, facts = ("", {}) if seen is None else (seen.says, dict(seen.facts))
    return Acted(known.state.step, asked, says, facts, view(known.setup, known.state))


def _again(known: Live, key: str, step: int | None = None) -> Acted:
    """The answer to an action that was taken before. Raises ConflictError for any other.

    step is where the run was thought to stand: still there, the key is what cannot be.
    """
    event = PracticeEvent.objects.filter(run_id=known.run_id, key=key).first()
    if event is None:
        raise ConflictError(
            f"This run stands at step {known.state.step}, perhaps by another device; it is read "
            "again."
        )
    if known.state.step == step:
        raise ConflictError("This key was used for another action; send a new one.")
    return _acted(known, Observation(event.says, event.facts))


def _store(known: Live, key: str, action: Action, after: State, seen: Observation) -> None:
    """One statement: that a run has each step once, and each key, is the table's to say."""
    if after.step > MOST_STEPS:
        raise ConflictError(f"A run has at most {MOST_STEPS} steps; close up and start the engine.")
    told = told_while(known.setup, seen)
    event = PracticeEvent(
        run_id=known.run_id,
        step=after.step,
        key=key,
        action=write_action(action),
        says=told.says,
        facts=dict(told.facts),
    )
    if not after.started:
        event.save(force_insert=True)
        return
    whole = debrief(known.setup, [*done_in(known.run_id), action])
    with transaction.atomic():
        event.save(force_insert=True)
        PracticeRun.objects.filter(id=known.run_id).update(
            ended_at=timezone.now(),
            outcome=str(seen.facts["start"]),
            debrief=write_debrief(whole),
        )


def advice(user: User, run_id: int, valve: int, gap: GapKind = "opening") -> Advice:
    """The next leaf on a valve, where the instructor lets Edrix show it."""
    run = own_run(user, run_id)
    setup = setup_of(run)
    if setup.level != "shown":
        raise NotAllowedError("Nobody tells the next leaf in this run: that is for you to find.")
    if valve not in setup.place:
        raise NotFoundError(f"This engine has no valve {valve}.")
    return advise(setup, valve, stretches(setup, done_in(run.id)), gap)


def walk(user: User, run_id: int) -> Step | None:
    """The next step of the whole job and why, where the instructor lets Edrix show it; None once
    the run is over."""
    run = own_run(user, run_id)
    setup = setup_of(run)
    if setup.level != "shown":
        raise NotAllowedError("Nobody shows the next step in this run: that is for you to find.")
    return next_step(setup, stretches(setup, done_in(run.id)))


def stack_for(user: User, run_id: int, target: str, unit: str) -> tuple[Stack, list[int]]:
    """The leaves of the box that come closest to a thickness, where that help is allowed."""
    run = own_run(user, run_id)
    setup = setup_of(run)
    if not setup.stack_help:
        raise NotAllowedError("Stacks are for you to find in this run.")
    box = [Decimal(leaf) / UM_PER_MM for leaf in setup.leaves_um]
    try:
        stack = best_stack(box, to_mm(parse_figure(target), Unit(unit)), MOST_STACKED)
    except (GaugeError, LengthError) as refusal:
        fault = FieldFault("target", str(refusal))
        raise InvalidError(f"No stack was looked for: {refusal}.", [fault]) from None
    return stack, [int(leaf * UM_PER_MM) for leaf in stack.leaves_mm]


def _action(document: dict[str, Any]) -> Action:
    try:
        return read_action(document)
    except DocumentError as refusal:
        faults = [FieldFault(fault.path, fault.problem) for fault in refusal.faults]
        raise InvalidError(f"That is no action: {refusal}.", faults) from None


def _need_valve(setup: Setup, action: Action) -> None:
    valve = getattr(action, "valve", None)
    if valve is not None and valve not in setup.place:
        says = f"This engine has no valve {valve}."
        raise InvalidError(says, [FieldFault("action.valve", says)])
