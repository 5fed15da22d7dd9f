"""What the commands read: engine files, JSON, numbers; and how they refuse."""

import argparse
import sys
from collections.abc import Callable
from typing import Any, TypeVar

from valvetrain.calculator.constants import MOST_FILE_BYTES
from valvetrain.document import DocumentError, parse_json
from valvetrain.engine import Engine
from valvetrain.engine_file import read_engine
from valvetrain.errors import RefusedError

T = TypeVar("T")


class CalculatorError(RefusedError):
    """Input that is wrong: what, where, and what would be right."""


def number(text: str) -> float:
    try:
        return float(text)
    except ValueError:
        raise argparse.ArgumentTypeError(f"“{text[:40]}” is not a number of degrees") from None


def engine(source: str) -> Engine:
    return read(source)[1]


def read(source: str) -> tuple[Any, Engine]:
    """The document and the engine in it."""
    document = json_of(source, "an engine file")
    return document, told_by_name(source, lambda: read_engine(document))


def read_file(source: str, wanted: str, reader: Callable[[Any], T]) -> T:
    """A JSON file as its own reader gives it."""
    document = json_of(source, wanted)
    return told_by_name(source, lambda: reader(document))


def told_by_name(source: str, read: Callable[[], T]) -> T:
    """Whatever is wrong is told with the file's name."""
    try:
        return read()
    except DocumentError as refusal:
        raise CalculatorError(f"{name_of(source)}: {refusal}") from None


def json_of(source: str, wanted: str) -> Any:
    text = text_of(source, name_of(source), wanted)
    return told_by_name(source, lambda: parse_json(text))


def name_of(source: str) -> str:
    return "standard input" if source == "-" else source


def text_of(source: str, name: str, wanted: str) -> str:
    """Raises CalculatorError for what cannot be read, is too large, or is no UTF-8."""
    try:
        if source == "-":
            raw = sys.stdin.buffer.read(MOST_FILE_BYTES + 1)
        else:
            with open(source, "rb") as file:
                raw = file.read(MOST_FILE_BYTES + 1)
    except (OSError, ValueError) as fault:
        reason = getattr(fault, "strerror", None) or str(fault)
        raise CalculatorError(f"{name}: cannot be read ({reason}); give {wanted}") from None
    if len(raw) > MOST_FILE_BYTES:
        raise CalculatorError(f"{name}: is larger than 2 MB; {wanted} is a few kB")
    try:
        return raw.decode("utf-8-sig")
    except UnicodeDecodeError as fault:
        raise CalculatorError(
            f"{name}: is not UTF-8 text (byte {fault.start}); save it as UTF-8"
        ) from None
