"""What runs are worth by the weights of their practice engine, seen on every run before it counts.

A grade is worked out when it is read, from the debrief that was kept and the newest weights.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from django.db import transaction

from edrix import weights
from edrix.accounts.models import User
from edrix.engines import services as engines
from edrix.errors import ConflictError
from edrix.practice import services
from edrix.practice.models import PracticeEngine, PracticeRun, RunRubric
from edrix.weights import InForce, rubric_from_json, rubric_json
from valvetrain.grading.weights import Grade, Rubric
from valvetrain.practice.weighing import (
    RUN_TEMPLATES,
    can_be_weighed,
    check_run_rubric,
    grade_run,
    sample_run,
)

SAMPLE_MINUTES = 45.0
SECONDS_PER_MINUTE = 60


@dataclass(frozen=True, slots=True)
class RegradedRun:
    """One ended run by the weights in force and by others."""

    run: PracticeRun
    before: Grade
    after: Grade


def weights_of(practice: PracticeEngine) -> InForce:
    newest = (
        RunRubric.objects.filter(practice=practice)
        .select_related("made_by")
        .order_by("-number")
        .first()
    )
    if newest is None:
        return InForce(0, RUN_TEMPLATES[0].rubric)
    by = newest.made_by.display_name
    return InForce(newest.number, rubric_from_json(newest.document), by, newest.made_at)


def grade_of(run: PracticeRun, told: dict[str, Any]) -> Grade | None:
    """What an ended run comes to; None of one that is open, or was told by older rules."""
    if run.ended_at is None or not can_be_weighed(told):
        return None
    return _grade(run, told, weights_of(run.practice).rubric)


def grades_of(
    practice: PracticeEngine, runs: Iterable[PracticeRun], rubric: Rubric | None = None
) -> dict[int, Grade]:
    """By run: those that ended and can be weighed. Runs come without their practice engine."""
    weighed = rubric or weights_of(practice).rubric
    grades = {}
    for run in runs:
        if run.ended_at is not None and run.debrief and can_be_weighed(run.debrief):
            run.practice = practice
            grades[run.id] = _grade(run, run.debrief, weighed)
    return grades


def failed_by_weights(runs: Iterable[PracticeRun]) -> set[int]:
    """The ids of those runs that their instructor's own weights fail; where nobody has weighed
    anything none is."""
    own_of: dict[int, list[PracticeRun]] = {}
    for run in runs:
        own_of.setdefault(run.practice_id, []).append(run)
    newest: dict[int, RunRubric] = {}
    for one in RunRubric.objects.filter(practice_id__in=own_of).order_by("number"):
        newest[one.practice_id] = one
    failed: set[int] = set()
    for practice_id, rubric in newest.items():
        own = own_of[practice_id]
        grades = grades_of(own[0].practice, own, rubric_from_json(rubric.document))
        failed |= {run_id for run_id, grade in grades.items() if not grade.passed}
    return failed


def of_practice(user: User, practice_id: int) -> tuple[PracticeEngine, list[PracticeRun]]:
    """A practice engine with every run on it, newest first, for its instructors."""
    runs = services.runs_of(user, practice_id)
    return services.practice_for_instructor(user, practice_id), list(runs)


def look(user: User, practice_id: int, document: dict[str, Any]) -> tuple[Grade, list[RegradedRun]]:
    """What other weights would make of a sample and of every ended run; keeps nothing."""
    practice, runs = of_practice(user, practice_id)
    rubric = checked(document)
    before, after = grades_of(practice, runs), grades_of(practice, runs, rubric)
    moved = [RegradedRun(run, before[run.id], after[run.id]) for run in runs if run.id in after]
    return sample(practice, rubric), moved


def sample(practice: PracticeEngine, rubric: Rubric) -> Grade:
    """What a made-up run with a few usual mistakes comes to."""
    engine = engines.core_engine(practice.engine_version)
    return grade_run(engine, sample_run(engine), rubric, SAMPLE_MINUTES)


@transaction.atomic
def set_weights(
    user: User, practice_id: int, document: dict[str, Any], based_on: int
) -> PracticeEngine:
    """Raises ConflictError where somebody else set them since based_on."""
    practice = services.practice_for_instructor(user, practice_id)
    # Who is not first waits here, and then sees what the first has set.
    PracticeEngine.objects.select_for_update().get(id=practice.id)
    rubric = checked(document)
    now = weights_of(practice).number
    if now != based_on:
        raise ConflictError(
            f"These runs have weights {now} by now, made while you looked; see what they do first."
        )
    RunRubric.objects.create(
        practice=practice, number=now + 1, document=rubric_json(rubric), made_by=user
    )
    return practice


def checked(document: dict[str, Any]) -> Rubric:
    """Weights of runs. Raises InvalidError for what cannot be used."""
    return weights.checked(document, check_run_rubric)


def _grade(run: PracticeRun, told: dict[str, Any], rubric: Rubric) -> Grade:
    engine = engines.core_engine(run.practice.engine_version)
    minutes = None
    if run.ended_at is not None:
        minutes = (run.ended_at - run.began_at).total_seconds() / SECONDS_PER_MINUTE
    return grade_run(engine, told, rubric, minutes)
