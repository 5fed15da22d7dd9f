"""Practice engines that instructors set, and students' runs on them: who may read which."""

import secrets
from collections.abc import Collection
from dataclasses import dataclass
from datetime import datetime
from typing import get_args

from django.db import IntegrityError, transaction
from django.db.models import Count, Max, QuerySet
from django.utils import timezone

from edrix import life
from edrix.accounts.models import User
from edrix.classes import services as classes
from edrix.engines import services as engines
from edrix.errors import ConflictError, FieldFault, InvalidError, NotAllowedError, NotFoundError
from edrix.names import tidy
from edrix.practice.live import deadline, done_in, live_of, new_seed, setup_of
from edrix.practice.live import deal as deal_practice
from edrix.practice.models import PracticeEngine, PracticeRun, RunRubric
from edrix.shop import services as shop
from valvetrain.practice import (
    PRACTICE_VERSION,
    Level,
    SetupError,
    View,
    debrief,
    view,
    write_debrief,
)

TIME_UP, RULES_CHANGED = "time-up", "rules-changed"
"""Outcomes of runs that no first start ended."""
OTHER_RULES = (
    "This run was begun under other practice rules, so it can't be continued. What you did is "
    "kept: see its debrief, and begin another run."
)


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
    attempts: int | None = None


def create(user: User, class_id: int, new: NewPractice) -> PracticeEngine:
    """A practice engine of the newest version of an engine, checked by dealing it once."""
    teaching_class = classes.require_instructor(user, class_id)
    version = engines.get_version(new.engine_id)
    title = _title(new.title)
    allowed = shop.tolerance()
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
        attempts=new.attempts,
        shop_mm=allowed.mm,
        shop_thou=allowed.thou,
        made_by=user,
    )
    try:
        deal_practice(practice, practice.seed)
    except (SetupError, ValueError) as refusal:
        fault = FieldFault("faults", str(refusal))
        raise InvalidError(f"This engine cannot be dealt: {refusal}.", [fault]) from None
    return _save(practice)


@transaction.atomic
def change(
    user: User,
    practice_id: int,
    *,
    name: str | None = None,
    away: bool | None = None,
    debriefs: bool | None = None,
) -> None:
    """Renames it, puts it away or brings it back, opens or holds the debriefs of a test; None stays
    as it is. Nobody begins a run on what is put away; those that are open go on."""
    practice = practice_for_instructor(user, practice_id)
    if name is not None:
        practice.title = _title(name, "name")
        _save(practice)
    if debriefs is not None:
        practice.debriefs_at = timezone.now() if debriefs else None
        practice.save(update_fields=["debriefs_at"])
    life.put_away(practice, away=away)


def remove(user: User, practice_id: int) -> None:
    """With its weights, where nobody has begun a run."""
    practice = practice_for_instructor(user, practice_id)
    life.remove(practice, practice.title, RunRubric.objects.filter(practice=practice))


def practice_for_instructor(user: User, practice_id: int) -> PracticeEngine:
    """Raises NotFoundError where this person teaches no class that has it."""
    practice = _practice(practice_id)
    try:
        classes.require_instructor(user, practice.teaching_class_id)
    except NotFoundError:
        raise _no_practice(practice_id) from None
    return practice


def _title(typed: str, field: str = "title") -> str:
    return tidy(typed, "It has no title.", field=field, problem="give it a title")


def _save(practice: PracticeEngine) -> PracticeEngine:
    """Under a title that no other of its class has. Raises ConflictError."""
    try:
        with transaction.atomic():
            practice.save()
    except IntegrityError:
        raise ConflictError(
            f"This class practises on “{practice.title}” already; choose another title."
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


def with_own_runs(user: User, class_id: int) -> list[tuple[PracticeEngine, list[PracticeRun]]]:
    """The practice engines of a class, each with this person's own runs on it, newest first."""
    found = list(of_class(user, class_id))
    if not teaches(user, class_id):
        found = [one for one in found if one.put_away_at is None]
    runs: dict[int, list[PracticeRun]] = {}
    for run in own_runs(user, [practice.id for practice in found]):
        runs.setdefault(run.practice_id, []).append(run)
    return [(practice, runs.get(practice.id, [])) for practice in found]


def is_open_in(class_id: int, practice_id: int) -> bool:
    """Whether students of a class may begin a run on it."""
    found = PracticeEngine.objects.filter(id=practice_id, teaching_class_id=class_id)
    return found.filter(put_away_at__isnull=True).exists()


def teaches(user: User, class_id: int) -> bool:
    return classes.membership(user, class_id).role == "instructor"


def open_run(user: User, practice_id: int) -> PracticeRun:
    """The student's open run, or a new one."""
    practice = _practice(practice_id)
    try:
        if teaches(user, practice.teaching_class_id):
            raise NotAllowedError("Runs are for students of the class; read theirs instead.")
    except NotFoundError:
        raise _no_practice(practice_id) from None
    classes.require_at_work(user, practice.teaching_class_id)
    with transaction.atomic():
        # Two taps at once would both find none: the second waits here for the first.
        PracticeEngine.objects.select_for_update().get(id=practice.id)
        runs = PracticeRun.objects.filter(practice=practice, student=user)
        run = _counted(runs.select_related("practice").filter(ended_at__isnull=True)).first()
        if run is None or end_by_time(run) or _ended_by_rules(run):
            if practice.put_away_at is not None:
                raise ConflictError(f"“{practice.title}” is put away; ask your instructor.")
            _need_an_attempt(practice, runs)
            attempt = runs.count() + 1
            seed = new_seed(practice.seed, attempt, None if practice.same_for_all else user.id)
            run = PracticeRun.objects.create(
                practice=practice,
                student=user,
                attempt=attempt,
                seed=seed,
                # The debrief told on which valves they were.
                faults_moved=practice.level == "test" and attempt > 1,
                rules_version=PRACTICE_VERSION,
            )
            run = _counted(PracticeRun.objects.select_related("practice")).get(id=run.id)
    return run


def debriefs_open(practice: PracticeEngine) -> bool:
    """Whether students may read the debriefs of their runs; of a test, once these are opened."""
    return practice.level != "test" or practice.debriefs_at is not None


def _need_an_attempt(practice: PracticeEngine, runs: QuerySet[PracticeRun]) -> None:
    """Raises ConflictError where a student has had theirs. A run that ended because the rules
    changed was none."""
    if practice.attempts is None:
        return
    if runs.exclude(outcome=RULES_CHANGED).count() >= practice.attempts:
        times = "once" if practice.attempts == 1 else f"{practice.attempts} times"
        raise ConflictError(
            f"“{practice.title}” is done {times}, and you have done it. Ask your instructor if you "
            "are to do it again."
        )


def own_run(user: User, run_id: int) -> PracticeRun:
    """A run as it stands, for its student. Raises NotFoundError for anybody else's, and
    ConflictError where it was made under other rules."""
    run = _runs().filter(id=run_id, student=user).first()
    if run is None:
        raise no_run(run_id)
    if run.rules_version != PRACTICE_VERSION:
        raise ConflictError(OTHER_RULES)
    return run


def readable_run(user: User, run_id: int) -> PracticeRun:
    """A run for its student, or for the instructors of its class."""
    run = _runs().filter(id=run_id).first()
    if run is None:
        raise no_run(run_id)
    if run.student_id != user.id:
        try:
            classes.require_instructor(user, run.practice.teaching_class_id)
        except (NotFoundError, NotAllowedError):
            raise no_run(run_id) from None
    return run


def run_for_instructor(user: User, run_id: int) -> PracticeRun:
    """A run to be taken away with what it hides. Raises ConflictError for one of other rules."""
    run = readable_run(user, run_id)
    classes.require_instructor(user, run.practice.teaching_class_id)
    if run.rules_version != PRACTICE_VERSION:
        raise ConflictError(
            "This run was made under other practice rules, and cannot be replayed by today's."
        )
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


def has_run(class_id: int, student_id: int) -> bool:
    runs = PracticeRun.objects.filter(practice__teaching_class_id=class_id)
    return runs.filter(student_id=student_id).exists()


def engines_of(class_id: int) -> QuerySet[PracticeEngine]:
    """What a class practises on now, oldest first; the caller has asked who may see them."""
    found = PracticeEngine.objects.filter(teaching_class_id=class_id, put_away_at__isnull=True)
    return found.select_related("engine_version").order_by("id")


def open_runs(class_ids: Collection[int], student_id: int | None = None) -> QuerySet[PracticeRun]:
    """Runs that are under way in these classes, of one student or of all; the caller has asked who
    may see them."""
    runs = PracticeRun.objects.filter(
        practice__teaching_class_id__in=class_ids,
        practice__put_away_at__isnull=True,
        ended_at__isnull=True,
    )
    if student_id is not None:
        runs = runs.filter(student_id=student_id)
    return _counted(runs.select_related("practice")).order_by("began_at", "id")


def to_begin(class_ids: Collection[int], student_id: int) -> QuerySet[PracticeEngine]:
    """What a student has not begun a run on yet, newest first; the caller has asked who may see
    them. A run that ended because the rules changed was none."""
    counted = PracticeRun.objects.filter(student_id=student_id).exclude(outcome=RULES_CHANGED)
    found = PracticeEngine.objects.filter(
        teaching_class_id__in=class_ids, put_away_at__isnull=True
    ).exclude(id__in=counted.values("practice_id"))
    return found.select_related("engine_version__engine").order_by("-made_at", "-id")


def ended_since(class_id: int, since: datetime) -> QuerySet[PracticeRun]:
    """Runs of a class that ended since then; the caller has asked who may see them."""
    runs = PracticeRun.objects.filter(practice__teaching_class_id=class_id, ended_at__gte=since)
    return runs.select_related("practice").defer("debrief").order_by("ended_at", "id")


def runs_of(user: User, practice_id: int) -> QuerySet[PracticeRun]:
    """Every run on a practice engine, for the instructors of its class, newest first."""
    practice = practice_for_instructor(user, practice_id)
    runs = _counted(PracticeRun.objects.filter(practice=practice))
    return runs.select_related("student").order_by("-began_at", "-id")


def view_of(run: PracticeRun) -> View:
    known = live_of(run)
    return view(known.setup, known.state)


def _level(level: str) -> Level:
    for known in get_args(Level):
        if level == known:
            return known  # type: ignore[no-any-return]
    known = ", ".join(get_args(Level))
    raise InvalidError("The level is not known.", [FieldFault("level", f"give one of {known}")])


def _is_late(run: PracticeRun) -> bool:
    until = deadline(run)
    return until is not None and timezone.now() > until


def end_by_time(run: PracticeRun) -> bool:
    """Ends a run whose time is up, so that its debrief can be read and another one begun."""
    if not _is_late(run):
        return False
    _end(run, deadline(run), TIME_UP)
    return True


def _ended_by_rules(run: PracticeRun) -> bool:
    """Ends a run that was begun under other practice rules: it cannot be gone on with."""
    if run.rules_version == PRACTICE_VERSION:
        return False
    _end(run, timezone.now(), RULES_CHANGED)
    return True


def _end(run: PracticeRun, at: datetime | None, outcome: str) -> None:
    run.ended_at, run.outcome = at, outcome
    if run.rules_version == PRACTICE_VERSION:
        run.debrief = write_debrief(debrief(setup_of(run), done_in(run.id)))
    still_open = PracticeRun.objects.filter(id=run.id, ended_at__isnull=True)
    still_open.update(ended_at=at, outcome=outcome, debrief=run.debrief)


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


def no_run(run_id: int) -> NotFoundError:
    return NotFoundError(f"There is no run {run_id} of yours; open one from your class.")
