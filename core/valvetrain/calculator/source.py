"""What the commands read: engine files, JSON, numbers; and how they refuse."""

import argparse
import sys
from typing import Any

from valvetrain.calculator.constants import MOST_FILE_BYTES
from valvetrain.document import DocumentError, parse_json
from valvetrain.engine import Engine
from valvetrain.engine_file import read_engine
from valvetrain.errors import RefusedError


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
    """The document and the engine in it; whatever is wrong is told with the file's name."""
    document = json_of(source, "an engine file")
    try:
        return document, read_engine(document)
    except DocumentError as refusal:
        raise CalculatorError(f"{name_of(source)}: {refusal}") from None


def json_of(source: str, wanted: str) -> Any:
    try:
        return parse_json(text_of(source, name_of(source), wanted))
    except DocumentError as refusal:
        raise CalculatorError(f"{name_of(source)}: {refusal}") from None


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
