"""Sixty students at practice engines at once: how fast each is answered, and how many in all."""

import http.client
import json
import statistics
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import partial
from typing import Any
from urllib.parse import urlsplit

from ops.demo_server import DemoServer

STUDENTS = 60
PACED_SECONDS = 15
TILT_SECONDS = 1
TILT_TURNS = 12
"""Both kinds of request go in turns: a busy minute of the machine meets both."""
TILT_CLIENTS = 8
ACTIONS = (
    {"do": "turn", "by_deg": 10},
    {"do": "try", "valve": 1, "leaves_um": [250]},
    {"do": "wiggle", "valve": 2},
)


@dataclass
class Figures:
    """p95_ms and applied are of the paced part."""

    signing_in_s: float
    """From the first of all students to the last."""
    p95_ms: float
    sent: int
    applied: int
    actions_per_s: float
    bare_per_s: float


class Client:
    """One signed-in person on one kept connection."""

    def __init__(self, url: str):
        self.connection = http.client.HTTPConnection(urlsplit(url).netloc, timeout=30)
        self.cookies: dict[str, str] = {}

    def send(self, method: str, path: str, body: Any = None) -> Any:
        """Raises RuntimeError for a refusal."""
        status, told = self.ask(method, path, body)
        if status >= 400:
            raise RuntimeError(f"{method} {path}: {status} {told}")
        return told

    def ask(self, method: str, path: str, body: Any = None) -> tuple[int, Any]:
        """The status and what is said. Raises OSError where nobody answers."""
        headers = {"Cookie": "; ".join(f"{k}={v}" for k, v in self.cookies.items())}
        if method != "GET":
            headers |= {
                "Content-Type": "application/json",
                "X-CSRFToken": self.cookies.get("csrftoken", ""),
            }
        data = None if body is None else json.dumps(body)
        try:
            answer = self._asked(method, path, data, headers)
        except ConnectionError:
            # A server may close a connection that was idle; a browser sends again, and so do we.
            self.connection.close()
            answer = self._asked(method, path, data, headers)
        for name, value in answer.getheaders():
            if name.lower() == "set-cookie":
                key, _, rest = value.partition("=")
                self.cookies[key] = rest.split(";")[0]
        try:
            told = answer.read()
        except http.client.HTTPException as broken:
            self.connection.close()
            raise ConnectionError(str(broken)) from None
        is_json = "json" in (answer.getheader("Content-Type") or "")
        return answer.status, json.loads(told) if told and is_json else None

    def _asked(
        self, method: str, path: str, data: str | None, headers: dict[str, str]
    ) -> http.client.HTTPResponse:
        try:
            self.connection.request(method, path, data, headers)
            return self.connection.getresponse()
        except http.client.HTTPException as broken:
            self.connection.close()
            raise ConnectionError(str(broken)) from None

    def sign_in(self, name: str, passcode: str) -> None:
        self.send("GET", "/api/session")
        self.send("POST", "/api/session", {"sign_in_name": name, "passcode": passcode})


@dataclass
class Student:
    client: Client
    run_id: int
    step: int = 0
    times_ms: list[float] = field(default_factory=list)

    def act(self) -> None:
        body = {
            "key": f"load-{self.run_id}-{self.step:06d}",
            "step": self.step,
            "action": ACTIONS[self.step % len(ACTIONS)],
        }
        began = time.perf_counter()
        answer = self.client.send("POST", f"/api/runs/{self.run_id}/actions", body)
        self.times_ms.append((time.perf_counter() - began) * 1000)
        self.step = answer["step"]


def measure(server: DemoServer) -> Figures:
    students, signing_in_s = _students(server)
    at_once([_paced(student, place) for place, student in enumerate(students)])
    times = [time_ms for student in students for time_ms in student.times_ms]
    sent = len(times)
    applied = sum(
        len(student.client.send("GET", f"/api/runs/{student.run_id}")["events"])
        for student in students
    )
    actions, bare = _at_full_tilt(server, students[:TILT_CLIENTS])
    p95_ms = statistics.quantiles(times, n=20)[-1]
    return Figures(signing_in_s, p95_ms, sent, applied, actions, bare)


def _at_full_tilt(server: DemoServer, students: list[Student]) -> tuple[float, float]:
    """Actions and bare views in a second, each over all its turns."""
    acting = [student.client for student in students]
    viewing = [Client(server.url) for _ in students]
    turns = [
        (
            _rate(acting, [student.act for student in students]),
            _rate(viewing, [_bare(client) for client in viewing]),
        )
        for _ in range(TILT_TURNS)
    ]
    return statistics.mean(turn[0] for turn in turns), statistics.mean(turn[1] for turn in turns)


def _students(server: DemoServer) -> tuple[list[Student], float]:
    """Students who all sign in at the same moment, each at a run; and how long that took."""
    tove = Client(server.url)
    tove.sign_in("tove", server.passcodes["tove"])
    names = "\n".join(f"Load {number:02d} Tester" for number in range(STUDENTS))
    made = tove.send("POST", "/api/classes/1/students", {"text": names})
    practice = next(
        one for one in tove.send("GET", "/api/classes/1/practice") if one["level"] == "alone"
    )
    clients = [Client(server.url) for _ in made]
    began = time.perf_counter()
    at_once(
        [
            partial(client.sign_in, person["sign_in_name"], person["passcode"])
            for client, person in zip(clients, made, strict=True)
        ]
    )
    signing_in_s = time.perf_counter() - began
    runs = [client.send("POST", f"/api/practice/{practice['id']}/runs") for client in clients]
    students = [Student(client, run["id"]) for client, run in zip(clients, runs, strict=True)]
    return students, signing_in_s


def _paced(student: Student, place: int) -> Callable[[], None]:
    """One action a second, each student at a moment of their own."""

    def go() -> None:
        due = time.perf_counter() + place / STUDENTS
        for _ in range(PACED_SECONDS):
            time.sleep(max(0.0, due - time.perf_counter()))
            student.act()
            due += 1

    return go


def _bare(client: Client) -> Callable[[], None]:
    return lambda: client.send("GET", "/api/ready")


def _rate(clients: list[Client], acts: list[Callable[[], None]]) -> float:
    """How many in a second, all clients going as fast as they are answered.

    They connect again: a kept connection stays with the process that took it, and connections
    that were made one after the other mostly stay with the same one.
    """
    for client in clients:
        client.connection.close()
    counts = [0] * len(acts)
    until = time.perf_counter() + TILT_SECONDS

    def go(place: int) -> None:
        while time.perf_counter() < until:
            acts[place]()
            counts[place] += 1

    at_once([lambda place=place: go(place) for place in range(len(acts))])  # type: ignore[misc]
    return sum(counts) / TILT_SECONDS


def at_once(jobs: list[Callable[[], None]]) -> None:
    threads = [threading.Thread(target=job) for job in jobs]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
