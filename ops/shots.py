"""`./edrix shots`: the pictures in docs/screenshots, made again from the demo school."""

from collections.abc import Callable

from playwright.sync_api import Browser, FilePayload, Page

from ops.browser import DESK, PHONE, chromium, sign_in
from ops.console import say
from ops.demo_server import DemoServer, demo_server
from ops.paths import ROOT

FOLDER = ROOT / "docs" / "screenshots"
SETTLE_MS = 400
"""Fonts and the first frame are in by then."""


READINGS = b"""Name;Valve No;Gap (mm);Stop;Verdict;Weather
Ines Falkner;1;0,34;1;ok;dry
Ines Falkner;2;0,25;1;ok;dry
Ines Falkner;3;0,19;1;tight;dry
Bo Hallgrim;1;=0.3+0.04;1;ok;dry
Bo Hallgrim;2;0,25;1;ok;dry
Nobody Here;1;0,35;1;ok;dry
"""


def look_into_a_file(page: Page) -> None:
    file = FilePayload(name="tuesday.csv", mimeType="text/csv", buffer=READINGS)
    page.set_input_files("input[type=file]", files=[file])
    page.get_by_text("Rows that are refused").first.wait_for()


def set_weights(page: Page) -> None:
    page.get_by_role("button", name="Measuring counts most").click()
    page.get_by_text("How it is worked out").click()


def ask_the_class(page: Page) -> None:
    page.get_by_role("button", name="Ten questions before the class").click()
    page.get_by_role("button", name="Show the answer").click()
    page.get_by_text("✓ right").first.wait_for()


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
    ("drill-class", "tove", "/drill/1", "Ten questions for me", ask_the_class),
    ("editor", "tove", "/engines/14/edit", "do not agree", nothing),
    ("section", "tove", "/bench/5?view=section&at=250", "gap drawn", nothing),
    ("rota", "tove", "/rota/1/week", "everybody has a place", nothing),
    ("stand", "tove", "/stand/4", "When each leaves its spec", nothing),
    ("board", "tove", "/board/1", "handed in", nothing),
    ("class-view", "tove", "/board/1/class", "What explains the figures", nothing),
    ("hand-in", "tove", "/hand-in/3", "of 24", nothing),
    ("take-in", "tove", "/board/1/take-in", "Choose a file", look_into_a_file),
    ("rubric", "tove", "/board/1/rubric", "Jonas", set_weights),
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
    context = browser.new_context(
        viewport=PHONE if phone else DESK, has_touch=phone, base_url=server.url, locale="en-GB"
    )
    page = context.new_page()
    page.goto(path)
    sign_in(page, who, server.passcodes[who])
    page.get_by_text(text).first.wait_for()
    first(page)
    save(page, name)
    context.close()


def save(page: Page, name: str) -> None:
    page.wait_for_timeout(SETTLE_MS)
    page.screenshot(path=FOLDER / f"{name}.png")
    say(f"docs/screenshots/{name}.png")


if __name__ == "__main__":
    main()
