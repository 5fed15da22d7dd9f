"""A lesson as a plan and as a file, for people who teach."""

from typing import Any, Literal

from django.http import HttpRequest, HttpResponse
from ninja import Router

from edrix.accounts.signed_in import user_of
from edrix.edge import as_file
from edrix.problems import Problem
from edrix.reports import lesson_pages

router = Router(tags=["files"])
REFUSALS: dict[int, Any] = {403: Problem, 404: Problem, 422: Problem}


@router.get(
    "/lessons/{lesson_id}/lesson.{kind}",
    response={200: str, **REFUSALS},
    operation_id="getLessonFile",
)
def get_lesson_file(
    request: HttpRequest, lesson_id: int, kind: Literal["json", "pdf"]
) -> HttpResponse:
    """The plan to print, or edrix-lesson/1."""
    made = lesson_pages.lesson_file(user_of(request), lesson_id, kind)
    return as_file(made.body, made.content_type, made.name, shown=kind == "pdf")
