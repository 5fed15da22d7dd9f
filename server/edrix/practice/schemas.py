"""What comes in and goes out of practising over HTTP.

An action is a tagged union, made from the core's own classes: what a screen sends is checked when
it is compiled, and a new action of the core is known here without a line.
"""

from datetime import datetime
from typing import Annotated, Any, Literal, Union

from ninja import Schema
from pydantic import BaseModel, Field, create_model

from edrix.engines.table_schemas import MarkOut
from edrix.practice import acting, live, services, weighing
from edrix.practice.models import PracticeEngine, PracticeRun
from edrix.practice.run_files import OpenedRun
from edrix.practice.told import StoredDebrief
from edrix.shapes import Changes, In
from edrix.weights_schemas import GradeOut
from valvetrain.adjusters import Adjuster
from valvetrain.gauges import Stack
from valvetrain.grading.weights import Grade
from valvetrain.practice import (
    ACTIONS,
    Action,
    Advice,
    FaultKind,
    Step,
    View,
    fields_of,
    write_action,
)
from valvetrain.practice.leaf_words import box_unit, odd_labels
from valvetrain.practice.weighing import run_part_label


def _document(name: str, kind: type[Action]) -> type[BaseModel]:
    """The wire's form of one action: its shape; the core checks the figures."""
    fields: dict[str, Any] = {"do": (Literal[name], ...)}
    for field in fields_of(kind):
        # Lists of JSON are tuples in the core.
        plain = list[int] if field.plain == tuple[int, ...] else field.plain
        # What may be left out is null here; its default is the core's.
        fields[field.name] = (plain | None, None) if field.optional else (plain, ...)
    return create_model(f"{kind.__name__}Action", __base__=In, __doc__=kind.__doc__, **fields)


ACTION_DOCUMENTS = tuple(_document(name, kind) for name, kind in ACTIONS.items())
ActionDocument: Any = Annotated[Union[ACTION_DOCUMENTS], Field(discriminator="do")]  # noqa: UP007 (made, not written)


class FaultIn(In):
    kind: FaultKind
    valve: int | None = None


class PracticeChanges(Changes):
    """debriefs: whether students may read those of a test."""

    name: str | None = Field(None, max_length=80)
    debriefs: bool | None = None


class PracticeIn(In):
    engine_id: int
    title: str = Field(max_length=80)
    faults: list[FaultIn] = Field(default_factory=list, max_length=40)
    level: Literal["shown", "prompted", "alone", "test"] = "alone"
    box: Literal["metric", "thou", "mixed", "stepped", "angled", "steps", "steps-thou"] = "metric"
    stack_help: bool = False
    same_for_all: bool = True
    minutes: int | None = Field(default=None, ge=1, le=600)
    attempts: int | None = Field(default=None, ge=1, le=20)

    def new(self) -> services.NewPractice:
        faults = [(fault.kind.value, fault.valve) for fault in self.faults]
        return services.NewPractice(**(self.model_dump() | {"faults": faults}))


class OwnRunOut(Schema):
    id: int
    attempt: int
    step: int
    ended_at: datetime | None
    outcome: str


class PracticeOut(Schema):
    """own_runs are the asking person's; fault_count is null for students."""

    id: int
    title: str
    engine_id: int
    engine_version: int
    engine_name: str
    level: str
    box: str
    minutes: int | None
    run_count: int | None
    fault_count: int | None
    own_runs: list[OwnRunOut]
    away: bool
    attempts: int | None
    debriefs_open: bool
    """Whether students may read the debriefs of their runs."""

    @staticmethod
    def of(practice: PracticeEngine, runs: list[PracticeRun], *, teaches: bool) -> dict[str, Any]:
        version = practice.engine_version
        return {
            "id": practice.id,
            "title": practice.title,
            "engine_id": version.engine_id,
            "engine_version": version.number,
            "engine_name": version.engine.name,
            "level": practice.level,
            "box": practice.box,
            "minutes": practice.minutes,
            "run_count": getattr(practice, "run_count", 0) if teaches else None,
            "fault_count": len(practice.faults) if teaches else None,
            "own_runs": runs,
            "away": practice.put_away_at is not None,
            "attempts": practice.attempts,
            "debriefs_open": services.debriefs_open(practice),
        }


class RunRowOut(Schema):
    id: int
    student: str
    attempt: int
    step: int
    began_at: datetime
    ended_at: datetime | None
    outcome: str
    percent: float | None
    """What it comes to by its weights; null while it is open, and of debriefs of older rules."""
    passed: bool | None

    @staticmethod
    def of(run: PracticeRun, grade: Grade | None) -> dict[str, Any]:
        return {
            "id": run.id,
            "student": run.student.display_name,
            "attempt": run.attempt,
            "step": run.step,  # type: ignore[attr-defined]  # annotated by services
            "began_at": run.began_at,
            "ended_at": run.ended_at,
            "outcome": run.outcome,
            "percent": grade and grade.percent,
            "passed": grade and grade.passed,
        }


class SeenValveOut(BaseModel):
    valve: int
    down_mm: float
    nut_tight: bool | None
    shim_out: bool
    shim_aside: bool
    done: bool
    closing_shim_out: bool
    closing_shim_aside: bool


class NoteOut(BaseModel):
    valve: int
    column: str
    text: str


class ViewOut(BaseModel):
    step: int
    crank_turn_deg: float
    valves: list[SeenValveOut]
    notes: list[NoteOut]
    box_um: list[int]
    closing_box_um: list[int]
    """Closing shims, which are other parts."""
    cams_out: bool
    crank_locked: bool
    tool_on: bool
    tools_counted: bool
    closed: bool
    started: bool
    cam_deg: float | None
    """Where the cams stand, at the level that shows everything; it tells the stroke."""
    dots_deg: list[float]
    """The student's own dots of paint on the pulley."""

    @staticmethod
    def of(seen: View) -> "ViewOut":
        parts = {
            "valves": [valve._asdict() for valve in seen.valves],
            "notes": [note._asdict() for note in seen.notes],
        }
        return ViewOut.model_validate(seen._asdict() | parts)


class StepOut(Schema):
    step: int
    action: ActionDocument
    says: str
    facts: dict[str, Any]


class AdjusterOut(Schema):
    """What the plate says of a role's adjuster; nulls where it says nothing."""

    kind: str
    pitch_mm: float | None = None
    locknut_torque_nm: float | None = None
    cams_out: bool = False
    """Whether the cams have to come out to change its shim."""
    place: str | None = None
    """Where its shim lies: a printed face goes down only over a bucket."""
    codes: dict[str, float] = Field(default_factory=dict)
    """What is stamped on its shims and what it means, where stamps are no sizes."""


class FoundMarkOut(MarkOut):
    """A mark as it is found on this engine, right or wrong."""


class RunOut(Schema):
    id: int
    title: str
    engine_id: int
    engine_version: int
    level: str
    leaves_um: list[int]
    steps_um: list[list[int]]
    """Step leaves: tip and body of each."""
    angled_um: list[int]
    """Leaves bent to 45° beside the others; empty where every leaf of the box is bent."""
    leaf_unit: Literal["mm", "thou"]
    """What the leaves of the box are marked in."""
    leaf_labels: dict[str, str]
    """The marks of leaves that are marked in the other unit, by their thickness in µm."""
    stack_help: bool
    bridged: list[int]
    """Valves whose rocker works two stems through a bridge."""
    marks: list[FoundMarkOut]
    adjusters: dict[str, AdjusterOut]
    """By role."""
    until: datetime | None
    debriefs_open: bool
    view: ViewOut
    events: list[StepOut]

    @staticmethod
    def of(run: PracticeRun) -> dict[str, Any]:
        setup, practice = live.setup_of(run), run.practice
        marks = [mark._asdict() | {"crank_degs": list(mark.crank_degs())} for mark in setup.marks]
        plates = {
            role.value: adjuster.plate()._asdict()
            | {"codes": _codes(adjuster), "place": adjuster.shim and adjuster.shim.place}
            for role, adjuster in setup.engine.adjusters.items()
        }
        return {
            "id": run.id,
            "title": practice.title,
            "engine_id": practice.engine_version.engine_id,
            "engine_version": practice.engine_version.number,
            "level": practice.level,
            "leaves_um": list(setup.leaves_um),
            "steps_um": [list(step) for step in setup.steps_um],
            "angled_um": [] if setup.box == "angled" else list(setup.angled_um),
            "leaf_unit": box_unit(setup.box),
            "leaf_labels": odd_labels(setup.box, setup.leaves_um),
            "stack_help": practice.stack_help,
            "bridged": [v.number for v in setup.engine.valves if setup.is_bridged(v.number)],
            "marks": marks,
            "adjusters": plates,
            "until": live.deadline(run),
            "debriefs_open": services.debriefs_open(practice),
            "view": ViewOut.of(services.view_of(run)),
            "events": list(live.events_of(run.id)),
        }


def _codes(adjuster: Adjuster) -> dict[str, float]:
    shim = adjuster.shim
    if shim is None or shim.codes is None:
        return {}
    stamped = {size: shim.codes.code_of(size) for size in shim.sizes.all()}
    return {code: float(size) for size, code in stamped.items() if code is not None}


class ActionIn(In):
    """step is where the client believes the run to stand; key is its own and new each time."""

    key: str = Field(min_length=8, max_length=40)
    step: int = Field(ge=0)
    action: ActionDocument
    sure: bool = False


class ActedOut(BaseModel):
    step: int
    asks: str | None
    says: str
    facts: dict[str, Any]
    view: ViewOut

    @staticmethod
    def of(acted: acting.Acted) -> "ActedOut":
        return ActedOut(
            step=acted.step,
            asks=acted.asks,
            says=acted.says,
            facts=acted.facts,
            view=ViewOut.of(acted.view),
        )


class AdviceOut(Schema):
    leaves_mm: list[float] | None
    verdict: str
    low_mm: float
    high_mm: float | None
    says: str
    proves: str

    @staticmethod
    def of(told: Advice) -> dict[str, Any]:
        reading = told.reading
        return {
            "leaves_mm": told.leaves_mm and [float(leaf) for leaf in told.leaves_mm],
            "verdict": reading.verdict,
            "low_mm": float(reading.low_mm),
            "high_mm": None if reading.high_mm is None else float(reading.high_mm),
            "says": told.says,
            "proves": told.proves,
        }


class WalkOut(Schema):
    """The next step of the shown job; says is null once the run is over, action where only the
    student's own hand can do it."""

    says: str | None
    why: str
    action: ActionDocument | None
    valve: int | None
    gap: str

    @staticmethod
    def of(step: Step | None) -> dict[str, Any]:
        if step is None:
            nothing = {"says": None, "why": "", "action": None, "valve": None}
            return {**nothing, "gap": "opening"}
        return {
            "says": step.says,
            "why": step.why,
            # An action without fields is an empty tuple, but it is an action.
            "action": None if step.action is None else write_action(step.action),
            "valve": step.valve,
            "gap": step.gap,
        }


class StackOut(Schema):
    leaves_um: list[int]
    total_mm: float
    error_mm: float

    @staticmethod
    def of(stack: Stack, leaves_um: list[int]) -> dict[str, Any]:
        total_mm, error_mm = float(stack.total_mm), float(stack.error_mm)
        return {"leaves_um": leaves_um, "total_mm": total_mm, "error_mm": error_mm}


class DebriefOut(StoredDebrief):
    """As it was told at the end, by the practice rules of rules_version."""

    run: RunRowOut
    title: str
    engine_id: int
    engine_version: int
    grade: GradeOut | None
    """Null while the run is open, and of debriefs of older rules."""

    @staticmethod
    def of(run: PracticeRun, told: dict[str, Any]) -> dict[str, Any]:
        grade = weighing.grade_of(run, told)
        return {
            "run": RunRowOut.of(run, grade),
            "grade": grade and GradeOut.of(grade, run_part_label),
            "title": run.practice.title,
            "engine_id": run.practice.engine_version.engine_id,
            "engine_version": run.practice.engine_version.number,
            **told,
        }


class RefusedStep(Schema):
    step: int
    do: str
    says: str


class RunFileToldOut(StoredDebrief):
    """A run file as it was replayed: its debrief, and what could not be done."""

    engine: str
    level: str
    refused: list[RefusedStep]

    @staticmethod
    def of(opened: OpenedRun) -> dict[str, Any]:
        refused = [{"step": one.step, "do": one.do, "says": one.says} for one in opened.refused]
        return {
            "engine": opened.engine,
            "level": opened.level,
            "refused": refused,
            **opened.told,
        }
