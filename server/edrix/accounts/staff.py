"""The school's instructors, looked after by its heads.

Example: Tove is head. She adds Rolf, who gets a passcode on a slip; when he forgets it, she gives
him another; when he leaves, she takes his right to teach, and his classes stay. Whoever is the last
head stays one: somebody must be able to let the next one in.
"""

from dataclasses import dataclass

from django.db import transaction
from django.db.models import QuerySet

from edrix.accounts import services
from edrix.accounts.models import User
from edrix.errors import ConflictError, FieldFault, InvalidError, NotAllowedError, NotFoundError
from edrix.names import by_name, tidy


@dataclass(frozen=True, slots=True)
class WithPasscode:
    """A person with a new passcode, which is shown this once."""

    id: int
    display_name: str
    sign_in_name: str
    passcode: str


def instructors(user: User) -> list[User]:
    """Everybody who teaches or has taught here, by name."""
    _require_head(user)
    return list(_staff().order_by(by_name("display_name"), "id"))


def add(user: User, name: str) -> WithPasscode:
    _require_head(user)
    called = tidy(name, "The instructor has no name.")
    taken = services.taken_sign_in_names()
    passcode = services.new_passcode()
    sign_in_name = services.free_sign_in_name(called, taken)
    made = services.make_person(called, sign_in_name, passcode, may_teach=True)
    return WithPasscode(made.id, called, sign_in_name, passcode)


def new_passcode(user: User, person_id: int) -> WithPasscode:
    """Ends that person's sessions too."""
    _require_head(user)
    person = _of_staff(person_id)
    passcode = services.give_new_passcode(person.id)
    return WithPasscode(person.id, person.display_name, person.sign_in_name, passcode)


@transaction.atomic
def change(
    user: User,
    person_id: int,
    *,
    name: str | None = None,
    may_teach: bool | None = None,
    is_head: bool | None = None,
) -> None:
    """Raises ConflictError where nobody would be head any more."""
    _require_head(user)
    # Two heads who unmake each other at once come one after the other.
    heads = set(User.objects.select_for_update().filter(is_head=True).values_list("id", flat=True))
    person = _of_staff(person_id)
    if name is not None:
        services.rename(person.id, tidy(name, "The instructor has no name."))
    unmade = is_head is False or may_teach is False
    if unmade and heads == {person.id}:
        raise ConflictError(
            f"{person.display_name} is the only head; make somebody else head first."
        )
    if is_head is True and may_teach is False:
        fault = FieldFault("is_head", "a head teaches")
        raise InvalidError("A head teaches; give one or the other.", [fault])
    if may_teach is not None:
        services.let_teach(person, may_teach)
    if is_head is not None:
        services.make_head(person, is_head)


def _staff() -> QuerySet[User]:
    return User.objects.filter(has_taught=True, is_active=True)


def _of_staff(person_id: int) -> User:
    person = _staff().filter(id=person_id).first()
    if person is None:
        raise NotFoundError("There is no such instructor in this school.")
    return person


def _require_head(user: User) -> None:
    if not user.is_head:
        raise NotAllowedError("Only a head of the school looks after its instructors.")
