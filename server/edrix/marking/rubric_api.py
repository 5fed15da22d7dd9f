"""Rubrics over HTTP: what a sheet's marks are worth together, seen before it counts."""

from typing import Any

from django.http import HttpRequest
from ninja import Router, Status

from edrix.accounts.signed_in import user_of
from edrix.marking import rubrics
from edrix.marking.rubric_schemas import ReleaseIn, RubricLookOut, RubricOut
from edrix.problems import Problem
from edrix.sheets import services as sheets
from edrix.weights_schemas import RubricIn, SetRubricIn

router = Router(tags=["marking"])
REFUSALS: dict[int, Any] = {403: Problem, 404: Problem, 409: Problem, 422: Problem}


@router.get(
    "/sheets/{sheet_id}/rubric", response={200: RubricOut, **REFUSALS}, operation_id="getRubric"
)
def get_rubric(request: HttpRequest, sheet_id: int) -> dict[str, Any]:
    return RubricOut.of(sheets.sheet_for_instructor(user_of(request), sheet_id))


@router.post(
    "/sheets/{sheet_id}/rubric/preview",
    response={200: RubricLookOut, **REFUSALS},
    operation_id="previewRubric",
)
def preview_rubric(request: HttpRequest, sheet_id: int, body: RubricIn) -> dict[str, Any]:
    """What a rubric makes of a sample sheet and of every hand-in; keeps nothing."""
    return RubricLookOut.of(*rubrics.look(user_of(request), sheet_id, body.model_dump()))


@router.post(
    "/sheets/{sheet_id}/rubric", response={201: RubricOut, **REFUSALS}, operation_id="setRubric"
)
def set_rubric(request: HttpRequest, sheet_id: int, body: SetRubricIn) -> Status[dict[str, Any]]:
    """From now on this rubric counts; the older ones stay on record."""
    rubric = body.rubric.model_dump()
    sheet = rubrics.set_rubric(user_of(request), sheet_id, rubric, body.based_on)
    return Status(201, RubricOut.of(sheet))


@router.post(
    "/sheets/{sheet_id}/give-back", response={204: None, **REFUSALS}, operation_id="giveBack"
)
def give_back(request: HttpRequest, sheet_id: int, body: ReleaseIn) -> Status[None]:
    """Shows students grades that tell how far off their readings are. A 409 with `confirm` names
    sheets on the same key that are still open."""
    rubrics.give_back(user_of(request), sheet_id, confirmed=body.confirmed)
    return Status(204, None)
