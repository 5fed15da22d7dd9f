"""What a hand-in's marks are now: the newest marking, with what instructors decided otherwise."""

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from django.db.models import Prefetch

from edrix.sheets.models import Answer, Decision, HandIn, Marking
from valvetrain.grading import PARTS


@dataclass(frozen=True, slots=True)
class Standing:
    """valves: as a marking keeps them, each part with `decided` where somebody did."""

    points: int
    out_of: int
    valves: list[dict[str, Any]]


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
    marking: Marking, decisions: list[Decision], answers: Iterable[Answer] = ()
) -> Standing:
    """A later decision on the same mark wins; all of them stay on record."""
    decided = {(one.valve, one.part): one for one in decisions}
    answered = {(one.valve, one.part): one for one in answers}
    valves = []
    for marks in marking.valves:
        parts = {
            part: _part(
                marks[part],
                decided.get((marks["valve"], part)),
                answered.get((marks["valve"], part)),
            )
            for part in PARTS
            if part in marks
        }
        points = sum(bool(part["right"]) for part in parts.values())
        valves.append({**marks, **parts, "points": points})
    return Standing(sum(valve["points"] for valve in valves), marking.out_of, valves)


def _part(mark: dict[str, Any], decision: Decision | None, answer: Answer | None) -> dict[str, Any]:
    said = answer and {"text": answer.text, "at": answer.made_at}
    if decision is None:
        return {**mark, "answer": said, "decided": None}
    return {
        **mark,
        "answer": said,
        "right": decision.right,
        "decided": {
            "by": decision.made_by.display_name,
            "at": decision.made_at,
            "reason": decision.reason,
        },
    }


def open_answers(standing: Standing) -> int:
    """How many of a student's answers no decision has followed yet."""
    return sum(
        1
        for valve in standing.valves
        for part in PARTS
        if part in valve and (answer := valve[part]["answer"]) is not None
        if valve[part]["decided"] is None or valve[part]["decided"]["at"] < answer["at"]
    )
