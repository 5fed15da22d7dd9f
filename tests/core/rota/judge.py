"""A judge of rotas: reads the JSON that goes in and comes out, and uses nothing of the core."""

from collections import Counter
from datetime import datetime
from itertools import combinations
from typing import Any


def faults_of(problem: dict[str, Any], bookings: list[dict[str, Any]]) -> list[str]:
    """Every rule of the contract that is broken."""
    order = {slot["id"]: at for at, slot in enumerate(problem["slots"])}
    times = {
        slot["id"]: tuple(datetime.fromisoformat(slot[end]) for end in ("start", "end"))
        for slot in problem["slots"]
    }
    stands = {one["id"]: one for one in problem["stands"]}
    tasks = {one["id"]: one for one in problem["tasks"]}
    students = {one["id"]: one for one in problem["students"]}
    found = []
    for one in bookings:
        task, stand = tasks[one["task"]], stands[one["stand"]]
        serves = task.get("stands") or [s for s, of in stands.items() if of["kind"] == task["kind"]]
        least, most = task["group"]
        if one["stand"] not in serves:
            found.append(f"stand of {one}")
        if one["slot"] in stand.get("away", ()):
            found.append(f"stand away in {one}")
        if not least <= len(one["students"]) <= most:
            found.append(f"group of {one}")
        found += [
            f"apart in {one}"
            for a, b in combinations(one["students"], 2)
            if b in students[a].get("apart", ()) or a in students[b].get("apart", ())
        ]
        found += [
            f"{who} away in {one}"
            for who in one["students"]
            if one["slot"] in students[who].get("away", ())
        ]
    for key, count in Counter((b["slot"], b["stand"]) for b in bookings).items():
        if count > 1:
            found.append(f"two groups at {key}")
    seats = [(who, one) for one in bookings for who in one["students"]]
    for key, count in Counter((who, one["slot"]) for who, one in seats).items():
        if count > 1:
            found.append(f"two places {key}")
    for key, count in Counter((who, one["task"]) for who, one in seats).items():
        if count > 1:
            found.append(f"twice {key}")
    when = {(who, one["task"]): order[one["slot"]] for who, one in seats}
    for (who, task), at in when.items():
        for before in tasks[task].get("after", ()):
            if when.get((who, before), at) >= at:
                found.append(f"{who} does {task} before {before}")
    for slot in order:
        there = sum(slot not in one.get("away", ()) for one in problem["instructors"])
        used = sum(one["slot"] == slot for one in bookings)
        if used > there * problem.get("stands_each", 4):
            found.append(f"too many stands in {slot}")
    for a in bookings:
        for b in bookings:
            if a["stand"] == b["stand"] and order[a["slot"]] < order[b["slot"]]:
                gap_h = (times[b["slot"]][0] - times[a["slot"]][1]).total_seconds() / 3600
                if (
                    tasks[a["task"]].get("runs_engine")
                    and tasks[b["task"]].get("needs_cold")
                    and gap_h < stands[a["stand"]].get("cool_h", 0)
                ):
                    found.append(f"{b} is warm from {a}")
    found += [f"moved {one}" for one in problem.get("fixed", ()) if not _has(bookings, one)]
    return found


def cost_of(problem: dict[str, Any], bookings: list[dict[str, Any]]) -> int:
    placed = sum(len(one["students"]) for one in bookings)
    missing = len(problem["students"]) * len(problem["tasks"]) - placed
    together = Counter(p for one in bookings for p in combinations(sorted(one["students"]), 2))
    order = [slot["id"] for slot in problem["slots"]]
    last = max((order.index(one["slot"]) for one in bookings), default=0)
    return 1000 * missing + 10 * sum(times - 1 for times in together.values()) + last


def _has(bookings: list[dict[str, Any]], wanted: dict[str, Any]) -> bool:
    return any(
        {**one, "students": sorted(one["students"])}
        == {**wanted, "students": sorted(wanted["students"])}
        for one in bookings
    )
