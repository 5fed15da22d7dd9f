"""A class's sheets beside each other: what each valve of each student came to, and keys in doubt.

A key is in doubt where most of a class agree with each other and not with it: a wrong key shows so,
and so does an engine that somebody adjusted meanwhile, before a class is failed by either.
"""

import statistics
from collections.abc import Iterator, Mapping, Sequence
from enum import StrEnum
from typing import NamedTuple

from valvetrain.engine import Clearance
from valvetrain.grading.constants import AGREE_LEAST, AGREE_SHARE
from valvetrain.grading.findings.kinds import Kind
from valvetrain.grading.findings.model import Finding
from valvetrain.spec_words import beside_spec


class CellState(StrEnum):
    """What one valve of one sheet came to: the first of these that holds."""

    BLANK = "blank"
    LARGER = "larger"
    """The reading's mark is lost: it is larger than the key."""
    SMALLER = "smaller"
    PLACE = "place"
    VERDICT = "verdict"
    WORK = "work"
    """Adjusting, a shim, a closing gap or a running range."""
    RIGHT = "right"


class ValveOutcome(NamedTuple):
    """One valve of one sheet: the figure that counts, how far it is off the key that it was marked
    by, and the marks as they stand."""

    gap_mm: float | None
    error_mm: float | None
    right: Mapping[str, bool]


class SheetOutcome(NamedTuple):
    """One student's sheet, by valve, and what explains it. of_this_key: whether it is marked by the
    key that is looked at; one of an earlier key tells nothing of it."""

    valves: Mapping[int, ValveOutcome]
    findings: Sequence[Finding] = ()
    of_this_key: bool = True


class KeyGapSeen(NamedTuple):
    """The key of a valve, how far a reading may be off before that is proved, and its spec."""

    gap_mm: float
    allowed_mm: float
    spec: Clearance


class KeyDoubt(NamedTuple):
    """agree of read students lie together at about_mm, and away from the key. explained: the kind
    that explains most of their figures, where one does; then it is rather that than the key."""

    valve: int
    read: int
    agree: int
    about_mm: float
    key: KeyGapSeen
    explained: Kind | None
    since: int | None
    """The place of the first sheet of those, where all before agree with the key and all after do
    not: somebody may have adjusted it in between."""

    @property
    def is_looser(self) -> bool:
        return self.about_mm > self.key.gap_mm

    @property
    def says(self) -> str:
        """In the unit of the valve's spec."""
        side = "loose" if self.is_looser else "tight"
        about, said = (
            beside_spec(self.key.spec, gap_mm) for gap_mm in (self.about_mm, self.key.gap_mm)
        )
        figures = (
            f"{self.agree} of {self.read} read valve {self.valve} {side}, about {about} where the "
            f"key says {said}. They agree with each other and not with the key"
        )
        if self.explained is not None:
            return f"{figures}; “{self.explained.words.label}” would explain most of them."
        if self.since is not None:
            return (
                f"{figures}, and the {self.since} who handed in first did agree with it: was the "
                "stand adjusted in between?"
            )
        return f"{figures}: look at the key."


class Group(NamedTuple):
    """Students whose figures one kind of mistake explains: by their place among the sheets."""

    kind: Kind
    students: tuple[int, ...]
    valves: tuple[int, ...]
    """Those that it is about with at least one of them, in the order of the head."""


class ClassView(NamedTuple):
    """cells: one row for each sheet, one state for each valve of the head."""

    valves: tuple[int, ...]
    cells: list[tuple[CellState, ...]]
    doubts: list[KeyDoubt]
    groups: list[Group]

    @property
    def says(self) -> list[str]:
        """The doubts in words; those of most of a head are one doubt of the whole key."""
        if len(self.doubts) <= max(1, len(self.valves) / 2):
            return [doubt.says for doubt in self.doubts]
        sides = {doubt.is_looser for doubt in self.doubts}
        side = "" if len(sides) > 1 else " looser" if sides == {True} else " tighter"
        return [
            f"On {len(self.doubts)} of {len(self.valves)} valves most of the class read{side} "
            "alike and not as the key says: look at the key as a whole, at its unit, at the order "
            "of its valves, at whose hand measured it."
        ]


def see_class(
    key: Mapping[int, KeyGapSeen], sheets: Sequence[SheetOutcome], *, in_time: bool = True
) -> ClassView:
    """key has every valve of the head, in its order. in_time: whether the sheets come in the order
    in which they were handed in, so that a change from one to the next means something."""
    valves = tuple(key)
    cells = [tuple(_state(sheet.valves.get(v)) for v in valves) for sheet in sheets]
    doubts = [one for v in valves if (one := _doubt(v, key[v], sheets, in_time=in_time))]
    return ClassView(valves, cells, doubts, list(_groups(valves, sheets)))


def _state(seen: ValveOutcome | None) -> CellState:
    if seen is None or (seen.gap_mm is None and not any(seen.right.values())):
        return CellState.BLANK
    right = seen.right
    if not right.get("reading", True):
        if seen.error_mm is None:
            return CellState.BLANK
        return CellState.LARGER if seen.error_mm > 0 else CellState.SMALLER
    if not right.get("position", True):
        return CellState.PLACE
    if not right.get("verdict", True):
        return CellState.VERDICT
    return CellState.RIGHT if all(right.values()) else CellState.WORK


def _doubt(
    valve: int, key: KeyGapSeen, sheets: Sequence[SheetOutcome], *, in_time: bool
) -> KeyDoubt | None:
    read = [
        (at, seen.gap_mm)
        for at, sheet in enumerate(sheets)
        if sheet.of_this_key
        and (seen := sheet.valves.get(valve)) is not None
        and seen.gap_mm is not None
    ]
    # Of those who do not agree with the key, the middle one: a few who do must not hide the rest.
    off = [(at, gap) for at, gap in read if abs(gap - key.gap_mm) > key.allowed_mm]
    if len(off) < AGREE_LEAST:
        return None
    about_mm = statistics.median(gap for _, gap in off)
    agree = [at for at, gap in off if abs(gap - about_mm) <= key.allowed_mm]
    since = _since([at for at, _ in read], agree) if in_time else None
    if len(agree) < AGREE_LEAST or (since is None and len(agree) < AGREE_SHARE * len(read)):
        return None
    explained = _explained(valve, [sheets[at] for at in agree])
    before = None if since is None else [at for at, _ in read].index(since)
    return KeyDoubt(valve, len(read), len(agree), about_mm, key, explained, before)


def _since(read: Sequence[int], agree: Sequence[int]) -> int | None:
    """The first of those who agree with each other, if they are all from there on and at least as
    many as are needed came before."""
    if len(agree) < AGREE_LEAST or list(agree) != list(read[-len(agree) :]):
        return None
    return agree[0] if len(read) - len(agree) >= AGREE_LEAST else None


def _explained(valve: int, sheets: Sequence[SheetOutcome]) -> Kind | None:
    """The kind of finding that is about this valve on most of these sheets."""
    kinds = [
        kind
        for sheet in sheets
        for kind in {one.kind for one in sheet.findings if valve in one.valves}
    ]
    if not kinds:
        return None
    kind = max(Kind, key=kinds.count)
    return kind if kinds.count(kind) > len(sheets) / 2 else None


def _groups(valves: Sequence[int], sheets: Sequence[SheetOutcome]) -> Iterator[Group]:
    """The commonest first."""
    found: dict[Kind, dict[int, set[int]]] = {}
    for at, sheet in enumerate(sheets):
        for one in sheet.findings:
            found.setdefault(one.kind, {}).setdefault(at, set()).update(one.valves)
    for kind, students in sorted(found.items(), key=lambda item: -len(item[1])):
        about = set().union(*students.values())
        yield Group(kind, tuple(students), tuple(v for v in valves if v in about))
