"""Practice engines and runs over HTTP. What a student may see is made by the core's `view`."""

from typing import Any, Literal

from django.http import HttpRequest, HttpResponse
from ninja import File, Router, Status
from ninja.files import UploadedFile

from edrix.accounts.signed_in import user_of
from edrix.edge import whole_answer
from edrix.practice import acting, debriefs, run_files, services, weighing
from edrix.practice.models import PracticeRun
from edrix.practice.schemas import (
    ActedOut,
    ActionIn,
    AdviceOut,
    DebriefOut,
    OwnRunOut,
    PracticeChanges,
    PracticeIn,
    PracticeOut,
    RunFileToldOut,
    RunOut,
    RunRowOut,
    StackOut,
    WalkOut,
)
from edrix.problems import Problem
from valvetrain.practice import GapKind

router = Router(tags=["practice"])
REFUSALS: dict[int, Any] = {403: Problem, 404: Problem, 409: Problem, 422: Problem}


@router.get(
    "/classes/{class_id}/practice",
    response={200: list[PracticeOut], **REFUSALS},
    operation_id="listPractice",
)
def list_practice(request: HttpRequest, class_id: int) -> list[dict[str, Any]]:
    """What a class practises on, with the asking person's own runs."""
    user = user_of(request)
    teaches = services.teaches(user, class_id)
    found = services.with_own_runs(user, class_id)
    return [PracticeOut.of(one, runs, teaches=teaches) for one, runs in found]


@router.post(
    "/classes/{class_id}/practice",
    response={201: PracticeOut, **REFUSALS},
    operation_id="createPractice",
)
def create_practice(
    request: HttpRequest, class_id: int, body: PracticeIn
) -> Status[dict[str, Any]]:
    """Sets a practice engine for a class."""
    made = services.create(user_of(request), class_id, body.new())
    return Status(201, PracticeOut.of(made, [], teaches=True))


@router.patch(
    "/practice/{practice_id}", response={204: None, **REFUSALS}, operation_id="changePractice"
)
def change_practice(request: HttpRequest, practice_id: int, body: PracticeChanges) -> Status[None]:
    """Renames a practice engine, puts it away or brings it back."""
    services.change(user_of(request), practice_id, **body.model_dump())
    return Status(204, None)


@router.delete(
    "/practice/{practice_id}", response={204: None, **REFUSALS}, operation_id="removePractice"
)
def remove_practice(request: HttpRequest, practice_id: int) -> Status[None]:
    """Where nobody has begun a run on it."""
    services.remove(user_of(request), practice_id)
    return Status(204, None)


@router.get(
    "/practice/{practice_id}/runs",
    response={200: list[RunRowOut], **REFUSALS},
    operation_id="practiceRuns",
)
def practice_runs(request: HttpRequest, practice_id: int) -> list[dict[str, Any]]:
    """Every run on a practice engine, for instructors."""
    user = user_of(request)
    practice, runs = weighing.of_practice(user, practice_id)
    grades = weighing.grades_of(practice, runs)
    return [RunRowOut.of(run, grades.get(run.id)) for run in runs]


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
    return RunOut.of(services.own_run(user_of(request), run_id))


@router.post("/runs/{run_id}/actions", response={200: ActedOut, **REFUSALS}, operation_id="act")
def act(request: HttpRequest, run_id: int, body: ActionIn) -> HttpResponse:
    """One action at the engine: an observation, or a question that nothing follows from yet."""
    key, step, sure = body.key, body.step, body.sure
    document = body.action.model_dump(exclude_none=True)
    user = user_of(request)
    acted = acting.act(user, run_id, key=key, step=step, document=document, sure=sure)
    return whole_answer(ActedOut.of(acted))


@router.get("/runs/{run_id}/advice", response={200: AdviceOut, **REFUSALS}, operation_id="advice")
def advice(
    request: HttpRequest, run_id: int, valve: int, gap: GapKind = "opening"
) -> dict[str, Any]:
    """The next leaf and what it would prove, at the level that shows it."""
    return AdviceOut.of(acting.advice(user_of(request), run_id, valve, gap))


@router.get("/runs/{run_id}/walk", response={200: WalkOut, **REFUSALS}, operation_id="walk")
def walk(request: HttpRequest, run_id: int) -> dict[str, Any]:
    """What to do next in the whole job, and why, at the level that shows it."""
    return WalkOut.of(acting.walk(user_of(request), run_id))


@router.get("/runs/{run_id}/stack", response={200: StackOut, **REFUSALS}, operation_id="stackFor")
def stack(
    request: HttpRequest, run_id: int, target: str, unit: Literal["mm", "thou"] = "mm"
) -> dict[str, Any]:
    """Which leaves of the box make a thickness, where the instructor allows that help."""
    return StackOut.of(*acting.stack_for(user_of(request), run_id, target, unit))


@router.post("/run-files", response={200: RunFileToldOut, **REFUSALS}, operation_id="openRunFile")
def open_run_file(request: HttpRequest, file: File[UploadedFile]) -> dict[str, Any]:
    """A run file replayed and told, for whoever teaches; nothing is kept."""
    return RunFileToldOut.of(run_files.open_file(user_of(request), file.read()))


@router.get(
    "/runs/{run_id}/debrief", response={200: DebriefOut, **REFUSALS}, operation_id="getDebrief"
)
def get_debrief(request: HttpRequest, run_id: int) -> dict[str, Any]:
    """The whole run told back, with what was hidden: after its end, or for instructors."""
    return DebriefOut.of(*debriefs.debrief_of(user_of(request), run_id))
