"""What an instructor judges by: debriefs and weights of runs, heat, the pin, leaving a valve, a
class at a glance, a hand felt blind."""

import re

from playwright.sync_api import Page, expect

from tests.browser.conftest import axe_faults
from tests.browser.test_practice import begin, close_up, said


def set_practice(page: Page, title: str, engine_id: int, **more: object) -> int:
    """A practice engine for the spring class, as Tove's browser would ask for it."""
    cookies = {one["name"]: one["value"] for one in page.context.cookies()}
    answer = page.request.post(
        "/api/classes/1/practice",
        data={"engine_id": engine_id, "title": title, "level": "prompted", **more},
        headers={"X-CSRFToken": cookies["csrftoken"], "Referer": page.url},
    )
    assert answer.status == 201, answer.text()
    return int(answer.json()["id"])


def test_a_debrief_and_what_the_run_is_worth(page_as):
    tove = page_as("tove", "/classes/1/practice")
    practice_id = set_practice(tove, "Weighed", 1, level="alone")
    student = page_as("suvi.arnholt", "/work")
    begin(student, "Weighed")
    student.get_by_text("Close up", exact=True).click()
    close_up(student)
    grade = student.get_by_role("region", name="Grade of this run")
    expect(grade).to_contain_text("20 %")
    expect(grade).to_contain_text("Missing: every valve measured, every reading written.")
    expect(student.get_by_text("never measured")).to_be_visible()
    assert axe_faults(student) == []
    # Its instructor sees what other weights make of it before they count.
    tove.goto(f"/practice/{practice_id}/weights")
    tove.get_by_role("button", name="Measuring counts most").click()
    runs = tove.get_by_role("table", name=re.compile("the runs that have ended"))
    row = runs.get_by_role("row").filter(has_text="Suvi Arnholt, run 1")
    expect(row).to_contain_text("20 %")
    expect(row).to_contain_text("10 %")
    expect(tove.get_by_text("One valve never measured")).to_be_visible()
    assert axe_faults(tove) == []
    tove.get_by_role("button", name="Save rubric").click()
    expect(tove).to_have_url(re.compile("/classes/1/practice"))
    student.reload()
    expect(grade).to_contain_text("10 %")


def test_a_warm_engine_is_asked_about_and_let_stand(page_as):
    set_practice(page_as("tove", "/classes"), "Just run", 1, faults=[{"kind": "warm-engine"}])
    page = page_as("jonas.brekkel", "/work", phone=True)
    begin(page, "Just run")
    page.keyboard.press("m")
    for _ in range(3):
        page.keyboard.press("f")
        question = page.get_by_role("alert")
        expect(question).to_be_visible()
        if "cold" in (question.text_content() or ""):
            break
        # Not on its heel here: on to the next mark, where the other question comes.
        page.get_by_role("button", name="I look again").tap()
        page.keyboard.press("m")
        page.keyboard.press("v")
    expect(page.get_by_role("alert")).to_contain_text("let stand, not corrected in the head")
    assert axe_faults(page) == []
    page.get_by_role("button", name="I look again").tap()
    page.get_by_text("Turn", exact=True).tap()
    page.get_by_role("button", name="till tomorrow").tap()
    expect(said(page)).to_contain_text(re.compile("cold|stood"))


def test_the_timing_pin_goes_in_only_at_its_place(page_as):
    set_practice(page_as("tove", "/classes"), "With a pin", 10, level="alone")
    page = page_as("dilys.wren", "/work")
    begin(page, "With a pin")
    # Where the crank stood is different for each run: ten degrees past a mark is at none.
    page.keyboard.press("m")
    expect(said(page)).to_contain_text("is at the pointer")
    page.keyboard.press("Shift+ArrowRight")
    expect(said(page)).to_contain_text("Turned 10")
    page.get_by_text("Turn", exact=True).click()
    expect(page.get_by_role("heading", name="Timing pin: out")).to_be_visible()
    page.get_by_role("button", name="Try it in").click()
    expect(page.get_by_role("alert")).to_contain_text("does not go in here")


def test_a_valve_is_left_as_it_is_and_says_why(page_as):
    page = page_as("tadeo.quill", "/sheet/5", phone=True)
    page.get_by_label("Reading of valve 5").fill("0.39")
    line = page.get_by_role("group", name="Valve 5", exact=True)
    line.get_by_text("Loose", exact=True).tap()
    page.get_by_label("Reason for leaving it, valve 5").select_option(
        "a hundredth over, runs soon again"
    )
    expect(page.get_by_text("Saved")).to_be_visible()
    page.reload()
    expect(page.get_by_label("Reason for leaving it, valve 5")).to_have_value("just-over")
    assert axe_faults(page) == []
    page.get_by_role("button", name="Hand in").click()
    # What is blank is asked about; the valve that was left is not.
    dialog = page.get_by_role("dialog", name="Once more before you hand in")
    expect(dialog).to_contain_text("Valve 5 has no stop")
    expect(dialog).not_to_contain_text("nut tight")
    dialog.get_by_role("button", name="It is right, hand in").click()
    expect(page.get_by_text("left until it is measured again")).to_be_visible()


def test_a_class_at_a_glance(page_as):
    page = page_as("tove", "/board/1")
    page.get_by_role("link", name="Class at a glance").click()
    expect(page.get_by_role("heading", name="The class at a glance")).to_be_visible()
    grid = page.get_by_role("table")
    expect(grid.get_by_role("row").filter(has_text="Suvi Arnholt")).to_be_visible()
    grid.locator("tbody td").first.focus()
    for _ in range(2):
        page.keyboard.press("ArrowDown")
    expect(
        page.get_by_text(re.compile("smaller than the key; explained by: Reads"))
    ).to_be_visible()
    groups = page.get_by_role("region", name="What explains the figures")
    expect(groups).to_contain_text("Reads everything tight")
    assert axe_faults(page) == []
    page.get_by_text("By name", exact=True).click()
    names = grid.locator("tbody th").all_text_contents()
    assert names == sorted(names)


def test_a_gap_is_felt_blind(page_as):
    page = page_as("signe.moltke", "/work", phone=True)
    page.locator(".work-row", has_text="Blind feel").get_by_role("link").first.tap()
    page.get_by_role("button", name="Push and draw it").tap()
    expect(page.get_by_test_id("feel")).to_contain_text(re.compile("it is in|it stays out"))
    page.get_by_text("Drags", exact=True).tap()
    page.get_by_label("The gap").fill("0,25")
    assert axe_faults(page) == []
    page.get_by_role("button", name="See it").tap()
    expect(page.get_by_role("region", name="What it was")).to_contain_text("You guessed")
    page.get_by_role("button", name="The next one").tap()
    expect(page.get_by_text("1 felt so far")).to_be_visible()
