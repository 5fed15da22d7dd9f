"""Fifty clients that never finish a request, and sixty students who go on with their work."""

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

from ops.demo_server import demo_server
from ops.front import Front

SLOW = 50
STUDENTS = 60
PATIENCE_S = 5.0
"""How long anybody at work may wait, on a machine that does other things as well. Who waited for an
unfinished request would wait the ten seconds after which it is given up."""


@pytest.fixture(scope="module")
def demo(worker_id):
    with demo_server(f"front_{worker_id}", port=9500) as server:
        yield server


def half_asked(url, number):
    """A connection with an unfinished request on it: of its headers, or of its body."""
    host, port = url.removeprefix("http://").split(":")
    slow = socket.create_connection((host, int(port)))
    if number % 2:
        slow.sendall(b"POST /api/session HTTP/1.1\r\nHost: localhost\r\nX-Slow: ")
    else:
        slow.sendall(
            b"POST /api/session HTTP/1.1\r\nHost: localhost\r\n"
            b"Content-Type: application/json\r\nContent-Length: 1000\r\n\r\n{"
        )
    return slow


def asked(url, path="/api/ready"):
    started = time.monotonic()
    with urllib.request.urlopen(url + path, timeout=30) as answer:  # noqa: S310 (our own)
        answer.read()
        return answer.status, time.monotonic() - started


def test_slow_clients_keep_nobody_waiting(demo):
    alone = max(asked(demo.url)[1] for _ in range(10))
    slow = [half_asked(demo.url, number) for number in range(SLOW)]
    try:
        time.sleep(0.5)
        with ThreadPoolExecutor(STUDENTS) as students:
            rounds = list(students.map(lambda _: asked(demo.url), range(STUDENTS * 3)))
        assert {status for status, _ in rounds} == {200}
        worst = max(seconds for _, seconds in rounds)
        assert worst < PATIENCE_S + 10 * alone, f"{worst:.2f} s, and {alone:.3f} s alone"
    finally:
        for one in slow:
            one.close()


def test_an_unfinished_request_is_given_up(demo):
    slow = half_asked(demo.url, 0)
    slow.settimeout(30)
    started = time.monotonic()
    told = slow.recv(1000)
    assert time.monotonic() - started < 20
    assert told == b"" or b" 408 " in told.splitlines()[0]
    slow.close()


def test_while_the_application_is_away_the_front_says_so(tmp_path):
    front = Front(tmp_path, ("127.0.0.1", free_of(9600)))
    front.start()
    try:
        with pytest.raises(urllib.error.HTTPError) as refusal:
            asked(f"http://127.0.0.1:{front._address[1]}")
        answer = refusal.value
        assert (answer.code, answer.headers["Retry-After"]) == (503, "2")
        assert answer.headers["Content-Type"] == "application/problem+json"
        assert "nothing is lost" in json.load(answer)["detail"]
    finally:
        front.stop()
    assert not front.runs()


def test_a_front_that_was_killed_starts_again_at_once(tmp_path):
    """Its worker outlives it, and would hold the port."""
    front = Front(tmp_path, ("127.0.0.1", free_of(9700)))
    front.start()
    try:
        for _ in range(3):
            os.kill(front.pid(), signal.SIGKILL)
            while front.runs():
                time.sleep(0.01)
            front.start()
            with pytest.raises(urllib.error.HTTPError) as refusal:
                asked(f"http://127.0.0.1:{front._address[1]}")
            assert refusal.value.code == 503
    finally:
        front.stop()


def test_only_a_named_proxy_is_believed(tmp_path):
    """What stands behind the front tells whom it heard of."""
    heard = []

    def application(listener):
        while True:
            try:
                connection, _ = listener.accept()
            except OSError:
                return
            with connection:
                heard.append(connection.recv(10_000).decode().lower())
                connection.sendall(b"HTTP/1.1 204 No Content\r\nConnection: close\r\n\r\n")

    for proxies, wanted in (((), "127.0.0.1"), (("127.0.0.1",), "10.9.8.7")):
        folder = tmp_path / f"with-{len(proxies)}"
        front = Front(folder, ("127.0.0.1", free_of(9650)), proxies)
        folder.mkdir()
        listener = socket.socket(socket.AF_UNIX)
        listener.bind(str(front.socket))
        listener.listen()
        threading.Thread(target=application, args=(listener,), daemon=True).start()
        front.start()
        try:
            request = urllib.request.Request(
                f"http://127.0.0.1:{front._address[1]}/",
                headers={"X-Forwarded-For": "10.9.8.7", "X-Real-IP": "6.6.6.6"},
            )
            urllib.request.urlopen(request, timeout=10).close()  # noqa: S310
        finally:
            front.stop()
            listener.close()
        assert f"x-real-ip: {wanted}\r\n" in heard[-1]
        assert "6.6.6.6" not in heard[-1]


def free_of(first):
    from ops.server import free_port

    return free_port("127.0.0.1", first)
