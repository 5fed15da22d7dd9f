"""Sixty phones beside a wall: how soon a question is on the last of them; what looking costs."""

import statistics
import threading
import time
from collections.abc import Iterator
from dataclasses import dataclass, field
from functools import partial
from http import HTTPStatus
from typing import Any

from ops.demo_server import DemoServer
from ops.load import Client, at_once

PHONES = 60
LOOK_S = 1.5
"""As often as a page looks (web/src/api/now.ts)."""
QUIET_S = 12
QUESTIONS = 5
PERCENTILES = 20
"""The 95th is the last but one of so many."""


@dataclass
class Phone:
    """Looks again and again, as a page does, and keeps how long each look took."""

    client: Client
    cursor: str = ""
    question: dict[str, Any] | None = None
    seen_at: dict[int, float] = field(default_factory=dict)
    quiet_ms: list[float] = field(default_factory=list)
    told_ms: list[float] = field(default_factory=list)

    def look(self) -> None:
        began = time.perf_counter()
        status, told = self.client.ask("GET", f"/api/my/now?day=false&after={self.cursor}")
        took_ms = (time.perf_counter() - began) * 1000
        if status == HTTPStatus.NOT_MODIFIED:
            self.quiet_ms.append(took_ms)
            return
        if status != HTTPStatus.OK:
            raise RuntimeError(f"a look was answered {status}")
        self.told_ms.append(took_ms)
        self.cursor = told["cursor"]
        self.question = (told["questions"] or [None])[-1]
        if self.question is not None:
            self.seen_at.setdefault(self.question["id"], time.perf_counter())

    def answer(self) -> None:
        if self.question is None:
            raise RuntimeError("nothing is asked")
        given = [self.question["options"][0]["id"]]
        path = f"/api/questions/{self.question['id']}/answer"
        self.client.send("PUT", path, {"given": given, "sure": 1})


def lesson_rows(server: DemoServer) -> Iterator[tuple[str, str, str]]:
    tove = Client(server.url)
    tove.sign_in("tove", server.passcodes["tove"])
    class_id = tove.send("POST", "/api/classes", {"name": "Sixty phones"})["id"]
    phones = _phones(server, tove, class_id)
    with _Looking(phones):
        time.sleep(QUIET_S)
        quiet = [ms for phone in phones for ms in phone.quiet_ms]
        reached = [_last_phone_s(tove, class_id, phones, turn) for turn in range(QUESTIONS)]
    told = [ms for phone in phones for ms in phone.told_ms]
    yield f"{PHONES} phones look, nothing new, 95th percentile", f"{_p95(quiet):.0f} ms", "20 ms"
    yield "and where something is, 95th percentile", f"{_p95(told):.0f} ms", "60 ms"
    what = f"question to the last of {PHONES} phones, the slowest of {QUESTIONS}"
    yield what, f"{max(reached):.1f} s", "2 s"
    quiet_ms, told_ms = _desk_ms(tove, class_id, phones)
    yield (
        f"Today of a class of {PHONES}, nothing new, 95th percentile",
        f"{quiet_ms:.0f} ms",
        "20 ms",
    )
    yield "and where somebody has put a hand up", f"{told_ms:.0f} ms", "60 ms"
    kept, took_s, wall_s = _answers(tove, class_id, phones)
    yield f"{PHONES} answers at once, kept once", f"{kept} in {took_s:.2f} s", f"{PHONES} in 1 s"
    yield "the last of them on the wall", f"{wall_s:.1f} s", "2 s"


def _phones(server: DemoServer, tove: Client, class_id: int) -> list[Phone]:
    names = "\n".join(f"Phone {number:02d} Holder" for number in range(PHONES))
    made = tove.send("POST", f"/api/classes/{class_id}/students", {"text": names})
    phones = [Phone(Client(server.url)) for _ in made]
    at_once(
        [
            partial(phone.client.sign_in, person["sign_in_name"], person["passcode"])
            for phone, person in zip(phones, made, strict=True)
        ]
    )
    for phone in phones:
        # Each on a connection of its own from now on, as browsers keep theirs.
        phone.client.connection.close()
        phone.look()
        phone.told_ms.clear()
    return phones


class _Looking:
    """All phones look, each at moments of its own, to the end of the block."""

    def __init__(self, phones: list[Phone]):
        self._over = threading.Event()
        self._threads = [
            threading.Thread(target=self._look, args=(phone, place * LOOK_S / len(phones)))
            for place, phone in enumerate(phones)
        ]

    def _look(self, phone: Phone, first_s: float) -> None:
        due = time.perf_counter() + first_s
        while not self._over.wait(max(0.0, due - time.perf_counter())):
            phone.look()
            due += LOOK_S

    def __enter__(self) -> None:
        for thread in self._threads:
            thread.start()

    def __exit__(self, *_exc: object) -> None:
        self._over.set()
        for thread in self._threads:
            thread.join()


def _ask(tove: Client, class_id: int, turn: int) -> dict[str, Any]:
    body = {"engine_id": 1, "kind": "which-valves", "request_key": f"bench-{turn:04}"}
    wall = tove.send("POST", f"/api/classes/{class_id}/questions", body | {"crank_deg": 0})
    return dict(wall["question"])


def _last_phone_s(tove: Client, class_id: int, phones: list[Phone], turn: int) -> float:
    """From the press to the moment at which every phone has the question."""
    began = time.perf_counter()
    question = _ask(tove, class_id, turn)
    until = began + 20
    while time.perf_counter() < until:
        if all(question["id"] in phone.seen_at for phone in phones):
            return max(phone.seen_at[question["id"]] for phone in phones) - began
        time.sleep(0.02)
    raise RuntimeError("a question did not reach every phone")


def _desk_ms(tove: Client, class_id: int, phones: list[Phone]) -> tuple[float, float]:
    """Looks at a class's Today: where nothing is new, and after each hand that goes up."""
    path = f"/api/classes/{class_id}/now"
    cursor = tove.send("GET", path)["cursor"]
    times: dict[int, list[float]] = {HTTPStatus.OK: [], HTTPStatus.NOT_MODIFIED: []}
    for phone in phones:
        for _ in range(2):
            began = time.perf_counter()
            status, told = tove.ask("GET", f"{path}?after={cursor}")
            times[status].append((time.perf_counter() - began) * 1000)
            cursor = told["cursor"] if told else cursor
        phone.client.send("PUT", f"/api/classes/{class_id}/hand", {"up": True})
    return _p95(times[HTTPStatus.NOT_MODIFIED]), _p95(times[HTTPStatus.OK])


def _answers(tove: Client, class_id: int, phones: list[Phone]) -> tuple[int, float, float]:
    """How many are kept, how long all took, and when the wall had them."""
    _ask(tove, class_id, QUESTIONS)
    for phone in phones:
        phone.look()
    path = f"/api/classes/{class_id}/question"
    cursor = tove.send("GET", path)["cursor"]
    began = time.perf_counter()
    at_once([phone.answer for phone in phones])
    took_s = time.perf_counter() - began
    answered = 0
    while answered < len(phones) and time.perf_counter() < began + 20:
        status, told = tove.ask("GET", f"{path}?after={cursor}")
        if status == HTTPStatus.OK:
            cursor, answered = told["cursor"], told["question"]["answered"]
        time.sleep(0.05)
    return answered, took_s, time.perf_counter() - began


def _p95(times_ms: list[float]) -> float:
    return statistics.quantiles(times_ms, n=PERCENTILES)[-1]
