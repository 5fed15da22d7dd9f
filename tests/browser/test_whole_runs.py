"""Whole practice runs in Chromium, from *Start* to the debrief, on a desk and on a phone.

At *Guided* the robot taps *Show me* until the engine has been started; at *Solo* it works as a good
student works: by keys at the desk, by touch on the phone. Covered: every kind of adjuster at both
sizes with `./edrix journeys`; two of each in CI.
"""

import os
import re
from itertools import count
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import send
from tests.browser.run_by_hand import BrowserRun
from tests.journeys.engines import demo_engines
from tests.journeys.robot import GoodStudent
from tests.journeys.texts import Texts

ALL = os.environ.get("EDRIX_JOURNEYS") == "all"
ENGINES = {
    "screw and nut": ("fire pump", 3),
    "screw by thou": ("side", 2),
    "shim under a bucket": ("sled", 2),
    "shim over a bucket": ("cable", 4),
    "two shims": ("gorge", 1),
    "brake": ("hauler", 3),
}
CASES = [(kind, phone) for kind in ENGINES for phone in (False, True)]
IN_CI = [("screw and nut", True), ("two shims", False)]
SOLO_IN_CI = [("two shims", True), ("screw by thou", False)]
MOST_STEPS = 900
ASSIGNED = count(1)


def assign(page: Page, title: str, engine: str, **fields: Any) -> int:
    """A practice engine for the first class, as its instructor assigns it; its number."""
    engines = send(page, "GET", "/api/engines")
    engine_id = next(one["id"] for one in engines if engine in one["name"].lower())
    class_id = send(page, "GET", "/api/classes")[0]["id"]
    # A test that is run once more finds what its first try has left.
    title = f"{title}, {next(ASSIGNED)}"
    body = {"engine_id": engine_id, "title": title, "box": "metric", **fields}
    return int(send(page, "POST", f"/api/classes/{class_id}/practice", body)["id"])


def start(page: Page, practice_id: int) -> int:
    """The number of the run."""
    run = send(page, "POST", f"/api/practice/{practice_id}/runs")
    page.goto(f"/practice/{run['id']}")
    expect(page.get_by_role("heading", name="Notepad")).to_be_visible()
    # A part that still loads hides the page for a moment, and what is tapped with it.
    page.wait_for_load_state("networkidle")
    return int(run["id"])


@pytest.mark.parametrize(("kind", "phone"), CASES if ALL else IN_CI)
def test_show_me_leads_from_the_first_step_to_the_debrief(page_as, kind, phone):
    engine, valve = ENGINES[kind]
    title = f"Shown: {kind} {'on a phone' if phone else 'on a desk'}"
    faults = [{"kind": "wrong-setting", "valve": valve}]
    tove = page_as("tove", "/classes")
    practice_id = assign(tove, title, engine, level="shown", faults=faults)
    page = page_as("pim.ostrander", "/work", phone=phone)
    start(page, practice_id)
    taps = show_me_to_the_end(page)
    assert taps > 10
    # Not by its place on the screen: on a phone the bar of places may lie over it.
    page.get_by_role("radio", name="Close up").dispatch_event("click")
    is_passed_on_its_page(page)


def is_passed_on_its_page(page: Page) -> None:
    page.get_by_role("link", name="See what happened").click()
    expect(page.get_by_role("heading", name="Passed", exact=True)).to_be_visible()
    # Nothing of it is wider than the screen.
    assert page.evaluate("document.documentElement.scrollWidth <= window.innerWidth + 1")


@pytest.mark.parametrize(("kind", "phone"), CASES if ALL else SOLO_IN_CI)
def test_a_good_student_works_alone_from_start_to_debrief(page_as, kind, phone):
    name, valve = ENGINES[kind]
    title = f"Solo: {kind} {'on a phone' if phone else 'at a desk'}"
    faults = [{"kind": "wrong-setting", "valve": valve}]
    practice_id = assign(page_as("tove", "/classes"), title, name, level="alone", faults=faults)
    page = page_as("pim.ostrander", "/work", phone=phone)
    run = BrowserRun(page, start(page, practice_id), Texts(), by_keys=not phone)
    engine = next(one for one in demo_engines().values() if name in one.name.lower())
    GoodStudent(run, engine, "metric").work()
    is_passed_on_its_page(page)
    assert run.debrief()["remarks"] == []


def show_me_to_the_end(page: Page) -> int:
    """Taps *Show me* until it is gone; how often. Each tap takes the run one step further."""
    step = page.get_by_role("region", name="Next step")
    show = step.get_by_role("button", name="Show me", exact=True)
    for taps in range(1, MOST_STEPS):
        expect(show).to_be_visible()
        before = step.inner_text()
        with (
            page.expect_response(re.compile(r"/walk")) as shown,
            page.expect_response(re.compile(r"/actions$")) as acted,
        ):
            show.dispatch_event("click")
        assert acted.value.ok, before
        assert acted.value.json()["asks"] is None, before
        assert shown.value.ok, before
        if shown.value.json()["says"] is None:
            return taps
        page.wait_for_function(
            """([before]) => {
              const step = document.querySelector('section[aria-label="Next step"]');
              return step !== null && step.innerText !== before;
            }""",
            arg=[before],
        )
    raise AssertionError("Show me comes to no end")


@pytest.mark.parametrize("phone", [False, True])
def test_a_question_of_the_coach_leaves_the_tools_in_reach(page_as, phone):
    """It once covered the whole screen: another page's style sheet reached it."""
    tove = page_as("tove", "/classes")
    name = f"Asked {'on a phone' if phone else 'on a desk'}"
    practice_id = assign(tove, name, "fire pump", level="prompted")
    page = page_as("pim.ostrander", "/work", phone=phone)
    start(page, practice_id)
    page.get_by_role("radio", name="Adjust").click(force=True)
    page.get_by_role("button", name=re.compile("^Loosen")).first.click()
    question = page.get_by_role("alert").filter(has_text="written down")
    expect(question).to_be_visible()
    box, size = question.bounding_box(), page.viewport_size
    assert box is not None
    assert size is not None
    assert box["height"] < size["height"] / 2
    # The tools lie below the question, not under it: a click on them reaches them.
    page.get_by_role("radio", name="Turn").click(force=True)
    expect(page.get_by_role("button", name=re.compile("^Next mark"))).to_be_visible()
