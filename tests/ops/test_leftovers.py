"""`./edrix` itself is killed: nothing goes on unwatched, and the next start comes up."""

import os
import re
import signal
import subprocess
import time
import urllib.request
from pathlib import Path

import pytest

from ops.cluster import Cluster
from ops.leftovers import MARK, WITH_PARENT, end_leftovers, leftovers, marked
from ops.paths import ROOT

PATIENCE_S = 120


@pytest.fixture
def state(monkeypatch):
    """A folder that PostgreSQL's own user may reach, too."""
    folder = Path(f"/var/tmp/edrix-leftovers-{os.getpid()}")  # noqa: S108 (of this process)
    monkeypatch.setenv("EDRIX_STATE_DIR", str(folder))
    yield folder
    end_leftovers("main")
    if (folder / "postgres-main").exists():
        cluster = Cluster("main")
        cluster.start()
        cluster.stop()
    subprocess.run(["rm", "-rf", folder], check=True)  # noqa: S603, S607


def within(seconds, wanted):
    deadline = time.monotonic() + seconds
    while time.monotonic() < deadline:
        if wanted():
            return True
        time.sleep(0.1)
    return False


def started(log, port=0):
    """The command once it is ready, and the port that it has."""
    with log.open("wb") as out:
        command = subprocess.Popen(  # noqa: S603 (our own command)
            [ROOT / "edrix", "serve", "--port", str(port)], stdout=out, stderr=out
        )
    ready = within(PATIENCE_S, lambda: b"Edrix is ready" in log.read_bytes())
    assert ready, log.read_text()
    return command, int(re.search(rb"ready:  http://127\.0\.0\.1:(\d+)", log.read_bytes())[1])


def answers(port):
    try:
        with urllib.request.urlopen(f"http://127.0.0.1:{port}/api/ready", timeout=5) as answer:
            return answer.status == 200
    except OSError:
        return False


def test_a_killed_start_leaves_nothing_behind_and_the_next_one_comes_up(state, tmp_path):
    first, port = started(tmp_path / "first")
    assert answers(port)
    assert len(leftovers("main")) >= 3, "the server, the front and the worker"
    first.kill()
    first.wait()
    # At once, while the old ones may still be on their way out.
    second, _ = started(tmp_path / "second", port)
    try:
        assert answers(port)
        assert b"taken by another program" not in (tmp_path / "second").read_bytes()
        second.kill()
        second.wait()
        assert within(30, lambda: leftovers("main") == set()), "they end without another start"
        assert not answers(port)
    finally:
        second.kill()
    third, _ = started(tmp_path / "third", port)
    third.send_signal(signal.SIGTERM)
    assert third.wait(30) == 0
    assert leftovers("main") == set()


def test_only_what_carries_the_mark_is_ended(state):
    own = subprocess.Popen(["sleep", "60"], env=marked(os.environ, "main"))  # noqa: S607
    other = subprocess.Popen(["sleep", "60"], env={**os.environ, MARK: "elsewhere main"})  # noqa: S607
    demo = subprocess.Popen(["sleep", "60"], env=marked(os.environ, "demo"))  # noqa: S607
    try:
        # Ended children stay in /proc until somebody asks for them.
        assert within(5, lambda: leftovers("main") == {own.pid})
        os.kill(own.pid, signal.SIGKILL)
        own.wait()
        end_leftovers("main")
        assert leftovers("main") == set()
        assert (other.poll(), demo.poll()) == (None, None)
    finally:
        for one in (other, demo):
            one.kill()
            one.wait()


def test_what_is_started_ends_with_its_parent(tmp_path):
    script = (
        "import subprocess, time\n"
        f"child = subprocess.Popen({[*WITH_PARENT, 'sleep', '60']!r})\n"
        "print(child.pid, flush=True)\n"
        "time.sleep(60)"
    )
    parent = subprocess.Popen(["python3", "-c", script], stdout=subprocess.PIPE, text=True)  # noqa: S603, S607
    place = Path("/proc") / parent.stdout.readline().strip()
    # It is a sleep by then: setpriv has become it.
    assert within(5, lambda: (place / "cmdline").read_bytes().startswith(b"sleep"))
    parent.kill()
    parent.wait()

    def is_over():
        try:
            return (place / "stat").read_text().rpartition(")")[2].split()[0] == "Z"
        except OSError:
            return True

    assert within(5, is_over)
