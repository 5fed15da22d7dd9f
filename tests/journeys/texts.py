"""Whatever the application says to a person is checked as it arrives: no sentence of any journey
may hold what no person would write."""

import re
from typing import Any

WRONG = (
    (re.compile(r"\bNone\b"), "a missing value"),
    (re.compile(r"\b(nan|inf|NaN|Infinity)\b"), "a figure that is none"),
    (
        re.compile(
            r"(?<!valve )(?<!cylinder )(?<![\d.,])\b1 "
            r"(stops|stands|turns|valves|times|steps|leaves|degrees|hours|students)\b"
        ),
        "a plural",
    ),
    (re.compile(r"\d\.\d{5,}"), "more digits than anybody measures"),
    (re.compile(r"(?<![\d.])(?<!off by )[-−]0\.\d+ mm\b"), "a gap below nothing"),
    (re.compile(r"\b(shown|prompted|alone)\b:"), "a code"),
    (re.compile(r"<[a-zA-Z_.]+ object|Traceback|Decimal\("), "something of the program"),
    (re.compile(r"\.\.(?!\.)|,\.|\s[,;]|\s\.(?!\d)"), "punctuation"),
    (re.compile(r"\b(\d+(?:\.\d+)?)[–-]\1 (mm|thou)\b"), "a range of one figure"),
    (re.compile(r"\bleft (?:loose|tight): (\S+ \w+)\. The spec is \S*\1"), "a figure on the limit"),
)
PATHS = re.compile(r"^(action|key|box|level|role|kind|format|state|part|label|on|text|title|name)$")
"""Fields that hold codes, or what people typed."""


class Texts:
    """Collects what was said, and refuses what is wrong with it at once."""

    def __init__(self) -> None:
        self.seen: set[str] = set()

    def check(self, answer: Any, name: str = "") -> None:
        if isinstance(answer, dict):
            for key, value in answer.items():
                self.check(value, key)
        elif isinstance(answer, list):
            for value in answer:
                self.check(value, name)
        elif isinstance(answer, str) and " " in answer and not PATHS.match(name):
            self.sentence(answer)

    def sentence(self, said: str) -> None:
        if said in self.seen:
            return
        self.seen.add(said)
        for pattern, what in WRONG:
            assert not pattern.search(said), f"{what}: {said!r}"
