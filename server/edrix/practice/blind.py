"""Blind feel: gaps dealt one at a time, pushed, named and guessed, and what a hand tells apart.

Example: Ines pushes a leaf of 0.25 three times, says that it drags and guesses 0.26. Only then is
she told: 0.262, dragging. On another device the same gap would have been open, not a second one.
"""

import secrets
from collections.abc import Iterable
from dataclasses import dataclass
from decimal import Decimal

from django.db import IntegrityError, transaction
from django.db.models import F
from django.utils import timezone

from edrix.accounts.models import User
from edrix.classes import services as classes
from edrix.errors import ConflictError, FieldFault, InvalidError, NotFoundError
from edrix.practice.models import BlindTry
from valvetrain.gauges import Feel
from valvetrain.practice.blind import (
    BlindGuess,
    BlindPush,
    Threshold,
    deal_blind,
    guess_of,
    push_blind,
    threshold,
    word_of,
)
from valvetrain.units import LengthError, Unit, parse_mm

MOST_PUSHES = 200
"""Of one gap."""
MOST_GUESS_MM = 2


@dataclass(frozen=True, slots=True)
class Opened:
    """What a student may know of an open try, and of their hand so far."""

    id: int
    leaf_um: int
    tries: int
    hand: Threshold | None


@dataclass(frozen=True, slots=True)
class SeenGap:
    """A gap after it was guessed."""

    gap_mm: float
    word: str
    right_word: bool
    off_mm: float
    hand: Threshold | None
    tries: int


def open_try(user: User, class_id: int) -> Opened:
    """The student's open try, or a new one."""
    classes.require_student(user, class_id)
    classes.require_at_work(user, class_id)
    own = {"teaching_class_id": class_id, "student": user, "guessed_at": None}
    found = BlindTry.objects.filter(**own).first()
    if found is None:
        try:
            with transaction.atomic():
                found = BlindTry.objects.create(**own, seed=secrets.randbits(40))
        except IntegrityError:
            # Two taps at once: the other one has opened it.
            found = BlindTry.objects.get(**own)
    guesses = _guesses(class_id, [user.id]).get(user.id, [])
    return Opened(found.id, deal_blind(found.seed).leaf_um, len(guesses), threshold(guesses))


def push(user: User, try_id: int) -> BlindPush:
    """One push of the leaf; each is a little different, and all are counted."""
    found = _own_open(user, try_id)
    if found.pushes >= MOST_PUSHES:
        raise ConflictError("That leaf has been in and out often enough: guess now.")
    BlindTry.objects.filter(id=found.id).update(pushes=F("pushes") + 1)
    return push_blind(deal_blind(found.seed), found.seed, found.pushes)


def guess(user: User, try_id: int, *, named: str, gap: str, unit: str) -> SeenGap:
    """Names what was felt and guesses the gap, once; then it is told."""
    found = _own_open(user, try_id)
    guessed_mm = _length_mm(gap, unit)
    if named not in set(Feel):
        wanted = ", ".join(Feel)
        raise InvalidError("What was felt has no name.", [FieldFault("named", f"give {wanted}")])
    told = BlindTry.objects.filter(id=found.id, guessed_at=None).update(
        named=named, guessed_mm=guessed_mm, guessed_at=timezone.now()
    )
    if not told:
        raise _gone(try_id)
    blind = deal_blind(found.seed)
    own = guess_of(blind, Feel(named), guessed_mm)
    guesses = _guesses(found.teaching_class_id, [user.id])[user.id]
    return SeenGap(
        blind.gap_mm,
        word_of(blind).value,
        own.right_word,
        own.guessed_mm - own.gap_mm,
        threshold(guesses),
        len(guesses),
    )


def thresholds(class_id: int, student_ids: Iterable[int]) -> dict[int, Threshold]:
    """By student: what their hands tell apart; the caller has asked who may see it."""
    found = _guesses(class_id, student_ids)
    return {who: told for who, own in found.items() if (told := threshold(own)) is not None}


def has_felt(class_id: int, student_id: int) -> bool:
    return BlindTry.objects.filter(teaching_class_id=class_id, student_id=student_id).exists()


def _guesses(class_id: int, student_ids: Iterable[int]) -> dict[int, list[BlindGuess]]:
    """Oldest first, in one statement."""
    rows = BlindTry.objects.filter(
        teaching_class_id=class_id, student_id__in=list(student_ids), guessed_at__isnull=False
    ).order_by("guessed_at", "id")
    found: dict[int, list[BlindGuess]] = {}
    for row in rows:
        own = guess_of(deal_blind(row.seed), Feel(row.named), row.guessed_mm or Decimal(0))
        found.setdefault(row.student_id, []).append(own)
    return found


def _own_open(user: User, try_id: int) -> BlindTry:
    found = BlindTry.objects.filter(id=try_id, student=user, guessed_at=None).first()
    if found is None:
        raise _gone(try_id)
    classes.require_at_work(user, found.teaching_class_id)
    return found


def _gone(try_id: int) -> NotFoundError:
    return NotFoundError(f"There is no open gap {try_id} of yours; begin another one.")


def _length_mm(text: str, unit: str) -> Decimal:
    try:
        in_mm = parse_mm(text.strip(), Unit(unit))
    except (LengthError, ValueError) as fault:
        raise InvalidError(f"The gap: {fault}.", [FieldFault("gap", str(fault))]) from None
    if not 0 <= in_mm <= MOST_GUESS_MM:
        problem = f"is {in_mm.normalize():f} mm; give 0 to {MOST_GUESS_MM} mm"
        raise InvalidError(f"The gap {problem}.", [FieldFault("gap", problem)])
    return round(in_mm, 4)
