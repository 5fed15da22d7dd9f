"""What the one command started is started again when it ends; two starts do not run into each
other; a taken port is told."""

import json
import os
import signal
import socket
import threading
import time
import urllib.error
import urllib.request
from concurrent.futures import ThreadPoolExecutor

import pytest

from ops.cluster import Cluster
from ops.console import Trouble
from ops.server import App, _need_free, free_port, manage, server_environment
from ops.watch import DELAYS_S, Watched, only_one, watch


class Thing:
    """Ends when told to; counts how often it was started."""

    def __init__(self, *, heals=True):
        self.up, self.heals, self.starts = True, heals, 0

    def start(self):
        self.starts += 1
        self.up = self.heals
        if not self.heals:
            raise Trouble("it will not start")


class Enough(Exception):
    pass


def looks(count, each=lambda _look: None):
    """Sleeping, so many times, without waiting."""
    seen = []

    def sleep(seconds):
        seen.append(seconds)
        each(len(seen))
        if len(seen) >= count:
            raise Enough

    sleep.seen = seen
    return sleep


def test_what_ends_is_started_again_after_a_wait():
    thing = Thing()

    def end(look):
        if look == 3:
            thing.up = False

    sleep = looks(8, end)
    with pytest.raises(Enough):
        watch([Watched("it", lambda: thing.up, thing.start)], sleep=sleep)
    assert thing.starts == 1
    assert sleep.seen[3] == DELAYS_S[0]


def test_what_will_not_start_ends_the_command_with_a_word():
    thing = Thing(heals=False)
    thing.up = False
    sleep = looks(1000)
    with pytest.raises(Trouble, match="the database ended 7 times in a row"):
        watch([Watched("the database", lambda: thing.up, thing.start)], sleep=sleep)
    assert thing.starts == len(DELAYS_S)
    # It waits longer each time.
    assert [s for s in sleep.seen if s in DELAYS_S[1:]] == list(DELAYS_S[1:])


@pytest.fixture
def state(monkeypatch, tmp_path):
    monkeypatch.setenv("EDRIX_STATE_DIR", str(tmp_path))
    return tmp_path


def test_the_second_start_says_who_runs(state):
    with only_one("demo") as note:
        note("http://127.0.0.1:8000")
        with (
            pytest.raises(Trouble, match=rf"process {os.getpid()}, http://127.0.0.1:8000"),
            only_one("demo"),
        ):
            pass
        with only_one("main"):
            pass
    with only_one("demo"):
        pass


def test_a_taken_port_is_told():
    with socket.socket() as other:
        other.bind(("127.0.0.1", 0))
        other.listen()
        port = other.getsockname()[1]
        with pytest.raises(Trouble, match=f"port {port} of 127.0.0.1 is taken by another program"):
            _need_free("127.0.0.1", port)


def answers(url):
    try:
        with urllib.request.urlopen(f"{url}/api/ready", timeout=5) as answer:  # noqa: S310
            return answer.status, json.load(answer)["ok"]
    except urllib.error.HTTPError as refusal:
        return refusal.code, refusal.headers.get("Retry-After")
    except OSError:
        return None


def within(seconds, wanted):
    deadline = time.monotonic() + seconds
    while time.monotonic() < deadline:
        if wanted():
            return True
        time.sleep(0.2)
    return False


def test_a_killed_database_and_a_killed_server_come_back(worker_id):
    """The real ones, killed as a machine without memory kills: nobody has to do anything."""
    cluster = Cluster(f"watched-{worker_id}", durable=False)
    cluster.start()
    try:
        url = cluster.fresh_database("watched")
        environment = server_environment(url, "only-for-tests")
        manage(environment, "migrate", "--verbosity=0")
        with App(environment, ("127.0.0.1", free_port("127.0.0.1", 9300))) as app:
            ended = threading.Event()

            def sleep(seconds):
                if ended.wait(seconds):
                    raise Enough

            def look():
                with pytest.raises(Enough):
                    watch(
                        [
                            Watched("the database", cluster.runs, cluster.start_again),
                            Watched("the server", app.runs, app.start),
                        ],
                        sleep=sleep,
                    )

            watcher = threading.Thread(target=look)
            watcher.start()
            try:
                with ThreadPoolExecutor(16) as students:
                    assert set(students.map(lambda _: answers(app.url), range(64))) == {(200, True)}
                port = cluster.port
                pid = int((cluster.data / "postmaster.pid").read_text().splitlines()[0])
                os.kill(pid, signal.SIGKILL)
                assert within(5, lambda: answers(app.url) == (503, "2")), "it says it is away"
                assert within(60, lambda: answers(app.url) == (200, True)), "the database is back"
                assert cluster.port == port
                # Threads that had a connection before, too: none keeps the broken one.
                with ThreadPoolExecutor(16) as students:
                    told = list(students.map(lambda _: answers(app.url), range(64)))
                assert set(told) == {(200, True)}
                os.kill(app._process.pid, signal.SIGKILL)
                assert within(5, lambda: not app.runs())
                assert within(60, lambda: answers(app.url) == (200, True)), "the server is back"
            finally:
                ended.set()
                watcher.join()
    finally:
        cluster.stop()
