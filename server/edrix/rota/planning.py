"""A rota planned by a worker: begun, told of, stopped, and kept by the instructor.

A first plan is kept by the worker itself; where bookings stand already, what was found is offered
with the list of what it changes, and nothing moves until somebody says so.
"""

from typing import TYPE_CHECKING, Any

from django.db import transaction

from edrix.accounts.models import User
from edrix.errors import ConflictError, FieldFault, InvalidError
from edrix.jobs import services as jobs
from edrix.jobs.services import Done, Job, Working
from edrix.rota import services
from edrix.rota.asked import AskedRota, Kept, kept_bookings
from edrix.rota.models import Rota, RotaBooking
from edrix.rota.services import as_rows, judge, of_rows
from valvetrain.rota.changes import Change, changes_between, lost
from valvetrain.rota.problem import Booking, Problem, TakenSeat
from valvetrain.rota.rules import cost_of

if TYPE_CHECKING:
    # With their solver they are slow to load, and only a worker that plans a rota needs them.
    from valvetrain.rota.plan import Rota as Planned
    from valvetrain.rota.replan import Replan

KIND = "rota"
SECONDS = 40.0
"""By the clock at most, before the best until then is the answer."""


def about(rota_id: int) -> str:
    return f"rota {rota_id}"


@transaction.atomic
def begin(user: User, rota_id: int, *, few_changes: bool) -> Job:
    """Puts it in the queue. Raises InvalidError where nothing can be planned of it, ConflictError
    where that is under way."""
    rota = services.get_rota(user, rota_id)
    Rota.objects.select_for_update().get(id=rota_id)
    under_way = newest(rota_id)
    if under_way is not None and not under_way.is_over:
        raise ConflictError("This rota is being planned already; wait for it, or stop it.")
    asked = AskedRota(rota)
    problem = asked.problem()
    if not asked.wish.tasks or not asked.students:
        missing = "tasks" if not asked.wish.tasks else "students"
        raise InvalidError(
            f"There are no {missing} yet to plan for.", [FieldFault(missing, "are missing")]
        )
    _fixed(asked, problem)
    return jobs.ask(
        user, KIND, about=about(rota_id), given={"rota": rota_id, "few_changes": few_changes}
    )


def newest(rota_id: int) -> Job | None:
    return jobs.newest(KIND, about(rota_id))


def stop(user: User, rota_id: int) -> None:
    """The best until then is the answer."""
    services.get_rota(user, rota_id)
    job = newest(rota_id)
    if job is not None:
        jobs.stop(job)


def _fixed(asked: AskedRota, problem: Problem) -> tuple[Problem, list[Kept]]:
    """The problem with what has begun, and what is pinned, fixed; and all bookings that are kept.
    Raises InvalidError where a pinned booking breaks a rule."""
    kept = kept_bookings(asked.rota)
    in_core = asked.to_core(kept)
    begun, pinned, pins = [], [], []
    for one, core in zip(kept, in_core, strict=True):
        if core.slot < asked.first:
            came = tuple(s for s in core.students if core.slot not in problem.students[s].away)
            if came:
                begun.append(core._replace(students=came))
        elif one.pinned:
            pinned.append(core)
            pins.append(one)
    for fault in judge(asked, problem, pins):
        raise InvalidError(
            f"A pinned booking breaks a rule: {fault.says}. Unpin it, or mend what it says.",
            [FieldFault("pinned", fault.says)],
        )
    return problem.fixing(pinned, begun, asked.first), kept


def work(working: Working) -> Done:
    """What a worker does."""
    rota = Rota.objects.get(id=working.given["rota"])
    asked = AskedRota(rota)
    problem, kept = _fixed(asked, asked.problem())
    before = asked.to_core(kept)
    if working.given["few_changes"]:
        found, more = _anew(working, problem, before)
    else:
        found, more = _from_the_start(working, problem)
    pinned = {(one.slot, one.place) for one in kept if one.pinned}
    rows = [one._replace(pinned=(one.slot, one.place) in pinned) for one in asked.from_core(found)]
    result = _result(asked, problem, before, found) | more | {"bookings": as_rows(rows)}
    result["revision"] = rota.revision
    if not pinned:
        result["bound_of"] = asked.digest
    result["kept"] = not kept and _keep_first(asked, result)
    return Done(result)


def _from_the_start(
    working: Working, problem: Problem
) -> tuple[tuple[Booking, ...], dict[str, Any]]:
    from valvetrain.rota.plan import plan

    def better(one: "Planned") -> None:
        cost = cost_of(problem, one.bookings)
        working.tell(missing=len(cost.places), repeats=cost.repeats)

    made = plan(problem, seconds=SECONDS, on_better=better, stop=working.is_stopped)
    return made.bookings, {"proven": made.is_optimal, "bound": made.bound}


def _anew(
    working: Working, problem: Problem, before: list[Booking]
) -> tuple[tuple[Booking, ...], dict[str, Any]]:
    from valvetrain.rota.replan import replan

    def better(one: "Replan") -> None:
        working.tell(missing=one.missing, moved=lost(one.changes), fewest=one.fewest)

    made = replan(problem, before, seconds=SECONDS, on_better=better, stop=working.is_stopped)
    told = {"moved": lost(made.changes), "fewest": made.fewest, "proven": made.is_optimal}
    return made.bookings, told


def _result(
    asked: AskedRota, problem: Problem, before: list[Booking], found: tuple[Booking, ...]
) -> dict[str, Any]:
    cost = cost_of(problem, found)
    return {
        "missing": len(cost.places),
        "repeats": cost.repeats,
        "changes": [_told(asked, change) for change in changes_between(before, found)],
    }


def _told(asked: AskedRota, change: Change) -> dict[str, Any]:
    def at(seat: TakenSeat | None) -> dict[str, str] | None:
        if seat is None:
            return None
        wish = asked.wish
        return {"slot": wish.slots[seat.slot].start, "place": wish.places[seat.stand].key}

    return {
        "student": asked.students[change.student].id,
        "task": asked.wish.tasks[change.task].key,
        "was": at(change.was),
        "now": at(change.now),
    }


@transaction.atomic
def _keep_first(asked: AskedRota, result: dict[str, Any]) -> bool:
    """Where nothing was booked, and nobody has changed the rota meanwhile."""
    rota = Rota.objects.select_for_update().get(id=asked.rota.id)
    if rota.revision != asked.rota.revision or RotaBooking.objects.filter(rota=rota).exists():
        return False
    services.write(AskedRota(rota), of_rows(result["bookings"]))
    _keep_bound(rota, result)
    services.touched(rota)
    return True


@transaction.atomic
def keep(user: User, rota_id: int, job_id: int) -> None:
    """Takes what was found. Raises ConflictError where the rota is another meanwhile."""
    job = newest(rota_id)
    services.get_rota(user, rota_id)
    if job is None or job.id != job_id or "bookings" not in job.result:
        raise ConflictError("This plan is there no more; plan anew.")
    rota = services.lock(user, rota_id, job.result["revision"])
    asked = AskedRota(rota)
    rota.before = as_rows(kept_bookings(rota))
    services.write(asked, of_rows(job.result["bookings"]))
    _keep_bound(rota, job.result)
    services.touched(rota)


def _keep_bound(rota: Rota, result: dict[str, Any]) -> None:
    """What a plan from the start proved stays true of the same question, however bookings are moved
    by hand. What was pinned belongs to no other plan, so that nothing is kept of it."""
    if "bound" in result and "bound_of" in result:
        rota.bound, rota.bound_of = result["bound"], result["bound_of"]
