"""A practice run as a student works it on its page: by keys at a desk, by touch on a phone.

BrowserRun has the shape of tests/journeys/ports.HttpRun, so that the same robot students work on
both: what a robot does becomes taps, strokes of a finger, typed figures and keys, and what the
page is answered is what the robot reads.
"""

import re
from collections.abc import Callable
from typing import Any

from playwright.sync_api import Locator, Page, Response, expect

from tests.browser.conftest import send
from tests.journeys.ports import Json, RefusedError
from tests.journeys.texts import Texts

GAPS = {"closing": "Closing gap", "running": "Running gap"}
LOOKS = {"marks": "Marks", "lobes": "Lobes", "rotor": "Rotor", "threads": "Threads",
         "pads": "Pads", "engine": "Warm?"}  # fmt: skip
STANDS = {1: "an hour", 4: "four hours", 14: "till tomorrow"}
FIGURES = {"first": "First reading", "second": "Second reading", "settled": "Settled figure",
           "after": "After reading", "closing": "Closing reading",
           "closing-after": "Closing after", "running": "Running reading"}  # fmt: skip
DO = re.compile(r"/actions$")


class BrowserRun:
    """One run on its page; by_keys: with the keys that a desk has, else by touch alone."""

    def __init__(self, page: Page, run_id: int, texts: Texts, *, by_keys: bool) -> None:
        self.page, self.id, self.texts, self.by_keys = page, run_id, texts, by_keys
        self.run: Json = self._get("")
        self.seen: Json = {}
        self.asked: list[str] = []
        self.refused: list[str] = []

    def _get(self, path: str) -> Json:
        read: Json = send(self.page, "GET", f"/api/runs/{self.id}{path}")
        self.texts.check(read)
        return read

    def act(self, action: Json) -> Json:
        """Does it on the page; a question of the coach is noted and answered with going on. Raises
        RefusedError."""
        does: Callable[[Json], Json] = getattr(self, f"_{action['do'].replace('-', '_')}")
        read = does(action)
        if read["asks"] is not None:
            self.asked.append(read["asks"])
            read = self._answered(self._button("Do it all the same").click)
        self.seen = read
        return read

    def _answered(self, does: Callable[[], Any]) -> Json:
        """What the server answers to what is done."""
        with self.page.expect_response(DO) as answered:
            does()
        return self._read(answered.value)

    def _read(self, answer: Response) -> Json:
        read: Json = answer.json()
        self.texts.check(read)
        if answer.status == 422:
            self.refused.append(read["detail"])
            expect(self.page.get_by_text(read["detail"]).first).to_be_visible()
            raise RefusedError(read["detail"])
        assert answer.ok, read
        return read

    # Where things are -------------------------------------------------------------------------

    def _button(self, name: str | re.Pattern[str]) -> Locator:
        return self.page.get_by_role("button", name=name)

    def _click(self, name: str) -> Json:
        """A button by how its name begins: some name their key, too."""
        button = self._button(re.compile(rf"^{re.escape(name)}(?!\w)")).first
        return self._answered(button.click)

    def _tool(self, name: str) -> None:
        self.page.get_by_role("radio", name=name, exact=True).check(force=True)

    def _at(self, tool: str, action: Json) -> None:
        """The tool out, the valve and the gap chosen."""
        self._choose(action["valve"])
        self._tool(tool)
        wanted = GAPS.get(action.get("gap", "opening"))
        choice = self.page.get_by_role("group", name="Which gap of valve")
        if wanted is not None:
            choice.get_by_role("radio", name=wanted).check(force=True)
        elif choice.count():
            choice.get_by_role("radio", name=re.compile("Opening gap|Lash")).check(force=True)

    def _choose(self, valve: int) -> None:
        button = self._button(re.compile(f"^valve {valve},"))
        if button.get_attribute("aria-pressed") != "true":
            button.click()
            expect(button).to_have_attribute("aria-pressed", "true")

    def _type(self, label: str, figure: float | str) -> None:
        self.page.get_by_label(label, exact=True).fill(str(figure))

    # What is done -----------------------------------------------------------------------------

    def _look(self, action: Json) -> Json:
        self._tool("Turn")
        return self._click(LOOKS[action["at"]])

    def _wait(self, action: Json) -> Json:
        self._tool("Turn")
        return self._click(STANDS[action["hours"]])

    def _turn(self, action: Json) -> Json:
        self._tool("Turn")
        self._type("Degrees to turn", f"{action['by_deg']:g}")
        return self._click("Turn so far")

    def _push(self, action: Json) -> Json:
        self._at("Feel", action)
        if self.by_keys:
            return self._answered(lambda: self.page.keyboard.press("p"))
        return self._answered(self.page.locator(".feel-ways button").first.click)

    def _try(self, action: Json) -> Json:
        self._at("Feel", action)
        self._hold(action)
        if self.by_keys:
            return self._answered(lambda: self.page.keyboard.press("f"))
        return self._by_finger(action["valve"])

    def _by_finger(self, valve: int) -> Json:
        """Pushes the leaf in. Through a bridge it comes to the near side first, and pushed on, if
        it goes in there, to the far side: the last answer counts."""
        mouse = self.page.mouse
        pad = self.page.locator(".feel-pad")
        pad.scroll_into_view_if_needed()
        box = pad.bounding_box()
        assert box is not None
        x, y = box["x"] + 12, box["y"] + box["height"] / 2
        mouse.move(x, y)
        mouse.down()
        try:
            near = self._answered(lambda: mouse.move(x + 0.3 * box["width"], y, steps=4))
            if valve not in self.run["bridged"] or not near["facts"]["is_in"]:
                return near
            # Where it drags the finger goes far for little.
            return self._answered(lambda: mouse.move(x + 1.6 * box["width"], y, steps=12))
        finally:
            mouse.up()

    def _hold(self, action: Json) -> None:
        """The leaves in the hand: one, or a stack."""
        bent = self.page.get_by_role("checkbox", name="angled")
        if bent.count():
            bent.set_checked(bool(action.get("angled")))
        wanted = set(action["leaves_um"])
        self.page.get_by_role("checkbox", name="stack several").set_checked(len(wanted) > 1)
        box = self.run["angled_um" if action.get("angled") else "leaves_um"]
        blades = self.page.locator(".fan:not(.steps) .blade")
        held = blades.evaluate_all("all => all.map((one) => one.ariaPressed === 'true')")
        pressed = {um for um, is_held in zip(box, held, strict=True) if is_held}
        for um in [*(wanted - pressed), *((pressed - wanted) if len(wanted) > 1 else ())]:
            blades.nth(box.index(um)).click()
        for um in wanted:
            expect(blades.nth(box.index(um))).to_have_attribute("aria-pressed", "true")

    def _wiggle(self, action: Json) -> Json:
        self._at("Adjust", action)
        if self.by_keys:
            return self._answered(lambda: self.page.keyboard.press("w"))
        closing = action.get("gap") == "closing"
        return self._click("Turn its closing shim" if closing else "Wiggle its")

    def _write(self, action: Json) -> Json:
        label = f"{FIGURES[action['column']]} of valve {action['valve']}"
        self._type(label, action["text"])
        field = self.page.get_by_label(label, exact=True)
        return self._answered(lambda: field.press("Enter"))

    def _loosen(self, action: Json) -> Json:
        self._at("Adjust", action)
        return self._click("Oil and loosen" if action.get("oil") else "Loosen")

    def _set(self, action: Json) -> Json:
        self._at("Feel", action)
        self._hold(action)
        self._tool("Adjust")
        return self._click("Turn until the leaf drags")

    def _screw(self, action: Json) -> Json:
        self._at("Adjust", action)
        self._type("Degrees of the screw", abs(action["by_deg"]))
        return self._click("In" if action["by_deg"] > 0 else "Out")

    def _tighten(self, action: Json) -> Json:
        self._at("Adjust", action)
        if "torque_nm" not in action:
            return self._click("Tighten by hand")
        self._type("Torque in N·m", f"{action['torque_nm']:g}")
        return self._click("Tighten to N·m")

    def _take_shim(self, action: Json) -> Json:
        self._at("Adjust", action)
        return self._click("Take the")

    def _read_shim(self, action: Json) -> Json:
        self._at("Adjust", action)
        return self._click("Read the stamp" if action["by"] == "stamp" else "Micrometer")

    def _fit_shim(self, action: Json) -> Json:
        self._at("Adjust", action)
        closing = "Closing shim" if action.get("gap") == "closing" else "Shim"
        self._type(f"{closing} to fit, in mm", action["size_um"] / 1000)
        return self._click("Fit this")

    def _lock_crank(self, action: Json) -> Json:
        self._tool("Adjust")
        return self._click("Lock the crank" if action["locked"] else "Free the crank")

    def _cams(self, action: Json) -> Json:
        self._tool("Adjust")
        return self._click("Cams out" if action["out"] else "Cams in")

    def _count_tools(self, _action: Json) -> Json:
        self._tool("Close up")
        return self._click("Count leaves and tools")

    def _tool_off(self, _action: Json) -> Json:
        self._tool("Close up")
        # What comes off is called by what turns this engine.
        return self._answered(self.page.locator(".closing .ways button").nth(1).click)

    def _cover(self, action: Json) -> Json:
        self._tool("Close up")
        return self._click("Cover on" if action["on"] else "Cover off again")

    def _start(self, _action: Json) -> Json:
        self._tool("Close up")
        self._button("First start").click()
        return self._click("Start it")

    def debrief(self) -> Json:
        return self._get("/debrief")
