"""Long forms of an instructor, kept until they are saved: typed in the hall, gone on in the office.

A device sends the whole form with the revision that it is based on. Where another was quicker it is
refused, asks for what stands there now, and merges field by field, as it does for two tabs: what
only one of them changed is kept, and where both did, the person is asked.

Example: Tove types paper sheets at the stand's tablet, up to revision 4, and the rest at her desk.
The tablet, still open at 4, is refused when it sends; it merges, and sends again on what it found.
"""

import json
from typing import Any

from django.db import IntegrityError, transaction
from django.db.models import F
from django.utils import timezone

from edrix.accounts.models import User
from edrix.errors import ConflictError, FieldFault, InvalidError, NotAllowedError
from edrix.longforms.models import LongForm

MOST_BYTES = 400_000
"""Forty paper sheets of 24 valves with every further column are a third of it."""
MOST_FORMS = 60
"""Of one person. The eldest goes: what is on a device stays there."""


def read(user: User, place: str) -> LongForm | None:
    """What was last typed there, on whichever device; None where nothing waits to be saved."""
    _require_teaching(user)
    return LongForm.objects.filter(person=user, place=place).first()


@transaction.atomic
def keep(user: User, place: str, typed: dict[str, Any], revision: int) -> LongForm:
    """Keeps a form that is based on a revision (0: on none) and gives it the next one.

    Raises ConflictError where another device was quicker or has saved it meanwhile; nothing is
    changed then.
    """
    _require_teaching(user)
    if len(json.dumps(typed)) > MOST_BYTES:
        fault = FieldFault("typed", "is too much for one form")
        raise InvalidError("This form is too long to be kept; save a part of it first.", [fault])
    if revision == 0:
        return _begin(user, place, typed)
    changed = LongForm.objects.filter(person=user, place=place, revision=revision).update(
        typed=typed, revision=F("revision") + 1, saved_at=timezone.now()
    )
    if not changed:
        raise _quicker()
    return LongForm.objects.get(person=user, place=place)


def forget(user: User, place: str) -> None:
    """Once it is saved, or given up. Again changes nothing."""
    _require_teaching(user)
    LongForm.objects.filter(person=user, place=place).delete()


def _begin(user: User, place: str, typed: dict[str, Any]) -> LongForm:
    try:
        with transaction.atomic():
            begun = LongForm.objects.create(person=user, place=place, typed=typed)
    except IntegrityError:
        raise _quicker() from None
    kept = LongForm.objects.filter(person=user).order_by("-saved_at", "-id")
    LongForm.objects.filter(id__in=list(kept.values_list("id", flat=True)[MOST_FORMS:])).delete()
    return begun


def _quicker() -> ConflictError:
    return ConflictError(
        "Another device has changed this form meanwhile; read what stands there, then send again."
    )


def _require_teaching(user: User) -> None:
    if not user.may_teach:
        raise NotAllowedError("Only people who teach have forms that are kept here.")
