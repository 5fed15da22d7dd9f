"""The base of everything that comes in; knows no HTTP, so that services may use it too."""

import re
from typing import Any

from pydantic import BaseModel, ConfigDict, model_validator

_CONTROL = re.compile(r"[\x00-\x08\x0b\x0c\x0e-\x1f]")
"""Neither PostgreSQL nor a workbook holds all of them, and nobody types them: blanks, tabs and line
breaks are no part of these."""


class In(BaseModel):
    """What comes in: unknown fields are refused, and so is text that nobody types."""

    model_config = ConfigDict(extra="forbid")

    @model_validator(mode="before")
    @classmethod
    def _plain_text(cls, data: Any) -> Any:
        _refuse_bad_text(data)
        return data


def _refuse_bad_text(value: Any) -> None:
    if isinstance(value, str):
        if _CONTROL.search(value):
            raise ValueError("has control characters in it; give plain text")
        try:
            value.encode()
        except UnicodeEncodeError:
            raise ValueError("has half of a character in it; give plain text") from None
    elif isinstance(value, dict):
        for key, inside in value.items():
            _refuse_bad_text(key)
            _refuse_bad_text(inside)
    elif isinstance(value, list):
        for inside in value:
            _refuse_bad_text(inside)
