"""Methods of sequence: one module each, one builder, one checker for all of them."""

from valvetrain.sequences.best import best_method
from valvetrain.sequences.build import make_plan
from valvetrain.sequences.check import Verdict, check_stops
from valvetrain.sequences.compare import Compared, compare_methods
from valvetrain.sequences.constant_sum import SumRule, sum_rule
from valvetrain.sequences.method import About, Method, Need
from valvetrain.sequences.methods import METHODS, about_methods, methods_hidden
from valvetrain.sequences.plan import Direction, Plan, Route, Stop, UnknownMethodError

__all__ = [
    "METHODS",
    "About",
    "Compared",
    "Direction",
    "Method",
    "Need",
    "Plan",
    "Route",
    "Stop",
    "SumRule",
    "UnknownMethodError",
    "Verdict",
    "about_methods",
    "best_method",
    "check_stops",
    "compare_methods",
    "make_plan",
    "methods_hidden",
    "sum_rule",
]
