"""Ask the class: questions about the engine at hand, each with an answer that is proved."""

from valvetrain.drill.deal import deal
from valvetrain.drill.question import Option, Question, is_right

__all__ = ["Option", "Question", "deal", "is_right"]
