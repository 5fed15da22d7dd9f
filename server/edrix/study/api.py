"""The gauge study of a stand over HTTP, for the instructors of its class."""

from datetime import datetime
from typing import Annotated, Any

from django.http import HttpRequest
from ninja import Query, Router, Schema

from edrix.accounts.signed_in import user_of
from edrix.practice.blind_api import ThresholdOut
from edrix.problems import Problem
from edrix.study import services
from edrix.study.services import Gap, StandStudy
from valvetrain.study import write_study

router = Router(tags=["study"])
MOST_TRIALS = 20
REFUSALS: dict[int, Any] = {403: Problem, 404: Problem, 409: Problem, 422: Problem}


class AnovaRowOut(Schema):
    """Squares in square micrometres; f and p are null where there is no test."""

    source: str
    df: int
    ss_um2: float
    ms_um2: float
    f: float | None
    p: float | None


class ComponentOut(Schema):
    """Shares in per cent: of variance, and of the study's spread."""

    source: str
    deviation_mm: float
    share_variance: float
    share_study: float


class AgreedOut(Schema):
    """Agreement of verdicts beyond chance, and the counts that it rests on."""

    kappa: float
    judged: int
    alike: int


class HandOut(Schema):
    """Bias against the key with its 95 per cent interval; agreed is that of verdicts with it."""

    student: str
    bias_mm: float
    bias_low_mm: float
    bias_high_mm: float
    spread_mm: float
    spread_low_mm: float
    spread_high_mm: float
    agreed: AgreedOut | None


class HardValveOut(Schema):
    valve: int
    role: str
    spread_mm: float


class LeftOutOut(Schema):
    student: str
    why: str


class BlindHandOut(ThresholdOut):
    student: str


class StudyOut(Schema):
    gap: Gap
    stand: str
    engine: str
    class_id: int
    trials: list[str]
    students: int
    valves: int
    left_out: list[LeftOutOut]
    anova: list[AnovaRowOut]
    components: list[ComponentOut]
    categories: int | None
    pooled: bool
    hands: list[HandOut]
    hardest: list[HardValveOut]
    together: AgreedOut | None
    feel: list[BlindHandOut]
    """Students who have felt gaps blind; the finest hand first."""
    says: list[str]

    @staticmethod
    def of(told: StandStudy) -> dict[str, Any]:
        written, roles = write_study(told.found), told.roles
        return {
            "gap": told.gap,
            "stand": told.stand.name,
            "engine": told.stand.engine_version.engine.name,
            "class_id": told.class_id,
            "left_out": [{"student": student, "why": why} for student, why in told.left_out],
            **written,
            "trials": [sheet.title for sheet in told.sheets],
            "hands": [
                hand | {"agreed": _agreed(told.agreement.with_key.get(hand["student"]))}
                for hand in written["hands"]
            ],
            "hardest": [valve | {"role": roles[valve["valve"]]} for valve in written["hardest"]],
            "feel": [{"student": who, **hand._asdict()} for who, hand in told.feel],
            "together": _agreed(told.agreement.together),
        }


def _agreed(found: services.Agreed | None) -> dict[str, Any] | None:
    return None if found is None else found._asdict()


class TrialOut(Schema):
    """A sheet on the stand's newest key; proposed: it is a trial unless others are chosen."""

    id: int
    title: str
    set_at: datetime
    handed_in: int
    proposed: bool

    @staticmethod
    def of(trial: services.Trial) -> dict[str, Any]:
        sheet = trial.sheet
        told = {"id": sheet.id, "title": sheet.title, "set_at": sheet.set_at}
        return told | {"handed_in": trial.handed_in, "proposed": trial.proposed}


class TrialsOut(Schema):
    stand: str
    class_id: int
    gaps: list[Gap]
    """Those that can be studied: the closing gap where two sheets ask for it."""
    trials: list[TrialOut]


@router.get(
    "/stands/{stand_id}/trials",
    response={200: TrialsOut, **REFUSALS},
    operation_id="studyTrials",
)
def get_trials(
    request: HttpRequest, stand_id: int, gap: Gap = "opening", class_id: int | None = None
) -> dict[str, Any]:
    """Which sheets a study of the stand may compare, oldest first; of one class, else of that which
    measured it last."""
    known = services.trials_of(user_of(request), stand_id, gap, class_id)
    return {
        "stand": known.stand.name,
        "class_id": known.class_id,
        "gaps": known.gaps,
        "trials": [TrialOut.of(trial) for trial in known.trials],
    }


@router.get("/stands/{stand_id}/study", response={200: StudyOut, **REFUSALS}, operation_id="study")
def get_study(
    request: HttpRequest,
    stand_id: int,
    sheets: Annotated[list[int], Query(max_length=MOST_TRIALS)] = [],  # noqa: B006 (ninja's)
    gap: Gap = "opening",
    class_id: int | None = None,
) -> dict[str, Any]:
    """The class as a measuring instrument; sheets are the trials, without any those proposed."""
    return StudyOut.of(services.of_stand(user_of(request), stand_id, sheets, gap, class_id))
