"""Schools of sequence: one module each, one builder, one checker for all of them."""

from valvetrain.sequences.build import METHODS, make_plan
from valvetrain.sequences.check import Verdict, check_stops
from valvetrain.sequences.compare import Compared, Need, compare_schools
from valvetrain.sequences.constant_sum import SumRule, sum_rule
from valvetrain.sequences.plan import Direction, Plan, Route, Stop, UnknownMethodError

__all__ = [
    "METHODS",
    "Compared",
    "Direction",
    "Need",
    "Plan",
    "Route",
    "Stop",
    "SumRule",
    "UnknownMethodError",
    "Verdict",
    "check_stops",
    "compare_schools",
    "make_plan",
    "sum_rule",
]
