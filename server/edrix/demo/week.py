"""Next week's rota of the demo school: four stands, two tables, and two who are away."""

from datetime import timedelta

from django.utils import timezone

from edrix.accounts.models import User
from edrix.errors import ServiceError
from edrix.jobs import services as jobs
from edrix.rota import planning
from edrix.rota import services as rotas
from edrix.rota.wish import RotaWish
from edrix.stands import services as stands

TIMES = (("08:00", "09:45"), ("10:00", "11:45"), ("13:00", "14:45"))
DAYS = 5


def fill_week(tove: User, class_id: int, student_ids: list[int], sheet_id: int) -> None:
    """Planned as a worker would plan it, and posted."""
    slots = _slots()
    hall = {stand.name: stand.id for stand in stands.in_use(class_id)}
    at = {name: f"stand-{hall[name]}" for name in sorted(hall)}
    at |= {f"Table {number}": f"table-{number}" for number in (1, 2)}
    places = [{"key": key, "name": name, "stand": hall.get(name)} for name, key in at.items()]
    pair = {"least": 1, "most": 2}
    cold = {"needs_cold": True}
    tasks = [
        {"key": "t1", "title": "Cold clearances, pump", "kind": "sheet", "of": sheet_id,
         "places": [at["Stand 3"]], **pair, **cold},
        {"key": "t2", "title": "Set what has moved out", "places": [at["Stand 1"], at["Stand 2"]],
         "after": ["t1"], **pair, **cold},
        {"key": "t3", "title": "Firing orders", "kind": "drill",
         "places": [at["Table 1"], at["Table 2"]], **pair},
        {"key": "t4", "title": "Run it and listen", "places": [at["Stand 4"]],
         "runs_engine": True, "after": ["t2"], "least": 2, "most": 3},
    ]  # fmt: skip
    away = {
        f"student-{student_ids[0]}": [slot["start"] for slot in slots[:3]],
        f"student-{student_ids[3]}": [slot["start"] for slot in slots[3:9]],
    }
    wish = RotaWish.model_validate({"slots": slots, "places": places, "tasks": tasks, "away": away})
    rota = rotas.create(tove, class_id, "Next week, all stands")
    rotas.save_wish(tove, rota.id, rota.revision, wish)
    job = planning.begin(tove, rota.id, few_changes=False)
    jobs.run(job.id)
    planned = planning.newest(rota.id)
    if planned is None or planned.says:
        raise ServiceError(planned.says if planned else "the demo's rota was not planned")
    rotas.change(tove, rota.id, posted=True)


def _slots() -> list[dict[str, str]]:
    """Three a day, from the next Monday on."""
    today = timezone.localtime().replace(hour=0, minute=0, second=0, microsecond=0, tzinfo=None)
    monday = today + timedelta(days=7 - today.weekday())
    return [
        {"start": f"{day:%Y-%m-%d}T{start}", "end": f"{day:%Y-%m-%d}T{end}"}
        for day in (monday + timedelta(days=after) for after in range(DAYS))
        for start, end in TIMES
    ]
