"""Runs that come back with a class: what an older archive lacks, and whether they can have been."""

from collections import defaultdict
from typing import Any

from edrix.practice.live import seed_of, setup_of
from edrix.practice.models import PracticeEvent, PracticeRun
from valvetrain.practice import Action, read_action, replay

Row = dict[str, Any]


def fill_in_seeds(runs: list[Row], practice_engines: list[Row]) -> None:
    """For archives from before runs had a seed of their own: it followed from the student's
    number where the archive was made, which is still in the row."""
    engines = {row["id"]: row for row in practice_engines}
    for run in runs:
        if "seed" not in run:
            engine = engines[run["practice_id"]]
            run["seed"] = seed_of(
                engine["seed"],
                run["attempt"],
                None if engine["same_for_all"] else run["student_id"],
            )


def prove_runs(class_id: int) -> None:
    """Replays every run of a class, as its debrief will.

    Raises RefusedError or ValueError for one that cannot have been.
    """
    done: defaultdict[int, list[Action]] = defaultdict(list)
    events = PracticeEvent.objects.filter(run__practice__teaching_class_id=class_id)
    for run_id, step, action in events.order_by("run_id", "step").values_list(
        "run_id", "step", "action"
    ):
        done[run_id].append(read_action(action))
        if len(done[run_id]) != step:
            raise ValueError(f"run {run_id} has no step {len(done[run_id])}")
    runs = PracticeRun.objects.filter(practice__teaching_class_id=class_id)
    for run in runs.select_related("practice__engine_version"):
        replay(setup_of(run), done[run.id])
