"""Rotas that come back with a class: their people and stands have other numbers here."""

from collections.abc import Mapping
from typing import Any

from edrix.rota.models import Rota, RotaBooking
from edrix.rota.wish import RotaWish, checked, moment

Ids = Mapping[str, Mapping[int, int]]
THINGS = {"sheet": "sheets.Sheet", "practice": "practice.PracticeEngine"}


def renumber(rotas: list[dict[str, Any]], ids: Ids) -> None:
    people = ids["accounts.User"]
    for row in rotas:
        wish = RotaWish.model_validate(row["wish"])
        for place in wish.places:
            place.stand = None if place.stand is None else ids["stands.Stand"][place.stand]
        for task in wish.tasks:
            known = ids.get(THINGS.get(task.kind, ""), {})
            task.of = None if task.of is None else known.get(task.of)
        wish.away = {
            who: slots for old, slots in wish.away.items() if (who := _person(old, people))
        }
        wish.apart = [
            [people[one] for one in pair] for pair in wish.apart if set(pair) <= {*people}
        ]
        row["wish"] = wish.model_dump()
        # The way back to the plan before is not worth a risk.
        row["before"] = None


def _person(key: str, people: Mapping[int, int]) -> str:
    """`student-12` as it is called here; empty for who did not come along."""
    role, _, old = key.rpartition("-")
    new = people.get(int(old)) if old.isdigit() else None
    return "" if new is None else f"{role}-{new}"


def prove(class_id: int) -> None:
    """Raises ValueError, or InvalidError, for what no rota can hold; times are this school's."""
    for rota in Rota.objects.filter(teaching_class_id=class_id):
        wish = checked(RotaWish.model_validate(rota.wish))
        slots = {slot.start: slot for slot in wish.slots}
        places = {place.key: place.stand for place in wish.places}
        tasks = {task.key for task in wish.tasks}
        bookings = list(RotaBooking.objects.filter(rota=rota))
        for one in bookings:
            if one.task not in tasks or places[one.place] != one.stand_id:
                raise ValueError("a booking is for what is not in its rota")
            one.starts_at, one.ends_at = moment(one.slot), moment(slots[one.slot].end)
        RotaBooking.objects.bulk_update(bookings, ["starts_at", "ends_at"])
