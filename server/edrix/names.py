"""Names as people type them."""

from edrix.errors import FieldFault, InvalidError


def tidy(typed: str, sentence: str, *, field: str = "name", problem: str = "give it a name") -> str:
    """Without blanks at its ends and with single ones inside. Raises InvalidError with this
    sentence where nothing is left."""
    name = " ".join(typed.split())
    if not name:
        raise InvalidError(sentence, [FieldFault(field, problem)])
    return name
