"""Any engine on the Bench, the methods side by side, the drill and the editor: as users do it."""

import json
import re

from playwright.sync_api import Page, expect

from tests.browser.conftest import axe_faults, tick_all
from tests.browser.test_bench import angle

# Demo engines by number: 1 fire pump, 5 sled twin (one way), 12 hauler with brake rockers.


def open_bench(page_as, path: str) -> Page:
    page = page_as("tove", path)
    page.get_by_role("button", name="Shortcuts").wait_for()
    return page


def test_every_shelf_engine_turns(page_as):
    page = page_as("tove", "/engines")
    for engine in range(1, 17):
        page.goto(f"/bench/{engine}")
        page.get_by_role("button", name="Shortcuts").wait_for()
        facts = json.loads(page.evaluate(TABLE_OF, engine))
        expect(page.locator(".ribbon .row-name")).to_have_count(len(facts["order"]))
        expect(page.locator(".cell")).to_have_count(facts["valves"])
        banks = facts["banks"] if facts["banks"] > 1 else 0
        expect(page.locator(".bank-name")).to_have_count(banks)
        for _ in range(2):
            before = angle(page)
            page.get_by_role("button", name="next event").click()
            assert angle(page) != before, engine
            expect(page.get_by_label("Turning").get_by_role("status")).not_to_be_empty()
        width = page.evaluate("document.documentElement.clientWidth")
        assert page.evaluate("document.documentElement.scrollWidth") <= width, engine


TABLE_OF = """async (id) => {
  const table = await (await fetch(`/api/engines/${id}/cycle`)).json();
  const { firing_order, valves, banks } = table.engine;
  return JSON.stringify({ order: firing_order, valves: valves.length, banks: banks.length });
}"""


class TestTurningAsOnTheEngine:
    def test_a_one_way_engine_is_not_turned_back(self, page_as):
        page = open_bench(page_as, "/bench/5?at=100")
        page.keyboard.press("r")
        page.keyboard.press("ArrowLeft")
        note = page.get_by_label("Turning").get_by_role("status")
        expect(note).to_contain_text("turned the running way only")
        assert angle(page) == 100
        # An overshot mark means once round again: the cam's single dot is at 270.
        page.keyboard.press("Shift+M")
        assert angle(page) in (0, 270)
        expect(note).to_contain_text(re.compile(r"Turned \d{3}"))

    def test_the_cam_waits_for_the_slack(self, page_as):
        page = open_bench(page_as, "/bench/1?at=100")
        page.get_by_label("as on the engine").check()
        page.get_by_role("button", name="−1°").click()
        note = page.get_by_label("Turning").get_by_role("status")
        expect(note).to_contain_text("Cam waits: 1° of slack")
        expect(page.locator(".cam-cursor")).to_be_visible()
        page.get_by_role("button", name="+1°", exact=True).click()
        expect(page.locator(".cam-cursor")).to_be_hidden()

    def test_rocking_comes_back_to_where_it_began(self, page_as):
        page = open_bench(page_as, "/bench/1?at=361&view=overlap")
        note = page.get_by_role("region", name="Overlap").get_by_role("status")
        expect(note).to_have_text(
            "A little forward presses valves 2, 5 down. A little back presses valves 1, 3 down."
        )
        page.keyboard.press("o")
        rock = page.get_by_label("Turning").get_by_role("button", name="Stop", exact=True)
        expect(rock).to_be_visible()
        seen = {angle(page) for _ in range(30)}
        expect(rock).to_be_hidden(timeout=8000)
        assert angle(page) == 361
        assert min(seen) < 361 < max(seen)


def test_the_views_by_keys(page_as):
    page = open_bench(page_as, "/bench/1?at=348")
    page.keyboard.press("2")
    expect(page.get_by_role("region", name="Overlap")).to_contain_text("1° past the dead centre")
    page.keyboard.press("3")
    study = page.get_by_role("region", name="What clearance does")
    expect(study).to_contain_text("Opens and closes where")
    study.get_by_label("Valve", exact=True).select_option("2")
    study.get_by_label("Clearance", exact=True).fill("0.20")
    expect(study).to_contain_text("Tight: opens")
    study.get_by_label("Clearance", exact=True).fill("wide")
    expect(study.get_by_role("alert")).to_contain_text("is not a number")
    study.get_by_label("Clearance", exact=True).fill("0.25")
    study.get_by_role("button", name="Set it to 0.25 mm here").click()
    study.get_by_role("button", name="Turn to its heel").click()
    # At the angle of opening the follower has lifted by the nominal clearance: twice 0.25.
    expect(study).to_contain_text("On the heel it measures 0.50 mm")
    page.keyboard.press("1")
    expect(page.get_by_label("Valve row")).to_be_visible()


def test_the_stroke_is_hidden_until_it_is_named(page_as):
    page = open_bench(page_as, "/bench/1")
    page.keyboard.press("h")
    panel = page.get_by_label("Name the stroke")
    expect(panel).to_be_visible()
    for gone in ("Cycle ribbon", "Verdict", "Route"):
        expect(page.get_by_label(gone, exact=True)).to_have_count(0)
    expect(page.get_by_label("Crank wheel")).not_to_contain_text("of two turns")
    panel.get_by_role("button", name="Wiggle its rockers").click()
    expect(panel.get_by_role("listitem").first).to_contain_text(re.compile("loose|tight|taken"))
    panel.get_by_role("button", name="compression").click()
    expect(panel).to_contain_text(re.compile(r"Right: compression\.|Not compression: cylinder"))
    expect(page.get_by_label("Crank wheel")).to_contain_text("of two turns")
    page.keyboard.press("b")
    expect(page.locator("html")).to_have_attribute("data-room", "shop")
    assert axe_faults(page) == []


def test_the_methods_side_by_side(page_as):
    page = page_as("tove", "/methods/12")
    rows = page.locator("li.method")
    expect(rows).to_have_count(9)
    expect(rows.first).to_contain_text("Valve 3 (cylinder 1 brake) fails by 79°")
    page.get_by_text("At marks only").click()
    expect(page.get_by_text("of 9 methods cover every valve of this engine")).to_be_visible()
    page.get_by_label("Crank stands at").fill("90")
    page.get_by_role("link", name="Route card by Maker's chart").click()
    expect(page.get_by_label("Crank stands at")).to_have_value("90")
    expect(page.get_by_role("table")).to_contain_text("crank mark “A” lines up")


def test_a_route_card_is_opened_for_work_and_closed_up(page_as):
    page = page_as("marit.oskarsen", "/route/2")
    tick_all(page, "Before and after turning by hand")
    expect(page.get_by_text("Isolation list ticked at")).to_be_visible()
    page.reload()
    tick_all(page, "Before and after turning by hand")
    expect(page.get_by_text("Closing list ticked at")).to_be_visible()


class TestDrill:
    def test_ten_alone_by_keys_and_the_score_is_the_instructors_to_see(self, page_as):
        page = page_as("tadeo.quill", "/drill/1")
        page.get_by_role("button", name="Ten questions for me").click()
        for number in range(1, 11):
            expect(page.get_by_label(f"Question {number}", exact=True)).to_be_visible()
            page.keyboard.press("1")
            page.keyboard.press("Enter")
            expect(page.get_by_role("button", name="Next")).to_be_visible()
            page.keyboard.press("Enter")
        score = page.locator(".score").inner_text()
        assert re.fullmatch(r"\d+ of 10", score)
        tove = page_as("tove", "/classes/1/drills")
        row = tove.get_by_role("row").filter(has_text="Tadeo Quill")
        expect(row).to_contain_text(score)
        expect(row).to_contain_text("Tarnholt P4 fire pump")

    def test_before_the_class_the_answer_waits_for_a_key(self, page_as):
        page = page_as("tove", "/drill/12")
        page.get_by_role("button", name="Ten questions before the class").click()
        question = page.get_by_label("Question 1", exact=True)
        expect(question).to_be_visible()
        expect(page.get_by_text("✓ right")).to_have_count(0)
        page.keyboard.press("Enter")
        expect(page.get_by_text("✓ right").first).to_be_visible()
        page.keyboard.press("y")
        expect(page.get_by_text("1 right of 10")).to_be_visible()
        assert axe_faults(page) == []
        page.keyboard.press("b")
        expect(page.get_by_role("navigation", name="Places")).to_be_visible()

    def test_the_answer_is_nowhere_in_the_page_before_it_is_given(self, page_as):
        page = page_as("jonas.brekkel", "/drill/1")
        with page.expect_response(
            lambda r: r.url.endswith("/api/drills") and r.request.method == "POST"
        ) as started:
            page.get_by_role("button", name="Ten questions for me").click()
        for question in started.value.json()["questions"]:
            assert question["answer"] is None
            assert question["because"] is None


class TestEditor:
    def test_from_a_pattern_to_the_bench_and_a_second_version(self, page_as):
        page = page_as("tove", "/engines")
        page.get_by_role("link", name="Write a new engine").click()
        page.get_by_role("button", name="Four in line, push rods").click()
        page.get_by_label("Name").fill("Skarn hoist")
        order = page.get_by_label("Firing order")
        order.fill("1-3-3-2")
        checks = page.get_by_label("Checks")
        expect(checks).to_contain_text("cylinder 3 stands in it twice and cylinder 4 is missing")
        expect(order).to_have_attribute("aria-invalid", "true")
        expect(page.get_by_role("button", name="Put it on the shelf")).to_be_disabled()
        order.fill("1-2-3-4")
        expect(checks).to_contain_text("cylinders 1 and 3 rise together")
        order.fill("1-2-4-3")
        expect(checks).to_contain_text("Nothing wrong and nothing suspicious")
        # Exhaust tighter than intake: allowed, but told.
        page.get_by_label("From", exact=True).last.fill("0,1")
        page.get_by_label("To", exact=True).last.fill("0,15")
        expect(checks).to_contain_text("is tighter than the intake's")
        page.get_by_role("button", name="Undo").click()
        page.get_by_role("button", name="valve 8, cylinder 4 exhaust").click()
        expect(page.get_by_role("button", name="valve 1, cylinder 4 exhaust")).to_be_visible()
        page.get_by_role("button", name="Put it on the shelf").click()
        page.get_by_role("heading", name="Skarn hoist").wait_for()
        expect(page.get_by_label("Valve row")).to_contain_text("cylinder 4")

        page.get_by_role("link", name="Engines").click()
        card = page.get_by_role("row").filter(has_text="Skarn hoist")
        card.get_by_role("link", name="Edit").click()
        expect(page.get_by_text("Version 2.")).to_be_visible()
        page.get_by_label("Slack").fill("3")
        page.get_by_role("button", name="Put it on the shelf").click()
        expect(page.get_by_text("3° of slack")).to_be_visible()
        page.get_by_role("link", name="Engines").click()
        expect(card).to_contain_text("version 2")

    def test_what_was_typed_is_there_after_a_reload(self, page_as):
        page = page_as("rolf", "/engines/new")
        page.get_by_role("button", name="Vee twin vee").click()
        page.get_by_label("Name").fill("Half typed")
        page.get_by_label("Clearance ramp, each side").fill("steep")
        expect(page.get_by_label("Checks")).to_contain_text("give crank degrees of ramp")
        page.reload()
        expect(page.get_by_label("Clearance ramp, each side")).to_have_value("steep")
        expect(page.get_by_text("What you typed last time was kept")).to_be_visible()
        page.get_by_role("button", name="Start over").click()
        expect(page.get_by_role("heading", name="A new engine")).to_be_visible()

    def test_students_are_not_offered_it(self, page_as):
        page = page_as("leena.varga.moor", "/engines/new")
        expect(page.get_by_role("heading", name="Today")).to_be_visible()
        page.goto("/engines")
        page.get_by_role("link", name="Bench").first.wait_for()
        expect(page.get_by_role("link", name="Edit")).to_have_count(0)
