"""`edrix calc`: the compute core at the command line. A thin shell: answers come from the core.

Answers are JSON on standard output, or lines for people with --text. Input that is wrong
gives one line on standard error, exit status 2 and nothing on standard output.
`docs/calculator.md` lists the promised keys.

Each answer imports what it alone needs, and only the parser of the command at hand is
built: a script may call this a thousand times.
"""

import argparse
import json
import sys
from collections.abc import Callable
from typing import Any, NoReturn

from valvetrain import units
from valvetrain.angles import typed_crank_deg
from valvetrain.document import DocumentError, parse_json
from valvetrain.engine import Engine
from valvetrain.engine_file import read_engine, remarks
from valvetrain.errors import RefusedError

MOST_FILE_BYTES = 2_000_000
MOST_MARGIN_DEG = 360.0
NUMBER_OPTIONS = ("--at", "--start", "--min-margin")
DIGITS = 6
"""Figures are rounded to this many decimals: finer is floating-point noise."""


class CalculatorError(RefusedError):
    """Input that is wrong: what, where, and what would be right."""


def main(arguments: list[str]) -> int:
    try:
        options = _parser(arguments).parse_args(_with_signs(arguments))
        answer = options.answer(options)
    except RefusedError as refusal:
        print(f"edrix calc: {' '.join(str(refusal).split())}", file=sys.stderr)
        return 2
    answer = _rounded(answer)
    if options.text:
        print("\n".join(_lines(answer)))
    else:
        print(json.dumps(answer, ensure_ascii=False, allow_nan=False))
    return 0


def answer_check(options: argparse.Namespace) -> dict[str, Any]:
    from valvetrain.suspicions import suspicions

    document, engine = _read(options.engine)
    return {"ok": True, "warnings": [*remarks(document), *suspicions(engine)]}


def answer_state(options: argparse.Namespace) -> dict[str, Any]:
    from valvetrain.snapshot import snapshot

    now = snapshot(_engine(options.engine), typed_crank_deg(options.at, "--at"))
    return {
        "crank_deg": now.crank_deg,
        "cylinders": [
            {
                "cylinder": c.cylinder,
                "cycle_deg": c.cycle_deg,
                "stroke": c.stroke.value,
                "piston_from_tdc_mm": c.piston_from_tdc_mm,
            }
            for c in now.cylinders
        ],
        "valves": [
            {
                "valve": v.valve,
                "cylinder": v.cylinder,
                "role": v.role.value,
                "state": v.state.value,
                "lift_mm": v.lift_mm,
                "gap_mm": v.gap_mm,
                "settable": v.settable,
                "margin_deg": v.margin_deg,
            }
            for v in now.valves
        ],
    }


def answer_overlap(options: argparse.Namespace) -> dict[str, Any]:
    from valvetrain.overlap import overlaps

    fields = ("cylinder", "companion", "overlap_deg", "starts_deg", "centre_deg", "ends_deg")
    found = overlaps(_engine(options.engine))
    return {"cylinders": [{name: getattr(o, name) for name in fields} for o in found]}


def answer_rule(options: argparse.Namespace) -> dict[str, Any]:
    from valvetrain.sequences import sum_rule

    rule = sum_rule(_engine(options.engine))
    return {
        "sum": rule.total,
        "holds": rule.holds,
        "pairs": [
            {"open": p.opened, "set": p.to_set, "margin_deg": p.margin_deg} for p in rule.pairs
        ],
        "reason": rule.reason,
    }


def answer_plan(options: argparse.Namespace) -> dict[str, Any]:
    from valvetrain.sequences import Route, make_plan

    if not 0 <= options.min_margin <= MOST_MARGIN_DEG:
        raise CalculatorError(
            f"--min-margin is {options.min_margin:g}; "
            f"give crank degrees from 0 to {MOST_MARGIN_DEG:g}"
        )
    route = Route(
        start_deg=typed_crank_deg(options.start, "--start"),
        direction=options.direction,
        min_margin_deg=options.min_margin,
        marks_only=options.stops == "marks",
    )
    plan = make_plan(_engine(options.engine), options.method, route)
    return {
        "method": plan.method,
        "complete": plan.complete,
        "stops": [
            {
                "stop": stop.stop,
                "crank_deg": stop.crank_deg,
                "turn_deg": stop.turn_deg,
                "cylinders": list(stop.cylinders),
                "set": list(stop.valves),
                "margin_deg": stop.margin_deg,
                "find_by": stop.find_by,
            }
            for stop in plan.stops
        ],
        "unset": list(plan.unset),
        "total_turn_deg": plan.total_turn_deg,
        "least_margin_deg": plan.least_margin_deg,
        "warnings": list(plan.warnings),
    }


def answer_convert(options: argparse.Namespace) -> dict[str, Any]:
    lengths = [units.parse_length(part) for part in options.length.split("=")]
    if len(lengths) > 2:
        raise CalculatorError("give one length, or a pair like “5 thou = 0.12 mm”")
    answer: dict[str, Any] = {"mm": float(lengths[0].mm), "thou": float(lengths[0].thou)}
    if len(lengths) == 2:
        answer["agrees"] = units.agree(*lengths)
    return answer


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


def _engine_argument(sub: argparse.ArgumentParser) -> None:
    sub.add_argument("engine", metavar="ENGINE", help="an engine file, or - for standard input")


def _state_arguments(sub: argparse.ArgumentParser) -> None:
    _engine_argument(sub)
    sub.add_argument("--at", type=_number, required=True, metavar="DEG")


def _plan_arguments(sub: argparse.ArgumentParser) -> None:
    from valvetrain.sequences import METHODS

    _engine_argument(sub)
    sub.add_argument("--method", required=True, metavar="M", help=", ".join(METHODS))
    sub.add_argument("--start", type=_number, default=0.0, metavar="DEG")
    sub.add_argument("--direction", choices=("running", "reverse"), default="running")
    sub.add_argument("--min-margin", type=_number, default=0.0, metavar="DEG")
    sub.add_argument("--stops", choices=("any", "marks"), default="any")


def _convert_arguments(sub: argparse.ArgumentParser) -> None:
    sub.add_argument("length", metavar="LENGTH", help='like "5 thou" or "5 thou = 0.12 mm"')


_Answer = Callable[[argparse.Namespace], dict[str, Any]]
_Arguments = Callable[[argparse.ArgumentParser], None]
_COMMANDS: dict[str, tuple[str, _Answer, _Arguments]] = {
    "check": (
        "Is the engine file right, and is anything in it suspicious?",
        answer_check,
        _engine_argument,
    ),
    "state": ("Every cylinder and valve at one crank angle.", answer_state, _state_arguments),
    "overlap": ("Each cylinder's overlap and companion.", answer_overlap, _engine_argument),
    "rule": ("Does the constant-sum rule hold on this engine?", answer_rule, _engine_argument),
    "plan": ("Stops and valves by one school of sequence.", answer_plan, _plan_arguments),
    "convert": ("Millimetres and thousandths of an inch.", answer_convert, _convert_arguments),
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


def _number(text: str) -> float:
    try:
        return float(text)
    except ValueError:
        raise argparse.ArgumentTypeError(f"“{text[:40]}” is not a number of degrees") from None


def _engine(source: str) -> Engine:
    return _read(source)[1]


def _read(source: str) -> tuple[Any, Engine]:
    """The document and the engine in it; whatever is wrong is told with the file's name."""
    name = "standard input" if source == "-" else source
    try:
        document = parse_json(_text(source, name))
        return document, read_engine(document)
    except DocumentError as refusal:
        raise CalculatorError(f"{name}: {refusal}") from None


def _text(source: str, name: str) -> str:
    try:
        if source == "-":
            raw = sys.stdin.buffer.read(MOST_FILE_BYTES + 1)
        else:
            with open(source, "rb") as file:
                raw = file.read(MOST_FILE_BYTES + 1)
    except (OSError, ValueError) as fault:
        reason = getattr(fault, "strerror", None) or str(fault)
        raise CalculatorError(f"{name}: cannot be read ({reason}); give an engine file") from None
    if len(raw) > MOST_FILE_BYTES:
        raise CalculatorError(f"{name}: is larger than 2 MB; an engine file is a few kB")
    try:
        return raw.decode("utf-8-sig")
    except UnicodeDecodeError as fault:
        raise CalculatorError(
            f"{name}: is not UTF-8 text (byte {fault.start}); save it as UTF-8"
        ) from None


def _rounded(value: Any) -> Any:
    if isinstance(value, float):
        return round(value, DIGITS) + 0.0
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


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
