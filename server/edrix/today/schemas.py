"""Today, as it goes over the wire: one's own, and a class's for its wall."""

from datetime import datetime
from typing import Any

from ninja import Schema

from edrix.asking.schemas import PhoneQuestion
from edrix.rota.own import ClassBooking
from edrix.rota.schemas import OwnBookingOut
from edrix.shapes import In
from edrix.today import services


class HandIsUp(In):
    up: bool


class OwnClassOut(Schema):
    id: int
    name: str
    hand_at: datetime | None


class SheetToDo(Schema):
    id: int
    title: str
    stand: str
    engine: str
    closes_at: datetime | None


class RunToDo(Schema):
    id: int
    title: str
    until: datetime | None


class PracticeToBegin(Schema):
    id: int
    title: str
    engine: str
    level: str
    minutes: int | None


class ComesBackOut(Schema):
    """Questions that were missed, and come back today, by engine."""

    engine_id: int
    version: int
    engine_name: str
    questions: int


class OwnDayOut(Schema):
    """What a student is to do now and next. Nothing about others but who is at the same place."""

    now: list[OwnBookingOut]
    next: list[OwnBookingOut]
    classes: list[OwnClassOut]
    sheets: list[SheetToDo]
    runs: list[RunToDo]
    practice: list[PracticeToBegin]
    back: list[ComesBackOut]

    @staticmethod
    def of(own: services.OwnDay) -> dict[str, Any]:
        return {
            "now": [one._asdict() for one in own.now],
            "next": [one._asdict() for one in own.next],
            "classes": [one._asdict() for one in own.classes],
            "sheets": [one._asdict() for one in own.sheets],
            "runs": [one._asdict() for one in own.runs],
            "practice": [one._asdict() for one in own.practice],
            "back": [one._asdict() for one in own.back],
        }


class OpensOut(Schema):
    """Where the lesson leads that is held: a drill on the engine of_id, or the practice engine or
    the sheet of that number. key changes whenever a step is held anew."""

    key: str
    class_name: str
    kind: str
    of_id: int
    title: str
    named: str


class OwnNowOut(Schema):
    """What is asked of a student, where their lesson leads, and their day: null where it was not
    asked for, or has not changed since the cursor."""

    cursor: str
    questions: list[PhoneQuestion]
    opens: list[OpensOut]
    day: OwnDayOut | None

    @staticmethod
    def of(seen: services.OwnNow) -> dict[str, Any]:
        return {
            "cursor": seen.beat,
            "questions": [PhoneQuestion.of(*one) for one in seen.questions],
            "opens": [one._asdict() for one in seen.opens],
            "day": None if seen.day is None else OwnDayOut.of(seen.day),
        }


class DoingOut(Schema):
    what: str
    title: str
    done: int
    of: int | None
    state: str
    at: datetime
    until: datetime | None


class PersonNowOut(Schema):
    id: int
    name: str
    hand_at: datetime | None
    place: str
    task: str
    doing: list[DoingOut]


class SlotPlaceOut(Schema):
    place: str
    task: str
    students: list[int]


class SlotNowOut(Schema):
    """Places of one slot; starts_at and ends_at are those of the slot."""

    starts_at: datetime
    ends_at: datetime
    places: list[SlotPlaceOut]


class StandNowOut(Schema):
    id: int
    name: str
    state: str
    why: str
    warm_until: datetime | None
    students: list[int]


class RoomFindingOut(Schema):
    """What explains figures of today's sheets: of how many people."""

    kind: str
    label: str
    students: int


class ClassNowOut(Schema):
    """For the wall: no figure, mark or name beside a finding."""

    cursor: str
    name: str
    now: SlotNowOut | None
    next: SlotNowOut | None
    people: list[PersonNowOut]
    stands: list[StandNowOut]
    findings: list[RoomFindingOut]
    is_asked: bool

    @staticmethod
    def of(seen: services.ClassNow) -> dict[str, Any]:
        return {
            "cursor": seen.beat,
            "name": seen.name,
            "now": _slot(seen.now),
            "next": _slot(seen.next),
            "people": [_person(one) for one in seen.people],
            "stands": [
                {
                    "id": one.stand.id,
                    "name": one.stand.name,
                    "state": one.state,
                    "why": one.why,
                    "warm_until": one.warm_until,
                    "students": one.students,
                }
                for one in seen.stands
            ],
            "findings": [
                {
                    "kind": one.kind.value,
                    "label": one.kind.words.label,
                    "students": len(one.student_ids),
                }
                for one in seen.findings
            ],
            "is_asked": seen.is_asked,
        }


def _slot(booked: list[ClassBooking]) -> dict[str, Any] | None:
    if not booked:
        return None
    return {
        "starts_at": booked[0].starts_at,
        "ends_at": booked[0].ends_at,
        "places": [
            {"place": one.place, "task": one.task, "students": one.students} for one in booked
        ],
    }


def _person(one: services.PersonNow) -> dict[str, Any]:
    return {
        "id": one.id,
        "name": one.name,
        "hand_at": one.hand_at,
        "place": one.booked.place if one.booked else "",
        "task": one.booked.task if one.booked else "",
        "doing": [doing._asdict() for doing in one.doing],
    }
