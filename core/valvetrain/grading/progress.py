"""A student over many sheets and runs: what is shown for certain, what shrinks, what comes next.

A skill counts as shown when the last SHOWN_PIECES pieces of work that can show it were right in at
least SHOWN_SHARE of their marks. Signing it off is for the instructor, who has seen the hands as
well.
"""

import math
import statistics
from collections.abc import Iterable, Sequence
from datetime import datetime
from enum import StrEnum
from typing import NamedTuple

from valvetrain.grading.constants import (
    DRILL_LEAST,
    MAD_TO_SIGMA,
    SHOWN_PIECES,
    SHOWN_SHARE,
    SMALL_BIAS_MM,
)
from valvetrain.grading.findings import WRITING_SLIPS, Kind


class Skill(StrEnum):
    PLACE = "place"
    MEASURE = "measure"
    SCREW = "screw"
    SHIM = "shim"
    CLOSE = "close"

    @property
    def label(self) -> str:
        """As instructors and students call it."""
        return _LABELS[self]


_LABELS = {
    Skill.PLACE: "Find the place",
    Skill.MEASURE: "Measure",
    Skill.SCREW: "Adjust by screw",
    Skill.SHIM: "Adjust by shim",
    Skill.CLOSE: "Close up",
}


class SkillState(StrEnum):
    SHOWN = "shown"
    NEARLY = "nearly"
    """The last piece of work was right, not yet two running."""
    NOT_YET = "not-yet"
    UNSEEN = "unseen"


class Train(StrEnum):
    """What trains a skill: a drill of finding places, a practice run, or the next real sheet."""

    DRILL = "drill"
    RUN = "run"
    SHEET = "sheet"


class SheetWork(NamedTuple):
    """One handed-in sheet. right and asked are by part; error_mm are reading less key; ref is the
    caller's own name of it."""

    ref: int
    title: str
    at: datetime
    right: dict[str, int]
    asked: dict[str, int]
    error_mm: Sequence[float]
    kinds: frozenset[Kind]
    closed: bool


class RunWork(NamedTuple):
    """One practice run that a student did alone or as a test. shims: its engine is set by shims;
    left_right: every valve within its spec at the end; tools_off: nothing was forgotten in or on
    the engine, None where it was not closed up. proves: it was passed and every valve was measured;
    what went well in any other run counts for nothing, what went wrong counts against the skill."""

    title: str
    at: datetime
    shims: bool
    left_right: bool
    tools_off: bool | None
    place: float | None = None
    """The share of its valves that were measured, and with no leaf off their heel; None where none
    was, or where it was told by rules that did not say."""
    proves: bool = True


class DrillWork(NamedTuple):
    """One drill that a student answered alone, as far as DRILL_LEAST questions or more."""

    at: datetime
    right: int
    answered: int


class HandOnSheet(NamedTuple):
    """How a hand felt on one sheet: its bias (median) and its repeatability about that; None of
    fewer than three readings. ref is the sheet's."""

    ref: int
    title: str
    at: datetime
    bias_mm: float | None
    repeatability_mm: float | None
    slips: int


class SkillShown(NamedTuple):
    """shares are of the pieces that show it, oldest first."""

    skill: Skill
    state: SkillState
    shares: tuple[float, ...]
    says: str
    train: Train | None


class Progress(NamedTuple):
    hands: tuple[HandOnSheet, ...]
    skills: tuple[SkillShown, ...]


def progress(
    sheets: Sequence[SheetWork], runs: Sequence[RunWork], drills: Sequence[DrillWork] = ()
) -> Progress:
    """Sheets, runs and drills in any order."""
    by_time = sorted(sheets, key=lambda sheet: sheet.at)
    hands = tuple(map(_hand, by_time))
    return Progress(hands, tuple(_skill(skill, by_time, hands, runs, drills) for skill in Skill))


def _hand(sheet: SheetWork) -> HandOnSheet:
    slips = len(sheet.kinds & WRITING_SLIPS)
    if len(sheet.error_mm) < 3:
        return HandOnSheet(sheet.ref, sheet.title, sheet.at, None, None, slips)
    bias = statistics.median(sheet.error_mm)
    # The median of distances is moved by no slip.
    spread = MAD_TO_SIGMA * statistics.median(abs(error - bias) for error in sheet.error_mm)
    return HandOnSheet(sheet.ref, sheet.title, sheet.at, bias, spread, slips)


def _skill(
    skill: Skill,
    sheets: Sequence[SheetWork],
    hands: Sequence[HandOnSheet],
    runs: Sequence[RunWork],
    drills: Sequence[DrillWork],
) -> SkillShown:
    at_an_engine = _pieces(skill, sheets, runs)
    pieces = at_an_engine
    if skill is Skill.PLACE:
        told = [one for one in drills if one.answered >= DRILL_LEAST]
        pieces = [*at_an_engine, *((one.at, one.right / one.answered) for one in told)]
    shares = tuple(share for _, share in sorted(pieces, key=lambda piece: piece[0]))
    state = _state(shares)
    says = _says(shares)
    train = None if state is SkillState.SHOWN else _train(skill)
    if state is SkillState.SHOWN and not at_an_engine:
        # Questions show that it is understood; that it is found shows only at an engine.
        state, train, says = SkillState.NEARLY, Train.RUN, f"{says}, in drills only"
    bias = hands[-1].bias_mm if skill is Skill.MEASURE and hands else None
    if bias is not None and abs(bias) >= SMALL_BIAS_MM:
        side = "tight" if bias < 0 else "loose"
        says += f"; reads {side} of late"
        if state is SkillState.SHOWN:
            state, train = SkillState.NEARLY, Train.RUN
    return SkillShown(skill, state, shares, says, train)


def _pieces(
    skill: Skill, sheets: Sequence[SheetWork], runs: Sequence[RunWork]
) -> list[tuple[datetime, float]]:
    """When, and what share was right, of each piece of work that shows a skill."""
    parts = {
        Skill.PLACE: ("position",),
        Skill.MEASURE: ("reading", "closing"),
        Skill.SCREW: ("adjusted",),
        Skill.SHIM: ("shim", "closing_shim"),
    }.get(skill)
    if parts is None:
        pieces = [(sheet.at, float(sheet.closed)) for sheet in sheets]
        return pieces + _of_runs((run, run.tools_off) for run in runs)
    pieces = [
        (sheet.at, sum(sheet.right.get(part, 0) for part in parts) / asked)
        for sheet in sheets
        if (asked := sum(sheet.asked.get(part, 0) for part in parts))
    ]
    if skill is Skill.PLACE:
        pieces += _of_runs((run, run.place) for run in runs)
    if skill in (Skill.SCREW, Skill.SHIM):
        mine = [run for run in runs if run.shims is (skill is Skill.SHIM)]
        pieces += _of_runs((run, run.left_right) for run in mine)
    return pieces


def _of_runs(shares: Iterable[tuple[RunWork, float | None]]) -> list[tuple[datetime, float]]:
    return [
        (run.at, float(share))
        for run, share in shares
        if share is not None and (run.proves or share < SHOWN_SHARE)
    ]


def _state(shares: Sequence[float]) -> SkillState:
    if not shares:
        return SkillState.UNSEEN
    late = shares[-SHOWN_PIECES:]
    if len(late) == SHOWN_PIECES and min(late) >= SHOWN_SHARE:
        return SkillState.SHOWN
    return SkillState.NEARLY if late[-1] >= SHOWN_SHARE else SkillState.NOT_YET


def _says(shares: Sequence[float]) -> str:
    if not shares:
        return "not attempted yet"
    late = ", then ".join(f"{math.floor(100 * share)} %" for share in shares[-SHOWN_PIECES:])
    return f"{late} right of late"


def _train(skill: Skill) -> Train:
    return Train.DRILL if skill is Skill.PLACE else Train.RUN
