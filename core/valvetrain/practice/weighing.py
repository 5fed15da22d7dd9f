"""What a practice run comes to: place, measuring, adjusting, record, safety and time, weighed.

Worked out from the debrief as it was kept at the run's end, so that other weights never need the
run again, and never judge it by later rules. A part's share is between 0 and 1, over the valves
that are set at all:

- place: measured, and no leaf tried or screw set off its heel;
- measuring: measured cold, with a straight leaf, and every figure written rests on a leaf;
- adjusting: left within its spec, tried again after turning over where it was changed, and not
  changed where nothing had to be;
- record: the reading of every valve and what each changed one was left at; only half of that where
  something was changed before all was written down;
- safety: what can hurt an engine or a person at the end: tool off, pin out, tools counted, cover
  on; nothing where the run was broken off before it came to that;
- time: from the beginning of the run to its end.

Whatever its percentage, a run that was not passed by the debrief's own rule is not passed.
"""

from collections.abc import Iterable, Mapping
from typing import Any, NamedTuple

from valvetrain.engine import Engine
from valvetrain.grading.constants import WHOLE_PERCENT
from valvetrain.grading.weights import (
    Grade,
    Item,
    Part,
    Rubric,
    Share,
    Template,
    check_weights,
    time_share,
    weigh,
)
from valvetrain.practice.constants import BARELY_MM
from valvetrain.practice.slips import RemarkKind

ENGINE_PART = "engine"
"""Among what a grade fails by: the engine itself does not run as it should."""
FAILED_BY = {
    RemarkKind.LEFT_OUT_OF_SPEC.value: "every gap left in spec",
    RemarkKind.UNMEASURED.value: "every valve measured",
    RemarkKind.UNSUPPORTED_FIGURE.value: "every figure measured",
    RemarkKind.NOT_WRITTEN.value: "every reading written",
}
"""Kinds of remark that a run is not passed with, and what was missing."""
RUN_PARTS = {
    part.part: part
    for part in (
        Part("place", "Finding the place", "every leaf and every setting on the heel"),
        Part("measuring", "Measuring", "measured cold, and every figure rests on a leaf"),
        Part("adjusting", "Adjusting", "within spec, tried again, nothing changed needlessly"),
        Part("record", "Record", "written before anything is changed, and after"),
        Part("safety", "Closing up", "tool off, pin out, tools counted, cover on"),
        Part("time", "Time", "from the beginning of the run to its end"),
    )
}
_ALL_ALIKE = tuple(Item(part, 1) for part in RUN_PARTS if part != "time")
RUN_TEMPLATES = (
    Template(
        "plain",
        "Every part alike",
        "Place, measuring, adjusting, record and closing up count the same.",
        Rubric(_ALL_ALIKE),
    ),
    Template(
        "measuring",
        "Measuring counts most",
        "For a first run: where each valve was measured and whether the figures rest on leaves.",
        Rubric(
            (
                Item("place", 3),
                Item("measuring", 4),
                Item("adjusting", 1),
                Item("record", 1),
                Item("safety", 1, WHOLE_PERCENT),
            ),
            70.0,
        ),
    ),
    Template(
        "trade test",
        "Trade test",
        "Everything, with a time; the place and closing up must be whole.",
        Rubric(
            (
                Item("place", 2, WHOLE_PERCENT),
                Item("measuring", 3),
                Item("adjusting", 3),
                Item("record", 1),
                Item("safety", 2, WHOLE_PERCENT),
                Item("time", 1),
            ),
            80.0,
            minutes=60.0,
        ),
    ),
)


def check_run_rubric(rubric: Rubric) -> Rubric:
    """The rubric itself. Raises RubricError."""
    check_weights(rubric, RUN_PARTS)
    return rubric


def run_part_label(part: str) -> str:
    """What people call a part, and what a grade fails by."""
    if part == ENGINE_PART:
        return "the engine itself"
    return FAILED_BY.get(part) or RUN_PARTS[part].label


class _Told(NamedTuple):
    """A kept debrief by what it says: the valves that are set at all, and remarks by their kind."""

    valves: list[Mapping[str, Any]]
    of_kind: Mapping[str, set[int]]
    kinds: frozenset[str]
    closed_up: bool

    def without(self, *kinds: RemarkKind) -> set[int]:
        """The measured valves of which no such remark was made."""
        spoken = set().union(*(self.of_kind.get(kind.value, set()) for kind in kinds))
        return {one["valve"] for one in self.valves if one["measured"]} - spoken


def can_be_weighed(told: Mapping[str, Any]) -> bool:
    """Debriefs of rules before edrix-practice/3 say too little."""
    return told.get("passed") is not None


def grade_run(
    engine: Engine, told: Mapping[str, Any], rubric: Rubric, minutes: float | None
) -> Grade:
    """What a run comes to by its debrief, as `write_debrief` gave it."""
    read = _read(engine, told)
    shares = {item.part: _share(item.part, read, rubric, minutes) for item in rubric.items}
    made = weigh(shares, rubric)
    if told["passed"]:
        return made
    missing = tuple(kind for kind in FAILED_BY if kind in read.kinds) or (ENGINE_PART,)
    return made._replace(passed=False, fails=(*made.fails, *missing))


def _read(engine: Engine, told: Mapping[str, Any]) -> _Told:
    of_kind: dict[str, set[int]] = {}
    for remark in told["remarks"]:
        of_kind.setdefault(remark["kind"], set()).update(remark["valves"])
    by_itself = {v.number for v in engine.valves if engine.adjuster(v.number).adjusts_itself}
    return _Told(
        [one for one in told["valves"] if one["valve"] not in by_itself],
        of_kind,
        frozenset(of_kind),
        any(moment["action"] in ("cover", "start") for moment in told["moments"]),
    )


def _share(part: str, read: _Told, rubric: Rubric, minutes: float | None) -> Share | None:
    """None where the run cannot show it: an engine that sets itself has no valve to set."""
    if part == "time":
        return time_share(minutes, rubric)
    if part == "safety":
        return _safety(read)
    if not read.valves:
        return None
    if part == "record":
        return _record(read)
    right = _RIGHT[part](read)
    count = len(read.valves)
    return len(right) / count, f"{len(right)} of {count} valves"


def _place(read: _Told) -> set[int]:
    return read.without(RemarkKind.OFF_HEEL)


def _measuring(read: _Told) -> set[int]:
    return read.without(
        RemarkKind.MEASURED_WARM, RemarkKind.TECHNIQUE, RemarkKind.UNSUPPORTED_FIGURE
    )


def _adjusting(read: _Told) -> set[int]:
    done = read.without(
        RemarkKind.LEFT_OUT_OF_SPEC,
        RemarkKind.NEEDLESS_CHANGE,
        RemarkKind.WRONG_WAY,
        RemarkKind.NOT_RECHECKED,
        RemarkKind.NOT_TURNED_OVER,
        RemarkKind.NUT_LOOSE,
        RemarkKind.OVER_TORQUE,
        RemarkKind.RUNNING_NOT_PROVED,
    )
    # Of a valve that nobody measured nothing was adjusted, however it stands.
    right = (one for one in read.valves if one["within"] or one.get("left_loose", False))
    return {one["valve"] for one in right if one["valve"] in done}


_RIGHT = {"place": _place, "measuring": _measuring, "adjusting": _adjusting}


def _record(read: _Told) -> Share:
    fields = [bool(one["first"]) for one in read.valves]
    fields += [bool(one["after"]) for one in read.valves if _was_changed(one)]
    share, says = sum(fields) / len(fields), f"{sum(fields)} of {len(fields)} figures written"
    if RemarkKind.CHANGED_BEFORE_ALL_WRITTEN.value in read.kinds:
        return share / 2, f"{says}; half, for something was changed before all was written"
    return share, says


def _was_changed(truth: Mapping[str, Any]) -> bool:
    left_mm = truth["left_mm"]
    return left_mm is None or abs(left_mm - truth["found_mm"]) > BARELY_MM


_AT_THE_END = {
    RemarkKind.TOOL_LEFT_ON: "turning tool left on",
    RemarkKind.PIN_LEFT_IN: "crank left locked",
    RemarkKind.TOOLS_NOT_COUNTED: "tools not counted",
    RemarkKind.COVER_OFF: "cover left off",
}


def _safety(read: _Told) -> Share:
    if not read.closed_up:
        return 0.0, "broken off before closing up"
    missing = [says for kind, says in _AT_THE_END.items() if kind.value in read.kinds]
    if RemarkKind.CAMS_OUT_UNLOCKED.value in read.kinds:
        return 0.0, ", ".join(("cams taken out without locking the crank", *missing))
    count = len(_AT_THE_END)
    return (count - len(missing)) / count, ", ".join(missing) or "closed up as it should be"


def sample_run(engine: Engine) -> dict[str, Any]:
    """A made-up debrief with a few usual mistakes, to see what a rubric makes of it: from the
    front, the first valve was never measured, the second was measured off its heel, a figure of the
    third rests on no leaf, the fourth was left loose; and the tools were not counted."""
    numbers = [v.number for v in engine.valves if not engine.adjuster(v.number).adjusts_itself]
    kinds = (
        RemarkKind.UNMEASURED,
        RemarkKind.OFF_HEEL,
        RemarkKind.UNSUPPORTED_FIGURE,
        RemarkKind.LEFT_OUT_OF_SPEC,
    )
    remarks: list[dict[str, Any]] = [
        {"kind": kind.value, "valves": [valve]} for kind, valve in zip(kinds, numbers, strict=False)
    ]
    remarks.append({"kind": RemarkKind.TOOLS_NOT_COUNTED.value, "valves": []})
    return {
        "passed": True,
        "remarks": remarks,
        "moments": [{"action": "start"}],
        "valves": list(_sample_valves(numbers)),
    }


def _sample_valves(numbers: Iterable[int]) -> Iterable[dict[str, Any]]:
    for at, valve in enumerate(numbers):
        yield {
            "valve": valve,
            "found_mm": 0.3,
            "left_mm": 0.3,
            "first": "" if at == 0 else "0.30",
            "after": "",
            "within": at != 3,
            "measured": at != 0,
        }
