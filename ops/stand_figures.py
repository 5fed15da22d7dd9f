"""How fast a stand's trend, a page of its logbook and a booking of shims are."""

import http
import http.client
import statistics
import threading
import time
from collections.abc import Iterator
from datetime import datetime, timedelta

from playwright.sync_api import Browser, FilePayload, Page

from ops.browser import DESK, sign_in
from ops.demo_server import DemoServer

ENTRIES = 2000
AT_ONCE, TURNS = 20, 8
BOOKING = '{"change": 1}'
TREND_TIMING = """
import random, timeit
import scipy.special
from valvetrain.gauges import Spec
from valvetrain.siblings import odd_ones
from valvetrain.trend import LogLook, trend
chance = random.Random(1)
looks = [
    LogLook(at * 24 + valve, float(at), valve, 0.3 - at * 1e-5 + chance.gauss(0, 0.008),
         0.3 if at % 100 == 50 else None)
    for at in range(417) for valve in range(1, 25)
]
specs = dict.fromkeys(range(1, 25), Spec(0.1, 0.5))
assert len(looks) > 10_000
told = lambda: odd_ones(trend(looks, specs).valves, {})
print(min(timeit.repeat(told, number=1, repeat=7)) * 1000)
"""


def stand_rows(browser: Browser, server: DemoServer) -> Iterator[tuple[str, str, str]]:
    """A log of 2,000 entries of a stand: its page, and its trend, from asking to the answer."""
    page = browser.new_page(viewport=DESK, base_url=server.url)
    page.goto("/stands")
    sign_in(page, "tove", server.passcodes["tove"])
    page.get_by_role("navigation", name="Places").wait_for()
    taken_s = _post_log(page, "/api/stands/1/log/file", _long_log())
    yield f"a log of {ENTRIES:,} entries taken in by a worker", f"{taken_s:.1f} s", ""
    for what, path in (
        (f"logbook page of {ENTRIES:,} entries", "/api/stands/1/log?skip=1000"),
        (f"trend of a log of {ENTRIES:,} entries, asked for", "/api/stands/1/trend"),
    ):
        yield what, f"{_median_ms(page, path):.0f} ms", "300 ms"
    rota_ms = _median_ms(page, "/api/rotas/1")
    yield "a rota as it stands, 10 students, asked for", f"{rota_ms:.0f} ms", ""
    cookies = {one["name"]: one["value"] for one in page.context.cookies()}
    booked = _bookings_ms(server.url, cookies)
    what = f"shim booking, {AT_ONCE} at once, the median of them"
    yield what, f"{booked:.0f} ms", "50 ms"
    page.close()


def _bookings_ms(url: str, cookies: dict[str, str]) -> float:
    """Twenty tablets book a shim of one size in at the same moment, some times over: how long each
    waits for its answer. Connections are kept, as browsers keep theirs."""
    host = url.removeprefix("http://")
    headers = {
        "Content-Type": "application/json",
        "Cookie": "; ".join(f"{name}={value}" for name, value in cookies.items()),
        "X-CSRFToken": cookies["csrftoken"],
        "Referer": url,
    }
    ready = threading.Barrier(AT_ONCE)
    times: list[float] = []

    def tablet() -> None:
        line = http.client.HTTPConnection(host, timeout=30)
        for turn in range(TURNS):
            ready.wait(timeout=60)
            began = time.perf_counter()
            line.request("POST", "/api/store/sizes/1/moves", BOOKING, headers)
            answer = line.getresponse()
            answer.read()
            if answer.status != http.HTTPStatus.CREATED:
                raise RuntimeError(f"a booking was answered {answer.status}")
            if turn:
                times.append((time.perf_counter() - began) * 1000)
        line.close()

    tablets = [threading.Thread(target=tablet) for _ in range(AT_ONCE)]
    for one in tablets:
        one.start()
    for one in tablets:
        one.join()
    return statistics.median(times)


def _long_log() -> bytes:
    """Ten years before the demo's own year."""
    first = datetime.now() - timedelta(days=3400)  # noqa: DTZ005  by the school's clock
    rows = ["day,meter,valve,found"]
    rows += [
        f"{first + timedelta(days=at):%Y-%m-%d},{at / 10},{1 + at % 8},0.3{at % 10}"
        for at in range(ENTRIES)
    ]
    return "\n".join(rows).encode()


def _post_log(page: Page, path: str, body: bytes) -> float:
    token = next(c["value"] for c in page.context.cookies() if c["name"] == "csrftoken")
    file = FilePayload(name="log.csv", mimeType="text/csv", buffer=body)
    answer = page.request.post(
        path, multipart={"file": file}, headers={"X-CSRFToken": token}, timeout=120_000
    )
    if not answer.ok:
        raise RuntimeError(f"{path}: {answer.status} {answer.text()[:300]}")
    return _job_s(page, answer.json()["id"])


def _job_s(page: Page, job_id: int) -> float:
    """Until a worker has done it, as the page that waits sees it."""
    began = time.perf_counter()
    while True:
        job = page.request.get(f"/api/jobs/{job_id}").json()
        if job["is_over"]:
            break
        page.wait_for_timeout(100)
    if job["state"] != "done":
        raise RuntimeError(job["says"])
    return time.perf_counter() - began


def _median_ms(page: Page, path: str, turns: int = 15) -> float:
    times = []
    for _ in range(turns):
        began = time.perf_counter()
        answer = page.request.get(path)
        times.append((time.perf_counter() - began) * 1000)
        if not answer.ok:
            raise RuntimeError(f"{path}: {answer.status}")
    return statistics.median(times)
