"""How fast the class view of a large sheet is drawn, from its data at hand to its cells."""

import json
import statistics
from typing import Any

from playwright.sync_api import Browser, Route

from ops.browser import DESK, sign_in
from ops.demo_server import DemoServer

SHEETS, VALVES = 60, 24
WATCH = """() => {
  const fetched = window.fetch;
  window.fetch = async (...what) => {
    const answer = await fetched(...what);
    if (answer.url.endsWith('/class-view')) window.dataAt ??= performance.now();
    return answer;
  };
  new MutationObserver((_, watch) => {
    if (!document.querySelector('.class-grid tfoot')) return;
    watch.disconnect();
    requestAnimationFrame(() => setTimeout(() => { window.drawnAt = performance.now(); }));
  }).observe(document, { subtree: true, childList: true });
}"""


def class_view_ms(browser: Browser, server: DemoServer, turns: int = 5) -> float:
    """The median of several fresh pages, in milliseconds."""
    context = browser.new_context(viewport=DESK, base_url=server.url)
    page = context.new_page()
    page.goto("/classes")
    sign_in(page, "tove", server.passcodes["tove"])
    page.close()
    times = []
    for _ in range(turns):
        page = context.new_page()
        page.add_init_script(f"({WATCH})()")
        page.route("**/api/sheets/1/class-view", _answer)
        page.goto("/board/1/class")
        page.wait_for_function("() => window.drawnAt !== undefined")
        page.locator(f'[data-cell="{SHEETS - 1}-{VALVES - 1}"]').wait_for()
        times.append(float(page.evaluate("() => window.drawnAt - window.dataAt")))
        page.close()
    context.close()
    return statistics.median(times)


def _answer(route: Route) -> None:
    route.fulfill(body=json.dumps(class_view()), content_type="application/json")


def class_view() -> dict[str, Any]:
    """A class of sixty on an engine of twenty-four valves, as the server tells it."""
    states = ("right", "right", "right", "larger", "smaller", "place", "verdict", "blank")
    valves = [
        {
            "number": number,
            "cylinder": (number + 1) // 2,
            "role": "intake" if number % 2 else "exhaust",
            "key_mm": 0.3,
            "doubted": number == 5,
        }
        for number in range(1, VALVES + 1)
    ]
    rows = [
        {
            "hand_in_id": sheet,
            "student": f"Student {sheet}",
            "cells": [states[(sheet * 7 + valve) % len(states)] for valve in range(VALVES)],
            "gaps_mm": [0.3] * VALVES,
            "errors_mm": [0.05] * VALVES,
        }
        for sheet in range(1, SHEETS + 1)
    ]
    members = [{"hand_in_id": sheet, "valves": [3, 4, 5]} for sheet in range(1, SHEETS + 1)]
    group = {"kind": "full-turn", "label": "A full turn out", "about": "", "valves": [3, 4, 5]}
    return {
        "sheet_id": 1,
        "title": "A large class",
        "class_id": 1,
        "waits": 0,
        "valves": valves,
        "rows": rows,
        "groups": [{**group, "of": members}],
        "doubts": [],
    }
