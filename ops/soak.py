"""`./edrix soak`: sixty students at work while what serves them is killed again and again.

Every student writes a draft figure by figure, works at a practice engine, and hands in at the end.
What is not answered is sent again as it was, as the pages do. At the end what the server says is
held against what it had acknowledged: nothing lost, nothing doubled.
"""

import json
import os
import random
import signal
import threading
import time
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass, field
from typing import Any

from ops.cluster import Cluster
from ops.console import Trouble, say
from ops.demo_server import fill_demo
from ops.load import Client
from ops.server import App, free_port, manage, server_environment
from ops.watch import Watched, watch

CREW = "Soak Student"
"""What those at work are called; the demo class has others, some of whom have handed in."""
THINK_S = 0.4
AGAIN_S = (0.2, 0.5, 1.0, 2.0)
MOST_WAIT_S = 120
"""A student who is not answered for so long is lost: the run fails."""
VALVES = 8
SHEET_ID, PRACTICE_ID = 1, 1


@dataclass
class Told:
    """What a run came to."""

    kills: int = 0
    killed: dict[str, int] = field(default_factory=dict)
    acknowledged: int = 0
    sent_again: int = 0
    longest_wait_s: float = 0.0
    handed_in: int = 0
    lost: list[str] = field(default_factory=list)
    doubled: list[str] = field(default_factory=list)


class Student:
    """One at work: knows what was acknowledged, and sends again what was not."""

    def __init__(self, url: str, name: str, passcode: str, told: Told, lock: threading.Lock):
        self.name, self._passcode, self._url = name, passcode, url
        self._told, self._lock = told, lock
        self._client = Client(url)
        self._lines: dict[int, dict[str, Any]] = {}
        self._step = 0
        self._run_id = 0
        self.handed_in = False
        self.failed = ""

    def begin(self) -> None:
        body = {"sign_in_name": self.name, "passcode": self._passcode}
        self._client.send("GET", "/api/session")
        self._send("POST", "/api/session", body)
        self._run_id = self._send("POST", f"/api/practice/{PRACTICE_ID}/runs")["id"]

    def work(self, over: threading.Event) -> None:
        try:
            count = 0
            while not over.is_set():
                count += 1
                self._write(count % VALVES + 1, f"0.{20 + count % 30}")
                self._act(count)
                time.sleep(random.uniform(0, 2 * THINK_S))  # noqa: S311 (no secret)
            self._hand_in()
        except Exception as fault:  # one student's end must not end the others
            self.failed = f"{self.name}: {fault}"

    def check(self) -> None:
        """Holds what the server says now against what it had acknowledged."""
        sheet = self._send("GET", f"/api/sheets/{SHEET_ID}")
        said = {line["valve"]: line["reading"] for line in sheet["result"]["lines"]}
        wrote = {valve: line["reading"] for valve, line in self._lines.items()}
        if said != wrote:
            self._told.lost.append(f"{self.name}: {wrote} was written, {said} is kept")
        steps = self._send("GET", f"/api/runs/{self._run_id}")["view"]["step"]
        if steps < self._step:
            self._told.lost.append(f"{self.name}: {self._step} actions were done, {steps} are kept")
        if steps > self._step:
            self._told.doubled.append(f"{self.name}: {self._step} actions, {steps} are kept")

    def _write(self, valve: int, reading: str) -> None:
        empty = {"valve": valve, "reading": "", "unit": "mm"}
        line = {"valve": valve, "reading": reading, "unit": "mm"}
        change = {"line": line, "based_on": self._lines.get(valve, empty)}
        answer = self._send("PATCH", f"/api/sheets/{SHEET_ID}/draft", {"changes": [change]})
        if answer["clashes"]:
            raise Trouble(f"a device clashed with itself: {answer['clashes']}")
        self._lines[valve] = line

    def _act(self, count: int) -> None:
        action = {"do": "turn", "by_deg": 10.0} if count % 2 else {"do": "wiggle", "valve": 1}
        key = f"{self.name}-{count:08d}"[-40:]
        body = {"key": key, "step": self._step, "action": action, "sure": True}
        self._step = self._send("POST", f"/api/runs/{self._run_id}/actions", body)["step"]

    def _hand_in(self) -> None:
        lines = [self._lines[valve] for valve in sorted(self._lines)]
        body = {"lines": lines, "request_key": f"soak-{self.name}", "confirmed": True}
        for _ in range(2):  # the second is the retry of a lost answer
            self._send("POST", f"/api/sheets/{SHEET_ID}/hand-in", body)
        self.handed_in = True

    def _send(self, method: str, path: str, body: Any = None) -> Any:
        """The answer, however often it has to be asked for."""
        started, tries = time.monotonic(), 0
        while True:
            try:
                status, said = self._client.ask(method, path, body)
            except OSError:
                status, said = 0, None
            if 200 <= status < 300:
                break
            if 400 <= status < 500:
                raise Trouble(f"{method} {path} was refused with {status}: {said}")
            if time.monotonic() - started > MOST_WAIT_S:
                raise Trouble(f"{method} {path} was not answered within {MOST_WAIT_S} s")
            time.sleep(AGAIN_S[min(tries, len(AGAIN_S) - 1)])
            tries += 1
        with self._lock:
            self._told.acknowledged += 1
            self._told.sent_again += tries
            waited = time.monotonic() - started
            self._told.longest_wait_s = max(self._told.longest_wait_s, waited)
        return said


def soak(*, students: int, kills: int, every_s: float, purpose: str = "soak") -> Told:
    """Runs it on a database of its own that keeps what it says it keeps. Raises Trouble."""
    cluster = Cluster(purpose)
    cluster.start()
    try:
        environment = server_environment(cluster.fresh_database("soak"), "only-for-tests")
        manage(environment, "migrate", "--verbosity=0")
        passcodes = fill_demo(environment)
        address = ("127.0.0.1", free_port("127.0.0.1", 9900))
        with App(environment, address, purpose) as app, _watched(cluster, app):
            return _run(app, cluster, passcodes["tove"], students, kills, every_s)
    finally:
        cluster.stop()


class _Enough(Exception):
    """Ends the watching."""


class _watched:  # noqa: N801 (reads as what it is in a with)
    """What ends is started again meanwhile."""

    def __init__(self, cluster: Cluster, app: App):
        self._over = threading.Event()
        things = [
            Watched("the database", cluster.runs, cluster.start_again),
            Watched("the server", app.runs, app.start),
            Watched("the front", app.front.runs, app.front.start),
        ]
        self._thread = threading.Thread(target=self._look, args=(things,))

    def _look(self, things: list[Watched]) -> None:
        def sleep(seconds: float) -> None:
            if self._over.wait(seconds):
                raise _Enough

        # Killed on purpose, it is no reason to give up.
        with suppress(_Enough):
            watch(things, sleep=sleep, calm_s=1.0)

    def __enter__(self) -> None:
        self._thread.start()

    def __exit__(self, *_: object) -> None:
        self._over.set()
        self._thread.join()


def _run(
    app: App, cluster: Cluster, passcode: str, students: int, kills: int, every_s: float
) -> Told:
    told, lock, over = Told(), threading.Lock(), threading.Event()
    crew = [
        Student(app.url, name, code, told, lock)
        for name, code in _new_students(app.url, passcode, students)
    ]
    for one in crew:
        one.begin()
    threads = [threading.Thread(target=one.work, args=(over,)) for one in crew]
    for thread in threads:
        thread.start()
    for number in range(kills):
        time.sleep(every_s)
        _kill(number, app, cluster, told)
        if kills > 20 and number % 10 == 9:
            say(f"{number + 1} of {kills} kills, {told.acknowledged} requests acknowledged")
    over.set()
    # They hand in while things are still coming back.
    for thread in threads:
        thread.join()
    if failed := [one.failed for one in crew if one.failed]:
        raise Trouble(f"{len(failed)} students could not go on; the first: {failed[0]}")
    for one in crew:
        one.check()
    told.handed_in = sum(one.handed_in for one in crew)
    _check_board(app.url, passcode, told)
    return told


def _kill(number: int, app: App, cluster: Cluster, told: Told) -> None:
    """In turns: one process of the application, all of it, the database, the front."""
    victims: tuple[tuple[str, Callable[[], int | None]], ...] = (
        ("a worker of the application", app.worker_pid),
        ("the application", app.pid),
        ("the database", cluster.pid),
        ("the front", app.front.pid),
    )
    name, find = victims[number % len(victims)]
    pid = find()
    if pid is None:
        return
    try:
        os.kill(pid, signal.SIGKILL)
    except ProcessLookupError:
        return
    told.kills += 1
    told.killed[name] = told.killed.get(name, 0) + 1


def _new_students(url: str, passcode: str, count: int) -> list[tuple[str, str]]:
    tove = Client(url)
    tove.sign_in("tove", passcode)
    names = "\n".join(f"{CREW} {number:02d}x" for number in range(count))
    added = tove.send("POST", "/api/classes/1/students", {"text": names})
    return [(one["sign_in_name"], one["passcode"]) for one in added]


def _check_board(url: str, passcode: str, told: Told) -> None:
    tove = Client(url)
    tove.sign_in("tove", passcode)
    rows = tove.send("GET", f"/api/sheets/{SHEET_ID}/board")["rows"]
    handed_in = [row for row in rows if row["hand_in_id"] and row["display_name"].startswith(CREW)]
    if len(handed_in) < told.handed_in:
        told.lost.append(f"{told.handed_in} sheets were handed in, {len(handed_in)} are there")
    if len(handed_in) > told.handed_in:
        told.doubled.append(f"{told.handed_in} sheets were handed in, {len(handed_in)} are there")


def main(kills: int, students: int) -> int:
    """Prints the figures of docs/reliability.md."""
    told = soak(students=students, kills=kills, every_s=4.0)
    print(json.dumps(told.__dict__, indent=1))
    return 1 if told.lost or told.doubled else 0
