"""Weights of runs over HTTP: what a run is worth, seen on every run before it counts."""

from typing import Any

from django.http import HttpRequest
from ninja import Router, Status

from edrix.accounts.signed_in import user_of
from edrix.practice import services, weighing
from edrix.practice.weights_schemas import RunWeightsLookOut, RunWeightsOut
from edrix.problems import Problem
from edrix.weights_schemas import RubricIn, SetRubricIn

router = Router(tags=["practice"])
REFUSALS: dict[int, Any] = {403: Problem, 404: Problem, 409: Problem, 422: Problem}


@router.get(
    "/practice/{practice_id}/rubric",
    response={200: RunWeightsOut, **REFUSALS},
    operation_id="getRunWeights",
)
def get_weights(request: HttpRequest, practice_id: int) -> dict[str, Any]:
    user = user_of(request)
    return RunWeightsOut.of(services.practice_for_instructor(user, practice_id))


@router.post(
    "/practice/{practice_id}/rubric/preview",
    response={200: RunWeightsLookOut, **REFUSALS},
    operation_id="previewRunWeights",
)
def preview_weights(request: HttpRequest, practice_id: int, body: RubricIn) -> dict[str, Any]:
    """What weights make of a sample and of every run that has ended; keeps nothing."""
    return RunWeightsLookOut.of(*weighing.look(user_of(request), practice_id, body.model_dump()))


@router.post(
    "/practice/{practice_id}/rubric",
    response={201: RunWeightsOut, **REFUSALS},
    operation_id="setRunWeights",
)
def set_weights(request: HttpRequest, practice_id: int, body: SetRubricIn) -> Status[Any]:
    """From now on these weights count; the older ones stay on record."""
    rubric = body.rubric.model_dump()
    practice = weighing.set_weights(user_of(request), practice_id, rubric, body.based_on)
    return Status(201, RunWeightsOut.of(practice))
