"""Long work asked for, begun by a worker, looked at and stopped by whoever asked.

The queue itself is procrastinate's, in the same database: asking is part of the transaction in
which it is asked, so nothing is begun for what was never kept. A job may be begun twice, where a
worker was killed: what a room does in one must bear that.
"""

import logging
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import timedelta
from typing import Any

from django.db import connections, transaction
from django.utils import timezone
from procrastinate.contrib.django import app

from edrix.accounts.models import User
from edrix.errors import ConflictError, InvalidError, NotFoundError, ServiceError
from edrix.jobs.models import Job as Job

log = logging.getLogger(__name__)
RUN_JOB = "edrix.run_job"
"""The task of procrastinate's that does all of them (tasks.py)."""
MOST_TRIES = 3
LOOK_S = 0.5
"""How often it is looked whether somebody asked to stop."""
MOST_WAITING = 3
"""Jobs of one person under way at once. Limit."""
KEEP_FILES = timedelta(days=1)
KEEP_JOBS = timedelta(days=14)


@dataclass(frozen=True, slots=True)
class Done:
    """What came of it: figures for the page, and a file where there is one."""

    result: dict[str, Any] = field(default_factory=dict)
    file: bytes | None = None
    file_name: str = ""

    def fields(self) -> dict[str, Any]:
        """As a job keeps them."""
        return {"result": self.result, "file_out": self.file, "file_name": self.file_name}


class Working:
    """A job in hand."""

    def __init__(self, job: Job):
        self.job = job
        self.given: dict[str, Any] = job.given
        self._looked = self._told = time.monotonic()
        self._stop = job.stop_asked
        self.is_finished = False

    @property
    def file(self) -> bytes:
        return bytes(self.job.file_in or b"")

    @property
    def asked_by(self) -> User:
        return self.job.asked_by

    def tell(self, **progress: Any) -> None:
        """Progress as the page shows it, for work outside any transaction: it is seen at once."""
        Job.objects.filter(id=self.job.id).update(progress=progress)

    def tell_meanwhile(self, **progress: Any) -> None:
        """The same from within a transaction, whose end nobody would see it before: said on a
        connection of its own, and not oftener than somebody looks."""
        if time.monotonic() - self._told < LOOK_S:
            return
        self._told = time.monotonic()
        teller = threading.Thread(target=_tell_apart, args=(self.job.id, progress))
        teller.start()
        teller.join()

    def finish(self, done: "Done") -> "Done":
        """Said in the transaction of the work itself: whoever is killed just after it has been
        kept does not do it twice."""
        self.is_finished = True
        _end(self.job, Job.State.DONE, **done.fields())
        return done

    def is_stopped(self) -> bool:
        """Whether somebody asked to stop; asks the database now and then only."""
        if not self._stop and time.monotonic() - self._looked >= LOOK_S:
            self._looked = time.monotonic()
            self._stop = Job.objects.filter(id=self.job.id, stop_asked=True).exists()
        return self._stop


Work = Callable[[Working], Done]
_WORKS: dict[str, Work] = {}


def register(kind: str, work: Work) -> None:
    """A room says, when the application starts, what it does."""
    _WORKS[kind] = work


def ask(
    user: User,
    kind: str,
    *,
    about: str = "",
    given: dict[str, Any] | None = None,
    file: bytes | None = None,
) -> Job:
    """Puts it in the queue, in the caller's transaction. Raises ConflictError."""
    under_way = Job.objects.filter(asked_by=user, state__in=[Job.State.WAITING, Job.State.WORKING])
    with transaction.atomic():
        # Five requests at once are counted one after the other.
        User.objects.select_for_update().get(id=user.id)
        if under_way.count() >= MOST_WAITING:
            raise ConflictError(
                f"{MOST_WAITING} things that you asked for are still being worked on; "
                "wait until one is done."
            )
        job = Job.objects.create(
            kind=kind, about=about, asked_by=user, given=given or {}, file_in=file
        )
        app.configure_task(RUN_JOB).defer(job_id=job.id)
    return job


def under_way(user: User, kind: str, about: str, given: dict[str, Any]) -> Job | None:
    """This work, where the same person has asked for it before and it is not over yet. A page that
    was loaded again asks a second time."""
    same = Job.objects.defer("file_in").filter(
        asked_by=user, kind=kind, about=about, given=given, stop_asked=False
    )
    return same.filter(state__in=[Job.State.WAITING, Job.State.WORKING]).first()


def own_job(user: User, job_id: int) -> Job:
    """Without its files. Raises NotFoundError for anybody's else."""
    job = Job.objects.defer("file_in", "file_out").filter(id=job_id, asked_by=user).first()
    if job is None:
        raise NotFoundError("There is no such work of yours; it may be done and long over.")
    return job


def newest(kind: str, about: str) -> Job | None:
    """For the room whose work it is, which has asked who may see it."""
    of = Job.objects.defer("file_in", "file_out").filter(kind=kind, about=about)
    return of.order_by("-id").first()


def own_file(user: User, job_id: int) -> tuple[str, bytes]:
    """What came of it as a file: name and bytes. Raises NotFoundError."""
    job = own_job(user, job_id)
    if job.file_out is None:
        raise NotFoundError("There is no file of this work any more; ask for it again.")
    return job.file_name, bytes(job.file_out)


def stop(job: Job) -> None:
    """What it has until then is kept; what nobody has begun yet is over at once."""
    with transaction.atomic():
        waiting = Job.objects.filter(id=job.id, state=Job.State.WAITING)
        waiting.update(state=Job.State.STOPPED, ended_at=timezone.now())
        Job.objects.filter(id=job.id).update(stop_asked=True)


def run(job_id: int) -> None:
    """Called by a worker. Whatever happens is said in the job."""
    job = _begin(job_id)
    if job is None:
        return
    working = Working(job)
    try:
        done = _WORKS[job.kind](working)
    except InvalidError as refusal:
        faults = [{"path": one.path, "problem": one.problem} for one in refusal.faults]
        _end(job, Job.State.FAILED, says=str(refusal), faults=faults)
    except ServiceError as refusal:
        _end(job, Job.State.FAILED, says=str(refusal))
    except Exception:
        log.exception("job %s, %s", job.id, job.kind)
        _end(
            job,
            Job.State.FAILED,
            says="Something went wrong in Edrix; nothing was changed. The worker's log says what.",
        )
    else:
        if working.is_finished:
            return
        stopped = Job.objects.filter(id=job.id, stop_asked=True).exists()
        _end(job, Job.State.STOPPED if stopped else Job.State.DONE, **done.fields())


@transaction.atomic
def _begin(job_id: int) -> Job | None:
    """None where there is nothing to do: it was stopped before, or is over."""
    job = Job.objects.select_for_update().filter(id=job_id).first()
    if job is None or job.is_over:
        return None
    job.tries += 1
    if job.tries > MOST_TRIES:
        job.state = Job.State.FAILED
        job.says = f"The worker ended {MOST_TRIES} times while it worked on this; ask again."
        job.ended_at = timezone.now()
        job.save(update_fields=["tries", "state", "says", "ended_at"])
        return None
    job.state = Job.State.WORKING
    job.save(update_fields=["tries", "state"])
    return job


def _end(job: Job, state: Job.State, **fields: Any) -> None:
    # What came in is of no use any more.
    Job.objects.filter(id=job.id).update(
        state=state, ended_at=timezone.now(), file_in=None, **fields
    )


def _tell_apart(job_id: int, progress: dict[str, Any]) -> None:
    try:
        Job.objects.filter(id=job_id).update(progress=progress)
    finally:
        connections.close_all()


def clean_up() -> None:
    """Files are kept for a day, jobs for two weeks."""
    now = timezone.now()
    over = Job.objects.filter(ended_at__isnull=False)
    over.filter(ended_at__lt=now - KEEP_FILES).update(file_out=None)
    over.filter(ended_at__lt=now - KEEP_JOBS).delete()
