"""The real thing: gunicorn with the demo school on a fresh database, and Debian's Chromium."""

from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Browser, BrowserContext, FloatRect, Locator, Page, expect
from playwright.sync_api import Error as PlaywrightError

from ops import browser as ops_browser
from ops.browser import DESK, PHONE, sign_in
from ops.demo_server import DemoSchool, DemoServer, Served, demo_school

# Two processors are shared by server, browser and whatever else runs: what comes is waited for.
expect.set_options(timeout=15_000)
LAN_NAME = "edrix.workshop"
"""What tablets in a workshop call the server: neither localhost nor https."""
AXE = Path(__file__).parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js"


@pytest.fixture(scope="session")
def place(worker_id: str) -> int:
    """The worker's number: each has databases and ports of its own."""
    return int(worker_id.removeprefix("gw")) if worker_id.startswith("gw") else 0


@pytest.fixture(scope="session")
def school(place: int) -> Iterator[DemoSchool]:
    with demo_school(f"browser_{place}") as filled:
        yield filled


@pytest.fixture(scope="session")
def served(school: DemoSchool, place: int) -> Iterator[Served]:
    with school.served(8700 + 40 * place, also=LAN_NAME) as started:
        yield started


@pytest.fixture(scope="module")
def server(served: Served) -> DemoServer:
    """Each file begins with the demo school as it was: which files come before it on the same
    worker differs from run to run, and must not matter."""
    served.reset()
    return served.demo


@pytest.fixture(scope="module")
def worker(served: Served, server: DemoServer) -> Iterator[None]:
    """Does the long work: plans a rota, takes in a file, packs a class."""
    with served.worker():
        yield


@pytest.fixture(scope="session")
def chromium() -> Iterator[Browser]:
    with ops_browser.chromium(f"--host-resolver-rules=MAP {LAN_NAME} 127.0.0.1") as browser:
        yield browser


FAILED = pytest.StashKey[bool]()


@pytest.hookimpl(wrapper=True)
def pytest_runtest_makereport(item: pytest.Item, call: pytest.CallInfo[None]) -> Any:
    report = yield
    if call.when == "call":
        item.stash[FAILED] = report.failed
    return report


def tell(page: Page) -> str:
    """What stands on a page, for whoever reads why a test failed on a machine that is gone."""
    try:
        return f"{page.url}\n{page.locator('body').aria_snapshot(timeout=3000)}"
    except PlaywrightError as fault:
        return f"{page.url}: {fault}"


def new_context(
    chromium: Browser, url: str, *, phone: bool = False, cookies: Any = None, keeps: bool = False
) -> BrowserContext:
    """A browser context with its own cookies, storage and files."""
    context = chromium.new_context(
        # Only who asks what a device keeps has its service worker beside the page.
        service_workers="allow" if keeps else "block",
        viewport=PHONE if phone else DESK,
        has_touch=phone,
        base_url=url,
        accept_downloads=True,
        storage_state={"cookies": cookies or [], "origins": []},
        # A dialog that is still growing lets a click fall beside its button on a busy machine.
        reduced_motion="reduce",
    )
    # A machine that others keep busy stalls for seconds; what never comes still fails.
    context.set_default_timeout(20_000)
    return context


class Opened:
    """The pages of one test: what they complain of, and what is to be closed."""

    def __init__(self) -> None:
        self.pages: list[Page] = []
        self.complaints: list[str] = []
        self.own: list[BrowserContext] = []

    def page(self, context: BrowserContext) -> Page:
        page = context.new_page()
        self.pages.append(page)
        page.on("pageerror", lambda error: self.complaints.append(str(error)))
        page.on(
            "console",
            # A refusal that the page handles is logged by Chromium all the same.
            lambda m: (
                self.complaints.append(m.text)
                if m.type == "error" and "Failed to load resource" not in m.text
                else None
            ),
        )
        return page

    def own_page(self, context: BrowserContext) -> Page:
        self.own.append(context)
        return self.page(context)


@pytest.fixture
def opened(request: pytest.FixtureRequest) -> Iterator[Opened]:
    """Fails the test if one of its pages logs an error."""
    opened = Opened()
    yield opened
    failed = request.node.stash.get(FAILED, False)
    if failed:
        pages = {page for context in opened.own for page in context.pages} | {*opened.pages}
        print("\n\n".join(tell(page) for page in pages))
    for page in opened.pages:
        page.close()
    for context in opened.own:
        context.close()
    assert opened.complaints == []


@pytest.fixture
def open_page(server: DemoServer, chromium: Browser, opened: Opened) -> Callable[..., Page]:
    """A page of its own at the sign-in form."""

    def make(path: str = "/", **wishes: Any) -> Page:
        page = opened.own_page(new_context(chromium, server.url, **wishes))
        page.goto(path)
        return page

    return make


@pytest.fixture(scope="module")
def sessions(server: DemoServer) -> dict[str, Any]:
    """Cookies by name: each person signs in once, and again only if the session has ended."""
    return {}


@pytest.fixture
def page_as(
    server: DemoServer, open_page: Callable[..., Page], sessions: dict[str, Any]
) -> Callable[..., Page]:
    """A page signed in as a demo person, opened at a path."""

    def make(name: str, path: str = "/", **wishes: bool) -> Page:
        page = open_page(path, cookies=sessions.get(name), **wishes)
        sign_in_if_asked(page, server, name, sessions)
        return page

    return make


@pytest.fixture(scope="module")
def browsers(chromium: Browser) -> Iterator[dict[Any, BrowserContext]]:
    """Contexts that the cases of one test function share, by function, person and size."""
    shared: dict[Any, BrowserContext] = {}
    yield shared
    for context in shared.values():
        context.close()


@pytest.fixture
def look_as(
    request: pytest.FixtureRequest,
    server: DemoServer,
    chromium: Browser,
    sessions: dict[str, Any],
    browsers: dict[Any, BrowserContext],
    opened: Opened,
) -> Callable[..., Page]:
    """A page signed in as a demo person, for a test that changes nothing: all cases of one test
    function share a browser context, which takes half the time of a context each."""

    def make(name: str, path: str, **wishes: bool) -> Page:
        key = (request.function, name, *sorted(wishes.items()))
        if key not in browsers:
            browsers[key] = new_context(chromium, server.url, cookies=sessions.get(name), **wishes)
        page = opened.page(browsers[key])
        page.goto(path)
        sign_in_if_asked(page, server, name, sessions)
        return page

    return make


def sign_in_if_asked(page: Page, server: DemoServer, name: str, sessions: dict[str, Any]) -> None:
    passcode = page.get_by_label("Passcode", exact=True)
    # Before a class no places are shown: they are there, and hidden as soon as the page looks.
    places = page.get_by_role("navigation", name="Places", include_hidden=True)
    passcode.or_(places).first.wait_for(state="attached")
    if passcode.is_visible():
        sign_in(page, name, server.passcodes[name])
        sessions[name] = page.context.cookies()


SEND = """async ([method, path, body]) => {
  const token = document.cookie.match(/csrftoken=([^;]+)/)?.[1] ?? "";
  const headers = { "content-type": "application/json", "x-csrftoken": token };
  const answer = await fetch(path, { method, headers, body: body && JSON.stringify(body) });
  return { status: answer.status, body: await answer.json() };
}"""


def send(page: Page, method: str, path: str, body: Any = None) -> Any:
    answer = page.evaluate(SEND, [method, path, body])
    assert answer["status"] < 300, answer
    return answer["body"]


def tick_all(page: Page, region: str) -> None:
    """Ticks every line of a safety list, and keeps it."""
    safety = page.get_by_role("region", name=region)
    lines = safety.get_by_role("checkbox")
    lines.first.wait_for()
    for line in lines.all():
        line.check()
    done = safety.get_by_role("button", name="All done")
    done.click()
    # Kept by the server, not only clicked: what follows may ask for it.
    expect(done).to_have_count(0)


def still_box(place: Locator) -> FloatRect:
    """Where something lies once it has come to rest: what loads late pushes it down."""
    place.scroll_into_view_if_needed()
    before = None
    for _ in range(50):
        now = place.bounding_box()
        if now is not None and now == before:
            return now
        before = now
        place.page.wait_for_timeout(300)
    raise AssertionError(f"{place} does not come to rest")


STILL = """() => Promise.all(document.getAnimations()
  .filter((one) => Number.isFinite(one.effect?.getComputedTiming().endTime))
  .map((one) => one.finished.catch(() => undefined)))
  .then(() => undefined)"""
"""Waits until what is in transition has come to its end."""


def axe_faults(page: Page) -> list[str]:
    """What axe-core finds against WCAG 2.2 A and AA, one line each."""
    # As the page's own script would be refused by its content security policy, evaluated.
    page.evaluate(AXE.read_text())
    # A phone's bar stays in sight and covers whatever is scrolled under it; that is no fault.
    page.evaluate("() => document.querySelector('.rail')?.style.setProperty('position', 'static')")
    # A button on its way from grey to blue has the contrast of neither: what is under way comes to
    # its end, and what begins while axe looks (an answer that has just come) has no way to go.
    page.emulate_media(reduced_motion="reduce")
    page.evaluate(STILL)
    found = page.evaluate(
        """() => axe.run(document, {
            resultTypes: ['violations'],
            runOnly: ['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa'],
        })"""
    )
    return [
        f"{rule['id']}: {node['target']} {node['failureSummary']}"
        for rule in found["violations"]
        for node in rule["nodes"]
    ]
