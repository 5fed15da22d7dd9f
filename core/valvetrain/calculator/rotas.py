"""`rota`: who is at which stand when."""

import argparse
from typing import Any

from valvetrain.calculator.source import CalculatorError, read_file
from valvetrain.rota.constants import MISSING_COST, MOST_SECONDS, SECONDS
from valvetrain.rota.plan import plan
from valvetrain.rota.rota_file import read_rota, write_bookings
from valvetrain.rota.rules import cost_of
from valvetrain.rota.why import why_missing
from valvetrain.units import LengthError, parse_figure


def rota_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("problem", metavar="PROBLEM.json", help="edrix-rota/1; - for input")
    parser.add_argument(
        "--seconds", metavar="N", help=f"by the clock at most (default {SECONDS:g})"
    )


def answer_rota(options: argparse.Namespace) -> dict[str, Any]:
    seconds = SECONDS if options.seconds is None else _seconds(options.seconds)
    problem = read_file(options.problem, "an edrix-rota/1 file", read_rota)
    rota = plan(problem, seconds=seconds)
    cost = cost_of(problem, rota.bookings)
    missing = why_missing(problem, rota.bookings)
    # While the bound does not prove that so many places must be missing, a reason would be a guess.
    is_proven = rota.bound >= MISSING_COST * len(missing)
    return {
        "status": "optimal" if rota.is_optimal else "feasible",
        "cost": rota.cost,
        "bound": rota.bound,
        "bookings": write_bookings(problem, rota.bookings),
        "missing": [
            {
                "student": problem.students[one.student].id,
                "task": problem.tasks[one.task].id,
                **(
                    {"why": one.why, "helps": one.helps}
                    if is_proven or one.certain
                    else {"proven": False}
                ),
            }
            for one in missing
        ],
        "repeats": cost.repeats,
        "last_slot": problem.slots[cost.last].id if cost.last >= 0 else None,
    }


def _seconds(text: str) -> float:
    try:
        seconds = float(parse_figure(text))
    except LengthError as refusal:
        raise CalculatorError(f"--seconds: {refusal}") from None
    if not 0 < seconds <= MOST_SECONDS:
        raise CalculatorError(f"--seconds: {seconds:g}; give more than 0, to {MOST_SECONDS:g}")
    return seconds
