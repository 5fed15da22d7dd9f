"""Practice engines and runs. What a student may see is made by the core's `view`."""

from datetime import datetime
from typing import Any, Literal

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema, Status
from pydantic import BaseModel, Field

from edrix.edge import In, user_of, whole_answer
from edrix.practice import live, services
from edrix.practice.models import PracticeEngine, PracticeRun
from edrix.problems import Problem
from valvetrain.engine import Adjuster, ScrewAdjuster, ShimAdjuster
from valvetrain.practice import FaultKind, View

router = Router(tags=["practice"])
REFUSALS: dict[int, Any] = {403: Problem, 404: Problem, 409: Problem, 422: Problem}


class FaultIn(In):
    kind: FaultKind
    valve: int | None = None


class PracticeIn(In):
    engine_id: int
    title: str = Field(max_length=80)
    faults: list[FaultIn] = Field(default_factory=list, max_length=40)
    level: Literal["shown", "prompted", "alone", "test"] = "alone"
    box: Literal["metric", "thou", "mixed", "stepped", "angled"] = "metric"
    stack_help: bool = False
    same_for_all: bool = True
    bridged: bool = False
    minutes: int | None = Field(default=None, ge=1, le=600)


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


class RunRowOut(Schema):
    id: int
    student: str
    attempt: int
    step: int
    began_at: datetime
    ended_at: datetime | None
    outcome: str


class SeenValveOut(BaseModel):
    valve: int
    down_mm: float
    nut_tight: bool | None
    shim_out: bool
    shim_aside: bool
    done: bool


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
    cams_out: bool
    crank_locked: bool
    tool_on: bool
    tools_counted: bool
    closed: bool
    started: bool

    @staticmethod
    def of(seen: View) -> "ViewOut":
        parts = {
            "valves": [valve._asdict() for valve in seen.valves],
            "notes": [note._asdict() for note in seen.notes],
        }
        return ViewOut.model_validate(seen._asdict() | parts)


class StepOut(Schema):
    step: int
    action: dict[str, Any]
    says: str
    facts: dict[str, Any]


class AdjusterOut(Schema):
    """What the plate says of a role's adjuster; nulls where it says nothing."""

    kind: Literal["screw", "shim", "hydraulic"]
    pitch_mm: float | None = None
    locknut_torque_nm: float | None = None

    @staticmethod
    def of(adjuster: Adjuster) -> dict[str, Any]:
        if isinstance(adjuster, ScrewAdjuster):
            return {
                "kind": "screw",
                "pitch_mm": adjuster.pitch_mm,
                "locknut_torque_nm": adjuster.locknut_torque_nm,
            }
        return {"kind": "shim" if isinstance(adjuster, ShimAdjuster) else "hydraulic"}


class FoundMarkOut(Schema):
    """A mark as it is found on this engine, right or wrong."""

    on: str
    label: str
    deg: float
    means: str
    crank_degs: list[float]


class RunOut(Schema):
    id: int
    title: str
    engine_id: int
    engine_version: int
    level: str
    leaves_um: list[int]
    stack_help: bool
    bridged: bool
    marks: list[FoundMarkOut]
    adjusters: dict[str, AdjusterOut]
    """By role."""
    until: datetime | None
    view: ViewOut
    events: list[StepOut]


class ActionIn(In):
    """step is where the client believes the run to stand; key is its own and new each time."""

    key: str = Field(min_length=8, max_length=40)
    step: int = Field(ge=0)
    action: dict[str, Any]
    sure: bool = False


class ActedOut(BaseModel):
    step: int
    asks: str | None
    says: str
    facts: dict[str, Any]
    view: ViewOut


class AdviceOut(Schema):
    leaves_mm: list[float] | None
    verdict: str
    low_mm: float
    high_mm: float | None
    says: str
    proves: str


class StackOut(Schema):
    leaves_um: list[int]
    total_mm: float
    error_mm: float


class MomentOut(Schema):
    step: int
    crank_deg: float
    action: str
    valve: int | None
    says: str
    wrong: str | None
    cost: str | None


class TruthOut(Schema):
    valve: int
    found_mm: float
    left_mm: float | None
    first: str | None
    second: str | None
    after: str | None
    within: bool
    nut_moves_mm: float | None


class ConsequenceOut(Schema):
    start: str
    says: str
    valve: int | None


class PlantedOut(Schema):
    kind: str
    valve: int | None


class DebriefOut(Schema):
    run: RunRowOut
    title: str
    engine_id: int
    engine_version: int
    headline: str
    outcome: str
    consequences: list[ConsequenceOut]
    later: list[str]
    moments: list[MomentOut]
    valves: list[TruthOut]
    faults: list[PlantedOut]
    turned_deg: float
    left_out: list[str]


@router.get(
    "/classes/{class_id}/practice",
    response={200: list[PracticeOut], **REFUSALS},
    operation_id="listPractice",
)
def list_practice(request: HttpRequest, class_id: int) -> list[dict[str, Any]]:
    """What a class practises on, with the asking person's own runs."""
    user = user_of(request)
    found = list(services.of_class(user, class_id))
    runs: dict[int, list[PracticeRun]] = {}
    for run in services.own_runs(user, [practice.id for practice in found]):
        runs.setdefault(run.practice_id, []).append(run)
    teaches = services.teaches(user, class_id)
    return [_practice(one, runs.get(one.id, []), teaches=teaches) for one in found]


def _practice(practice: Any, runs: list[PracticeRun], *, teaches: bool) -> dict[str, Any]:
    return {
        "id": practice.id,
        "title": practice.title,
        "engine_id": practice.engine_version.engine_id,
        "engine_version": practice.engine_version.number,
        "engine_name": practice.engine_version.engine.name,
        "level": practice.level,
        "box": practice.box,
        "minutes": practice.minutes,
        "run_count": practice.run_count if teaches else None,
        "fault_count": len(practice.faults) if teaches else None,
        "own_runs": runs,
    }


@router.post(
    "/classes/{class_id}/practice",
    response={201: PracticeOut, **REFUSALS},
    operation_id="createPractice",
)
def create_practice(
    request: HttpRequest, class_id: int, body: PracticeIn
) -> Status[dict[str, Any]]:
    """Sets a practice engine for a class."""
    fields = body.model_dump() | {
        "faults": [(fault.kind.value, fault.valve) for fault in body.faults]
    }
    made: Any = services.create(user_of(request), class_id, services.NewPractice(**fields))
    made.run_count = 0
    return Status(201, _practice(made, [], teaches=True))


@router.get(
    "/practice/{practice_id}/runs",
    response={200: list[RunRowOut], **REFUSALS},
    operation_id="practiceRuns",
)
def practice_runs(request: HttpRequest, practice_id: int) -> list[dict[str, Any]]:
    """Every run on a practice engine, for instructors."""
    return [_row(run) for run in services.runs_of(user_of(request), practice_id)]


def _row(run: Any) -> dict[str, Any]:
    return {
        "id": run.id,
        "student": run.student.display_name,
        "attempt": run.attempt,
        "step": run.step,
        "began_at": run.began_at,
        "ended_at": run.ended_at,
        "outcome": run.outcome,
    }


@router.post(
    "/practice/{practice_id}/runs",
    response={200: OwnRunOut, **REFUSALS},
    operation_id="openRun",
)
def open_run(request: HttpRequest, practice_id: int) -> PracticeRun:
    """The student's open run, or a new one."""
    return services.open_run(user_of(request), practice_id)


@router.get("/runs/{run_id}", response={200: RunOut, **REFUSALS}, operation_id="getRun")
def get_run(request: HttpRequest, run_id: int) -> dict[str, Any]:
    """Where the student's own run stands, with everything done so far."""
    run = services.own_run(user_of(request), run_id)
    setup = live.setup_of(run)
    practice: PracticeEngine = run.practice
    return {
        "id": run.id,
        "title": practice.title,
        "engine_id": practice.engine_version.engine_id,
        "engine_version": practice.engine_version.number,
        "level": practice.level,
        "leaves_um": list(setup.leaves_um),
        "stack_help": practice.stack_help,
        "bridged": setup.bridged,
        "marks": [mark._asdict() | {"crank_degs": list(mark.crank_degs())} for mark in setup.marks],
        "adjusters": {
            role.value: AdjusterOut.of(adjuster)
            for role, adjuster in setup.engine.adjusters.items()
        },
        "until": live.deadline(run),
        "view": ViewOut.of(services.view_of(run)),
        "events": list(live.events_of(run.id)),
    }


@router.post("/runs/{run_id}/actions", response={200: ActedOut, **REFUSALS}, operation_id="act")
def act(request: HttpRequest, run_id: int, body: ActionIn) -> HttpResponse:
    """One action at the engine: an observation, or a question that nothing follows from yet."""
    acted = services.act(
        user_of(request),
        run_id,
        key=body.key,
        step=body.step,
        document=body.action,
        sure=body.sure,
    )
    return whole_answer(
        ActedOut(
            step=acted.step,
            asks=acted.asks,
            says=acted.says,
            facts=acted.facts,
            view=ViewOut.of(acted.view),
        )
    )


@router.get("/runs/{run_id}/advice", response={200: AdviceOut, **REFUSALS}, operation_id="advice")
def advice(request: HttpRequest, run_id: int, valve: int) -> dict[str, Any]:
    """The next leaf and what it would prove, at the level that shows it."""
    told = services.advice(user_of(request), run_id, valve)
    return {
        "leaves_mm": None if told.leaves_mm is None else [float(leaf) for leaf in told.leaves_mm],
        "verdict": told.reading.verdict,
        "low_mm": float(told.reading.low_mm),
        "high_mm": None if told.reading.high_mm is None else float(told.reading.high_mm),
        "says": told.says,
        "proves": told.proves,
    }


@router.get("/runs/{run_id}/stack", response={200: StackOut, **REFUSALS}, operation_id="stackFor")
def stack(
    request: HttpRequest, run_id: int, target: str, unit: Literal["mm", "thou"] = "mm"
) -> dict[str, Any]:
    """Which leaves of the box make a thickness, where the instructor allows that help."""
    found, leaves_um = services.stack_for(user_of(request), run_id, target, unit)
    return {
        "leaves_um": leaves_um,
        "total_mm": float(found.total_mm),
        "error_mm": float(found.error_mm),
    }


@router.get(
    "/runs/{run_id}/debrief", response={200: DebriefOut, **REFUSALS}, operation_id="getDebrief"
)
def get_debrief(request: HttpRequest, run_id: int) -> dict[str, Any]:
    """The whole run told back, with what was hidden: after its end, or for instructors."""
    run, told = services.debrief_of(user_of(request), run_id)
    practice: PracticeEngine = run.practice
    return {
        "run": _row(run),
        "title": practice.title,
        "engine_id": practice.engine_version.engine_id,
        "engine_version": practice.engine_version.number,
        "headline": told.result.headline,
        "outcome": told.result.start.value,
        "consequences": [one._asdict() for one in told.result.consequences],
        "later": list(told.result.later),
        "moments": [moment._asdict() for moment in told.moments],
        "valves": [truth._asdict() for truth in told.valves],
        "faults": [fault._asdict() for fault in told.faults],
        "turned_deg": told.turned_deg,
        "left_out": list(told.left_out),
    }
