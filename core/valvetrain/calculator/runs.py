"""`run`: a practice run in, what was observed and its debrief out."""

import argparse
from typing import Any

from valvetrain.calculator.source import CalculatorError, json_of, name_of
from valvetrain.document import DocumentError
from valvetrain.practice.run_file import read_run, replay_file, write_replayed


def run_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("run", help="edrix-run/1 file; - for standard input")


def answer_run(options: argparse.Namespace) -> dict[str, Any]:
    try:
        file = read_run(json_of(options.run, "a practice run"))
    except DocumentError as refusal:
        raise CalculatorError(f"{name_of(options.run)}: {refusal}") from None
    return write_replayed(replay_file(file))
