"""The command line: its commands, their options, and how answers are written out."""

import argparse
import json
import os
import sys
from collections.abc import Callable
from decimal import Decimal
from importlib import import_module
from typing import Any, NoReturn

from valvetrain.calculator import engines, lengths
from valvetrain.calculator.constants import DIGITS
from valvetrain.calculator.source import CalculatorError
from valvetrain.errors import RefusedError

NUMBER_OPTIONS = (
    "--at",
    "--start",
    "--min-margin",
    "--from",
    "--to",
    "--u",
    "--now",
    "--every",
    "--seconds",
)


def main(arguments: list[str]) -> int:
    try:
        options = _parser(arguments).parse_args(_with_signs(arguments))
        answer = options.answer(options)
    except RefusedError as refusal:
        print(f"edrix calc: {' '.join(str(refusal).split())}", file=sys.stderr)
        return 2
    answer = _rounded(answer)
    written = (
        "\n".join(_lines(answer))
        if options.text
        else json.dumps(answer, ensure_ascii=False, allow_nan=False)
    )
    try:
        print(written, flush=True)
    except BrokenPipeError:
        # Whoever read it has seen enough (`edrix calc … | head`); nothing is left to be flushed.
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
    return 0


class _OneLineParser(argparse.ArgumentParser):
    """Says what is wrong in one line, instead of argparse's usage block."""

    def error(self, message: str) -> NoReturn:
        raise CalculatorError(f"{message}; see edrix calc --help")


def _parser(arguments: list[str]) -> argparse.ArgumentParser:
    parser = _OneLineParser(
        prog="edrix calc",
        description="The valve-clearance arithmetic at the command line. Answers are JSON.",
    )
    commands = parser.add_subparsers(dest="command", required=True, metavar="COMMAND")
    wanted = arguments[0] if arguments and arguments[0] in _COMMANDS else None
    for name, (about, answer, add_arguments) in _COMMANDS.items():
        if wanted in (None, name):
            sub = commands.add_parser(name, help=about, description=about)
            sub.set_defaults(answer=answer)
            sub.add_argument("--text", action="store_true", help="lines for people, not JSON")
            add_arguments(sub)
    return parser


def _later(module: str, name: str) -> Callable[[Any], Any]:
    """A function of a module that is read only when it is wanted: `state` starts the sooner."""

    def found(given: Any) -> Any:
        return getattr(import_module(f"valvetrain.calculator.{module}"), name)(given)

    return found


_Answer = Callable[[argparse.Namespace], dict[str, Any]]
_Arguments = Callable[[argparse.ArgumentParser], None]
_COMMANDS: dict[str, tuple[str, _Answer, _Arguments]] = {
    "check": (
        "Is the engine file right, and is anything in it suspicious?",
        engines.answer_check,
        engines.engine_argument,
    ),
    "state": (
        "Every cylinder and valve at one crank angle.",
        engines.answer_state,
        engines.state_arguments,
    ),
    "overlap": (
        "Each cylinder's overlap and companion.",
        engines.answer_overlap,
        engines.engine_argument,
    ),
    "rule": (
        "Does the constant-sum rule hold on this engine?",
        engines.answer_rule,
        engines.engine_argument,
    ),
    "plan": (
        "Stops and valves by one method of sequence.",
        engines.answer_plan,
        engines.plan_arguments,
    ),
    "gauge": (
        "What feeler leaves prove about a gap.",
        lengths.answer_gauge,
        lengths.gauge_arguments,
    ),
    "stack": (
        "The leaves whose sum comes closest to a thickness.",
        lengths.answer_stack,
        lengths.stack_arguments,
    ),
    "screw": (
        "How far to turn an adjusting screw.",
        lengths.answer_screw,
        lengths.screw_arguments,
    ),
    "shim": ("Which shim to fit.", lengths.answer_shim, lengths.shim_arguments),
    "shim-swap": (
        "Shims moved between valves, and the fewest bought.",
        lengths.answer_shim_swap,
        lengths.shim_swap_arguments,
    ),
    "grade": (
        "Marks and findings of one reading sheet.",
        _later("grades", "answer_grade"),
        _later("grades", "grade_arguments"),
    ),
    "run": (
        "One practice run replayed: what was observed, and its debrief.",
        _later("runs", "answer_run"),
        _later("runs", "run_arguments"),
    ),
    "trend": (
        "Wear from a stand's log: rates, and when to look next.",
        _later("trends", "answer_trend"),
        _later("trends", "trend_arguments"),
    ),
    "rota": (
        "Who is at which stand when: a proven or the best found rota.",
        _later("rotas", "answer_rota"),
        _later("rotas", "rota_arguments"),
    ),
    "study": (
        "How well a class measures: gauge study of crossed readings.",
        _later("studies", "answer_study"),
        _later("studies", "study_arguments"),
    ),
    "convert": (
        "Millimetres and thousandths of an inch.",
        lengths.answer_convert,
        lengths.convert_arguments,
    ),
}


def _with_signs(arguments: list[str]) -> list[str]:
    """Joins an option and its number, so that -1e9 or -inf is a value and not an option."""
    joined: list[str] = []
    for argument in arguments:
        if joined and joined[-1] in NUMBER_OPTIONS:
            joined[-1] += f"={argument}"
        else:
            joined.append(argument)
    return joined


def _rounded(value: Any) -> Any:
    if isinstance(value, float | Decimal):
        return round(float(value), DIGITS) + 0.0
    if isinstance(value, dict):
        return {key: _rounded(inside) for key, inside in value.items()}
    if isinstance(value, list):
        return [_rounded(inside) for inside in value]
    return value


def _lines(answer: dict[str, Any]) -> list[str]:
    """The answer for people: `key: value`, and one line for each row of a list."""
    lines = []
    for key, value in answer.items():
        if isinstance(value, list) and value:
            lines.append(f"{key}:")
            lines += [f"  {_row(row)}" for row in value]
        else:
            lines.append(f"{key}: {_plain(value)}")
    return lines


def _row(row: Any) -> str:
    if isinstance(row, dict):
        return "  ".join(f"{key} {_plain(value)}" for key, value in row.items())
    return _plain(row)


def _plain(value: Any) -> str:
    if isinstance(value, float):
        return f"{value:g}"
    if isinstance(value, list):
        return " ".join(_plain(inside) for inside in value) or "none"
    if isinstance(value, bool):
        return "yes" if value else "no"
    return "none" if value is None else str(value)
