"""The school's instructors over HTTP, for its heads."""

from typing import Any

from django.http import HttpRequest
from ninja import Router, Schema, Status
from pydantic import Field

from edrix.accounts import staff
from edrix.accounts.models import User
from edrix.accounts.signed_in import user_of
from edrix.problems import Problem
from edrix.shapes import In

router = Router(tags=["accounts"])
REFUSALS: dict[int, Any] = {403: Problem, 404: Problem, 409: Problem, 422: Problem}


class InstructorOut(Schema):
    id: int
    display_name: str
    sign_in_name: str
    may_teach: bool
    is_head: bool


class WithPasscodeOut(Schema):
    """passcode is in this answer and never again."""

    id: int
    display_name: str
    sign_in_name: str
    passcode: str


class NewInstructor(In):
    name: str = Field(max_length=120)


class InstructorChanges(In):
    """Null stays as it is."""

    name: str | None = Field(None, max_length=120)
    may_teach: bool | None = None
    is_head: bool | None = None


@router.get(
    "/instructors",
    response={200: list[InstructorOut], **REFUSALS},
    operation_id="listInstructors",
)
def list_instructors(request: HttpRequest) -> list[User]:
    return staff.instructors(user_of(request))


@router.post(
    "/instructors", response={201: WithPasscodeOut, **REFUSALS}, operation_id="addInstructor"
)
def add_instructor(request: HttpRequest, body: NewInstructor) -> Status[staff.WithPasscode]:
    return Status(201, staff.add(user_of(request), body.name))


@router.patch(
    "/instructors/{person_id}", response={204: None, **REFUSALS}, operation_id="changeInstructor"
)
def change_instructor(
    request: HttpRequest, person_id: int, body: InstructorChanges
) -> Status[None]:
    """Puts a name right, gives or takes the right to teach, makes or unmakes a head."""
    staff.change(user_of(request), person_id, **body.model_dump())
    return Status(204, None)


@router.post(
    "/instructors/{person_id}/passcode",
    response={200: WithPasscodeOut, **REFUSALS},
    operation_id="renewInstructorPasscode",
)
def renew_passcode(request: HttpRequest, person_id: int) -> staff.WithPasscode:
    return staff.new_passcode(user_of(request), person_id)
