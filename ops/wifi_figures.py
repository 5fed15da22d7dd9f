"""A phone on a hall's thin Wi-Fi: how soon the sign-in page can be typed into, and how soon what
was open before stands there again."""

import statistics
import time
from collections.abc import Iterator
from urllib.parse import urlsplit

from playwright.sync_api import Browser, BrowserContext, Page

from ops.browser import PHONE, sign_in
from ops.demo_server import DemoServer
from ops.load import Client

KBIT_S = 400
ROUND_TRIP_MS = 400
SLOWED = 4
"""As many times slower than this machine a phone's processor is."""
RUNS = 7
SETTLED_MS = 1000
LAN_NAME = "edrix.workshop"
STUDENT = "ravi.tannock"
READING = "Reading of valve 1"


def wifi_rows(browser: Browser, server: DemoServer) -> Iterator[tuple[str, str, str]]:
    """browser knows LAN_NAME, as in `LAN_FLAG`; the server answers to it."""
    first = statistics.median(_first_visit_s(browser, server) for _ in range(RUNS))
    yield "thin Wi-Fi: the sign-in page, first visit, to the first key", f"{first:.1f} s", "4.5 s"
    plain = f"http://{LAN_NAME}:{urlsplit(server.url).port}"
    for url, how in ((server.url, "kept on the device"), (plain, "over plain http")):
        with browser.new_context(viewport=PHONE, has_touch=True, base_url=url) as context:
            limit = "1 s" if url == server.url else ""
            _prepare(context, server)
            sheet = _again_s(context, "/sheet/1", "#reading-1")
            yield f"a sheet that was open before, {how}", f"{sheet:.2f} s", limit
            _see_a_question(context, server)
            asked = _again_s(context, "/today", "dialog.asked[open]")
            yield f"a question that was open before, {how}", f"{asked:.2f} s", limit


LAN_FLAG = f"--host-resolver-rules=MAP {LAN_NAME} 127.0.0.1"


def _thin(page: Page) -> None:
    devtools = page.context.new_cdp_session(page)
    bytes_s = KBIT_S * 1000 / 8
    devtools.send(
        "Network.emulateNetworkConditions",
        {
            "offline": False,
            "latency": ROUND_TRIP_MS,
            "downloadThroughput": bytes_s,
            "uploadThroughput": bytes_s,
        },
    )
    devtools.send("Emulation.setCPUThrottlingRate", {"rate": SLOWED})


def _first_visit_s(browser: Browser, server: DemoServer) -> float:
    with browser.new_context(viewport=PHONE, has_touch=True, base_url=server.url) as context:
        page = context.new_page()
        _thin(page)
        began = time.perf_counter()
        page.goto("/", wait_until="commit")
        page.get_by_label("Sign-in name").wait_for()
        return time.perf_counter() - began


def _prepare(context: BrowserContext, server: DemoServer) -> None:
    """A student who has had the sheet open, on a device that had time to keep what it keeps."""
    page = context.new_page()
    page.goto("/")
    sign_in(page, STUDENT, server.passcodes[STUDENT])
    page.goto("/sheet/1")
    page.get_by_label(READING).first.wait_for()
    if page.evaluate("'serviceWorker' in navigator"):
        page.wait_for_function("() => navigator.serviceWorker.controller !== null")
    page.wait_for_function("() => (localStorage.getItem('edrix-own') ?? '').includes('sheets')")
    page.close()


def _see_a_question(context: BrowserContext, server: DemoServer) -> None:
    tove = Client(server.url)
    tove.sign_in("tove", server.passcodes["tove"])
    body = {"engine_id": 1, "kind": "which-valves", "crank_deg": 0}
    asked = tove.send(
        "POST", "/api/classes/1/questions", body | {"request_key": f"wifi-{time.time():.0f}"}
    )
    page = context.new_page()
    page.goto("/today")
    page.get_by_role("dialog").wait_for()
    page.wait_for_function(
        "asks => (localStorage.getItem('edrix-own') ?? '').includes(asks)",
        arg=asked["question"]["asks"],
    )
    page.close()


SEEN = """selector => {
  const look = () => {
    const found = document.querySelector(selector);
    if (!found || found.getClientRects().length === 0) return requestAnimationFrame(look);
    // The frame after the one that draws it.
    const note = () => { window.seenMs = performance.now(); };
    requestAnimationFrame(() => requestAnimationFrame(note));
  };
  look();
}"""
"""Notes in the page when what was waited for is drawn: a driver would be slowed too."""


def _again_s(context: BrowserContext, path: str, selector: str) -> float:
    """Opened anew, until what was looked at is drawn: the median of some."""
    page = context.new_page()
    _thin(page)
    page.add_init_script(f"({SEEN})({selector!r})")
    took = []
    for _ in range(RUNS):
        # A driver's new tab loads things of its own; what is measured is the page.
        page.goto("about:blank")
        page.wait_for_timeout(SETTLED_MS)
        page.goto(path, wait_until="commit")
        page.wait_for_function("() => window.seenMs !== undefined")
        took.append(float(page.evaluate("window.seenMs")) / 1000)
    page.close()
    return statistics.median(took)
