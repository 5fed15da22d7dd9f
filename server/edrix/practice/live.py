"""Runs as they stand: the events of a run, and the state that they lead to.

Events are only ever added, so the state at a step is settled for good. What a process keeps of a
run can be behind the database, where another process or device took the next step, but never
wrong: `caught_up` replays what it has not seen. So an action reads nothing but who asks.
"""

from collections import OrderedDict
from datetime import datetime, timedelta
from functools import lru_cache
from threading import Lock
from typing import NamedTuple

from django.db.models import QuerySet
from django.utils.crypto import salted_hmac

from edrix.engines import services as engines
from edrix.practice.models import PracticeEngine, PracticeEvent, PracticeRun
from valvetrain.engine import ShopTolerance
from valvetrain.practice import (
    PRACTICE_VERSION,
    Action,
    FaultKind,
    PlantedFault,
    Setup,
    State,
    apply,
    deal_setup,
    first_state,
    move_faults,
    read_action,
)

MOST_KEPT = 512
"""Runs kept by one process: a few kB each."""


class Live(NamedTuple):
    """One run as far as this process has seen it."""

    run_id: int
    student_id: int
    class_id: int
    until: datetime | None
    """When its time is up; None where it is not timed."""
    rules_version: str
    setup: Setup
    state: State


_kept: OrderedDict[int, Live] = OrderedDict()
_lock = Lock()


def live(run_id: int) -> Live | None:
    """What is kept of a run, perhaps behind the database; read again where nothing is kept."""
    with _lock:
        found = _kept.get(run_id)
        if found is not None:
            _kept.move_to_end(run_id)
            return found
    run = PracticeRun.objects.select_related("practice").filter(id=run_id).first()
    return None if run is None else live_of(run)


def live_of(run: PracticeRun) -> Live:
    """A run as it stands in the database now."""
    setup = setup_of(run)
    until, version = deadline(run), run.rules_version
    class_id = run.practice.teaching_class_id
    begun = Live(run.id, run.student_id, class_id, until, version, setup, first_state(setup))
    with _lock:
        kept = _kept.get(run.id)
    if version != PRACTICE_VERSION:
        return begun  # today's rules might refuse what was done then
    return caught_up(begun if kept is None else begun._replace(state=kept.state))


def caught_up(known: Live) -> Live:
    """The same run with every event of the database applied."""
    state = known.state
    for event in events_of(known.run_id).filter(step__gt=state.step):
        state, _ = apply(known.setup, state, read_action(event.action))
    return keep(known._replace(state=state))


def keep(known: Live) -> Live:
    with _lock:
        before = _kept.get(known.run_id)
        if before is None or before.state.step <= known.state.step:
            _kept[known.run_id] = known
            _kept.move_to_end(known.run_id)
        while len(_kept) > MOST_KEPT:
            _kept.popitem(last=False)
    return known


def forget_all() -> None:
    """For tests: another database may give a run's number to another run."""
    with _lock:
        _kept.clear()
    _kept_setup.cache_clear()


def events_of(run_id: int) -> QuerySet[PracticeEvent]:
    return PracticeEvent.objects.filter(run_id=run_id).order_by("step")


def deadline(run: PracticeRun) -> datetime | None:
    """When a timed run ends; None where it is not timed."""
    minutes = run.practice.minutes
    return None if minutes is None else run.began_at + timedelta(minutes=minutes)


def new_seed(practice_seed: int, attempt: int, own_of: int | None) -> int:
    """What a new run's engine is dealt from; own_of is the student's number where each has their
    own. By this server's secret: whoever knew the others could not work it out.

    Another attempt is dealt afresh: the debrief of the one before told what was hidden. A run keeps
    its seed, so another secret deals no old engine anew.
    """
    told = f"{practice_seed} {attempt} {own_of}"
    return int(salted_hmac("edrix practice", told, algorithm="sha256").hexdigest()[:12], 16)


def done_in(run_id: int) -> list[Action]:
    """Every action of a run, in order."""
    actions = events_of(run_id).values_list("action", flat=True)
    return [read_action(action) for action in actions]


def setup_of(run: PracticeRun) -> Setup:
    return _kept_setup(run.practice_id, run.seed, run.faults_moved)


@lru_cache(maxsize=256)
def _kept_setup(practice_id: int, seed: int, faults_moved: bool) -> Setup:
    """A practice engine never changes once it is made, so neither does what is dealt."""
    practice = PracticeEngine.objects.select_related("engine_version").get(id=practice_id)
    return deal(practice, seed, faults_moved=faults_moved)


def deal(practice: PracticeEngine, seed: int, *, faults_moved: bool = False) -> Setup:
    """faults_moved: on other valves than they were planted on. Raises SetupError for faults that
    this engine cannot have."""
    allowed = ShopTolerance(practice.shop_mm, practice.shop_thou)
    engine = engines.core_engine(practice.engine_version, allowed)
    faults = [PlantedFault(FaultKind(kind), valve) for kind, valve in practice.faults]
    return deal_setup(
        engine,
        seed,
        move_faults(engine, faults, seed) if faults_moved else faults,
        box=practice.box,
        level=practice.level,  # type: ignore[arg-type]  # one of four by the table's constraint
        stack_help=practice.stack_help,
        bridged=practice.bridged,
    )
