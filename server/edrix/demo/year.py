"""A year of the demo school's hall: six stands whose logs show wear, and one valve that recedes."""

import random
from datetime import datetime, timedelta
from typing import NamedTuple

from django.utils import timezone

from edrix.accounts.models import User
from edrix.engines import services as engines
from edrix.logbook import services as logbook
from edrix.stands import hall
from edrix.stands import services as stands
from edrix.stands.hall import Facts
from edrix.stands.services import Stand
from edrix.store import services as store
from valvetrain.engine import Clearance, Role

VISITS, WEEKS_APART = 12, 4
REPEATS_MM = 0.006
"""How well an instructor's hand repeats. Common practice."""


class StandYear(NamedTuple):
    """hours are run between two visits; wear in µm per 100 h for intake and exhaust; runs_away is
    one valve and how much faster it goes."""

    name: str
    engine: str
    place: str
    begins_h: float
    hours: float
    wear: tuple[float, float]
    runs_away: tuple[int, float] | None = None


HALL = (
    StandYear("Stand 3", "01-p4-fire-pump", "hall 1, by the tap", 210, 26, (-3.5, -6)),
    StandYear("Stand 5", "01-p4-fire-pump", "hall 1, by the gate", 655, 22, (-3, -5.5)),
    StandYear("Stand 1", "19-ferry-four-distributor", "hall 1, window side", 1180, 31, (-4, -7)),
    StandYear("Stand 2", "02-six-snow-tug", "hall 2, left", 2405, 35, (-2.5, -5), (8, -24)),
    StandYear("Stand 4", "09-cable-five", "hall 2, right", 830, 28, (-4, -6.5)),
    StandYear("Stand 6", "03-lamp-single", "yard shed", 96, 12, (4, 6)),
)


def fill_year(tove: User, engine_ids: dict[str, int], class_id: int) -> None:
    """Logs for the stands that are there, and the others with theirs; the class uses three more."""
    chance = random.Random(2031)  # noqa: S311  the same school every time
    known = {stand.name: stand for stand in hall.hall(tove)}
    for year in HALL:
        stand = known.get(year.name) or hall.create_in_hall(
            tove, year.name, engine_ids[year.engine]
        )
        hall.change(tove, stand.id, Facts(place=year.place))
        _log(tove, stand, year, chance)
        if year.name in ("Stand 1", "Stand 2", "Stand 4"):
            hall.use(tove, class_id, stand.id)
    _fill_store(tove)
    by_name = {stand.name: stand for stand in hall.hall(tove)}
    hall.change(tove, by_name["Stand 6"].id, Facts(out_of_order="recoil spring broken, on order"))
    stands.warm_from(by_name["Stand 4"], timezone.now() - timedelta(hours=2))


STORE_COUNTS = (3, 4, 2, 5, 4, 1, 3, 2, 6, 3, 0, 4, 2, 3, 5, 2, 3, 4, 2, 2)
"""Boxes from 3.00 mm on by 0.05: two of them hold fewer than the least stock of two."""


def _fill_store(tove: User) -> None:
    for step, count in enumerate(STORE_COUNTS):
        size = f"{3 + step * 0.05:.2f}"
        place = f"drawer {1 + step // 10}"
        store.add_size(tove, store.TypedSize("29", size, count, least=2, place=place))


def _log(tove: User, stand: Stand, year: StandYear, chance: random.Random) -> None:
    engine = engines.core_engine(stand.engine_version)
    begun = timezone.now() - timedelta(weeks=WEEKS_APART * VISITS)
    gap_mm = {v.number: _middle(engine.clearance[v.role]) for v in engine.valves}
    meter = year.begins_h
    for visit in range(VISITS):
        at = begun + timedelta(weeks=WEEKS_APART * visit, hours=chance.uniform(0, 6))
        run_h = year.hours * chance.uniform(0.6, 1.4) if visit else 0.0
        meter += run_h
        rows = []
        for valve in engine.valves:
            rate = year.wear[valve.role is not Role.INTAKE]
            if year.runs_away and valve.number == year.runs_away[0]:
                rate += year.runs_away[1]
            gap_mm[valve.number] = max(0.03, gap_mm[valve.number] + rate * run_h * 1e-5)
            found = max(0.02, gap_mm[valve.number] + chance.gauss(0, REPEATS_MM))
            left = ""
            spec = engine.clearance[valve.role]
            if not float(spec.low_mm) <= found <= float(spec.high_mm):
                gap_mm[valve.number] = _middle(spec)
                left = f"{gap_mm[valve.number] + chance.gauss(0, REPEATS_MM):.2f}"
            rows.append(logbook.TypedLogGap(valve.number, f"{found:.2f}", left))
        _write(tove, stand, at, meter, rows)


def _write(
    tove: User, stand: Stand, at: datetime, meter: float, rows: list[logbook.TypedLogGap]
) -> None:
    adjusted = any(row.left for row in rows)
    entry = logbook.TypedEntry(
        what="adjusted" if adjusted else "measured",
        at=at,
        meter=f"{meter:.1f}",
        cold=True,
        note="Monthly look, set what had moved out." if adjusted else "Monthly look.",
        gaps=rows,
    )
    logbook.write(tove, stand.id, entry)


def _middle(spec: Clearance) -> float:
    return float(spec.low_mm + spec.high_mm) / 2
