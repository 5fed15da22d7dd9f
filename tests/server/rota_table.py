"""Least privilege at rotas and long work, as rows of the table in `who_may_what.py`."""

from typing import Any

from edrix.archive import packing
from edrix.jobs import services as jobs
from edrix.rota import by_hand, planning
from edrix.rota import services as rotas
from edrix.rota.by_hand import BookingChange
from edrix.rota.wish import RotaWish
from tests.server.conftest import School


def rota_of(school: School) -> rotas.Rota:
    """A rota of class A with one booking."""
    from tests.server.test_rota import slots, wish

    rota = rotas.create(school.tove, school.class_a, "Week 49")
    rotas.save_wish(school.tove, rota.id, 1, RotaWish.model_validate(wish(school)))
    change = BookingChange(slots()[0]["start"], "a", "t1", [school.ines.id])
    by_hand.change_booking(school.tove, rota.id, 2, None, change)
    return rotas.get_rota(school.tove, rota.id)


def offered(school: School) -> rotas.Rota:
    """With a plan that waits for a word."""
    rota = rota_of(school)
    jobs.run(planning.begin(school.tove, rota.id, few_changes=True).id)
    return rota


def at(path: str = "", of: Any = rota_of) -> Any:
    return lambda school: f"/api/rotas/{of(school).id}{path}"


WISH = {"revision": 3, "wish": {"stands_each": 2}, "confirmed": True}
NOWHERE = {"slot": "x", "place": "a", "task": "t1"}


def nothing(_school: School) -> None:
    return None


def packed(school: School) -> int:
    job = packing.ask_out(school.tove, school.class_a)
    jobs.run(job.id)
    return job.id


OF_THE_CLASS = (404, 403, 403, 404)
"""The other instructor, two students of the class, and one of another."""

TABLE: list[Any] = [
    (
        "see a class's rotas",
        ("GET", lambda s: f"/api/classes/{s.class_a}/rotas", nothing),
        (401, 200, *OF_THE_CLASS),
    ),
    (
        "make a rota",
        ("POST", lambda s: f"/api/classes/{s.class_a}/rotas", lambda _: {"title": "Week 50"}),
        (401, 201, *OF_THE_CLASS),
    ),
    ("read a rota", ("GET", at(), nothing), (401, 200, *OF_THE_CLASS)),
    ("post a rota", ("PATCH", at(), lambda _: {"posted": True}), (401, 204, *OF_THE_CLASS)),
    ("delete a rota", ("DELETE", at(), nothing), (401, 204, *OF_THE_CLASS)),
    (
        "say what a rota holds",
        ("PUT", at("/wish"), lambda _: WISH),
        (401, 204, *OF_THE_CLASS),
    ),
    ("plan a rota", ("POST", at("/plan"), lambda _: {}), (401, 202, *OF_THE_CLASS)),
    ("look how planning goes", ("GET", at("/planning"), nothing), (401, 200, *OF_THE_CLASS)),
    ("stop planning", ("POST", at("/planning/stop"), nothing), (401, 204, *OF_THE_CLASS)),
    (
        "see what a move breaks",
        ("POST", at("/bookings/try"), lambda _: NOWHERE),
        (401, 422, *OF_THE_CLASS),
    ),
    (
        "book by hand",
        ("POST", at("/bookings"), lambda _: NOWHERE | {"revision": 3}),
        (401, 422, *OF_THE_CLASS),
    ),
    ("keep a plan that is not there", ("POST", at("/keep"), lambda _: {"job_id": 0}),
     (401, 409, *OF_THE_CLASS)),
    ("go back to the plan before", ("POST", at("/undo"), lambda _: {"revision": 3}),
     (401, 409, *OF_THE_CLASS)),
    ("look at an offered plan", ("GET", at("/planning", offered), nothing),
     (401, 200, *OF_THE_CLASS)),
    ("print a rota", ("GET", at("/rota.pdf"), nothing), (401, 200, *OF_THE_CLASS)),
    ("take a rota home", ("GET", at("/rota.csv"), nothing), (401, 200, *OF_THE_CLASS)),
    ("take a rota as edrix-rota/1", ("GET", at("/rota.json"), nothing), (401, 200, *OF_THE_CLASS)),
    ("see one's own rota", ("GET", lambda _: "/api/my/rota", nothing),
     (401, 200, 200, 200, 200, 200)),
    ("take one's own calendar", ("GET", lambda _: "/api/my/rota.ics", nothing),
     (401, 200, 200, 200, 200, 200)),
    ("make a calendar's address", ("POST", lambda _: "/api/my/rota/feed", nothing),
     (401, 201, 201, 201, 201, 201)),
    ("end a calendar's address", ("DELETE", lambda _: "/api/my/rota/feed", nothing),
     (401, 204, 204, 204, 204, 204)),
    ("guess a calendar's address", ("GET", lambda _: "/api/calendar/guessed.ics", nothing),
     (404, 404, 404, 404, 404, 404)),
    ("take a class away", ("POST", lambda s: f"/api/classes/{s.class_a}/archive", nothing),
     (401, 202, *OF_THE_CLASS)),
    # Long work is whoever's who asked for it.
    ("see a job", ("GET", lambda s: f"/api/jobs/{packed(s)}", nothing),
     (401, 200, 404, 404, 404, 404)),
    ("stop a job", ("POST", lambda s: f"/api/jobs/{packed(s)}/stop", nothing),
     (401, 204, 404, 404, 404, 404)),
    ("fetch what a job made", ("GET", lambda s: f"/api/jobs/{packed(s)}/file", nothing),
     (401, 200, 404, 404, 404, 404)),
]  # fmt: skip
