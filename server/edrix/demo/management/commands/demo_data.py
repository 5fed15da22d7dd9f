"""Fills an empty database with the demo school, and says how to sign in.

Everything is invented: Tarnholt Rescue & Pump School and its people. The passcodes are made
here and kept in the file named, so that they are the same at every start and nowhere in the
source.
"""

import json
import random
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandParser
from django.db import transaction

from edrix.accounts import services as accounts
from edrix.accounts.models import User
from edrix.classes import roll
from edrix.classes import services as classes
from edrix.demo.week import fill_week
from edrix.demo.year import fill_year
from edrix.engines import services as engines
from edrix.lessons import services as lessons
from edrix.marking import handing_in, rubrics
from edrix.practice import services as practice
from edrix.safety import services as safety
from edrix.sheets import services as sheets
from edrix.sheets.lines import TypedLine
from edrix.stands import services as stands
from edrix.weights import rubric_json

ENGINE_FILES = Path(__file__).resolve().parents[5] / "demo" / "engines"
LESSONS = ENGINE_FILES.parent / "lessons"
STUDENTS = (
    "Ines Falkner",
    "Bo Hallgrim",
    "Marit Oskarsen",
    "Tadeo Quill",
    "Suvi Arnholt",
    "Jonas Brekkel",
    "Leena Varga-Moor",
    "Pim Ostrander",
    "Ravi Tannock",
    "Dilys Wren",
)
KEY_MM = ("0.34", "0.25", "0.19", "0.36", "0.42", "0.26", "0.25", "0.35")
"""Stand 3 as its instructor left it: valve 3 tight, valve 5 loose, the rest within."""

PRACTICE: tuple[tuple[str, str, str, tuple[tuple[str, int | None], ...]], ...] = (
    (
        "Both gaps of the gorge twin",
        "17-gorge-vee-twin-closing",
        "shown",
        (("wrong-closing", 1), ("wrong-setting", 4)),
    ),
    ("Test run: the pump", "01-p4-fire-pump", "test", (("wrong-setting", 2), ("worn-pad", 5))),
    (
        "Brake rockers of the hauler",
        "12-hauler-brake-six",
        "prompted",
        (("wrong-setting", 3), ("seized-nut", 5)),
    ),
    ("Under the bridges of the hauler", "12-hauler-brake-six", "alone", (("wrong-setting", 7),)),
    ("Under the cams of the sled", "05-sled-twin-270", "prompted", (("wrong-setting", 2),)),
    (
        "Shims of the cable winch",
        "09-cable-five",
        "prompted",
        (("wrong-setting", 4), ("worn-stamp", 4), ("receding-valve", 9)),
    ),
    (
        "The pump, on your own",
        "01-p4-fire-pump",
        "alone",
        (("wrong-setting", 3), ("receding-valve", 5), ("seized-nut", 6), ("bent-push-rod", 8)),
    ),
    ("The pump, shown", "01-p4-fire-pump", "shown", (("wrong-setting", 3),)),
)
REFRESHED = (
    "Signe Moltke",
    "Arvid Pell",
    "Runa Castell",
    "Eskil Dorn",
    "Maja Linden",
    "Odd Karsten",
    "Tuva Berg",
)
FEEL_MM = (
    (0.0, 0.008), (-0.03, 0.01), (0.01, 0.012), (0.0, 0.02), (0.02, 0.008), (-0.01, 0.01),
    (0.0, 0.01),
)  # fmt: skip
"""Bias and repeatability of each of them."""
FEEL_KEY_MM = ("0.31", "0.25", "0.20", "0.36", "0.44", "0.29", "0.24", "0.34")


class Command(BaseCommand):
    help = "Fills an empty database with the demo school."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("accounts", type=Path, help="file that keeps the demo accounts")

    def handle(self, *args: Any, **options: Any) -> None:
        kept: Path = options["accounts"]
        if not accounts.anybody_there():
            with transaction.atomic():
                people = fill()
            kept.write_text(json.dumps(people))
        elif not kept.read_text():
            return
        self.stdout.write("Demo accounts (sign-in name, passcode):")
        for row in json.loads(kept.read_text())[:4]:
            self.stdout.write(f"  {row['sign_in_name']:<16} {row['passcode']}   {row['is']}")


def fill() -> list[dict[str, str]]:
    """Makes the school; gives the accounts with their passcodes."""
    people = []

    def instructor(name: str, sign_in_name: str, *, is_head: bool = False) -> User:
        passcode = accounts.new_passcode()
        made = accounts.make_person(name, sign_in_name, passcode, may_teach=True, is_head=is_head)
        said = "instructor and head of the school" if is_head else "instructor"
        people.append({"sign_in_name": sign_in_name, "passcode": passcode, "is": f"{said}, {name}"})
        return made

    tove = instructor("Tove Lindqvist", "tove", is_head=True)
    shelved = {
        path.stem: engines.add_engine(tove, json.loads(path.read_text()))[0]
        for path in sorted(ENGINE_FILES.glob("*.json"))
    }
    pump = shelved["01-p4-fire-pump"]
    spring = classes.create_class(tove, "Pump crew, spring intake").teaching_class
    students = roll.add_students(tove, spring.id, "\n".join(STUDENTS))
    people += _accounts(students)
    stand = stands.create_stand(tove, spring.id, "Stand 3", pump.engine_id)
    gaps = [stands.TypedGap(n, gap, "mm") for n, gap in enumerate(KEY_MM, start=1)]
    stands.enter_key(tove, stand.id, gaps)
    sheet = sheets.set_sheet(
        tove,
        spring.id,
        sheets.NewSheet(stand.id, "First measuring, stand 3", "two-stop", "0.03", "mm"),
    )
    _hand_in_some(
        sheet.id,
        [student.id for student in students],
        engine_id=pump.engine_id,
        stand_id=stand.id,
    )
    _practice_on(tove, spring.id, {path: version.engine_id for path, version in shelved.items()})
    people += _accounts(_study_of_feel(tove, pump.engine_id))
    _set_it_right(tove, spring.id, stand.id, students[2].id)
    fill_year(tove, {path: version.engine_id for path, version in shelved.items()}, spring.id)
    fill_week(tove, spring.id, [student.id for student in students], sheet.id)
    for file in sorted(LESSONS.glob("*.json")):
        lessons.create(tove, json.loads(file.read_text()))
    instructor("Rolf Amberg", "rolf")
    return people


def _practice_on(tove: User, class_id: int, engine_ids: dict[str, int]) -> None:
    """One practice engine for each kind of adjuster and each level of coaching."""
    for title, stem, level, faults in PRACTICE:
        new = practice.NewPractice(
            engine_id=engine_ids[stem],
            title=title,
            faults=list(faults),
            level=level,
            box="metric",
            stack_help=True,
            same_for_all=level != "test",
            minutes=20 if level == "test" else None,
            attempts=1 if level == "test" else None,
        )
        practice.create(tove, class_id, new)


def _accounts(students: list[roll.NewStudent]) -> list[dict[str, str]]:
    return [
        {
            "sign_in_name": student.sign_in_name,
            "passcode": student.passcode or "",
            "is": f"student, {student.display_name}",
        }
        for student in students
    ]


def _study_of_feel(tove: User, engine_id: int) -> list[roll.NewStudent]:
    """Six who measured one stand three times, each with a hand of their own; one slip each way."""
    winter = classes.create_class(tove, "Winter refresher, feel").teaching_class
    students = roll.add_students(tove, winter.id, "\n".join(REFRESHED))
    stand = stands.create_stand(tove, winter.id, "Stand 5", engine_id)
    gaps = [stands.TypedGap(n, gap, "mm") for n, gap in enumerate(FEEL_KEY_MM, start=1)]
    stands.enter_key(tove, stand.id, gaps)
    chance = random.Random("feel")  # noqa: S311 (the same demo at every start)
    for trial in range(1, 4):
        new = sheets.NewSheet(stand.id, f"Feel, trial {trial}", "two-stop", "0.02", "mm")
        sheet = sheets.set_sheet(tove, winter.id, new)
        for place, row in enumerate(students):
            bias, spread = FEEL_MM[place]
            lines = []
            for valve, gap in enumerate(FEEL_KEY_MM, start=1):
                reading = round(float(gap) + chance.gauss(bias, spread), 2)
                low, high = (0.32, 0.38) if valve in (1, 4, 5, 8) else (0.22, 0.28)
                verdict = "tight" if reading < low else "loose" if reading > high else "within"
                slips = (trial, place, valve) == (2, 3, 6)
                typed = f"{reading * 10:.1f}" if slips else f"{reading:.2f}"
                stop = 0.0 if valve in (1, 2, 3, 5) else 360.0
                lines.append(_line(valve, typed, stop, verdict))
            if (trial, place) == (3, 6):
                continue  # the last of them missed the third trial
            student = User.objects.get(id=row.id)
            handing_in.hand_in(
                student, sheet.id, lines, request_key=f"feel-{trial}-{place}", confirmed=True
            )
    return students


def _line(
    valve: int, reading: str, stop: float, verdict: str, further: dict[str, str] | None = None
) -> TypedLine:
    return TypedLine(
        valve=valve,
        reading=reading,
        unit="mm",
        crank_deg=stop,
        verdict=verdict,
        further=further or {},
    )


def _set_it_right(tove: User, class_id: int, stand_id: int, student_id: int) -> None:
    """A sheet that asks for all there is to write; one has handed it in, and her nut creeps."""
    new = sheets.NewSheet(
        stand_id,
        "Set it right, stand 3",
        "two-stop",
        "0.03",
        "mm",
        "0.01",
        ("second", "final", "nut", "leave-over"),
    )
    sheet = sheets.set_sheet(tove, class_id, new)
    measuring = rubrics.templates_of(sheet)[1].rubric
    rubrics.set_rubric(tove, sheet.id, rubric_json(measuring), based_on=0)
    lines = []
    for valve, gap in enumerate(KEY_MM, start=1):
        low, high = (0.32, 0.38) if valve in (1, 4, 5, 8) else (0.22, 0.28)
        reading = float(gap)
        verdict = "tight" if reading < low else "loose" if reading > high else "within"
        # The nut opens every gap by 0.03; of the two that needed it one is left loose by that.
        further = {
            "second": f"{reading + 0.01 * (valve % 2):.2f}",
            "set": f"{(low + high) / 2 + 0.02 * (valve == 5):.2f}",
            "after": f"{(low + high) / 2 + 0.02 * (valve == 5) + 0.03:.2f}",
        }
        stop = 0.0 if valve in (1, 2, 3, 5) else 360.0
        lines.append(_line(valve, f"{reading:.2f}", stop, verdict, further))
    student = User.objects.get(id=student_id)
    handing_in.hand_in(student, sheet.id, lines, request_key="demo-set-right", confirmed=True)


def _hand_in_some(sheet_id: int, student_ids: list[int], *, engine_id: int, stand_id: int) -> None:
    """A few sheets as a class hands them in: right, shifted by feel, and with a wrong stop."""
    first_stop, second_stop = 0.0, 360.0
    stop_of = dict.fromkeys((1, 2, 3, 5), first_stop) | dict.fromkeys((4, 6, 7, 8), second_stop)
    for place, student_id in enumerate(student_ids[2:6]):
        lines = []
        for valve, gap in enumerate(KEY_MM, start=1):
            reading = float(gap) + (0, 0.01, -0.04, 0.02)[place]
            low, high = (0.32, 0.38) if valve in (1, 4, 5, 8) else (0.22, 0.28)
            verdict = "tight" if reading < low else "loose" if reading > high else "within"
            stop = 0.0 if place == 3 and valve == 7 else stop_of[valve]
            lines.append(_line(valve, f"{reading:.2f}", stop, verdict))
        student = User.objects.get(id=student_id)
        if place < 3:
            _tick_the_lists(student, engine_id, stand_id)
        handing_in.hand_in(
            student, sheet_id, lines, request_key=f"demo-{place:04d}", confirmed=True
        )


def _tick_the_lists(student: User, engine_id: int, stand_id: int) -> None:
    """Three of the four ticked their lists; the last one forgot."""
    lists = safety.lists_for(engine_id, None)
    start = lists["starts"][0]
    opening = safety.open_for_work(
        student,
        engine_id=engine_id,
        version=None,
        start=start["start"],
        ticked=[line["id"] for line in start["lines"]],
        stand_id=stand_id,
    )
    safety.close_after_work(student, opening.id, [line["id"] for line in start["closing"]])
