"""Long work: asked for in a transaction, begun again where a worker was killed, told and tidied."""

import threading
from concurrent.futures import ThreadPoolExecutor
from datetime import timedelta

import pytest
from django.db import connections, transaction
from django.utils import timezone
from procrastinate.contrib.django.models import ProcrastinateJob

from edrix.errors import ConflictError, FieldFault, InvalidError
from edrix.jobs import services as jobs
from edrix.jobs.models import Job


@pytest.fixture
def work(monkeypatch):
    """A kind of work that the test says."""

    def register(what):
        monkeypatch.setitem(jobs._WORKS, "test", what)

    register(lambda working: jobs.Done({"told": working.given.get("say")}))
    return register


def test_nothing_is_queued_for_what_was_never_kept(school, work):
    # What other tests queued for good is none of ours.
    before = ProcrastinateJob.objects.count()
    with transaction.atomic():
        jobs.ask(school.tove, "test")
        transaction.set_rollback(True)
    assert not Job.objects.exists()
    assert ProcrastinateJob.objects.count() == before
    job = jobs.ask(school.tove, "test")
    assert ProcrastinateJob.objects.count() == before + 1
    newest = ProcrastinateJob.objects.order_by("id").last()
    assert (newest.task_name, newest.args) == (jobs.RUN_JOB, {"job_id": job.id})


@pytest.mark.django_db(transaction=True)
def test_five_at_once_are_counted_one_after_the_other(school, work):
    """All five saw none under way, and all five were let in."""
    gate = threading.Barrier(5, timeout=20)

    def ask(number):
        gate.wait()
        try:
            with transaction.atomic():
                return jobs.ask(school.tove, "test", about=str(number)).id
        except ConflictError:
            return None
        finally:
            connections.close_all()

    with ThreadPoolExecutor(5) as pool:
        let_in = [one for one in pool.map(ask, range(5)) if one is not None]
    assert len(let_in) == Job.objects.count() == jobs.MOST_WAITING


def test_what_came_of_it_is_told_to_whoever_asked(school, work, browsers):
    job = jobs.ask(school.tove, "test", given={"say": "hello"})
    jobs.run(job.id)
    told = browsers["instructor"].get(f"/api/jobs/{job.id}").json()
    assert (told["state"], told["result"], told["is_over"]) == ("done", {"told": "hello"}, True)
    # Begun again by a worker that did not know: nothing happens twice.
    work(lambda _: pytest.fail("done twice"))
    jobs.run(job.id)


def test_a_killed_worker_leaves_it_to_the_next_but_not_for_ever(school, work):
    class Killed(BaseException):
        """As the end of a process: nothing is cleaned up."""

    def dies(_working):
        raise Killed

    job = jobs.ask(school.tove, "test")
    work(dies)
    for _ in range(jobs.MOST_TRIES):
        with pytest.raises(Killed):
            jobs.run(job.id)
        job.refresh_from_db()
        assert job.state == "working"
    jobs.run(job.id)
    job.refresh_from_db()
    assert job.state == "failed"
    assert "ended 3 times" in job.says


def test_who_is_killed_just_after_it_was_kept_does_it_once(school, work):
    class Killed(BaseException):
        """As the end of a process."""

    def dies(working):
        with transaction.atomic():
            working.finish(jobs.Done({"kept": 1}))
        raise Killed

    job = jobs.ask(school.tove, "test")
    work(dies)
    with pytest.raises(Killed):
        jobs.run(job.id)
    work(lambda _: pytest.fail("done twice"))
    jobs.run(job.id)
    job.refresh_from_db()
    assert (job.state, job.result) == ("done", {"kept": 1})


def test_what_was_kept_is_done_though_somebody_asked_to_stop_then(school, work):
    def too_late(working):
        done = working.finish(jobs.Done({"kept": 1}))
        jobs.stop(working.job)
        return done

    job = jobs.ask(school.tove, "test")
    work(too_late)
    jobs.run(job.id)
    job.refresh_from_db()
    assert job.state == "done"


def test_a_refusal_and_a_fault_are_said_in_words(school, work, caplog):
    def refuses(_working):
        raise InvalidError("It is bent.", [FieldFault("file", "is bent")])

    job = jobs.ask(school.tove, "test", file=b"bent")
    work(refuses)
    jobs.run(job.id)
    job.refresh_from_db()
    assert (job.state, job.says) == ("failed", "It is bent.")
    assert job.faults == [{"path": "file", "problem": "is bent"}]
    assert job.file_in is None, "what came in is of no use any more"
    again = jobs.ask(school.tove, "test")
    work(lambda _: 1 / 0)
    jobs.run(again.id)
    again.refresh_from_db()
    assert again.state == "failed"
    assert "nothing was changed" in again.says
    assert "ZeroDivisionError" in caplog.text


def test_what_nobody_has_begun_is_stopped_at_once(school, work):
    job = jobs.ask(school.tove, "test")
    jobs.stop(job)
    work(lambda _: pytest.fail("begun after all"))
    jobs.run(job.id)
    job.refresh_from_db()
    assert job.state == "stopped"


def test_one_person_does_not_fill_the_queue(school, work):
    for _ in range(jobs.MOST_WAITING):
        jobs.ask(school.tove, "test")
    with pytest.raises(ConflictError, match="still being worked on"):
        jobs.ask(school.tove, "test")
    jobs.ask(school.rolf, "test")


def test_files_go_after_a_day_and_jobs_after_two_weeks(school, work):
    work(lambda _: jobs.Done(file=b"packed", file_name="class.zip"))
    for days in (0, 2, 20):
        job = jobs.ask(school.tove, "test")
        jobs.run(job.id)
        Job.objects.filter(id=job.id).update(ended_at=timezone.now() - timedelta(days=days))
    jobs.clean_up()
    assert [bool(job.file_out) for job in Job.objects.order_by("id")] == [True, False]
