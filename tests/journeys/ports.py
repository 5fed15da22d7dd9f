"""Practice runs as a client has them: over the HTTP API, with its real schemas and database."""

from typing import Any, Protocol

from django.test import Client

from tests.journeys.texts import Texts

Json = dict[str, Any]


class RefusedError(AssertionError):
    """What the server would not do; the message is its own."""


class Run(Protocol):
    """What a robot student works on: requests alone (here), or a page (tests/browser)."""

    run: Json
    """The run as it was opened: its box, its valves as they lie."""
    seen: Json
    """The answer to what was done last."""

    def act(self, action: Json) -> Json:
        """Does it. Raises RefusedError."""


class HttpRun:
    """One run of a student's, by the requests that a page would send."""

    def __init__(self, browser: Client, run_id: int, texts: Texts) -> None:
        self.browser, self.id, self.texts = browser, run_id, texts
        self.run: Json = self._get("")
        self.step: int = self.run["view"]["step"]
        self.seen: Json = {}
        self.asked: list[str] = []
        """Questions of the coach that were answered with going on."""
        self.refused: list[str] = []

    def _get(self, path: str) -> Json:
        answer = self.browser.get(f"/api/runs/{self.id}{path}")
        assert answer.status_code == 200, (path, answer.status_code, answer.content[:300])
        read: Json = answer.json()
        self.texts.check(read)
        return read

    def walk(self) -> Json:
        return self._get("/walk")

    def advice(self, valve: int, gap: str) -> Json:
        return self._get(f"/advice?valve={valve}&gap={gap}")

    def debrief(self) -> Json:
        return self._get("/debrief")

    def act(self, action: Json, *, sure: bool = False) -> Json:
        """Does it; a question of the coach is noted and answered with going on. Raises
        RefusedError."""
        body = {"key": f"{self.id}-{self.step}-{sure:d}-key", "step": self.step, "action": action}
        answer = self.browser.send(  # type: ignore[attr-defined]
            "POST", f"/api/runs/{self.id}/actions", body | {"sure": sure}
        )
        read: Json = answer.json()
        self.texts.check(read)
        if answer.status_code == 422:
            self.refused.append(read["detail"])
            raise RefusedError(read["detail"])
        assert answer.status_code == 200, (action, answer.status_code, read)
        if read["asks"] is not None:
            assert not sure, read["asks"]
            self.asked.append(read["asks"])
            return self.act(action, sure=True)
        self.step, self.seen = read["step"], read
        return read
