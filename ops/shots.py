"""`./edrix shots`: the pictures in docs/screenshots, made again from the demo school."""

from collections.abc import Callable

from PIL import Image
from playwright.sync_api import Browser, Page

from ops.browser import DESK, PHONE, chromium, sign_in
from ops.console import say
from ops.demo_server import DemoServer, demo_server
from ops.load import Client
from ops.paths import ROOT

FOLDER = ROOT / "docs" / "screenshots"
SETTLE_MS = 400
"""Fonts and the first frame are in by then."""


def feel_a_leaf(page: Page) -> None:
    """A practice run that has come to a mark, with a leaf tried on valve 2."""
    page.locator(".work-row", has_text="The pump, on your own").get_by_role("button").click()
    page.get_by_role("heading", name="Notepad").wait_for()
    for key in ("m", "v", "f"):
        page.keyboard.press(key)
    page.get_by_text("valve 2:").wait_for()
    page.wait_for_timeout(2500)


def start_at_once(page: Page) -> None:
    """A run that ends with the turning tool on the crank, for its debrief."""
    feel_a_leaf(page)
    page.get_by_text("Close up", exact=True).click()
    page.get_by_role("button", name="First start").click()
    page.get_by_role("button", name="Start it").click()
    page.get_by_role("link", name="See what happened").click()
    page.get_by_text("The run, step by step").wait_for()


def nothing(_page: Page) -> None:
    return None


Shot = tuple[str, str, str, str, Callable[[Page], None]]
# name, who, path, a text that shows it is there, what is done first
DESK_SHOTS: list[Shot] = [
    ("bench", "tove", "/bench/1?at=2", "turn 360°", nothing),
    ("route-card", "tove", "/route/1?method=two-stop&sheet=1", "Before turning by hand", nothing),
    ("methods", "tove", "/methods/12", "cover every valve", nothing),
    ("editor", "tove", "/engines/14/edit", "do not agree", nothing),
    ("section", "tove", "/bench/5?view=section&at=250", "gap drawn", nothing),
    ("rota", "tove", "/rota/1/week", "everybody has a place", nothing),
    ("stand", "tove", "/stand/4", "When each leaves its spec", nothing),
    ("board", "tove", "/board/1", "handed in", nothing),
    ("class-view", "tove", "/board/1/class", "What explains the figures", nothing),
    ("hand-in", "tove", "/hand-in/3", "of 24", nothing),
    ("progress", "tove", "/progress/2/13", "Bias, sheet by sheet", nothing),
    ("study", "tove", "/study/2", "What spreads the readings", nothing),
    ("practice-run", "ines.falkner", "/work", "Practice runs", feel_a_leaf),
    ("debrief", "marit.oskarsen", "/work", "Practice runs", start_at_once),
]
PHONE_SHOTS: list[Shot] = [
    ("phone-sheet", "ines.falkner", "/sheet/1", "valves complete", nothing),
    ("phone-marks", "jonas.brekkel", "/sheet/1", "of 24", nothing),
]


def main() -> None:
    FOLDER.mkdir(parents=True, exist_ok=True)
    with demo_server("shots") as server, chromium() as browser:
        for shot in DESK_SHOTS:
            take(browser, server, *shot, phone=False)
        for shot in PHONE_SHOTS:
            take(browser, server, *shot, phone=True)
        take_lesson(browser, server)


ANSWERS = {
    "bo.hallgrim": "78", "marit.oskarsen": "78", "tadeo.quill": "1235", "suvi.arnholt": "1235",
    "jonas.brekkel": "1235", "pim.ostrander": "46",
}  # fmt: skip
"""What students answer to which valves may be set at firing TDC of cylinder 1."""


def take_lesson(browser: Browser, server: DemoServer) -> None:
    """A question on a phone, the proof on the wall, and a class's Today with a hand up."""
    wall = _signed_in(browser, server, "tove", "/ask-here/1?at=0", phone=False)
    wall.get_by_role("button", name="Ask it").click()
    phone = _signed_in(browser, server, "ines.falkner", "/today", phone=True)
    for valve in "78":
        phone.get_by_role("button", name=f"valve {valve},").click()
    phone.get_by_text("Your answer is in.").wait_for()
    save(phone, "phone-question")
    for name, given in ANSWERS.items():
        student = Client(server.url)
        student.sign_in(name, server.passcodes[name])
        asked = student.send("GET", "/api/my/now")["questions"][-1]
        path = f"/api/questions/{asked['id']}/answer"
        student.send("PUT", path, {"given": list(given), "sure": 2})
    for told in ("The proof", "Done"):
        wall.keyboard.press("PageDown")
        wall.get_by_role("button", name=told).wait_for()
    save(wall, "wall")
    wall.keyboard.press("PageDown")
    phone.get_by_role("button", name="Put my hand up").click()
    wall.goto("/classes/1/today")
    wall.get_by_text("Ines Falkner").first.wait_for()
    save(wall, "today")


def take(
    browser: Browser,
    server: DemoServer,
    name: str,
    who: str,
    path: str,
    text: str,
    first: Callable[[Page], None],
    *,
    phone: bool,
) -> None:
    page = _signed_in(browser, server, who, path, phone=phone)
    page.get_by_text(text).first.wait_for()
    first(page)
    save(page, name)
    page.context.close()


def _signed_in(browser: Browser, server: DemoServer, who: str, path: str, *, phone: bool) -> Page:
    context = browser.new_context(
        viewport=PHONE if phone else DESK,
        has_touch=phone,
        base_url=server.url,
        locale="en-GB",
        reduced_motion="reduce",
    )
    page = context.new_page()
    page.goto(path)
    sign_in(page, who, server.passcodes[who])
    return page


def save(page: Page, name: str) -> None:
    page.wait_for_timeout(SETTLE_MS)
    file = FOLDER / f"{name}.png"
    page.screenshot(path=file)
    # Flat ink on paper: 256 colours are all of it, and a phone keeps the guide's pictures.
    with Image.open(file) as shown:
        few = shown.convert("RGB").quantize(256, dither=Image.Dither.NONE)
    few.save(file, optimize=True)
    say(f"docs/screenshots/{name}.png")


if __name__ == "__main__":
    main()
