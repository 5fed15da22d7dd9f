"""Classes: making them, their students, passcodes."""

from typing import Any

from django.http import HttpRequest
from ninja import Router, Schema, Status
from pydantic import Field

from edrix.accounts.signed_in import user_of
from edrix.classes import roll, services
from edrix.classes.models import Membership
from edrix.problems import Problem
from edrix.shapes import Changes, In

router = Router(tags=["classes"])
REFUSALS: dict[int, Any] = {403: Problem, 404: Problem, 409: Problem, 422: Problem}


class ClassRow(Schema):
    id: int
    name: str
    role: str
    students: int
    away: bool

    @staticmethod
    def of(membership: Membership, students: int) -> dict[str, Any]:
        return {
            "id": membership.teaching_class_id,
            "name": membership.teaching_class.name,
            "role": membership.role,
            "students": students,
            "away": membership.teaching_class.put_away_at is not None,
        }


class Student(Schema):
    id: int
    display_name: str
    sign_in_name: str


class ClassOut(Schema):
    """left: who was in it, and whose record stays."""

    id: int
    name: str
    away: bool
    students: list[Student]
    left: list[Student]


class NewStudentOut(Schema):
    id: int
    display_name: str
    sign_in_name: str
    passcode: str | None


class SeenOut(Schema):
    """A line of a pasted list as it would be taken."""

    number: int
    display_name: str
    sign_in_name: str
    joins: bool
    says: str
    problem: str


class NewClass(In):
    name: str = Field(max_length=120)


class StudentChanges(In):
    """Null stays as it is. left: gone from the class, with their record kept."""

    name: str | None = Field(None, max_length=120)
    left: bool | None = None


class PastedList(In):
    text: str = Field(max_length=20_000)


@router.get("/classes", response=list[ClassRow], operation_id="listClasses")
def list_classes(request: HttpRequest) -> list[dict[str, Any]]:
    found = services.classes_of(user_of(request))
    return [ClassRow.of(member, getattr(member, "students", 0)) for member in found]


@router.post("/classes", response={201: ClassRow, **REFUSALS}, operation_id="createClass")
def create_class(request: HttpRequest, body: NewClass) -> Status[dict[str, Any]]:
    return Status(201, ClassRow.of(services.create_class(user_of(request), body.name), 0))


@router.get("/classes/{class_id}", response={200: ClassOut, **REFUSALS}, operation_id="getClass")
def get_class(request: HttpRequest, class_id: int) -> dict[str, Any]:
    """A class with its students, for its instructors."""
    found = services.require_instructor(user_of(request), class_id)
    return {
        "id": found.id,
        "name": found.name,
        "away": found.put_away_at is not None,
        "students": list(services.students_of(class_id)),
        "left": list(services.who_left(class_id)),
    }


@router.patch("/classes/{class_id}", response={204: None, **REFUSALS}, operation_id="changeClass")
def change_class(request: HttpRequest, class_id: int, body: Changes) -> Status[None]:
    """Renames a class, puts it away or brings it back."""
    services.change(user_of(request), class_id, **body.model_dump())
    return Status(204, None)


@router.delete("/classes/{class_id}", response={204: None, **REFUSALS}, operation_id="removeClass")
def remove_class(request: HttpRequest, class_id: int) -> Status[None]:
    """Where nobody is in it but who teaches, and nothing was made."""
    services.remove(user_of(request), class_id)
    return Status(204, None)


@router.patch(
    "/classes/{class_id}/students/{student_id}",
    response={204: None, **REFUSALS},
    operation_id="changeStudent",
)
def change_student(
    request: HttpRequest, class_id: int, student_id: int, body: StudentChanges
) -> Status[None]:
    """Puts a name right (what the person signs in with stays), lets them leave or come back."""
    services.change_student(user_of(request), class_id, student_id, **body.model_dump())
    return Status(204, None)


@router.post(
    "/classes/{class_id}/roll/preview",
    response={200: list[SeenOut], **REFUSALS},
    operation_id="previewStudents",
)
def preview_students(request: HttpRequest, class_id: int, body: PastedList) -> list[roll.Seen]:
    """A pasted list as it would be taken; keeps nothing."""
    return roll.preview(user_of(request), class_id, body.text)


@router.post(
    "/classes/{class_id}/students",
    response={201: list[NewStudentOut], **REFUSALS},
    operation_id="addStudents",
)
def add_students(
    request: HttpRequest, class_id: int, body: PastedList
) -> Status[list[roll.NewStudent]]:
    """Adds a pasted list; passcodes are in this answer and never again."""
    return Status(201, roll.add_students(user_of(request), class_id, body.text))


@router.post(
    "/classes/{class_id}/students/{student_id}/passcode",
    response={200: NewStudentOut, **REFUSALS},
    operation_id="resetPasscode",
)
def reset_passcode(request: HttpRequest, class_id: int, student_id: int) -> roll.NewStudent:
    return roll.reset_passcode(user_of(request), class_id, student_id)


@router.post(
    "/classes/{class_id}/passcodes",
    response={200: list[NewStudentOut], **REFUSALS},
    operation_id="renewPasscodes",
)
def renew_passcodes(request: HttpRequest, class_id: int) -> list[roll.NewStudent]:
    """New passcodes for the whole class; they are in this answer and never again."""
    return roll.renew_passcodes(user_of(request), class_id)
