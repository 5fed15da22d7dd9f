"""Who comes into a class: a pasted list seen first, accounts made, passcodes given.

A list that was pasted is shown as it would be taken before anybody is added: whose account is new
and how they will sign in, who has one already, and who may be meant by two equal names.
"""

from collections.abc import Collection
from dataclasses import dataclass

from django.db import IntegrityError, transaction

from edrix.accounts import services as accounts
from edrix.accounts.models import User
from edrix.classes import services
from edrix.classes.models import Membership, TeachingClass
from edrix.classes.pasted import Line, read_lines, read_list
from edrix.errors import ConflictError, FieldFault, InvalidError
from edrix.names import folded


@dataclass(frozen=True, slots=True)
class NewStudent:
    """passcode is None for a person whose account is not this class's to change, and is shown
    this once."""

    id: int
    display_name: str
    sign_in_name: str
    passcode: str | None


@dataclass(frozen=True, slots=True)
class Seen:
    """A line of a list as it would be taken. joins: has an account already. says is worth a look;
    problem is why nobody can be added by it."""

    number: int
    display_name: str
    sign_in_name: str
    joins: bool
    says: str
    problem: str


def preview(user: User, class_id: int, pasted: str) -> list[Seen]:
    """Keeps nothing."""
    teaching_class = services.require_instructor(user, class_id)
    read = read_lines(pasted)
    known = _known([one.line for one in read if one.line])
    unfit = _unfit(teaching_class, [one.line for one in read if one.line], known)
    taken = accounts.taken_sign_in_names()
    names = list(services.students_of(class_id).values_list("display_name", flat=True))
    here = {folded(name) for name in names}
    seen = []
    for one in read:
        if one.line is None:
            seen.append(Seen(one.number, "", "", False, "", one.problem))
            continue
        person = known.get(one.line.sign_in_name or "")
        name = person.display_name if person else one.line.display_name
        signs_in = one.line.sign_in_name or accounts.free_sign_in_name(name, taken)
        taken.add(signs_in)
        says = ""
        if person is None and folded(name) in here:
            says = (
                f"{name} is in this class already. Take this line out if it is the same person; "
                "otherwise they get a sign-in name of their own."
            )
        here.add(folded(name))
        problem = unfit.get(one.line.sign_in_name or "", "")
        seen.append(Seen(one.number, name, signs_in, person is not None, says, problem))
    return seen


def add_students(user: User, class_id: int, pasted: str) -> list[NewStudent]:
    """Adds everybody on a pasted list, or nobody.

    A line that names an existing student's sign-in name adds that person; a line without
    one makes an account. `Ines Falk` becomes ines.falk with a passcode that is shown once.
    """
    teaching_class = services.require_instructor(user, class_id)
    lines = read_list(pasted)
    known = _known(lines)
    if unfit := _unfit(teaching_class, lines, known):
        faults = [FieldFault(name, problem) for name, problem in unfit.items()]
        told = "; ".join(f"{fault.path} {fault.problem}" for fault in faults[:3])
        raise InvalidError(f"Nobody was added: {told}. Take those lines out.", faults)
    try:
        with transaction.atomic():
            return _add(teaching_class, lines, known)
    except IntegrityError:
        raise ConflictError(
            "Nobody was added: somebody else was adding the same names just now. Try again."
        ) from None


def reset_passcode(user: User, class_id: int, student_id: int) -> NewStudent:
    """A new passcode for a student of this class; signs that student out everywhere.

    Only by instructors of the class that made the account: otherwise adding somebody's
    student to a class of one's own would be a way to sign in as them.
    """
    student = services.own_student(user, class_id, student_id)
    passcode = accounts.give_new_passcode(student.id)
    return NewStudent(student.id, student.display_name, student.sign_in_name, passcode)


@transaction.atomic
def renew_passcodes(user: User, class_id: int) -> list[NewStudent]:
    """New ones for everybody in the class whose account was made in it; the others are listed
    without."""
    services.require_instructor(user, class_id)
    own = services.made_here(class_id)
    return [
        NewStudent(
            student.id,
            student.display_name,
            student.sign_in_name,
            accounts.give_new_passcode(student.id) if student.id in own else None,
        )
        for student in services.students_of(class_id)
    ]


def _known(lines: Collection[Line]) -> dict[str, User]:
    return accounts.people_by_sign_in_name(line.sign_in_name or "" for line in lines)


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


def _unfit(
    teaching_class: TeachingClass, lines: Collection[Line], known: dict[str, User]
) -> dict[str, str]:
    """Why somebody with an account can't be added, by sign-in name."""
    members = Membership.objects.filter(teaching_class=teaching_class)
    here = dict(members.values_list("user_id", "left_at"))
    students = set(
        Membership.objects.filter(role=Membership.STUDENT, user__in=known.values()).values_list(
            "user_id", flat=True
        )
    )
    unfit = {}
    for name in dict.fromkeys(line.sign_in_name or "" for line in lines):
        person = known.get(name)
        if person is None:
            continue
        if person.id in here:
            left = here[person.id] is not None
            unfit[name] = (
                "has left this class; let them come back" if left else ("is in this class already")
            )
        elif person.may_teach or person.has_taught:
            unfit[name] = "is a teacher's sign-in name"
        elif person.id not in students:
            unfit[name] = "is an account of no class of this school; choose another name"
    return unfit
