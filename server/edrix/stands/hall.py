"""The stands of the school: what stands in the hall, how it is, and which classes use it."""

from decimal import Decimal
from typing import NamedTuple

from django.db import transaction
from django.db.models import QuerySet

from edrix import life
from edrix.accounts.models import User
from edrix.classes import services as classes
from edrix.errors import NotAllowedError
from edrix.stands.models import ClassStand, Stand
from edrix.stands.services import get_stand, made, named, no_stand, use_of


def require_teacher(user: User) -> None:
    if not user.may_teach:
        raise NotAllowedError("Only people who teach see the hall; ask the head of your school.")


def hall(user: User) -> QuerySet[Stand]:
    """Every stand of the school, for people who teach; no keys."""
    require_teacher(user)
    stands = Stand.objects.select_related("engine_version__engine")
    return stands.prefetch_related("uses__teaching_class").order_by("name")


def create_in_hall(user: User, name: str, engine_id: int) -> Stand:
    """The same for nobody's class yet."""
    require_teacher(user)
    return made(user, name, engine_id)


@transaction.atomic
def use(user: User, class_id: int, stand_id: int) -> ClassStand:
    """A class begins to use a stand of the hall, or uses it again."""
    teaching_class = classes.require_instructor(user, class_id)
    require_teacher(user)
    stand = Stand.objects.filter(id=stand_id).first()
    if stand is None:
        raise no_stand(stand_id)
    if classes.is_student_in(user, stand.uses.values_list("teaching_class_id", flat=True)):
        # A stand's key is open to whoever teaches with it, and they are marked by it elsewhere.
        raise NotAllowedError(
            f"You are a student on {stand.name} in another class; ask its instructor to use it."
        )
    using, _ = ClassStand.objects.get_or_create(teaching_class=teaching_class, stand=stand)
    life.put_away(using, away=False)
    return using


def put_by(user: User, class_id: int, stand_id: int, *, away: bool) -> None:
    """A class stops using a stand, or uses it again; the stand stays in the hall."""
    classes.require_instructor(user, class_id)
    life.put_away(use_of(class_id, stand_id), away=away)


def classes_using(user: User, stand: Stand) -> list[int]:
    """The classes that use a stand and that this person teaches."""
    using = stand.uses.values_list("teaching_class_id", flat=True)
    return classes.taught_among(user, using)


class Facts(NamedTuple):
    """What is said of a stand; None stays as it is."""

    name: str | None = None
    place: str | None = None
    meter: str | None = None
    cool_h: Decimal | None = None
    out_of_order: str | None = None
    away: bool | None = None


@transaction.atomic
def change(user: User, stand_id: int, facts: Facts) -> None:
    """Renames it, says where and how it is, puts it away or brings it back."""
    stand = get_stand(user, stand_id)
    if facts.name is not None:
        named(stand, facts.name)
    said = {
        "place": None if facts.place is None else " ".join(facts.place.split()),
        "meter": facts.meter,
        "cool_h": facts.cool_h,
        "out_of_order": None
        if facts.out_of_order is None
        else " ".join(facts.out_of_order.split()),
    }
    changed = [field for field, value in said.items() if value is not None]
    for field in changed:
        setattr(stand, field, said[field])
    if changed:
        stand.save(update_fields=changed)
    life.put_away(stand, away=facts.away)


@transaction.atomic
def is_cold(user: User, stand_id: int) -> None:
    """Whoever knows better takes it for cold before its time."""
    stand = get_stand(user, stand_id)
    stand.warm_until = None
    stand.save(update_fields=["warm_until"])
