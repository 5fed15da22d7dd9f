"""Classes and memberships; the policy of who may do what in a class.

A class and all that hangs on it (stands, keys, sheets) is visible to its members only: to
everybody else it does not exist (NotFoundError). What only instructors may do raises
NotAllowedError for the class's students.
"""

from collections.abc import Collection, Iterable

from django.db import transaction
from django.db.models import Count, OuterRef, ProtectedError, Q, QuerySet, Subquery
from django.utils import timezone

from edrix import clock, life
from edrix.accounts import services as accounts
from edrix.accounts.models import User
from edrix.classes.models import Membership, TeachingClass
from edrix.errors import NotAllowedError, NotFoundError
from edrix.names import by_name, tidy

NO_CLASS_NAME = "The class has no name."
INSTRUCTOR = Membership.INSTRUCTOR


def classes_of(user: User) -> QuerySet[Membership]:
    """The memberships of a person with their classes and head counts, by class name."""
    students = Count(
        "teaching_class__memberships",
        filter=Q(
            teaching_class__memberships__role=Membership.STUDENT,
            teaching_class__memberships__left_at__isnull=True,
        ),
    )
    memberships = Membership.objects.filter(user=user).select_related("teaching_class")
    return memberships.annotate(students=students).order_by(by_name("teaching_class__name"), "id")


def membership(user: User, class_id: int) -> Membership:
    """Raises NotFoundError for people who are not in the class."""
    found = Membership.objects.select_related("teaching_class").filter(
        user=user, teaching_class_id=class_id
    )
    member = found.first()
    if member is None:
        raise NotFoundError(f"There is no class {class_id} for you; open one from your classes.")
    return member


def require_instructor(user: User, class_id: int) -> TeachingClass:
    member = membership(user, class_id)
    if member.role != Membership.INSTRUCTOR:
        raise NotAllowedError(
            f"Only instructors of {member.teaching_class.name} may do this; you are its student."
        )
    return member.teaching_class


def require_student(user: User, class_id: int) -> TeachingClass:
    member = membership(user, class_id)
    if member.role != Membership.STUDENT:
        raise NotAllowedError("Only students hand in sheets; you are an instructor of this class.")
    return member.teaching_class


def lock(class_id: int) -> None:
    """Until the transaction ends, whoever else does this to the class waits."""
    TeachingClass.objects.select_for_update().get(id=class_id)


def roles_among(user: User, class_ids: Collection[int]) -> set[str]:
    """The roles that a person has in any of these classes; empty for who is in none."""
    found = Membership.objects.filter(user=user, teaching_class_id__in=class_ids)
    return set(found.values_list("role", flat=True))


def taught_among(user: User, class_ids: Iterable[int]) -> list[int]:
    """Those of the classes that this person teaches."""
    taught = Membership.objects.filter(
        user=user, role=Membership.INSTRUCTOR, teaching_class_id__in=class_ids
    )
    return list(taught.order_by("teaching_class_id").values_list("teaching_class_id", flat=True))


def is_student_in(user: User, class_ids: Iterable[int]) -> bool:
    return Membership.objects.filter(
        user=user, role=Membership.STUDENT, teaching_class_id__in=class_ids
    ).exists()


def students_of(class_id: int, and_left: Collection[int] = ()) -> QuerySet[User]:
    """Who is in the class now, by name, and those of and_left who were."""
    there = Membership.objects.filter(
        Q(left_at__isnull=True) | Q(user_id__in=and_left),
        teaching_class_id=class_id,
        role=Membership.STUDENT,
    )
    people = User.objects.filter(id__in=there.values("user_id"))
    return people.order_by(by_name("display_name"), "id")


def instructors_of(class_id: int) -> QuerySet[User]:
    """Who teaches the class, by name."""
    there = Membership.objects.filter(teaching_class_id=class_id, role=Membership.INSTRUCTOR)
    people = User.objects.filter(id__in=there.values("user_id"))
    return people.order_by(by_name("display_name"), "id")


def who_left(class_id: int) -> QuerySet[User]:
    """Those whose record is all that is left of them in the class, by name."""
    gone = Membership.objects.filter(
        teaching_class_id=class_id, role=Membership.STUDENT, left_at__isnull=False
    )
    people = User.objects.filter(id__in=gone.values("user_id"))
    return people.order_by(by_name("display_name"), "id")


def require_at_work(user: User, class_id: int) -> TeachingClass:
    """For a student who writes, hands in or begins: not once they have left the class."""
    found = require_student(user, class_id)
    if membership(user, class_id).left_at is not None:
        raise NotAllowedError(
            f"You have left {found.name}: what you did there stays, and can be read."
        )
    return found


def has_left(user: User, class_id: int) -> bool:
    left = Membership.objects.filter(user=user, teaching_class_id=class_id)
    return left.filter(left_at__isnull=False).exists()


def class_ids_at_work(user: User) -> QuerySet[Membership, int]:
    """Classes in which this person is a student who works there now."""
    members = Membership.objects.filter(user=user, role=Membership.STUDENT, left_at__isnull=True)
    members = members.filter(teaching_class__put_away_at__isnull=True)
    return members.values_list("teaching_class_id", flat=True)


def at_work(user: User) -> QuerySet[Membership]:
    """The same with their classes, by name."""
    members = Membership.objects.filter(user=user, role=Membership.STUDENT, left_at__isnull=True)
    members = members.filter(teaching_class__put_away_at__isnull=True)
    return members.select_related("teaching_class").order_by(by_name("teaching_class__name"), "id")


def class_ids_of(user: User, role: str) -> QuerySet[Membership, int]:
    return Membership.objects.filter(user=user, role=role).values_list(
        "teaching_class_id", flat=True
    )


@transaction.atomic
def create_class(user: User, name: str) -> Membership:
    """A new class with its maker as instructor."""
    if not user.may_teach:
        raise NotAllowedError("Only people who teach make classes.")
    made = TeachingClass.objects.create(name=tidy(name, NO_CLASS_NAME), created_by=user)
    return Membership.objects.create(teaching_class=made, user=user, role=Membership.INSTRUCTOR)


@transaction.atomic
def change(user: User, class_id: int, *, name: str | None = None, away: bool | None = None) -> None:
    """Renames it, puts it away or brings it back; None stays as it is. Put away it is out of the
    way for all its members: nothing of it is among what there is to do."""
    found = require_instructor(user, class_id)
    if name is not None:
        found.name = tidy(name, NO_CLASS_NAME)
        found.save(update_fields=["name"])
    life.put_away(found, away=away)


def remove(user: User, class_id: int) -> None:
    """A class in which nobody is but those who teach it, and nothing was made."""
    found = require_instructor(user, class_id)
    teachers = Membership.objects.filter(teaching_class=found, role=Membership.INSTRUCTOR)
    life.remove(found, found.name, teachers)


def name_copy(class_id: int) -> None:
    """A class that was read back beside the one that it was written from says so."""
    copy = TeachingClass.objects.get(id=class_id)
    others = TeachingClass.objects.exclude(id=class_id)
    taken = set(others.filter(name__startswith=copy.name[:90]).values_list("name", flat=True))
    if copy.name not in taken:
        return
    base = f"{copy.name[:90]}, copy of {clock.day(timezone.now())}"
    names = (base if number == 1 else f"{base} ({number})" for number in range(1, 10_000))
    copy.name = next(name for name in names if name not in taken)
    copy.save(update_fields=["name"])


@transaction.atomic
def change_student(
    user: User,
    class_id: int,
    student_id: int,
    *,
    name: str | None = None,
    left: bool | None = None,
) -> None:
    """Puts a name right, lets a student leave or come back; None stays as it is.

    A name is put right wherever it is shown, what they sign in with stays: only by instructors of
    the class that made the account, and of nobody who teaches. Who leaves keeps their record.
    """
    member = _student_member(user, class_id, student_id)
    if name is not None:
        student = own_student(user, class_id, student_id)
        accounts.rename(student.id, tidy(name, "The student has no name."))
    if left is not None and left is not (member.left_at is not None):
        member.left_at = timezone.now() if left else None
        member.save(update_fields=["left_at"])


def remove_student(user: User, class_id: int, student_id: int) -> None:
    """Takes somebody out who was added by mistake; for callers that have seen to it that nothing
    of theirs is in the class. An account that is in no class then goes too, if it was never used.
    """
    member = _student_member(user, class_id, student_id)
    with transaction.atomic():
        member.delete()
        person = User.objects.get(id=student_id)
        elsewhere = Membership.objects.filter(user=person).exists()
        if elsewhere or person.may_teach or person.has_taught:
            return
        try:
            with transaction.atomic():
                person.delete()
        except ProtectedError:
            # They drilled, or opened an engine: the record stays, and so does who made it.
            User.objects.filter(id=student_id).update(is_active=False)


def _student_member(user: User, class_id: int, student_id: int) -> Membership:
    require_instructor(user, class_id)
    member = Membership.objects.filter(
        teaching_class_id=class_id, user_id=student_id, role=Membership.STUDENT
    ).first()
    if member is None:
        raise NotFoundError("There is no such student in this class.")
    return member


def class_name(class_id: int) -> str:
    return TeachingClass.objects.get(id=class_id).name


def make_instructor(user: User, class_id: int) -> None:
    """Who brings a class here teaches it. Nothing else may be asked for one's own class."""
    Membership.objects.update_or_create(
        teaching_class_id=class_id, user=user, defaults={"role": Membership.INSTRUCTOR}
    )


def own_student(user: User, class_id: int, student_id: int) -> User:
    """A student whose account was made in this class."""
    student = _student_member(user, class_id, student_id).user
    if student.may_teach:
        raise NotAllowedError("This person also teaches; their account is their own.")
    if student.id not in made_here(class_id):
        home = Membership.objects.filter(user=student).select_related("teaching_class")
        raise NotAllowedError(
            f"This account was made in {home.earliest('id').teaching_class.name}; an instructor of "
            "that class changes it."
        )
    return student


def made_here(class_id: int) -> set[int]:
    """Who of a class has it as their first, and does not teach: their accounts are its own."""
    first = Membership.objects.filter(user=OuterRef("user")).order_by("id").values("id")[:1]
    own = Membership.objects.filter(
        teaching_class_id=class_id,
        role=Membership.STUDENT,
        id=Subquery(first),
        user__may_teach=False,
    )
    return set(own.values_list("user_id", flat=True))
