"""A small school: class A with Tove and two students, class B with Rolf and one."""

import json
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, ClassVar

import pytest
from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from django.test.client import ClientHandler

from edrix.accounts import services as accounts
from edrix.accounts.models import User
from edrix.classes import roll
from edrix.classes import services as classes
from edrix.engines import services as engines
from edrix.jobs import services as jobs
from edrix.practice import live
from edrix.practice import services as practice
from edrix.practice.models import PracticeEngine
from edrix.safety import services as safety
from edrix.sheets import services as sheets
from edrix.sheets.models import Sheet
from edrix.shop import services as shop
from edrix.stands import services as stands
from edrix.stands.models import Stand
from tests.core.conftest import engine_document
from tests.server.kept_rows import KeptRows

DIESEL_LINES = ["stop-lever", "priming", "relieved", "control", "secured", "cold", "hands"]
CLOSING_LINES = [
    "lock-nuts", "tools", "turning-tool", "cover", "relief-back", "secured-back", "control-back",
    "priming-back", "fuel-run", "battery-on",
]  # fmt: skip
PASSCODE = "quiet-otter-41"
KEY_MM = {
    1: "0.3471",
    2: "0.2533",
    3: "0.1912",
    4: "0.3611",
    5: "0.4207",
    6: "0.2614",
    7: "0.2517",
    8: "0.3529",
}
"""Four odd decimals, so that a leak of any of them can be searched for as text."""
SCREW = {"kind": "screw", "pitch_mm": 1.0, "screw_at": "pushrod", "rocker_ratio": 1.45}
STOPS = dict.fromkeys((1, 2, 3, 5), 0.0) | dict.fromkeys((4, 6, 7, 8), 360.0)


HANDLER = ClientHandler(enforce_csrf_checks=True)


class Browser(Client):
    """A signed-in client that speaks JSON; csrf checks are on, as for a real browser."""

    def __init__(self) -> None:
        super().__init__(enforce_csrf_checks=True)
        # Every client would build the chain of middleware anew, and look through all static files.
        self.handler = HANDLER

    def send(self, method: str, path: str, body: Any = None, **headers: str) -> Any:
        if "csrftoken" not in self.cookies:
            self.get("/api/session")
        headers.setdefault("X-CSRFToken", self.cookies["csrftoken"].value)
        data = b"" if body is None else json.dumps(body).encode()
        return self.generic(method, path, data, content_type="application/json", headers=headers)

    def send_file(self, path: str, data: bytes, name: str = "readings.csv", **fields: str) -> Any:
        """A file as a page's form sends it."""
        if "csrftoken" not in self.cookies:
            self.get("/api/session")
        token = {"X-CSRFToken": self.cookies["csrftoken"].value}
        return self.post(path, {"file": SimpleUploadedFile(name, data), **fields}, headers=token)

    def sign_in(self, name: str, passcode: str = PASSCODE) -> Any:
        return self.send("POST", "/api/session", {"sign_in_name": name, "passcode": passcode})


class Worked:
    """What came of long work, in the shape of an answer: 201 where it was done, else 422."""

    def __init__(self, job: dict[str, Any]):
        self.job = job
        self.status_code = 201 if job["state"] == "done" else 422

    def json(self) -> dict[str, Any]:
        job = self.job
        return job["result"] or {"detail": job["says"], "fields": job["faults"]}


def worked(browser: Browser, asked: Any) -> Any:
    """Does what a worker does with what was asked for; a refusal stays as it is."""
    if asked.status_code != 202:
        return asked
    jobs.run(asked.json()["id"])
    return Worked(browser.get(f"/api/jobs/{asked.json()['id']}").json())


SEED = 2_718_281_829


@dataclass
class School:
    tove: User
    rolf: User
    ines: User
    bo: User
    class_a: int
    class_b: int
    stand: Stand
    sheet: Sheet
    engine_id: int
    practice: PracticeEngine
    run_id: int
    """Ines's open run on the practice engine of class A."""


@pytest.fixture(autouse=True)
def dealt_alike(monkeypatch: pytest.MonkeyPatch) -> None:
    """Practice engines and drills are dealt the same in every run of the tests: what is checked
    must not depend on luck."""
    monkeypatch.setattr("secrets.randbits", lambda _bits: SEED)


@pytest.fixture(autouse=True)
def no_look_again(monkeypatch: pytest.MonkeyPatch) -> None:
    """A cursor changes by itself three times a minute; here, only by what was done."""
    monkeypatch.setattr("edrix.classes.beats._while", lambda: 0)


@pytest.fixture(autouse=True)
def another_school() -> None:
    """What a test before read of its school is not this one's."""
    shop.forget()
    live.forget_all()


KEPT: dict[str, KeptRows[School]] = {}
"""By the name of the fixture."""


@pytest.fixture
def school(db: None) -> School:
    return kept("school", make_school)


def kept(name: str, make: Callable[[], School], over: str | None = None) -> School:
    """Made by the first test of a worker that asks for it, laid out again for the others."""
    if name in KEPT:
        KEPT[name].lay_out()
    else:
        KEPT[name] = KeptRows(make, KEPT[over] if over else None)
    return KEPT[name].made()


def make_school() -> School:
    tove = accounts.make_person("Tove", "tove", PASSCODE, may_teach=True)
    rolf = accounts.make_person("Rolf", "rolf", PASSCODE, may_teach=True)
    version, _ = engines.add_engine(tove, engine_document([1, 3, 4, 2], adjuster=SCREW))
    class_a = classes.create_class(tove, "Class A").teaching_class_id
    class_b = classes.create_class(rolf, "Class B").teaching_class_id
    students = roll.add_students(tove, class_a, "Ines Falkner\nBo Hallgrim")
    roll.add_students(rolf, class_b, "Suvi Arnholt")
    for user in User.objects.filter(may_teach=False):
        user.set_password(PASSCODE)
        user.save()
    stand = stands.create_stand(tove, class_a, "Stand 3", version.engine_id)
    gaps = [stands.TypedGap(valve, gap, "mm") for valve, gap in KEY_MM.items()]
    stands.enter_key(tove, stand.id, gaps)
    new = sheets.NewSheet(stand.id, "First measuring", "two-stop", "0.03", "mm")
    sheet = sheets.set_sheet(tove, class_a, new)
    ines, bo = (User.objects.get(id=student.id) for student in students)
    engine_id = version.engine_id
    made = practice.create(tove, class_a, new_practice(engine_id))
    run = practice.open_run(ines, made.id)
    return School(tove, rolf, ines, bo, class_a, class_b, stand, sheet, engine_id, made, run.id)


def new_practice(engine_id: int, **fields: Any) -> practice.NewPractice:
    """Valve 1 wrongly set, valve 3 with a worn pad, and all else as it should be."""
    usual = {
        "engine_id": engine_id,
        "title": "First run",
        "faults": [("wrong-setting", 1), ("worn-pad", 3)],
        "level": "alone",
        "box": "metric",
        "stack_help": False,
        "same_for_all": True,
        "minutes": None,
    }
    return practice.NewPractice(**{**usual, **fields})


def tick_the_lists(school: School, user: User) -> None:
    """Opens and closes stand 3 as somebody who takes the lists seriously."""
    opening = safety.open_for_work(
        user,
        engine_id=school.engine_id,
        version=None,
        start="diesel",
        ticked=DIESEL_LINES,
        stand_id=school.stand.id,
    )
    safety.close_after_work(user, opening.id, CLOSING_LINES)


class Browsers(dict[str, Browser]):
    """A browser for each kind of person, signed in when a test first asks for it."""

    names: ClassVar = {
        "instructor": "tove",
        "other instructor": "rolf",
        "student": "ines.falkner",
        "classmate": "bo.hallgrim",
        "other student": "suvi.arnholt",
    }

    def __missing__(self, who: str) -> Browser:
        browser = self[who] = Browser()
        if who != "nobody":
            person = User.objects.get(sign_in_name=self.names[who])
            browser.force_login(person, settings.AUTHENTICATION_BACKENDS[-1])
            browser.get("/api/session")  # for its token
        return browser

    def sign_in(self, *everyone: str) -> None:
        """For tests that count statements or tables, or change what signing in asks for."""
        for who in everyone:
            self[who]


@pytest.fixture
def browsers(school: School) -> Browsers:
    """test_sign_in.py is about the signing in."""
    return Browsers()


def right_lines() -> list[dict[str, Any]]:
    """Lines that read each valve close to the key, at the right stop, with the verdict."""
    lines = []
    for valve, gap in KEY_MM.items():
        reading = round(float(gap), 2)
        low, high = (0.32, 0.38) if valve in (1, 4, 5, 8) else (0.22, 0.28)
        verdict = "tight" if reading < low else "loose" if reading > high else "within"
        lines.append(
            {
                "valve": valve,
                "reading": f"{reading:.2f}",
                "unit": "mm",
                "crank_deg": STOPS[valve],
                "verdict": verdict,
            }
        )
    return lines


def mark_of(valve: dict[str, Any], part: str) -> dict[str, Any] | None:
    """One mark of a valve as the API gives it; None where it was not marked."""
    return next((mark for mark in valve["marks"] if mark["part"] == part), None)
