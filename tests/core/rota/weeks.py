"""Rotas to plan, as files: teaching weeks of the size that a school has."""

import random
from datetime import datetime, timedelta
from typing import Any

MONDAY = datetime(2031, 3, 3)  # noqa: DTZ001  rotas are kept by the school's clock
STARTS_H = (8, 10, 13, 15)
"""Four slots a day, of an hour and three quarters."""


def slots(count: int) -> list[dict[str, str]]:
    made = []
    for index in range(count):
        day, at = divmod(index, len(STARTS_H))
        start = MONDAY + timedelta(days=day, hours=STARTS_H[at])
        end = start + timedelta(minutes=105)
        made.append({"id": f"s{index}", "start": start.isoformat(), "end": end.isoformat()})
    return made


def rota(*, slot_count: int = 4, **fields: Any) -> dict[str, Any]:
    """A small one that has everything; fields replace what is there."""
    small: dict[str, Any] = {
        "format": "edrix-rota/1",
        "slots": slots(slot_count),
        "stands": [{"id": "S1", "kind": "screw", "cool_h": 3}],
        "students": [{"id": "ann"}, {"id": "bo"}],
        "instructors": [{"id": "tove"}],
        "tasks": [{"id": "T1", "kind": "screw", "group": [1, 2]}],
    }
    return small | fields


def people(count: int) -> list[dict[str, Any]]:
    return [{"id": f"p{number}"} for number in range(1, count + 1)]


def week(
    students: int, stands: int, slot_count: int, *, seed: int = 1, instructors: int = 2
) -> dict[str, Any]:
    """Three tasks in pairs: screws and shims on cold stands of their kind, then one that is run;
    cool-downs of three hours, absences, two who are kept apart."""
    chance = random.Random(seed)  # noqa: S311
    halls = [
        {"id": f"Stand {at}", "kind": ("screw", "shim")[at % 2], "cool_h": 3}
        for at in range(1, stands + 1)
    ]
    who = people(students)
    for one in chance.sample(who, max(1, students // 8)):
        one["away"] = [slot["id"] for slot in chance.sample(slots(slot_count), 2)]
    who[0]["apart"] = [who[3]["id"]]
    return rota(
        slot_count=slot_count,
        stands=halls,
        students=who,
        instructors=[{"id": f"i{at}"} for at in range(instructors)],
        tasks=[
            {"id": "screws", "kind": "screw", "group": [2, 2], "needs_cold": True},
            {"id": "shims", "kind": "shim", "group": [2, 2], "needs_cold": True},
            {
                "id": "run",
                "stands": [one["id"] for one in halls],
                "group": [2, 2],
                "runs_engine": True,
                "after": ["screws"],
            },
        ],
    )
