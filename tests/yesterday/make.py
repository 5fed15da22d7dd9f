"""Makes yesterday's data anew, from the code that is checked out: see README.md.

`python -m tests.yesterday.make part-5` writes `part-5.sql.gz`, `part-5.said.json.gz` and
`part-5.class.zip` into this folder. It is run once, by the last commit of a part.
"""

import gzip
import json
import os
import sys
from datetime import timedelta
from pathlib import Path
from typing import Any

from ops.cluster import Cluster
from ops.server import manage, server_environment

HERE = Path(__file__).parent


def main() -> None:
    version = sys.argv[1]
    cluster = Cluster("yesterday", durable=False)
    cluster.start()
    try:
        environment = server_environment(cluster.fresh_database("yesterday"), "only-for-tests")
        os.environ.update(environment | {"DJANGO_SETTINGS_MODULE": "tests.settings"})
        manage(environment, "migrate", "--verbosity=0")
        _fill(version)
        dump = cluster.dump("yesterday")
    finally:
        cluster.stop()
    (HERE / f"{version}.sql.gz").write_bytes(gzip.compress(dump.encode(), mtime=0))


def _fill(version: str) -> None:
    import django

    django.setup()
    from django.db import connection

    from edrix.accounts.models import User
    from edrix.archive import services as archive
    from edrix.demo.management.commands.demo_data import fill
    from edrix.sheets.models import HandIn
    from tests.yesterday.say import everything

    fill()
    play()
    mark_and_sign()
    ask()
    said = json.dumps(everything(), ensure_ascii=False, sort_keys=True).encode()
    (HERE / f"{version}.said.json.gz").write_bytes(gzip.compress(said, mtime=0))
    first = HandIn.objects.order_by("id")[0]
    _, body = archive.write_archive(
        User.objects.get(sign_in_name="tove"), first.sheet.teaching_class_id
    )
    (HERE / f"{version}.class.zip").write_bytes(body)
    # No passcode and no session of the demo leaves this machine.
    User.objects.update(password="!none", last_login=None)
    from django.contrib.sessions.models import Session

    Session.objects.all().delete()
    connection.close()


class Player:
    """A student at one practice engine, acting as the tablet would."""

    def __init__(self, name: str, title: str) -> None:
        from edrix.accounts.models import User
        from edrix.practice import live, services
        from edrix.practice.models import PracticeEngine

        self.user = User.objects.get(display_name=name)
        engine = PracticeEngine.objects.get(title=title)
        self.run = services.open_run(self.user, engine.id)
        self.setup = live.setup_of(self.run)
        self.step = self.run.step

    @property
    def state(self) -> Any:
        from edrix.practice import live

        return live.live(self.run.id).state

    def do(self, do: str, **fields: Any) -> None:
        from edrix.practice import acting

        answer = acting.act(
            self.user,
            self.run.id,
            key=f"{self.run.id}-{self.step:04d}-key",
            step=self.step,
            document={"do": do, **fields},
            sure=True,
        )
        self.step = answer.step

    def to_firing(self, valve: int) -> None:
        engine = self.setup.engine
        ahead_deg = (engine.fire_deg[engine.valve[valve].cylinder] - self.state.crank_deg) % 720
        if ahead_deg:
            self.do("turn", by_deg=ahead_deg)

    def leaf_um(self, valve: int) -> int:
        """The leaf nearest to the middle of the spec."""
        engine = self.setup.engine
        middle_um = engine.clearance[engine.valve[valve].role].middle_mm * 1000
        return min(self.setup.leaves_um, key=lambda leaf: abs(leaf - middle_um))

    def measure(self, *, look: bool = True) -> None:
        from valvetrain.looks import gear_of

        if look:
            self.do("look", at="marks")
            self.do("look", at="engine")
            self.do("rock")
        for valve in self.setup.engine.valves:
            self.to_firing(valve.number)
            if valve.role == "brake":
                self.do("push", valve=valve.number)
            if gear_of(self.setup.engine, valve.role).wiggles:
                self.do("wiggle", valve=valve.number)
            leaf = self.leaf_um(valve.number)
            self.do("try", valve=valve.number, leaves_um=[leaf])
            self.do("write", valve=valve.number, column="first", text=f"{leaf / 1000:.2f}")

    def adjust(self, valve: int, *, twice: bool = False) -> None:
        self.to_firing(valve)
        if self.setup.engine.valve[valve].role == "brake":
            self.do("push", valve=valve)
        self.do("loosen", valve=valve, oil=True)
        self.do("set", valve=valve, leaves_um=[self.leaf_um(valve)])
        for torque_nm in (30, 60) if twice else (30,):
            self.do("tighten", valve=valve, torque_nm=torque_nm)
        self.do("try", valve=valve, leaves_um=[self.leaf_um(valve)])
        self.do("write", valve=valve, column="after", text="0.30")

    def finish(self, *, tool_off: bool = True) -> None:
        self.do("count-tools")
        if tool_off:
            self.do("tool-off")
        self.do("cover", on=True)
        self.do("start")


def play() -> None:
    """Runs of every kind: careful, careless, under bridges, with brakes, by shims, out of time."""
    careful = Player("Ines Falkner", "The pump, on your own")
    careful.measure()
    for valve in (3, 5, 6):
        careful.adjust(valve)
    careful.finish()
    careless = Player("Ines Falkner", "The pump, on your own")
    careless.measure()
    careless.do("turn", by_deg=90)
    careless.do("try", valve=1, leaves_um=[250], how="skewed")
    careless.do("try", valve=1, leaves_um=[250], how="tip", pressing=True)
    careless.adjust(1, twice=True)
    careless.finish(tool_off=False)
    for name, title, valves, ends in (
        ("Bo Hallgrim", "The pump, shown", (3,), True),
        ("Marit Oskarsen", "Brake rockers of the hauler", (3, 6), False),
        ("Tadeo Quill", "Under the bridges of the hauler", (7,), True),
    ):
        one = Player(name, title)
        one.measure()
        for valve in valves:
            one.adjust(valve)
        if ends:
            one.finish()
    play_shims()
    play_pulled_shut()
    play_out_of_time()


def play_shims() -> None:
    one = Player("Suvi Arnholt", "Shims of the cable winch")
    one.measure(look=False)
    one.to_firing(4)
    cams_out = any(getattr(a, "cams_out", False) for a in one.setup.engine.adjusters.values())
    if cams_out:
        one.do("lock-crank", locked=True)
        one.do("cams", out=True)
    one.do("take-shim", valve=4)
    one.do("read-shim", valve=4, by="stamp")
    one.do("read-shim", valve=4, by="micrometer")
    box_um = one.state.box_um
    one.do("fit-shim", valve=4, size_um=box_um[len(box_um) // 2], face_down=False)
    if cams_out:
        one.do("cams", out=False)
        one.do("lock-crank", locked=False)
    one.to_firing(4)
    one.do("try", valve=4, leaves_um=[one.leaf_um(4)])
    one.finish()


def play_pulled_shut() -> None:
    """Both gaps of a valve that is pulled shut, its closing shim changed first."""
    one = Player("Suvi Arnholt", "Both gaps of the gorge twin")
    one.measure(look=False)
    one.to_firing(1)
    one.do("wiggle", valve=1, gap="closing")
    one.do("try", valve=1, leaves_um=[30], gap="closing")
    one.do("write", valve=1, column="closing", text="0.08")
    for gap, box_um in (("closing", one.state.closing_box_um), ("opening", one.state.box_um)):
        one.do("take-shim", valve=1, gap=gap)
        one.do("read-shim", valve=1, by="micrometer", gap=gap)
        one.do("fit-shim", valve=1, size_um=box_um[len(box_um) // 2], gap=gap)
    one.do("write", valve=1, column="closing-after", text="0.03")
    one.finish()


def play_out_of_time() -> None:
    from django.utils import timezone

    from edrix.practice.models import PracticeRun
    from edrix.practice.services import end_by_time

    one = Player("Jonas Brekkel", "Test run: the pump")
    one.do("turn", by_deg=30)
    one.do("try", valve=1, leaves_um=[300])
    long_ago = timezone.now() - timedelta(hours=3)
    PracticeRun.objects.filter(id=one.run.id).update(began_at=long_ago)
    # As when its student looks at it again: its time is up, and it is told.
    end_by_time(PracticeRun.objects.select_related("practice").get(id=one.run.id))


def mark_and_sign() -> None:
    """An answer, an override, a draft and a sign-off."""
    from edrix.accounts.models import User
    from edrix.marking import services as marking
    from edrix.progress import services as progress
    from edrix.sheets import drafts
    from edrix.sheets.lines import TypedLine
    from edrix.sheets.models import HandIn

    tove = User.objects.get(sign_in_name="tove")
    found = list(HandIn.objects.filter(sheet__title="First measuring, stand 3").order_by("id"))
    sheet = found[0].sheet
    said = "The leaf was new, I felt it twice."
    marking.answer(found[2].student, sheet.id, valve=5, part="reading", text=said)
    why = "Shown at the stand: it drags."
    marking.decide(tove, found[2].id, valve=5, part="reading", right=True, reason=why)
    dilys = User.objects.get(display_name="Dilys Wren")
    lines = [
        TypedLine(valve=1, reading="0.3", crank_deg=0.0),
        TypedLine(valve=2, reading="0,25", verdict="within"),
    ]
    drafts.save(
        dilys, sheet.id, [drafts.Change(line, TypedLine(valve=line.valve)) for line in lines]
    )
    student = found[0].student_id
    seen = {"skill": "measure", "signed": True, "note": "Seen twice at the stand."}
    progress.sign_off(tove, sheet.teaching_class_id, student, **seen)


def ask() -> None:
    """Two questions, answered rightly and wrongly, more and less sure, and shown."""
    from edrix.accounts.models import User
    from edrix.asking import services as asking
    from edrix.classes import services as classes
    from edrix.engines import services as engines

    tove = User.objects.get(sign_in_name="tove")
    engine_id = engines.ids_by_name()["Tarnholt P4 fire pump"]
    for kind in ("which-valves", "find-the-mistake"):
        new = asking.NewQuestion(engine_id, None, kind, 0.0, f"yesterday-{kind}")
        made = asking.ask(tove, 1, new)
        options = [option["id"] for option in made.question["options"]]
        for place, student in enumerate(classes.students_of(1)):
            asking.answer(student, made.id, [options[place % len(options)]], place % 4)
        for step in asking.FIELD:
            asking.step(tove, made.id, step)


if __name__ == "__main__":
    main()
