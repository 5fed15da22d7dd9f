"""Rotas as they come and go over HTTP."""

from datetime import datetime
from typing import Any

from ninja import Schema
from pydantic import Field

from edrix.jobs.services import Job
from edrix.rota import services
from edrix.rota.asked import Kept
from edrix.rota.by_hand import BookingChange
from edrix.rota.planning import SECONDS
from edrix.rota.services import RotaStanding
from edrix.rota.wish import RotaWish
from edrix.shapes import In


class RotaLine(Schema):
    id: int
    title: str
    away: bool
    posted_at: datetime | None
    first: str | None
    last: str | None
    bookings: int

    @staticmethod
    def of(rota: services.Rota) -> dict[str, Any]:
        slots = RotaWish.model_validate(rota.wish).slots
        return {
            "id": rota.id,
            "title": rota.title,
            "away": rota.put_away_at is not None,
            "posted_at": rota.posted_at,
            "first": slots[0].start if slots else None,
            "last": slots[-1].start if slots else None,
            "bookings": getattr(rota, "booked", 0),
        }


class RotaPerson(Schema):
    id: int
    name: str


class RotaStand(Schema):
    """A stand that the class uses; out_of_order is why it is, or empty."""

    id: int
    name: str
    engine_name: str
    cool_h: float
    out_of_order: str


class BookingOut(Schema):
    id: int
    slot: str
    place: str
    task: str
    students: list[int]
    pinned: bool

    @staticmethod
    def of(one: Kept) -> dict[str, Any]:
        return one._asdict() | {"id": one.at, "students": list(one.students)}


class BrokenOut(Schema):
    """bookings are ids; students whom it is about."""

    says: str
    bookings: list[int]
    students: list[int]


class MissingOut(Schema):
    """why and helps are empty while it is not proved that some place must be missing."""

    student: int
    task: str
    why: str
    helps: str


class BlockedOut(Schema):
    place: str
    slot: str
    why: str


class SeatSeen(Schema):
    slot: str
    place: str


class ChangeOut(Schema):
    student: int
    task: str
    was: SeatSeen | None
    now: SeatSeen | None


class PlanningOut(Schema):
    """How far planning is, or what it found: state is waiting, working, done, failed or stopped.
    kept: the worker has kept it; offered: it waits for a word. moved is how many places that
    somebody had are others', fewest what is proven; it takes most_s at most."""

    job_id: int
    state: str
    is_over: bool
    says: str
    few_changes: bool
    missing: int | None = None
    repeats: int | None = None
    moved: int | None = None
    fewest: int | None = None
    proven: bool = False
    kept: bool = False
    offered: bool = False
    changes: list[ChangeOut] = Field(default_factory=list)
    made_at: datetime
    ended_at: datetime | None
    most_s: float

    @staticmethod
    def of(job: Job | None, revision: int) -> dict[str, Any] | None:
        if job is None:
            return None
        told = job.result if job.is_over else job.progress
        names = ("missing", "repeats", "moved", "fewest", "proven", "kept", "changes")
        return {
            "job_id": job.id,
            "state": job.state,
            "is_over": job.is_over,
            "says": job.says,
            "few_changes": job.given["few_changes"],
            "offered": not told.get("kept", False) and told.get("revision") == revision,
            "made_at": job.made_at,
            "ended_at": job.ended_at,
            "most_s": SECONDS,
        } | {name: told[name] for name in names if name in told}


class RotaOut(Schema):
    """A rota as it stands. says is why nothing can be planned of it yet; first is the number of
    its slots that have begun."""

    id: int
    class_id: int
    class_name: str
    title: str
    revision: int
    posted_at: datetime | None
    away: bool
    can_undo: bool
    wish: RotaWish
    students: list[RotaPerson]
    instructors: list[RotaPerson]
    stands: list[RotaStand]
    bookings: list[BookingOut]
    broken: list[BrokenOut]
    missing: list[MissingOut]
    repeats: int
    blocked: list[BlockedOut]
    says: str
    begun: int
    planning: PlanningOut | None

    @staticmethod
    def of(rota: services.Rota, found: RotaStanding, job: Job | None) -> dict[str, Any]:
        asked = found.asked
        people = {
            name: [{"id": one.id, "name": one.display_name} for one in some]
            for name, some in (("students", asked.students), ("instructors", asked.instructors))
        }
        return people | {
            "id": rota.id,
            "class_id": rota.teaching_class_id,
            "class_name": rota.teaching_class.name,
            "title": rota.title,
            "revision": rota.revision,
            "posted_at": rota.posted_at,
            "away": rota.put_away_at is not None,
            "can_undo": rota.before is not None,
            "wish": asked.wish,
            "stands": [
                {
                    "id": one.id,
                    "name": one.name,
                    "engine_name": one.engine_version.engine.name,
                    "cool_h": one.cool_h,
                    "out_of_order": one.out_of_order,
                }
                for one in asked.stands.values()
            ],
            "bookings": [BookingOut.of(one) for one in found.bookings],
            "broken": [
                one._asdict() | {"bookings": [found.bookings[at].at for at in one.bookings]}
                for one in found.broken
            ],
            "missing": [one._asdict() for one in found.missing],
            "repeats": found.repeats,
            "blocked": [one._asdict() for one in asked.blocked],
            "says": found.says,
            "begun": asked.first,
            "planning": PlanningOut.of(job, rota.revision),
        }


class NewRotaIn(In):
    """based_on is a rota of this class, which is taken over a week later."""

    title: str = Field(min_length=1, max_length=services.MOST_TITLE)
    based_on: int | None = None


class RotaMade(Schema):
    id: int


class RotaChanges(In):
    title: str | None = Field(None, min_length=1, max_length=services.MOST_TITLE)
    away: bool | None = None
    posted: bool | None = None


class WishIn(In):
    revision: int
    wish: RotaWish
    confirmed: bool = False


class PlanIn(In):
    few_changes: bool = False


class KeepIn(In):
    job_id: int


class RevisionIn(In):
    revision: int


class BookingIn(In):
    """What is to be another; null stays. id null books a new one."""

    id: int | None = None
    slot: str | None = Field(None, max_length=20)
    place: str | None = Field(None, max_length=40)
    task: str | None = Field(None, max_length=40)
    students: list[int] | None = Field(None, max_length=40)
    pinned: bool | None = None
    take_out: bool = False

    def change(self) -> BookingChange:
        return BookingChange(**self.model_dump(exclude={"id", "revision", "confirmed"}))


class BookingChangeIn(BookingIn):
    revision: int
    confirmed: bool = False


class OwnBookingOut(Schema):
    """place is empty for a slot that one teaches; others are then the places in use."""

    class_name: str
    starts_at: datetime
    ends_at: datetime
    place: str
    task: str
    kind: str
    of: int | None
    others: list[str]


class OwnRota(Schema):
    bookings: list[OwnBookingOut]
    feed_since: datetime | None


class FeedMade(Schema):
    """The address is told once: only its digest is kept."""

    address: str


class AwayFound(Schema):
    slots: list[str]
