"""The base of everything that comes in or is kept as JSON; knows no HTTP: services use it too."""

import re
from typing import Any

from pydantic import BaseModel, ConfigDict, Field, model_validator

_CONTROL = re.compile(r"[\x00-\x08\x0b\x0c\x0e-\x1f]")
"""Neither PostgreSQL nor a workbook holds all of them, and nobody types them: blanks, tabs and line
breaks are no part of these."""


class In(BaseModel):
    """What comes in: unknown fields are refused, and so is text that nobody types."""

    model_config = ConfigDict(extra="forbid")

    @model_validator(mode="before")
    @classmethod
    def _plain_text(cls, data: Any) -> Any:
        refuse_bad_text(data)
        return data


class Changes(In):
    """What is to be changed of a thing; null stays as it is. away puts it out of the way."""

    name: str | None = Field(None, max_length=120)
    away: bool | None = None


class Stored(In):
    """A document as a JSON column keeps it. Strict: what was stored by us needs no goodwill."""

    model_config = ConfigDict(extra="forbid", strict=True, allow_inf_nan=False)


def refuse_bad_text(value: Any) -> None:
    """Raises ValueError for text, wherever it stands inside, that nobody can have typed."""
    if isinstance(value, str):
        if _CONTROL.search(value):
            raise ValueError("has control characters in it; give plain text")
        try:
            value.encode()
        except UnicodeEncodeError:
            raise ValueError("has half of a character in it; give plain text") from None
    elif isinstance(value, dict):
        for key, inside in value.items():
            refuse_bad_text(key)
            refuse_bad_text(inside)
    elif isinstance(value, list):
        for inside in value:
            refuse_bad_text(inside)
