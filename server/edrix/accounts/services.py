"""Making accounts and passcodes. A passcode is shown once, to the person who made it."""

import secrets
from collections.abc import Collection, Iterable

from anyascii import anyascii
from axes.utils import reset
from django.contrib.auth.hashers import make_password
from django.contrib.auth.password_validation import CommonPasswordValidator
from django.core.exceptions import ValidationError
from django.utils.text import slugify

from edrix.accounts.models import User
from edrix.accounts.signals import passcode_given
from edrix.errors import FieldFault, InvalidError, NotFoundError
from edrix.names import by_name

PASSCODE_LETTERS = "bcdfghjkmnpqrstvwxz23456789"
"""No vowels (no words by accident) and nothing that looks like something else."""


LEAST_SIGN_IN_NAME = 3
LEAST_PASSCODE, MOST_PASSCODE, LEAST_LETTERS = 8, 200, 4


def new_passcode() -> str:
    """Eight letters, 38 bits: safe with five tries in ten minutes, and typed on a phone."""
    half = ["".join(secrets.choice(PASSCODE_LETTERS) for _ in range(4)) for _ in range(2)]
    return "-".join(half)


def free_sign_in_name(display_name: str, taken: Collection[str]) -> str:
    """ines.falk for Ines Falk, lukasz.zak for Łukasz Żak; a number is added until it is free."""
    base = slugify(anyascii(display_name)).replace("-", ".").replace("_", ".")[:50].strip(".")
    if len(base) < LEAST_SIGN_IN_NAME:
        base = f"student.{base}".strip(".")
    names = (base if number == 1 else f"{base}{number}" for number in range(1, 10_000))
    return next(name for name in names if name not in taken)


def make_person(
    display_name: str,
    sign_in_name: str,
    passcode: str,
    *,
    may_teach: bool = False,
    is_head: bool = False,
) -> User:
    return User.objects.create(
        display_name=display_name,
        sign_in_name=sign_in_name,
        password=make_password(passcode),
        may_teach=may_teach,
        has_taught=may_teach,
        is_head=is_head,
    )


def make_without_passcode(
    display_name: str, sign_in_name: str, unit: str, *, is_active: bool
) -> User:
    """Somebody who comes with a class: nobody can sign in as them before a passcode is given."""
    person = User(
        display_name=display_name, sign_in_name=sign_in_name, unit=unit, is_active=is_active
    )
    person.set_unusable_password()
    person.full_clean(exclude=["password"])
    person.save()
    return person


def taken_sign_in_names() -> set[str]:
    return set(User.objects.values_list("sign_in_name", flat=True))


def people_by_sign_in_name(names: Iterable[str]) -> dict[str, User]:
    return {user.sign_in_name: user for user in User.objects.filter(sign_in_name__in=list(names))}


def people(ids: Iterable[int]) -> dict[int, User]:
    return User.objects.in_bulk(ids)


def rename(user_id: int, display_name: str) -> None:
    User.objects.filter(id=user_id).update(display_name=display_name)


def give_new_passcode(user_id: int) -> str:
    """Ends every session of that person too (the session holds a hash of the old passcode), and
    the pause after wrong passcodes: who gets a new one is to use it now."""
    passcode = new_passcode()
    person = User.objects.filter(id=user_id).first()
    if person is None:
        raise NotFoundError("There is no such person.")
    person.password = make_password(passcode)
    person.save(update_fields=["password"])
    reset(username=person.sign_in_name)
    passcode_given.send(User, user_id=user_id)
    return passcode


def change_own_passcode(user: User, is_known: bool, new: str) -> None:
    """A person's own choice; is_known: they gave the one that they have. Ends their sessions.

    After NIST SP 800-63B, 5.1.1 (from memory): eight characters at least, no rules of which kinds,
    nothing that stands in the account, nothing that many people choose (Django's own list).
    """
    if not is_known:
        problem = "is not the one that you have now"
        raise InvalidError(f"The passcode {problem}.", [FieldFault("current", problem)])
    if len(new) < LEAST_PASSCODE:
        raise _unfit(f"has {len(new)} characters; give {LEAST_PASSCODE} at least")
    if len(new) > MOST_PASSCODE:
        raise _unfit(f"has {len(new)} characters; give {MOST_PASSCODE} at most")
    plain = new.casefold()
    if user.sign_in_name.casefold() in plain or plain in user.display_name.casefold():
        raise _unfit("is or holds your own name; anybody would try that first")
    if len(set(plain)) < LEAST_LETTERS:
        raise _unfit("is one letter over and over; mix a few")
    try:
        CommonPasswordValidator().validate(new)
    except ValidationError:
        raise _unfit("is one that many people use, and is tried first; choose another") from None
    user.set_password(new)
    user.save(update_fields=["password"])


def _unfit(problem: str) -> InvalidError:
    return InvalidError(f"The new passcode {problem}.", [FieldFault("new", problem)])


def everybody() -> list[User]:
    return list(User.objects.order_by("-may_teach", by_name("display_name"), "id"))


def person_called(sign_in_name: str) -> User:
    found = User.objects.filter(sign_in_name=sign_in_name.strip().lower()).first()
    if found is None:
        raise NotFoundError(f"nobody signs in as {sign_in_name}; see who does by: account list")
    return found


def let_teach(user: User, teaches: bool) -> None:
    """Whether they make classes, engines and keys. Classes that they teach stay theirs."""
    user.may_teach = teaches
    user.has_taught = user.has_taught or teaches
    user.is_head = user.is_head and teaches
    user.save(update_fields=["may_teach", "has_taught", "is_head"])


def make_head(user: User, is_head: bool) -> None:
    user.is_head = is_head
    user.may_teach = user.may_teach or is_head
    user.has_taught = user.has_taught or is_head
    user.save(update_fields=["may_teach", "has_taught", "is_head"])


def anybody_there() -> bool:
    return User.objects.exists()


def choose_unit(user: User, unit: str) -> User:
    if unit not in ("mm", "thou"):
        fault = FieldFault("unit", "give mm or thou")
        raise InvalidError("The unit is not known; give mm or thou.", [fault])
    user.unit = unit
    user.save(update_fields=["unit"])
    return user
