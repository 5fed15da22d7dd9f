"""What services raise. They know nothing of HTTP; `problems.py` gives each its status."""

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class FieldFault:
    """What is wrong with one field of what was given, and what would be right."""

    path: str
    problem: str


class ServiceError(Exception):
    """`str()` is a sentence for people: what happened and the way out."""


class NotFoundError(ServiceError):
    """It is not there, or not for this person; the two are not told apart."""


class NotAllowedError(ServiceError):
    """This person may see it but not do this."""


class ConflictError(ServiceError):
    """It clashes with what is already so (a second hand-in, a name that is taken)."""


class InvalidError(ServiceError):
    """What was given cannot be used; one fault for each field."""

    def __init__(self, sentence: str, faults: list[FieldFault]):
        super().__init__(sentence)
        self.faults = faults


class QuestionsError(ServiceError):
    """Nothing is wrong, but these should be confirmed first."""

    def __init__(self, sentence: str, faults: list[FieldFault]):
        super().__init__(sentence)
        self.faults = faults
