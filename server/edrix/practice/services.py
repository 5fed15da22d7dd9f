"""Practising: engines that instructors set, runs, and actions that are applied exactly once.

Example: Ines's tablet sends "leaf 0.25 on valve 3" as step 12 with its own key, and the answer is
lost on the way. It sends the same again: step 12 is taken, its key is known, and she gets the
answer that she missed. Nothing was felt twice. Whoever is at another step is told to read anew.
"""

import secrets
from dataclasses import dataclass
from decimal import Decimal
from typing import Any, NoReturn, get_args

from django.db import IntegrityError, transaction
from django.db.models import Count, Max, QuerySet
from django.utils import timezone

from edrix.accounts.models import User
from edrix.classes import services as classes
from edrix.engines import services as engines
from edrix.errors import ConflictError, FieldFault, InvalidError, NotAllowedError, NotFoundError
from edrix.practice.live import (
    Live,
    caught_up,
    deadline,
    events_of,
    keep,
    live,
    live_of,
    seed_of,
    setup_of,
)
from edrix.practice.live import deal as deal_practice
from edrix.practice.models import PracticeEngine, PracticeEvent, PracticeRun
from edrix.statements import insert
from valvetrain.document import DocumentError
from valvetrain.gauges import GaugeError, Stack, best_stack
from valvetrain.practice import (
    Action,
    Advice,
    Debrief,
    Level,
    Observation,
    RefusedActionError,
    Setup,
    SetupError,
    State,
    View,
    advise,
    apply,
    asks,
    debrief,
    read_action,
    view,
    write_action,
)
from valvetrain.practice.setup import UM_PER_MM
from valvetrain.units import LengthError, Unit, parse_figure, to_mm

MOST_STEPS = 5000
MOST_STACKED = 3
TIME_UP = "time-up"


@dataclass(frozen=True, slots=True)
class NewPractice:
    engine_id: int
    title: str
    faults: list[tuple[str, int | None]]
    level: str
    box: str
    stack_help: bool
    same_for_all: bool
    minutes: int | None
    bridged: bool = False


@dataclass(frozen=True, slots=True)
class Acted:
    """asks is a question instead of an observation: nothing was done yet."""

    step: int
    asks: str | None
    says: str
    facts: dict[str, Any]
    view: View


def create(user: User, class_id: int, new: NewPractice) -> PracticeEngine:
    """A practice engine of the newest version of an engine, checked by dealing it once."""
    teaching_class = classes.require_instructor(user, class_id)
    version = engines.get_version(new.engine_id)
    title = " ".join(new.title.split())
    if not title:
        raise InvalidError("It has no title.", [FieldFault("title", "give it a title")])
    practice = PracticeEngine(
        teaching_class=teaching_class,
        engine_version=version,
        title=title,
        seed=secrets.randbits(40),
        same_for_all=new.same_for_all,
        faults=[[kind, valve] for kind, valve in new.faults],
        level=_level(new.level),
        box=new.box,
        stack_help=new.stack_help,
        minutes=new.minutes,
        bridged=new.bridged,
        made_by=user,
    )
    try:
        deal_practice(practice, practice.seed)
    except (SetupError, ValueError) as refusal:
        fault = FieldFault("faults", str(refusal))
        raise InvalidError(f"This engine cannot be dealt: {refusal}.", [fault]) from None
    try:
        with transaction.atomic():
            practice.save()
    except IntegrityError:
        raise ConflictError(
            f"This class practises on “{title}” already; choose another title."
        ) from None
    return practice


def of_class(user: User, class_id: int) -> QuerySet[PracticeEngine]:
    """The practice engines of a class, newest first, for its members."""
    classes.membership(user, class_id)
    found = PracticeEngine.objects.filter(teaching_class_id=class_id)
    return (
        found.select_related("engine_version__engine")
        .annotate(run_count=Count("runs"))
        .order_by("-made_at", "-id")
    )


def teaches(user: User, class_id: int) -> bool:
    return classes.membership(user, class_id).role == "instructor"


def open_run(user: User, practice_id: int) -> PracticeRun:
    """The student's open run, or a new one."""
    practice = _practice(practice_id)
    try:
        classes.require_student(user, practice.teaching_class_id)
    except NotFoundError:
        raise _no_practice(practice_id) from None
    except NotAllowedError:
        raise NotAllowedError("Runs are for students of the class; read theirs instead.") from None
    with transaction.atomic():
        # Two taps at once would both find none: the second waits here for the first.
        PracticeEngine.objects.select_for_update().get(id=practice.id)
        runs = PracticeRun.objects.filter(practice=practice, student=user)
        run = _counted(runs.select_related("practice").filter(ended_at__isnull=True)).first()
        if run is None or _ended_by_time(run):
            attempt = runs.count() + 1
            seed = seed_of(practice.seed, attempt, None if practice.same_for_all else user.id)
            run = PracticeRun(practice=practice, student=user, attempt=attempt, seed=seed)
            run.save()
            run = _counted(PracticeRun.objects.select_related("practice")).get(id=run.id)
    return run


def own_run(user: User, run_id: int) -> PracticeRun:
    """Raises NotFoundError for anybody else's."""
    run = _runs().filter(id=run_id, student=user).first()
    if run is None:
        raise _no_run(run_id)
    return run


def readable_run(user: User, run_id: int) -> PracticeRun:
    """A run for its student, or for the instructors of its class."""
    run = _runs().filter(id=run_id).first()
    if run is None:
        raise _no_run(run_id)
    if run.student_id != user.id:
        try:
            classes.require_instructor(user, run.practice.teaching_class_id)
        except (NotFoundError, NotAllowedError):
            raise _no_run(run_id) from None
    return run


def own_runs(user: User, practice_ids: list[int]) -> QuerySet[PracticeRun]:
    own = PracticeRun.objects.filter(student=user, practice_id__in=practice_ids)
    return _counted(own).order_by("-attempt")


def ended_runs(class_id: int, student_id: int) -> QuerySet[PracticeRun]:
    """A student's finished runs in a class; the caller has asked who may see them."""
    runs = PracticeRun.objects.filter(
        practice__teaching_class_id=class_id, student_id=student_id, ended_at__isnull=False
    )
    return runs.select_related("practice__engine_version").order_by("ended_at", "id")


def engines_of(class_id: int) -> QuerySet[PracticeEngine]:
    """The practice engines of a class, oldest first; the caller has asked who may see them."""
    found = PracticeEngine.objects.filter(teaching_class_id=class_id)
    return found.select_related("engine_version").order_by("id")


def runs_of(user: User, practice_id: int) -> QuerySet[PracticeRun]:
    """Every run on a practice engine, for the instructors of its class, newest first."""
    practice = _practice(practice_id)
    try:
        classes.require_instructor(user, practice.teaching_class_id)
    except NotFoundError:
        raise _no_practice(practice_id) from None
    runs = _counted(PracticeRun.objects.filter(practice=practice))
    return runs.select_related("student").order_by("-began_at", "-id")


def view_of(run: PracticeRun) -> View:
    known = live_of(run)
    return view(known.setup, known.state)


def act(
    user: User, run_id: int, *, key: str, step: int, document: dict[str, Any], sure: bool
) -> Acted:
    """Applies one action to a student's own run, once. See the example above.

    Raises InvalidError for what is no action or cannot be done now (nothing changes), and
    ConflictError where the run stands at another step.
    """
    known = live(run_id)
    if known is None or known.student_id != user.id:
        raise _no_run(run_id)
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
            "anew."
        )
    if known.state.step == step:
        raise ConflictError("This key was used for another action; send a new one.")
    return _acted(known, Observation(event.says, event.facts))


def _store(known: Live, key: str, action: Action, after: State, seen: Observation) -> None:
    """One statement: that a run has each step once, and each key, is the table's to say."""
    if after.step > MOST_STEPS:
        raise ConflictError(f"A run has at most {MOST_STEPS} steps; close up and start the engine.")
    event = PracticeEvent(
        run_id=known.run_id,
        step=after.step,
        key=key,
        action=write_action(action),
        says=seen.says,
        facts=dict(seen.facts),
    )
    if not after.started:
        insert(event)
        return
    with transaction.atomic():
        insert(event)
        PracticeRun.objects.filter(id=known.run_id).update(
            ended_at=timezone.now(), outcome=str(seen.facts["start"])
        )


def advice(user: User, run_id: int, valve: int) -> Advice:
    """The next leaf on a valve, where the instructor lets Edrix show it."""
    run = own_run(user, run_id)
    setup = setup_of(run)
    if setup.level != "shown":
        raise NotAllowedError("Nobody tells the next leaf in this run: that is for you to find.")
    if valve not in setup.place:
        raise NotFoundError(f"This engine has no valve {valve}.")
    events = PracticeEvent.objects.filter(run=run, action__valve=valve).order_by("step")
    felt = [(read_action(event.action), Observation("", event.facts)) for event in events]
    return advise(setup, valve, felt)


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


def debrief_of(user: User, run_id: int) -> tuple[PracticeRun, Debrief]:
    """What was hidden, told back: to a student once the run has ended, to instructors always."""
    run = readable_run(user, run_id)
    if run.student_id == user.id and run.ended_at is None and not _ended_by_time(run):
        raise ConflictError("The run is not over: close up and start the engine first.")
    done = [read_action(event.action) for event in events_of(run.id)]
    return run, debrief(setup_of(run), done)


def _level(level: str) -> Level:
    for known in get_args(Level):
        if level == known:
            return known  # type: ignore[no-any-return]
    known = ", ".join(get_args(Level))
    raise InvalidError("The level is not known.", [FieldFault("level", f"give one of {known}")])


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


def _is_late(run: PracticeRun) -> bool:
    until = deadline(run)
    return until is not None and timezone.now() > until


def _ended_by_time(run: PracticeRun) -> bool:
    """Ends a run whose time is up, so that its debrief can be read and another one begun."""
    if not _is_late(run):
        return False
    run.ended_at, run.outcome = deadline(run), TIME_UP
    still_open = PracticeRun.objects.filter(id=run.id, ended_at__isnull=True)
    still_open.update(ended_at=run.ended_at, outcome=TIME_UP)
    return True


def _runs() -> QuerySet[PracticeRun]:
    runs = PracticeRun.objects.select_related("practice__engine_version", "student")
    return _counted(runs)


def _counted(runs: QuerySet[PracticeRun]) -> QuerySet[PracticeRun]:
    """Each with its `step`: how many actions were done in it."""
    return runs.annotate(step=Max("events__step", default=0))


def _practice(practice_id: int) -> PracticeEngine:
    found = PracticeEngine.objects.select_related("engine_version__engine")
    practice = found.filter(id=practice_id).first()
    if practice is None:
        raise _no_practice(practice_id)
    return practice


def _no_practice(practice_id: int) -> NotFoundError:
    return NotFoundError(f"There is no practice engine {practice_id} for you; open your class.")


def _no_run(run_id: int) -> NotFoundError:
    return NotFoundError(f"There is no run {run_id} of yours; open one from your class.")
