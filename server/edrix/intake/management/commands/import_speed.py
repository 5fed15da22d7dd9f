"""How fast readings come in from a CSV, beside PostgreSQL's bare COPY of the same rows.

Run by `./edrix bench` on a database that is thrown away: it makes a class of four thousand.
Prints the number of readings and both times in seconds.
"""

import csv
import io
import random
import time
from typing import Any

from django.core.management.base import BaseCommand
from django.db import connection

from edrix.accounts.models import User
from edrix.classes import services as classes
from edrix.engines import services as engines
from edrix.intake import services as intake
from edrix.sheets import services as sheets
from edrix.sheets.services import HandIn, Reading, Sheet
from edrix.stands import services as stands

STUDENTS, VALVES = 4167, 24
COLUMNS = ("valve", "typed", "unit", "reading_mm", "crank_deg", "verdict")


class Command(BaseCommand):
    help = "Times the import of a hundred thousand readings."

    def handle(self, *args: Any, **options: Any) -> None:
        tove = User.objects.get(sign_in_name="tove")
        sheet = _sheet(tove)
        students = _students(sheet)
        data = _csv(students)
        digest = intake.preview(tove, sheet.id, data).digest
        began = time.perf_counter()
        for _ in intake.take_in(tove, sheet.id, data, digest, confirmed=True).progress():
            pass
        ours = time.perf_counter() - began
        self.stdout.write(f"{STUDENTS * VALVES}\n{ours:.3f}\n{_bare_copy(sheet, students):.3f}")


def _bare_copy(sheet: Sheet, students: list[User]) -> float:
    """The same rows once more, for the hand-ins of a second sheet, by COPY alone."""
    kept = Reading.objects.filter(hand_in__sheet=sheet).order_by("id")
    rows = list(kept.values_list("hand_in__student_id", *COLUMNS))
    other = Sheet.objects.get(id=sheet.id)
    other.pk = None
    other.save()
    made = HandIn.objects.bulk_create(
        HandIn(sheet=other, student=student, request_key="bare", key=other.key)
        for student in students
    )
    of_student = {hand_in.student_id: hand_in.id for hand_in in made}
    text = "".join(
        "\t".join([str(of_student[student_id]), *map(str, row), "{}"]) + "\n"
        for student_id, *row in rows
    )
    began = time.perf_counter()
    with (
        connection.cursor() as cursor,
        cursor.copy(
            f"COPY sheets_reading (hand_in_id, {', '.join(COLUMNS)}, further) FROM STDIN"
        ) as copy,
    ):
        copy.write(text)
    return time.perf_counter() - began


def _sheet(tove: User) -> Sheet:
    version = next(
        version for version in engines.shelf() if len(engines.core_engine(version).valves) == VALVES
    )
    class_id = classes.create_class(tove, "A term of a big school").teaching_class_id
    stand = stands.create_stand(tove, class_id, "Stand 1", version.engine_id)
    gaps = [stands.TypedGap(n, "0.30", "mm") for n in engines.core_engine(version).valve]
    stands.enter_key(tove, stand.id, gaps)
    new = sheets.NewSheet(stand.id, "A term of readings", "pair-marks", "0.03", "mm")
    return sheets.set_sheet(tove, class_id, new)


def _students(sheet: Sheet) -> list[User]:
    """Without passcodes: making four thousand of them would take minutes."""
    people = User.objects.bulk_create(
        User(sign_in_name=f"pupil.{number}", display_name=f"Pupil {number}")
        for number in range(STUDENTS)
    )
    members = sheet.teaching_class.memberships
    members.bulk_create(
        members.model(teaching_class=sheet.teaching_class, user=person, role="student")
        for person in people
    )
    return people


def _csv(students: list[User]) -> bytes:
    chance = random.Random(1)  # noqa: S311 (the same file at every run)
    out = io.StringIO()
    table = csv.writer(out)
    table.writerow(["sign_in_name", "valve", "reading", "unit", "crank_deg", "verdict"])
    for student in students:
        for valve in range(1, VALVES + 1):
            reading = f"{chance.gauss(0.3, 0.03):.2f}"
            table.writerow([student.sign_in_name, valve, reading, "mm", 0, "within"])
    return out.getvalue().encode()
