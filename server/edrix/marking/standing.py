"""What a hand-in's marks are now: the newest marking, with what instructors overrode."""

from collections.abc import Collection, Iterable, Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from django.db.models import Prefetch

from edrix.marking.models import Answer, Decision, Marking
from edrix.sheets.services import HandIn
from valvetrain.grading import PARTS


@dataclass(frozen=True, slots=True)
class Override:
    """An instructor's own judgement of a mark."""

    by: str
    at: datetime
    reason: str


@dataclass(frozen=True, slots=True)
class Reply:
    """A student's answer to a mark."""

    text: str
    at: datetime


@dataclass(frozen=True, slots=True)
class StandingMark:
    """right is as the instructor decided, where one did."""

    right: bool
    student_says: str
    instructor_says: str
    override: Override | None
    reply: Reply | None

    @property
    def awaits_answer(self) -> bool:
        """Whether a student's answer has not been decided on yet."""
        if self.reply is None:
            return False
        return self.override is None or self.override.at < self.reply.at


@dataclass(frozen=True, slots=True)
class StandingValve:
    """parts: what was asked, by name, in the order of the core's parts."""

    valve: int
    error_mm: float | None
    parts: Mapping[str, StandingMark]

    @property
    def points(self) -> int:
        return sum(mark.right for mark in self.parts.values())

    def without(self, parts: Collection[str]) -> "StandingValve":
        """The same without these parts, and without how far the reading is off."""
        kept = {part: mark for part, mark in self.parts.items() if part not in parts}
        return StandingValve(self.valve, None, kept)


@dataclass(frozen=True, slots=True)
class Standing:
    """valves in physical order."""

    points: int
    out_of: int
    valves: list[StandingValve]

    @property
    def open_answers(self) -> int:
        """How many of a student's answers no decision has followed yet."""
        return sum(mark.awaits_answer for valve in self.valves for mark in valve.parts.values())


def standing_of(hand_in: HandIn) -> Standing:
    """Of a hand-in that was read with `what_stands`."""
    marking = next(iter(hand_in.markings.all()))
    return with_decisions(marking, list(hand_in.decisions.all()), list(hand_in.answers.all()))


def what_stands() -> list["Prefetch[Any]"]:
    return [
        Prefetch("markings", Marking.objects.order_by("-id")),
        Prefetch("decisions", Decision.objects.select_related("made_by").order_by("id")),
        Prefetch("answers"),
    ]


def with_decisions(
    marking: Marking, decisions: Iterable[Decision], answers: Iterable[Answer] = ()
) -> Standing:
    """A later decision on the same mark wins; all of them stay on record."""
    decided = {(one.valve, one.part): one for one in decisions}
    answered = {(one.valve, one.part): one for one in answers}
    valves = []
    for marks in marking.valves:
        number = marks["valve"]
        parts = {
            part: _mark(marks[part], decided.get((number, part)), answered.get((number, part)))
            for part in PARTS
            if part in marks
        }
        error = marks["error_mm"]
        valves.append(StandingValve(number, None if error is None else float(error), parts))
    return Standing(sum(valve.points for valve in valves), marking.out_of, valves)


def _mark(mark: dict[str, Any], decision: Decision | None, answer: Answer | None) -> StandingMark:
    override = reply = None
    if decision is not None:
        override = Override(decision.made_by.display_name, decision.made_at, decision.reason)
    if answer is not None:
        reply = Reply(answer.text, answer.made_at)
    return StandingMark(
        mark["right"] if decision is None else decision.right,
        mark["student_says"],
        mark["instructor_says"],
        override,
        reply,
    )
