"""`run`: a practice run in, what was observed and its debrief out."""

import argparse
from typing import Any

from valvetrain.calculator.source import read_file
from valvetrain.practice.run_file import read_run, replay_file, write_replayed


def run_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("run", help="edrix-run/1 file; - for standard input")


def answer_run(options: argparse.Namespace) -> dict[str, Any]:
    return write_replayed(replay_file(read_file(options.run, "a practice run", read_run)))
