"""Names as people type them, and in the order in which the school's language has them."""

from django.conf import settings
from django.db.models.functions import Collate

from edrix.errors import FieldFault, InvalidError


def tidy(typed: str, sentence: str, *, field: str = "name", problem: str = "give it a name") -> str:
    """Without blanks at its ends and with single ones inside. Raises InvalidError with this
    sentence where nothing is left."""
    name = " ".join(typed.split())
    if not name:
        raise InvalidError(sentence, [FieldFault(field, problem)])
    return name


def by_name(field: str) -> Collate:
    """For order_by: as PostgreSQL's ICU has it, so that Å is where a reader looks for it."""
    return Collate(field, settings.COLLATION)
