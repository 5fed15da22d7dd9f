"""Ask the class: questions about the engine at hand, each with an answer that is proved, and with a
proof for every wrong one."""

from valvetrain.drill.constants import SURE
from valvetrain.drill.deal import deal, put, put_anew
from valvetrain.drill.kinds import KINDS
from valvetrain.drill.misconceptions import ABOUT, Misconception
from valvetrain.drill.question import (
    CannotAskError,
    Option,
    Question,
    QuestionKind,
    SheetLine,
    Tally,
    Wrong,
    is_right,
    tally,
    why_wrong,
)
from valvetrain.drill.spacing import Again, looked_at, missed

__all__ = [
    "ABOUT",
    "KINDS",
    "SURE",
    "Again",
    "CannotAskError",
    "Misconception",
    "Option",
    "Question",
    "QuestionKind",
    "SheetLine",
    "Tally",
    "Wrong",
    "deal",
    "is_right",
    "looked_at",
    "missed",
    "put",
    "put_anew",
    "tally",
    "why_wrong",
]
