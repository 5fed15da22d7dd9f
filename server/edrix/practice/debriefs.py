"""What is told of a run: kept at its end, so that later rules never tell it otherwise.

Example: Ines ends her run in spring and reads that valve 5 was left 0.03 mm too loose. In autumn a
figure of the practice rules is corrected. Her run still says what it said; a run that was open then
is closed as it was observed, without a judgement by rules that it was not made under.
"""

from typing import Any

from edrix.accounts.models import User
from edrix.errors import ConflictError
from edrix.practice.live import done_in, events_of, setup_of
from edrix.practice.models import PracticeRun
from edrix.practice.services import debriefs_open, end_by_time, readable_run
from valvetrain.practice import PRACTICE_VERSION, debrief, write_debrief

OBSERVED = (
    "This run was made under other practice rules. It is shown as it was observed then; nothing is "
    "judged by today's rules."
)


def debrief_of(user: User, run_id: int) -> tuple[PracticeRun, dict[str, Any]]:
    """What was hidden, told back: to a student once the run has ended, to instructors always."""
    run = readable_run(user, run_id)
    if run.student_id == user.id and run.ended_at is None and not end_by_time(run):
        raise ConflictError("The run is not over: close up and start the engine first.")
    if run.student_id == user.id and not debriefs_open(run.practice):
        raise ConflictError(
            "This was a test: your instructor opens its debriefs when everybody is through."
        )
    return run, run.debrief or told_now(run)


def told_now(run: PracticeRun) -> dict[str, Any]:
    """By today's rules where it was made under them, else as it was observed."""
    if run.rules_version != PRACTICE_VERSION:
        return _as_observed(run)
    return write_debrief(debrief(setup_of(run), done_in(run.id)))


def _as_observed(run: PracticeRun) -> dict[str, Any]:
    moments = [
        {
            "step": event.step,
            "crank_deg": None,
            "action": event.action["do"],
            "valve": event.action.get("valve"),
            "says": event.says,
            "wrong": None,
            "cost": None,
        }
        for event in events_of(run.id)
    ]
    return {
        "rules_version": run.rules_version,
        "headline": OBSERVED,
        "outcome": run.outcome,
        "consequences": [],
        "later": [],
        "moments": moments,
        "valves": [],
        "faults": [{"kind": kind, "valve": valve} for kind, valve in run.practice.faults],
        "turned_deg": None,
    }
