"""Real workers on a real queue: what is asked for is done, also where one of them was killed."""

import json
import os
import signal
import subprocess

import pytest

from ops.cluster import Cluster
from ops.paths import PYTHON, ROOT
from ops.server import manage, server_environment
from ops.worker import Worker

ASK = """
import json, sys, time
import django
django.setup()
from edrix.accounts import services as accounts
from edrix.accounts.models import User
from edrix.classes import services as classes
from edrix.archive import packing
from edrix.jobs.models import Job
if sys.argv[1] == "ask":
    tove = User.objects.filter(sign_in_name="tove").first()
    if tove is None:
        tove = accounts.make_person("Tove", "tove", "quiet-otter-41", may_teach=True)
    made = classes.create_class(tove, "Class").teaching_class_id
    print(packing.ask_out(tove, made).id)
else:
    until = time.monotonic() + float(sys.argv[3])
    job = Job.objects.get(id=sys.argv[2])
    while job.state not in ("done", "failed", "stopped") and time.monotonic() < until:
        time.sleep(0.2)
        job.refresh_from_db()
    print(json.dumps([job.state, job.tries, bool(job.file_out)]))
"""


@pytest.fixture
def school(worker_id):
    cluster = Cluster(f"worker-{worker_id}", durable=False)
    cluster.start()
    try:
        environment = server_environment(cluster.fresh_database("work"), "only-for-tests")
        manage(environment, "migrate", "--verbosity=0")
        yield environment
    finally:
        cluster.stop()


def said(environment, *arguments):
    done = subprocess.run(  # noqa: S603  (our own program)
        [PYTHON, "-c", ASK, *arguments],
        env=environment,
        cwd=ROOT,
        capture_output=True,
        text=True,
        check=True,
    )
    return json.loads(done.stdout)


def ends(environment, job, seconds=100):
    """State, tries, and whether it left a file, once it has ended or the seconds are over."""
    return tuple(said(environment, "wait", str(job), str(seconds)))


def test_two_workers_share_what_there_is_and_a_killed_one_loses_nothing(school, tmp_path):
    """As on two machines: each knows the database alone."""
    with Worker(school, tmp_path / "first.log") as first:
        assert ends(school, said(school, "ask")) == ("done", 1, True)
        os.kill(first.pid(), signal.SIGKILL)
        # Asked for while nobody works: it waits.
        jobs = [said(school, "ask") for _ in range(2)]
        assert ends(school, jobs[0], seconds=0)[0] == "waiting"
        with Worker(school, tmp_path / "second.log"), Worker(school, tmp_path / "third.log"):
            assert [ends(school, job) for job in jobs] == [("done", 1, True)] * 2
