"""Classes and memberships; the policy of who may do what in a class.

A class and all that hangs on it (stands, keys, sheets) is visible to its members only: to
everybody else it does not exist (NotFoundError). What only instructors may do raises
NotAllowedError for the class's students.
"""

from collections.abc import Collection
from dataclasses import dataclass

from django.db import IntegrityError, transaction
from django.db.models import Count, Q, QuerySet

from edrix.accounts import services as accounts
from edrix.accounts.models import User
from edrix.classes.models import Membership, TeachingClass
from edrix.classes.pasted import Line, read_list
from edrix.errors import ConflictError, FieldFault, InvalidError, NotAllowedError, NotFoundError
from edrix.names import tidy

NO_CLASS_NAME = "The class has no name."


@dataclass(frozen=True, slots=True)
class NewStudent:
    """passcode is None for a person who already had an account, and is shown this once."""

    id: int
    display_name: str
    sign_in_name: str
    passcode: str | None


def classes_of(user: User) -> QuerySet[Membership]:
    """The memberships of a person with their classes and head counts, by class name."""
    students = Count(
        "teaching_class__memberships",
        filter=Q(teaching_class__memberships__role=Membership.STUDENT),
    )
    memberships = Membership.objects.filter(user=user).select_related("teaching_class")
    return memberships.annotate(students=students).order_by("teaching_class__name", "id")


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


def students_of(class_id: int) -> QuerySet[User]:
    return User.objects.filter(
        memberships__teaching_class_id=class_id, memberships__role=Membership.STUDENT
    ).order_by("display_name", "id")


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


def rename_class(user: User, class_id: int, name: str) -> None:
    found = require_instructor(user, class_id)
    found.name = tidy(name, NO_CLASS_NAME)
    found.save(update_fields=["name"])


def rename_student(user: User, class_id: int, student_id: int, name: str) -> None:
    """Puts a person's name right, wherever it is shown. What they sign in with stays.

    Only by instructors of the class that made the account, and of nobody who teaches.
    """
    student = _own_student(user, class_id, student_id)
    accounts.rename(student.id, tidy(name, "The student has no name."))


def class_name(class_id: int) -> str:
    return TeachingClass.objects.get(id=class_id).name


def make_instructor(user: User, class_id: int) -> None:
    """Who brings a class here teaches it. Nothing else may be asked for one's own class."""
    Membership.objects.update_or_create(
        teaching_class_id=class_id, user=user, defaults={"role": Membership.INSTRUCTOR}
    )


def add_students(user: User, class_id: int, pasted: str) -> list[NewStudent]:
    """Adds everybody on a pasted list, or nobody.

    A line that names an existing student's sign-in name adds that person; a line without
    one makes an account. `Ines Falk` becomes ines.falk with a passcode that is shown once.
    """
    teaching_class = require_instructor(user, class_id)
    lines = read_list(pasted)
    known = accounts.people_by_sign_in_name(line.sign_in_name or "" for line in lines)
    _refuse_unfit(teaching_class, lines, known)
    try:
        with transaction.atomic():
            return _add(teaching_class, lines, known)
    except IntegrityError:
        raise ConflictError(
            "Nobody was added: somebody else was adding the same names just now. Try again."
        ) from None


def _add(
    teaching_class: TeachingClass, lines: Collection[Line], known: dict[str, User]
) -> list[NewStudent]:
    taken = accounts.taken_sign_in_names()
    added = []
    for line in lines:
        person = known.get(line.sign_in_name or "")
        passcode = None
        if person is None:
            name = line.sign_in_name or accounts.free_sign_in_name(line.display_name, taken)
            passcode = accounts.new_passcode()
            person = accounts.make_person(line.display_name, name, passcode)
            taken.add(name)
        Membership.objects.create(
            teaching_class=teaching_class, user=person, role=Membership.STUDENT
        )
        added.append(NewStudent(person.id, person.display_name, person.sign_in_name, passcode))
    return added


def reset_passcode(user: User, class_id: int, student_id: int) -> NewStudent:
    """A new passcode for a student of this class; signs that student out everywhere.

    Only by instructors of the class that made the account: otherwise adding somebody's
    student to a class of one's own would be a way to sign in as them.
    """
    student = _own_student(user, class_id, student_id)
    passcode = accounts.give_new_passcode(student.id)
    return NewStudent(student.id, student.display_name, student.sign_in_name, passcode)


def _own_student(user: User, class_id: int, student_id: int) -> User:
    """A student whose account was made in this class."""
    require_instructor(user, class_id)
    student = students_of(class_id).filter(id=student_id).first()
    if student is None:
        raise NotFoundError("There is no such student in this class.")
    if student.may_teach:
        raise NotAllowedError("This person also teaches; their account is their own.")
    home = Membership.objects.filter(user=student).select_related("teaching_class").earliest("id")
    if home.teaching_class_id != class_id:
        raise NotAllowedError(
            f"This account was made in {home.teaching_class.name}; an instructor of that class "
            "changes it."
        )
    return student


def _refuse_unfit(
    teaching_class: TeachingClass, lines: Collection[Line], known: dict[str, User]
) -> None:
    members = set(
        Membership.objects.filter(teaching_class=teaching_class).values_list("user_id", flat=True)
    )
    faults = []
    for line in lines:
        person = known.get(line.sign_in_name or "")
        if person is not None and person.id in members:
            faults.append(FieldFault(person.sign_in_name, "is in this class already"))
        elif person is not None and person.may_teach:
            faults.append(FieldFault(person.sign_in_name, "is a teacher's sign-in name"))
    if faults:
        told = "; ".join(f"{fault.path} {fault.problem}" for fault in faults[:3])
        raise InvalidError(f"Nobody was added: {told}. Take those lines out.", faults)
