"""Names as people type them, and in the order in which the school's language has them."""

import unicodedata

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


_APOSTROPHES = str.maketrans(dict.fromkeys("’‘ʼʹ´`＇", "'"))


def folded(name: str) -> str:
    """A name for comparing: composed and decomposed accents, any apostrophe, large and small
    letters and any number of blanks are alike (Unicode NFKC)."""
    plain = unicodedata.normalize("NFKC", name.translate(_APOSTROPHES))
    return " ".join(unicodedata.normalize("NFKC", plain.casefold()).split())


def by_name(field: str) -> Collate:
    """For order_by: as PostgreSQL's ICU has it, so that Å is where a reader looks for it."""
    return Collate(field, settings.COLLATION)
