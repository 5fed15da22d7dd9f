"""Classes: making them, their students, passcodes."""

from typing import Any

from django.http import HttpRequest
from ninja import Router, Schema, Status
from pydantic import Field

from edrix.accounts.signed_in import user_of
from edrix.classes import services
from edrix.classes.models import Membership
from edrix.problems import Problem
from edrix.shapes import In

router = Router(tags=["classes"])
REFUSALS: dict[int, Any] = {403: Problem, 404: Problem, 409: Problem, 422: Problem}


class ClassRow(Schema):
    id: int
    name: str
    role: str
    students: int

    @staticmethod
    def of(membership: Membership, students: int) -> dict[str, Any]:
        return {
            "id": membership.teaching_class_id,
            "name": membership.teaching_class.name,
            "role": membership.role,
            "students": students,
        }


class Student(Schema):
    id: int
    display_name: str
    sign_in_name: str


class ClassOut(Schema):
    id: int
    name: str
    students: list[Student]


class NewStudentOut(Schema):
    id: int
    display_name: str
    sign_in_name: str
    passcode: str | None


class NewClass(In):
    name: str = Field(max_length=120)


class NewName(In):
    name: str = Field(max_length=120)


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
    students = list(services.students_of(class_id))
    return {"id": found.id, "name": found.name, "students": students}


@router.patch("/classes/{class_id}", response={204: None, **REFUSALS}, operation_id="renameClass")
def rename_class(request: HttpRequest, class_id: int, body: NewName) -> Status[None]:
    services.rename_class(user_of(request), class_id, body.name)
    return Status(204, None)


@router.patch(
    "/classes/{class_id}/students/{student_id}",
    response={204: None, **REFUSALS},
    operation_id="renameStudent",
)
def rename_student(
    request: HttpRequest, class_id: int, student_id: int, body: NewName
) -> Status[None]:
    """Puts a name right; what the person signs in with stays."""
    services.rename_student(user_of(request), class_id, student_id, body.name)
    return Status(204, None)


@router.post(
    "/classes/{class_id}/students",
    response={201: list[NewStudentOut], **REFUSALS},
    operation_id="addStudents",
)
def add_students(
    request: HttpRequest, class_id: int, body: PastedList
) -> Status[list[services.NewStudent]]:
    """Adds a pasted list; passcodes are in this answer and never again."""
    return Status(201, services.add_students(user_of(request), class_id, body.text))


@router.post(
    "/classes/{class_id}/students/{student_id}/passcode",
    response={200: NewStudentOut, **REFUSALS},
    operation_id="resetPasscode",
)
def reset_passcode(request: HttpRequest, class_id: int, student_id: int) -> services.NewStudent:
    return services.reset_passcode(user_of(request), class_id, student_id)
