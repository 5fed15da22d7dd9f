"""A rota on the wall, one page for each day, and as files."""

import json
from collections.abc import Iterator
from itertools import groupby
from typing import Any

from reportlab.lib.pagesizes import A4
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.platypus import Flowable, PageBreak, Spacer

from edrix.accounts.models import User
from edrix.reports.files import Made
from edrix.reports.logs import PDF
from edrix.reports.pages import BOLD, DEFERS, MARGIN, SMALL, TEXT, TITLE, document, grid, text
from edrix.reports.write import CSV, to_csv
from edrix.rota import services as rotas
from edrix.rota.asked import AskedRota, Kept, kept_bookings
from edrix.rota.wish import local
from valvetrain.rota.rota_file import write_bookings

ACROSS = A4[1] - 2 * MARGIN - 12
"""Between the margins of a page that lies."""
MOST_ACROSS = 7
"""Places on one page; more go on to the next."""
TIME_MM = 24
DAY = ParagraphStyle("day", TITLE, fontSize=28, leading=34)
HEAD = ParagraphStyle("place-head", TEXT, fontName=BOLD, fontSize=15, leading=19)
CLOCK = ParagraphStyle("clock", TEXT, fontName=BOLD, fontSize=18, leading=22)
TASK = ParagraphStyle("task", TEXT, fontSize=10.5, leading=13)
NAME = ParagraphStyle("name", TEXT, fontName=BOLD, fontSize=14.5, leading=18)


def rota_file(user: User, rota_id: int, kind: str) -> Made:
    """pdf is the poster for the wall, csv a row for each place, json edrix-rota/1 with the
    bookings as they stand."""
    rota = rotas.get_rota(user, rota_id)
    asked, bookings = AskedRota(rota), kept_bookings(rota)
    name = f"rota-{rota.id}"
    if kind == "csv":
        return Made(f"{name}.csv", CSV, to_csv(_rows(asked, bookings)))
    if kind == "json":
        body = json.dumps(_document(asked, bookings), ensure_ascii=False, indent=1).encode()
        return Made(f"{name}.json", "application/json", body)
    title = f"{rota.teaching_class.name}, {rota.title}"
    story = [*_poster(asked, bookings, title)]
    return Made(f"{name}.pdf", PDF, document(title, story, landscape=True))


def _document(asked: AskedRota, bookings: list[Kept]) -> dict[str, Any]:
    document = asked.document()
    fixed = write_bookings(asked.problem(), tuple(asked.to_core(bookings)))
    return document | {"fixed": fixed}


def _rows(asked: AskedRota, bookings: list[Kept]) -> Iterator[list[Any]]:
    yield ["day", "from", "to", "place", "task", "student"]
    titles = {task.key: task.title for task in asked.wish.tasks}
    places = {place.key: place.name for place in asked.wish.places}
    slots = {slot.start: slot for slot in asked.wish.slots}
    names = {student.id: student.display_name for student in asked.students}
    for one in bookings:
        start, end = local(one.slot), local(slots[one.slot].end)
        first = [f"{start:%Y-%m-%d}", f"{start:%H:%M}", f"{end:%H:%M}"]
        for student in one.students:
            if student in names:
                yield [*first, places[one.place], titles[one.task], names[student]]


def _poster(asked: AskedRota, bookings: list[Kept], title: str) -> Iterator[Flowable]:
    by_day = groupby(bookings, key=lambda one: local(one.slot).date())
    first = True
    for day, of_day in by_day:
        here = list(of_day)
        used = [place for place in asked.wish.places if any(b.place == place.key for b in here)]
        for at in range(0, len(used), MOST_ACROSS):
            if not first:
                yield PageBreak()
            first = False
            yield text(f"{day:%A}, {day.day} {day:%B}", DAY)
            yield text(title, SMALL)
            yield Spacer(0, 8)
            yield _day(asked, here, [place.key for place in used[at : at + MOST_ACROSS]])
            yield Spacer(0, 8)
            yield text(DEFERS, SMALL)
    if first:
        yield text(title, DAY)
        yield text("Nothing is planned yet.")


def _day(asked: AskedRota, bookings: list[Kept], places: list[str]) -> Flowable:
    names = {place.key: place.name for place in asked.wish.places}
    people = {student.id: student.display_name for student in asked.students}
    titles = {task.key: task.title for task in asked.wish.tasks}
    ends = {slot.start: slot.end for slot in asked.wish.slots}
    cells = {(one.slot, one.place): one for one in bookings}
    rows: list[list[Any]] = [["", *(text(names[key], HEAD) for key in places)]]
    for slot in sorted({one.slot for one in bookings}):
        clock = [text(slot[-5:], CLOCK), text(f"to {ends[slot][-5:]}", SMALL)]
        row: list[Any] = [clock]
        for key in places:
            one = cells.get((slot, key))
            row.append(
                ""
                if one is None
                else [
                    *(text(people[who], NAME) for who in one.students if who in people),
                    text(titles[one.task], TASK),
                ]
            )
        rows.append(row)
    width = (ACROSS - TIME_MM * mm) / max(len(places), 1)
    airy = ("BOTTOMPADDING", (0, 1), (-1, -1), 14)
    return grid(rows, [TIME_MM * mm, *[width] * len(places)], airy)
