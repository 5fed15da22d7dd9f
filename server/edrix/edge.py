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
