"""Runs that come back with a class: what an older archive lacks, and whether they can have been."""

from collections import defaultdict
from typing import Any

from pydantic import TypeAdapter

from edrix.practice.blind import MOST_GUESS_MM
from edrix.practice.debriefs import told_now
from edrix.practice.live import deal, setup_of
from edrix.practice.models import BlindTry, PracticeEngine, PracticeEvent, PracticeRun, RunRubric
from edrix.practice.told import StoredDebrief
from edrix.practice.weighing import checked
from edrix.weights import StoredRubric
from valvetrain.gauges import Feel
from valvetrain.practice import PRACTICE_VERSION, Action, read_action, replay

_FACTS = TypeAdapter(dict[str, Any])
FIRST_RULES = "edrix-practice/1"
Row = dict[str, Any]


def fill_in_seeds(runs: list[Row], practice_engines: list[Row]) -> None:
    """For archives from before runs had a seed of their own: it followed from the student's
    number where the archive was made, which is still in the row."""
    engines = {row["id"]: row for row in practice_engines}
    for run in runs:
        if "seed" not in run:
            engine = engines[run["practice_id"]]
            run["seed"] = former_seed(
                engine["seed"],
                run["attempt"],
                None if engine["same_for_all"] else run["student_id"],
            )


def former_seed(practice_seed: int, attempt: int, own_of: int | None) -> int:
    """How runs were dealt that do not say from what: for good, since they have been played."""
    return practice_seed + (attempt - 1) * 104_729 + (0 if own_of is None else own_of * 7919)


def fill_in_rules(runs: list[Row]) -> None:
    """For archives from before runs had a version of the practice rules: there was but one."""
    for run in runs:
        run.setdefault("rules_version", FIRST_RULES)
        run.setdefault("debrief", None)


def prove_weights(class_id: int) -> None:
    """Raises ValueError or InvalidError for weights that could not be set."""
    for rubric in RunRubric.objects.filter(practice__teaching_class_id=class_id):
        StoredRubric.model_validate(rubric.document)
        checked(rubric.document)


def prove_blind(class_id: int) -> None:
    """Raises ValueError for a gap that was guessed without a name or a figure, or named alone."""
    for one in BlindTry.objects.filter(teaching_class_id=class_id):
        is_told = one.guessed_at is not None
        if is_told != (one.guessed_mm is not None) or is_told != (one.named in set(Feel)):
            raise ValueError("a gap that was felt blind is half told")
        if one.guessed_mm is not None and not 0 <= one.guessed_mm <= MOST_GUESS_MM:
            raise ValueError("a guess is no gap")


def prove_engines(class_id: int) -> None:
    """Deals every practice engine of a class, as a student's first run and a second one of a test
    would. Raises SetupError or ValueError for one that cannot be dealt."""
    found = PracticeEngine.objects.filter(teaching_class_id=class_id)
    for practice in found.select_related("engine_version"):
        deal(practice, practice.seed)
        if practice.level == "test" and practice.attempts != 1:
            deal(practice, practice.seed, faults_moved=True)


def prove_runs(class_id: int) -> None:
    """Replays every run of a class that was made under today's rules, and tells those that ended.

    Raises RefusedError or ValueError for one that cannot have been.
    """
    done: defaultdict[int, list[Action]] = defaultdict(list)
    events = PracticeEvent.objects.filter(run__practice__teaching_class_id=class_id)
    for run_id, step, action, facts in events.order_by("run_id", "step").values_list(
        "run_id", "step", "action", "facts"
    ):
        _FACTS.validate_python(facts)
        done[run_id].append(read_action(action))
        if len(done[run_id]) != step:
            raise ValueError(f"run {run_id} has no step {len(done[run_id])}")
    runs = PracticeRun.objects.filter(practice__teaching_class_id=class_id)
    for run in runs.select_related("practice__engine_version"):
        setup = setup_of(run)
        if run.debrief is not None:
            StoredDebrief.model_validate(run.debrief)
        if run.rules_version != PRACTICE_VERSION:
            continue
        replay(setup, done[run.id])
        if run.ended_at is not None and run.debrief is None:
            run.debrief = told_now(run)
            run.save(update_fields=["debrief"])
