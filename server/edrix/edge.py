"""The typed edge of the server: how bodies are parsed, and what every route shares."""

from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import NinjaAPI
from ninja.errors import HttpError
from ninja.parser import Parser
from ninja.security import SessionAuth
from pydantic import BaseModel

from valvetrain.document import DocumentError, parse_json


class CarefulParser(Parser):
    """Bodies nested too deep or not UTF-8 are refused with a sentence, not an exception."""

    def parse_body(self, request: HttpRequest) -> Any:
        try:
            return parse_json(request.body.decode())
        except UnicodeDecodeError:
            raise HttpError(400, "The body is not UTF-8 text; send JSON as UTF-8.") from None
        except DocumentError as fault:
            raise HttpError(400, f"The body {fault.faults[0].problem}; send JSON.") from None


def whole_answer(answer: BaseModel) -> HttpResponse:
    """An answer made by its own schema, which ninja would check and copy once more."""
    return HttpResponse(answer.model_dump_json(), content_type="application/json; charset=utf-8")


def as_file(body: bytes, content_type: str, name: str, *, shown: bool = False) -> HttpResponse:
    """A file to keep, or shown: one that a browser opens in its window, as it does a PDF."""
    response = HttpResponse(body, content_type=content_type)
    how = "inline" if shown else "attachment"
    response["Content-Disposition"] = f'{how}; filename="{name}"'
    return response


def new_api(auth: SessionAuth) -> NinjaAPI:
    return NinjaAPI(
        title="Edrix",
        version="1",
        description="Teaching valve clearance adjustment: engines, classes, sheets and marks.",
        auth=auth,
        parser=CarefulParser(),
        docs_url=None,
        openapi_url="/openapi.json",
    )
