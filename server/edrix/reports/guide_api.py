"""The guides as booklets, for everybody who is signed in."""

from typing import Literal

from django.http import HttpRequest, HttpResponse
from ninja import Router

from edrix.edge import as_file
from edrix.reports.guide_pages import booklet

router = Router(tags=["files"])


@router.get("/guide/{whose}.pdf", response={200: str}, operation_id="getGuide")
def get_guide(request: HttpRequest, whose: Literal["students", "instructors"]) -> HttpResponse:
    made = booklet(whose)
    return as_file(made.body, made.content_type, made.name, shown=True)
