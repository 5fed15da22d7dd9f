"""A lesson as it is held: the wall, twelve phones beside it, and one of them without a network."""

import re
import time
from collections.abc import Callable, Iterator
from typing import Any

import pytest
from playwright.sync_api import APIRequestContext, Page, expect

from ops.demo_server import DemoServer

PHONES = 12
DEAD_S = 60


class Phone:
    """A student's phone without its screen: what its page asks and sends, by the same addresses."""

    def __init__(self, request: APIRequestContext, name: str, passcode: str):
        self.request, self.name = request, name
        self._send("POST", "/api/session", {"sign_in_name": name, "passcode": passcode})

    def _send(self, method: str, path: str, body: Any) -> Any:
        self.request.get("/api/session")
        token = next(
            c["value"] for c in self.request.storage_state()["cookies"] if c["name"] == "csrftoken"
        )
        answer = self.request.fetch(path, method=method, data=body, headers={"X-CSRFToken": token})
        assert answer.ok, (answer.status, answer.text())
        return answer

    def question(self) -> dict[str, Any] | None:
        questions = self.request.get("/api/my/now").json()["questions"]
        return questions[-1] if questions else None

    def waits_for(self, asks: str) -> dict[str, Any]:
        until = time.monotonic() + 15
        while time.monotonic() < until:
            found = self.question()
            if found and found["asks"] == asks:
                return found
            time.sleep(0.2)
        raise AssertionError(f"{self.name} was not asked “{asks}”")

    def answers(self, question: dict[str, Any], *given: str) -> None:
        body = {"given": list(given), "sure": 2}
        self._send("PUT", f"/api/questions/{question['id']}/answer", body)


@pytest.fixture
def tove(page_as: Callable[..., Page]) -> Page:
    return page_as("tove", "/bench/1?at=0&cover=1")


@pytest.fixture
def phones(server: DemoServer, chromium: Any, tove: Page) -> Iterator[list[Phone]]:
    """Ten of them beside the two that have a screen; two students come new into the class."""
    added = tove.evaluate(
        """async () => {
          const token = /csrftoken=([^;]+)/.exec(document.cookie)[1];
          const answer = await fetch("/api/classes/1/students", {
            method: "POST",
            headers: {"X-CSRFToken": token, "Content-Type": "application/json"},
            body: JSON.stringify({text: "Orla Finch\\nHanno Brisk"}),
          });
          return answer.json();
        }"""
    )
    fresh = {one["sign_in_name"]: one["passcode"] for one in added}
    assert len(fresh) == 2
    screens = {"tove", "ines.falkner", "bo.hallgrim"}
    known = {name: code for name, code in server.passcodes.items() if name not in screens}
    contexts = []
    found = []
    for name, code in (fresh | known).items():
        if len(found) == PHONES - 2:
            break
        context = chromium.new_context(base_url=server.url)
        contexts.append(context)
        phone = Phone(context.request, name, code)
        day = phone.request.get("/api/my/now").json()["day"]
        if 1 in {one["id"] for one in day["classes"]}:
            found.append(phone)
    yield found
    for context in contexts:
        context.close()


def test_a_whole_lesson_with_twelve_phones(
    tove: Page, phones: list[Phone], page_as: Callable[..., Page]
) -> None:
    ines = page_as("ines.falkner", "/today", phone=True)
    bo = page_as("bo.hallgrim", "/work", phone=True)
    assert len(phones) + 2 == PHONES

    # Stopped at firing TDC of cylinder 1, with what tells covered.
    expect(tove.get_by_role("region", name="Verdict")).to_have_count(0)
    tove.get_by_role("button", name="Ask the class").click()
    tove.get_by_role("button", name="Ask it").click()
    asks = "Which valves may be set now?"
    expect(tove.get_by_role("heading", name=asks)).to_be_visible()
    for page in (ines, bo):
        expect(page.get_by_role("heading", name=asks)).to_be_visible()
        expect(page.get_by_text("✓ right")).to_have_count(0)
    for number, phone in enumerate(phones):
        given = ("7", "8") if number < 6 else ("1", "2", "3", "5")
        phone.answers(phone.waits_for(asks), *given)
    # Changed before the close: what stands then counts.
    ines.get_by_role("button", name="valve 7,").click()
    expect(ines.get_by_text("Your answer is in.")).to_be_visible()
    ines.get_by_role("button", name="valve 8,").click()
    ines.get_by_role("button", name="Sure", exact=True).click()
    expect(ines.get_by_text("Your answer is in.")).to_be_visible()
    expect(tove.get_by_text("11 of 12 answered")).to_be_visible()

    # Bo's phone loses the network with his answer half given, for a minute.
    bo.context.set_offline(True)
    dead_since = time.monotonic()
    bo.get_by_role("button", name="valve 1,").click()
    expect(bo.get_by_text("Waiting for the network")).to_be_visible()

    # One press of a clicker after the other: the spread, then the proof.
    tove.keyboard.press("PageDown")
    row = tove.get_by_role("listitem").filter(has_text="valve 7, intake, cylinder 4")
    expect(row).to_contain_text("7 votes")
    expect(ines.get_by_text("Closed. Look at the wall")).to_be_visible()
    expect(ines.get_by_text("Companion mistaken")).to_have_count(0)
    tove.keyboard.press("PageDown")
    proof = tove.get_by_role("region", name="Proof")
    expect(proof).to_contain_text("Cylinder 4 rocks: its companion 1 is the one to set.")
    expect(proof).to_contain_text("Companion mistaken: 7 answers, 1 of them sure")
    # The crank has turned to where the commonest wrong choice is open furthest.
    expect(tove.get_by_text("107° past mark 0")).to_be_visible()
    expect(ines.get_by_text("Companion mistaken.")).to_be_visible()
    expect(ines.get_by_text("✓ right").first).to_be_visible()

    # The next one, at another place, with a count-down.
    tove.keyboard.press("a")
    tove.get_by_role("combobox", name="Question").select_option("which-stroke")
    tove.get_by_text("90 s", exact=True).click()
    tove.get_by_role("button", name="At another place").click()
    heading = tove.get_by_role("heading", name=re.compile("On which stroke is cylinder"))
    expect(heading).to_be_visible()
    second = heading.inner_text()
    for phone in phones:
        question = phone.waits_for(second)
        phone.answers(question, "power")
    expect(ines.get_by_role("heading", name=second)).to_be_visible()
    ines.get_by_role("button", name="compression").click()
    expect(tove.get_by_text("11 of 12 answered")).to_be_visible()

    # A minute later Bo's phone is back: his late answer is told of, and he is where the class is.
    bo.wait_for_timeout(max(0, DEAD_S - (time.monotonic() - dead_since)) * 1000)
    bo.context.set_offline(False)
    expect(bo.get_by_role("heading", name=second)).to_be_visible()
    bo.get_by_role("button", name="power").click()
    expect(bo.get_by_text("Your answer is in.")).to_be_visible()
    expect(tove.get_by_text("12 of 12 answered")).to_be_visible()
    tove.keyboard.press("PageDown")
    expect(tove.get_by_role("button", name="The proof")).to_be_visible()
    tove.keyboard.press("PageDown")
    expect(tove.get_by_role("region", name="Proof")).to_be_visible()
    tove.keyboard.press("PageDown")
    for page in (ines, bo):
        expect(page.get_by_role("heading", name=second)).to_have_count(0)
    expect(tove.get_by_text("What this class mistakes most")).to_be_visible()
    expect(tove.get_by_text(re.compile("Companion mistaken"))).to_be_visible()


def test_hands_are_seen_and_taken_down(page_as: Callable[..., Page]) -> None:
    student = page_as("ines.falkner", "/today", phone=True)
    wall = page_as("tove", "/classes/1/today")
    student.get_by_role("button", name="Put my hand up").click()
    expect(student.get_by_text("Your instructor sees it.")).to_be_visible()
    hands = wall.get_by_role("region", name="Hands up")
    expect(hands).to_contain_text("Ines Falkner")
    wall.get_by_role("button", name="Take down the hand of Ines Falkner").click()
    expect(hands).not_to_contain_text("Ines Falkner")
    student.reload()
    expect(student.get_by_role("button", name="Put my hand up")).to_be_visible()


def test_how_far_somebody_is_comes_by_itself(page_as: Callable[..., Page]) -> None:
    wall = page_as("tove", "/classes/1/today")
    line = wall.get_by_role("listitem").filter(has_text="Dilys Wren")
    expect(line).to_contain_text("nothing begun today")
    student = page_as("dilys.wren", "/today", phone=True)
    student.get_by_role("link", name=re.compile("First measuring")).click()
    student.get_by_label("Reading of valve 1").fill("0.34")
    expect(line).to_contain_text("1 of 8")


def test_a_ready_lesson_is_held_by_a_clicker_with_notes_beside(
    page_as: Callable[..., Page],
) -> None:
    tove = page_as("tove", "/lessons")
    row = tove.get_by_role("row").filter(has_text="Which valves may be set now?")
    row.get_by_role("link", name="Hold it").click()
    expect(tove.get_by_role("heading", name="What has to be known")).to_be_visible()
    notes = tove.context.new_page()
    notes.goto(tove.url.replace("?", "/notes?"))
    expect(notes.get_by_text("Show a camshaft from hand to hand")).to_be_visible()
    tove.keyboard.press("PageDown")
    expect(tove.get_by_test_id("may-set")).to_have_text("1 2 3 5")
    expect(notes.get_by_role("heading", name="One turn, then another")).to_be_visible()
    # From the notes, too.
    notes.keyboard.press("PageDown")
    expect(tove.get_by_role("heading", name="Overlap", exact=True)).to_be_visible()
    tove.keyboard.press("PageDown")
    student = page_as("pim.ostrander", "/today", phone=True)
    tove.keyboard.press("PageDown")
    asks = "Which cylinder rocks in overlap?"
    expect(student.get_by_role("heading", name=asks)).to_be_visible()
    for shown in ("The proof", "Done"):
        tove.keyboard.press("PageDown")
        expect(tove.get_by_role("button", name=shown)).to_be_visible()
    tove.keyboard.press("PageDown")
    expect(student.get_by_role("heading", name=asks)).to_have_count(0)
    tove.keyboard.press("PageDown")
    expect(tove.get_by_role("heading", name="Which valves, at the mark?")).to_be_visible()


def test_where_a_step_leads_is_at_the_foot_of_every_phone(page_as: Callable[..., Page]) -> None:
    """Step 4 of *Measuring and adjusting* is a practice engine, step 8 a sheet, step 9 is told."""
    writing = page_as("dilys.wren", "/work", phone=True)
    today = page_as("pim.ostrander", "/today", phone=True)
    tove = page_as("tove", "/lesson/2?class=1&step=8&room=shop")
    expect(tove.get_by_text("It stands at the foot of every phone")).to_be_visible()
    way = writing.get_by_role("complementary", name="Your lesson").get_by_role("link")
    expect(way).to_contain_text("First measuring, stand 3")
    expect(today.get_by_text("your lesson, now")).to_be_visible()
    way.click()
    expect(writing.get_by_label("Reading of valve 1")).to_be_visible()
    tove.keyboard.press("PageDown")
    expect(today.get_by_text("your lesson, now")).to_have_count(0)
    tove.goto("/lesson/2?class=1&step=4&room=shop")
    writing.get_by_role("complementary", name="Your lesson").get_by_role("link").click()
    expect(writing.locator(".led-to")).to_contain_text("The pump, shown")
    # Today hangs on the wall while they are at it; a lesson that is shut leads nowhere.
    tove.get_by_role("link", name="Today").click()
    expect(tove.locator(".people").first).to_be_visible()
    today.reload()
    expect(today.get_by_text("your lesson, now")).to_be_visible()
    tove.go_back()
    expect(tove.get_by_text("It stands at the foot of every phone")).to_be_visible()
    tove.goto("/lessons")
    expect(today.get_by_text("your lesson, now")).to_have_count(0)


PROJECTORS = ((1280, 720), (1024, 768), (1920, 1080))
LETTERS_PX = """() => [...document.querySelectorAll(".mark text")].map((text) =>
  parseFloat(getComputedStyle(text).fontSize) * text.ownerSVGElement.getScreenCTM().a)"""


def lowest_px(page: Page, *regions: str) -> float:
    boxes = [page.get_by_role("region", name=name).bounding_box() for name in regions]
    return max(box["y"] + box["height"] for box in boxes if box)


@pytest.mark.parametrize(
    ("path", "regions"),
    [
        ("/bench/1?at=2&room=shop", ("Verdict", "Crank wheel", "Valve row")),
        ("/bench/1?at=2&room=shop&view=section", ("Verdict", "Crank wheel")),
        ("/bench/1?at=2&room=shop&view=overlap", ("Verdict", "Crank wheel", "Overlap")),
        ("/bench/1?at=2&room=shop&cover=1", ("Crank wheel", "Valve row")),
        ("/bench/2?at=2&room=shop&view=section", ("Verdict", "Crank wheel")),
        # Twelve and twenty-four cylinders: the valves from above.
        ("/bench/15?at=2&room=shop", ("Verdict", "Crank wheel", "Valve row")),
        ("/bench/16?at=2&room=shop", ("Verdict", "Crank wheel", "Valve row")),
        ("/bench/16?at=2&room=shop&cover=1", ("Crank wheel", "Valve row")),
        ("/bench/16?at=2&room=shop&view=section", ("Verdict", "Crank wheel")),
        ("/bench/16?at=2&room=shop&view=overlap", ("Verdict", "Crank wheel", "Overlap")),
        ("/lesson/1?class=1&step=2&room=shop", ("Crank wheel", "Valve row")),
    ],
)
def test_what_is_projected_is_whole_at_the_sizes_of_projectors(
    look_as: Callable[..., Page], path: str, regions: tuple[str, ...]
) -> None:
    """Verdict and drawing without scrolling, nothing wider than the screen, and marks on the wheel
    in letters of 22 px or more (legible from eight metres on a screen two metres wide)."""
    page = look_as("tove", path)
    page.get_by_role("region", name="Crank wheel").wait_for()
    for width, height in PROJECTORS:
        page.set_viewport_size({"width": width, "height": height})
        page.wait_for_timeout(250)
        assert page.evaluate("document.documentElement.scrollWidth") <= width
        assert lowest_px(page, *regions) <= height
        letters = page.evaluate(LETTERS_PX)
        assert letters
        assert min(letters) >= 22


@pytest.mark.parametrize(
    ("path", "told"),
    [
        ("/classes/1/today?room=shop", ".people, .today-body aside"),
        ("/methods/12?room=shop", ".methods"),
        ("/route/1?room=shop", ".stops-table"),
        ("/route/2?room=shop&method=two-stop", ".stops-table"),
        ("/route/2?room=shop&method=each-cylinder", ".stops-table"),
        ("/route/16?room=shop&method=two-stop", ".stops-table"),
        ("/route/16?room=shop&method=each-cylinder", ".stops-table"),
        ("/bench/2?at=110&room=shop&view=clearance", ".verdict, .wheel-face, .effect"),
    ],
)
def test_what_is_projected_beside_the_bench_is_whole_too(
    look_as: Callable[..., Page], path: str, told: str
) -> None:
    """Who is where, the nine methods, the stops of a card, what clearance does: without scrolling,
    nothing beside its place, in letters as large as the room's."""
    page = look_as("tove", path)
    page.locator(told).first.wait_for()
    for width, height in PROJECTORS:
        page.set_viewport_size({"width": width, "height": height})
        page.wait_for_timeout(250)
        assert page.evaluate("document.documentElement.scrollWidth") <= width
        boxes = [one.bounding_box() for one in page.locator(told).all()]
        assert max(box["y"] + box["height"] for box in boxes if box) <= height
        size = page.locator("h1").first.evaluate(
            "one => parseFloat(getComputedStyle(one).fontSize)"
        )
        assert size >= 22
