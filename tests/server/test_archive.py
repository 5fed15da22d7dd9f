"""A class out as one file and back in: nothing is lost, nobody is harmed."""

import io
import json
import zipfile

import pytest
from django.apps import apps
from django.utils import timezone

from edrix.accounts.models import User
from edrix.archive.services import write_archive
from edrix.archive.tables import ENGINE, PARTS, PERSON, VERSION, fields_of, refers_to
from edrix.asking import services as asking
from edrix.classes.models import TeachingClass
from edrix.engines.models import EngineVersion
from edrix.jobs import services as jobs
from edrix.marking import handing_in, remark
from edrix.practice import acting, live
from edrix.practice import debriefs as debriefs_of
from edrix.practice import services as practice
from edrix.practice.models import PracticeRun
from edrix.practice.moving import former_seed
from edrix.rota.models import RotaBooking
from edrix.sheets import drafts
from edrix.sheets.lines import TypedLine
from edrix.sheets.models import Draft, HandIn, Sheet
from edrix.stands import services as stands
from edrix.stands.models import Stand
from tests.server.asking_table import asked
from tests.server.conftest import (
    KEY_MM,
    kept,
    mark_of,
    new_practice,
    right_lines,
    tick_the_lists,
    worked,
)
from tests.server.test_drafts import drafts_of
from tests.server.test_drills import right_answer
from tests.server.test_rota import Desk, slots, wish


def a_rota_with_a_booking(school, tove):
    wished = wish(school, away={f"student-{school.ines.id}": [slots()[1]["start"]]})
    wished["apart"] = [[school.ines.id, school.bo.id]]
    rota = Desk(school, tove)
    assert rota.save(wished).status_code == 204
    body = {"slot": slots()[0]["start"], "place": "a", "task": "t1", "students": [school.ines.id]}
    assert rota.change(**body).status_code == 204


@pytest.fixture
def full(school, browsers):
    """Class A with something in every table."""
    return kept("full", lambda: filled(school, browsers), over="school")


def filled(school, browsers):
    tick_the_lists(school, school.ines)
    lines = [
        TypedLine(**line, further={"second": "0.34"} if line["valve"] == 1 else {})
        for line in right_lines()
    ]
    made = handing_in.hand_in(
        school.ines, school.sheet.id, lines, request_key="k-12345678", confirmed=True
    )
    drafts.save(school.bo, school.sheet.id, drafts_of(lines[:2]))
    tove, ines = browsers["instructor"], browsers["student"]
    decision = {"valve": 3, "part": "reading", "right": False, "reason": "Seen at the stand."}
    tove.send("POST", f"/api/hand-ins/{made.id}/decisions", decision)
    answer = {"valve": 3, "part": "reading", "text": "It was warm."}
    ines.send("POST", f"/api/sheets/{school.sheet.id}/answers", answer)
    rubric = {"rubric": {"items": [{"part": "reading", "weight": 2}]}, "based_on": 0}
    tove.send("POST", f"/api/sheets/{school.sheet.id}/rubric", rubric)
    felt = ines.send("POST", f"/api/classes/{school.class_a}/blind-feel", {}).json()["id"]
    ines.send("POST", f"/api/blind-feel/{felt}/guess", {"named": "drag", "gap": "0.25"})
    weighed = {"rubric": {"items": [{"part": "place", "weight": 2}]}, "based_on": 0}
    tove.send("POST", f"/api/practice/{school.practice.id}/rubric", weighed)
    act = {"key": "archive-0001", "step": 0, "action": {"do": "rock"}}
    assert ines.send("POST", f"/api/runs/{school.run_id}/actions", act).status_code == 200
    a_rota_with_a_booking(school, tove)
    signed = f"/api/classes/{school.class_a}/students/{school.ines.id}/sign-offs"
    tove.send("POST", signed, {"skill": "place"})
    drill = ines.send("POST", "/api/drills", {"engine_id": school.engine_id}).json()["id"]
    given = {"given": list(right_answer(drill, 1))}
    assert ines.send("POST", f"/api/drills/{drill}/answers/1", given).status_code == 200
    asking.answer(school.ines, asked(school).id, ["7", "8"], 3)
    gaps = [stands.TypedGap(valve, gap, "mm") for valve, gap in KEY_MM.items()]
    key = stands.enter_key(school.tove, school.stand.id, gaps)
    remark.remark(school.tove, school.sheet.id, key.number)
    return school


def packed(school):
    return write_archive(school.tove, school.class_a)[1]


def read(browsers, data, who="instructor"):
    asked = browsers[who].send_file("/api/archives/import", data, "class.zip")
    return worked(browsers[who], asked)


def taken_away(browser, class_id):
    """The archive that a worker packs for this person; the refusal where there is none."""
    answer = browser.send("POST", f"/api/classes/{class_id}/archive")
    if answer.status_code != 202:
        return answer
    jobs.run(answer.json()["id"])
    return browser.get(f"/api/jobs/{answer.json()['id']}/file")


def rows_of(class_id):
    """Every row of a class without its ids, which differ from place to place."""
    found = {}
    for part in PARTS:
        names = [f.attname for f in fields_of(part.model) if not refers_to(f) and not f.primary_key]
        rows = part.model.objects.filter(**{part.of_class: class_id}).order_by("id").distinct()
        found[part.label] = list(rows.values(*names))
    for entry in found["logbook.LogEntry"]:
        # What filled an entry in has another number there.
        entry["source"] = entry["source"].partition(" ")[0]
    for rota in found["rota.Rota"]:
        rota["wish"] = with_names(rota["wish"])
    found["rota.RotaSeat"] = [{"seats": len(found["rota.RotaSeat"])}]
    return found


def with_names(wish):
    """People and stands by their names."""
    names = {str(one.id): one.display_name for one in User.objects.all()}
    away = {names[who.rpartition("-")[2]]: slots for who, slots in wish["away"].items()}
    apart = [[names[str(one)] for one in pair] for pair in wish["apart"]]
    tasks = [task | {"of": task["of"] is not None} for task in wish["tasks"]]
    places = [
        place | {"stand": place["stand"] and Stand.objects.get(id=place["stand"]).name[:7]}
        for place in wish["places"]
    ]
    return wish | {"away": away, "apart": apart, "tasks": tasks, "places": places}


def test_every_table_is_in_it_or_belongs_to_nobody():
    """A model or table that somebody adds must be thought of here."""
    ours = {
        model._meta.label for model in apps.get_models() if model.__module__.startswith("edrix.")
    }
    # What a person is still typing is nobody else's, nor a class's.
    not_saved_yet = {"longforms.LongForm"}
    # What the school states for all its classes stays with the school.
    of_the_school = {"shop.Shop", "safety.OwnLine"}
    of_the_school |= {"store.ShimSize", "store.ShimMove", "store.Held"}
    # Beats begin anew, hands come down, and what is to come back to a person stays with them.
    of_the_school |= {"lessons.Lesson", "lessons.HeldNow"}
    of_the_school |= {"classes.ClassBeat", "today.Hand", "drills.Missed"}
    # Work under way, and the secret of a person's calendar.
    of_the_school |= {"jobs.Job", "rota.CalendarFeed"}
    known = {part.label for part in PARTS} | {ENGINE, VERSION, PERSON}
    assert ours == known | not_saved_yet | of_the_school


def as_asked_there(rows):
    """What was still being asked when the class was packed is over where it is read back."""
    (question,) = rows["asking.ClassQuestion"]
    assert question["ended_at"] is not None
    question["ended_at"] = None


def test_nothing_is_lost(full, browsers):
    before = rows_of(full.class_a)
    assert all(before.values()), "the class has something in every table"
    answer = read(browsers, packed(full))
    assert answer.status_code == 201
    after = rows_of(answer.json()["class_id"])
    # Beside the one that it was written from, the copy says what it is.
    (copied,) = after["classes.TeachingClass"]
    assert copied["name"].startswith("Class A, copy of ")
    copied["name"] = "Class A"
    (stand,) = after["stands.Stand"]
    assert stand["name"] == "Stand 3 (2)"
    stand["name"] = "Stand 3"
    as_asked_there(after)
    # Who read it back is its instructor, as before; all else is the same, times included.
    assert after == before
    assert rows_of(full.class_a) == before


def test_it_works_where_it_is_read_back(full, browsers):
    class_id = read(browsers, packed(full)).json()["class_id"]
    sheet = Sheet.objects.get(teaching_class_id=class_id)
    tove = browsers["instructor"]
    board = tove.get(f"/api/sheets/{sheet.id}/board").json()
    assert {row["display_name"]: row["points"] for row in board["rows"]} == {
        "Ines Falkner": 23,
        "Bo Hallgrim": None,
    }
    made = HandIn.objects.get(sheet=sheet)
    told = mark_of(tove.get(f"/api/hand-ins/{made.id}").json()["result"]["valves"][2], "reading")
    assert (told["answer"]["text"], told["decided"]["by"]) == ("It was warm.", "Tove")
    live.forget_all()
    (practice,) = tove.get(f"/api/classes/{class_id}/practice").json()
    runs = tove.get(f"/api/practice/{practice['id']}/runs").json()
    assert tove.get(f"/api/runs/{runs[0]['id']}/debrief").status_code == 200


def test_engines_that_are_here_are_not_doubled(full, browsers):
    before = EngineVersion.objects.count()
    read(browsers, packed(full))
    assert EngineVersion.objects.count() == before


def test_in_another_edrix_everything_comes_along(full, browsers):
    """As if this one had never seen the class: its rows are gone, and Rolf reads it."""
    before, data = rows_of(full.class_a), packed(full)
    ids = {
        part: list(
            part.model.objects.filter(**{part.of_class: full.class_a}).values_list("id", flat=True)
        )
        for part in PARTS
    }
    for part in reversed(PARTS):
        part.model.objects.filter(id__in=ids[part]).delete()
    EngineVersion.objects.all().delete()
    class_id = read(browsers, data, "other instructor").json()["class_id"]
    after = rows_of(class_id)
    members = after.pop("classes.Membership")
    before.pop("classes.Membership")
    as_asked_there(after)
    assert after == before
    # Tove is a name here that nobody signs in with; Rolf teaches.
    assert sorted(row["role"] for row in members) == [
        "instructor",
        "instructor",
        "student",
        "student",
    ]
    taught = User.objects.filter(memberships__teaching_class_id=class_id).order_by("id")
    assert {user.sign_in_name: user.is_active for user in taught} == {
        "rolf": True,
        "tove2": False,
        "ines.falkner2": True,
        "bo.hallgrim2": True,
    }


def debriefs(browsers, class_id):
    """What is told of every run of a class, without its numbers, which differ."""
    live.forget_all()
    tove, told = browsers["instructor"], []
    for one in tove.get(f"/api/classes/{class_id}/practice").json():
        for run in tove.get(f"/api/practice/{one['id']}/runs").json():
            found = tove.get(f"/api/runs/{run['id']}/debrief")
            assert found.status_code == 200
            told.append({k: v for k, v in found.json().items() if k != "run"})
    return told


@pytest.fixture
def each_their_own(full, browsers):
    """And a run on an engine that is dealt to every student anew, in a second attempt."""
    made = practice.create(
        full.tove, full.class_a, new_practice(full.engine_id, title="Own", same_for_all=False)
    )
    for attempt in range(2):
        run = practice.open_run(full.ines, made.id)
        for step, action in enumerate(
            ({"do": "turn", "by_deg": 30.0}, {"do": "try", "valve": 1, "leaves_um": [250]})
        ):
            acting.act(
                full.ines,
                run.id,
                key=f"own-{attempt}-{step:04d}",
                step=step,
                document=action,
                sure=True,
            )
        if attempt == 0:
            PracticeRun.objects.filter(id=run.id).update(ended_at=timezone.now())
    return full


def test_a_run_is_on_the_engine_it_was_on(each_their_own, browsers):
    before = debriefs(browsers, each_their_own.class_a)
    class_id = read(browsers, packed(each_their_own)).json()["class_id"]
    assert len(before) == 3
    assert debriefs(browsers, class_id) == before


def test_an_archive_from_before_runs_had_seeds(each_their_own, browsers):
    def without(tables, _manifest):
        for row in tables["practice.PracticeRun"]:
            del row["seed"]

    # Such runs were dealt by the former rule, from the student's number.
    for run in PracticeRun.objects.select_related("practice"):
        own = None if run.practice.same_for_all else run.student_id
        run.seed = former_seed(run.practice.seed, run.attempt, own)
        run.debrief = run.ended_at and debriefs_of.told_now(run)
        run.save()
    before = debriefs(browsers, each_their_own.class_a)
    answer = read(browsers, spoiled(packed(each_their_own), without))
    assert debriefs(browsers, answer.json()["class_id"]) == before


def test_nobody_gets_a_right_or_a_passcode_by_it(full, browsers):
    before = User.objects.count()
    class_id = read(browsers, packed(full)).json()["class_id"]
    new = User.objects.order_by("id")[before:]
    assert [person.display_name for person in new] == ["Ines Falkner", "Bo Hallgrim"]
    assert not any(person.may_teach or person.has_usable_password() for person in new)
    reset = f"/api/classes/{class_id}/students/{new[0].id}/passcode"
    assert browsers["instructor"].send("POST", reset).status_code == 200


def spoiled(data, change, *, sums=True):
    """The archive with another content of some tables, its sums right or as they were."""
    import hashlib

    with zipfile.ZipFile(io.BytesIO(data)) as packed_:
        files = {name: packed_.read(name) for name in packed_.namelist()}
    tables = {n[:-5]: json.loads(body) for n, body in files.items() if n != "manifest.json"}
    manifest = json.loads(files["manifest.json"])
    change(tables, manifest)
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as packed_:
        for label, rows in tables.items():
            body = json.dumps(rows).encode()
            packed_.writestr(f"{label}.json", body)
            if sums:
                manifest["tables"][label]["sha256"] = hashlib.sha256(body).hexdigest()
        packed_.writestr("manifest.json", json.dumps(manifest))
    return out.getvalue()


SPOILED = {
    "a row without a field": lambda t, _m: t["sheets.Reading"][0].pop("typed"),
    "a row of nobody": lambda t, _m: t["sheets.HandIn"][0].update(student_id=999_999),
    "a row twice": lambda t, _m: t["sheets.Reading"].append(t["sheets.Reading"][0]),
    "a verdict that is none": lambda t, _m: t["sheets.Reading"][0].update(verdict="fine"),
    "a figure that is none": lambda t, _m: t["stands.KeyGap"][0].update(gap_mm="wide"),
    "rows that are none": lambda t, _m: t.update({"sheets.Reading": [1, 2]}),
    "two classes": lambda t, _m: t["classes.TeachingClass"].append(
        t["classes.TeachingClass"][0] | {"id": 77}
    ),
    "an engine that is none": lambda t, _m: t[VERSION][0].update(document={"cylinders": 4}),
    "an action that is none": lambda t, _m: t["practice.PracticeEvent"][0].update(
        action={"do": "dance"}
    ),
    "an action that nobody could have done": lambda t, _m: t["practice.PracticeEvent"][0].update(
        action={"do": "screw", "valve": 1, "by_deg": 90.0}
    ),
    "a run whose first step is its third": lambda t, _m: t["practice.PracticeEvent"][0].update(
        step=3
    ),
    "a fault that is none": lambda t, _m: t["practice.PracticeEngine"][0].update(
        faults=[["gremlins", 1]]
    ),
    "a fault that this engine cannot have": lambda t, _m: t["practice.PracticeEngine"][0].update(
        faults=[["worn-brake", 1]]
    ),
    "a fault on a valve that is not there": lambda t, _m: t["practice.PracticeEngine"][0].update(
        faults=[["wrong-setting", 99]]
    ),
    "a class without a name": lambda t, _m: t["classes.TeachingClass"][0].update(name="  "),
    "a practice engine without a title": lambda t, _m: t["practice.PracticeEngine"][0].update(
        title=""
    ),
    "a sign-in name of two lines": lambda t, _m: t[PERSON][1].update(
        sign_in_name="ines\r\nSet-Cookie: a=b"
    ),
    "a gap that was guessed and has no name": lambda t, _m: t["practice.BlindTry"][0].update(
        named=""
    ),
    "weights of a part that no run has": lambda t, _m: t["practice.RunRubric"][0]["document"][
        "items"
    ][0].update(part="reading"),
    "a rubric's limit that is no figure": lambda t, _m: t["marking.Rubric"][0]["document"]["items"][
        0
    ].update(least_percent="all"),
    "a further length that is none": lambda t, _m: t["sheets.Reading"][0]["further"][
        "second"
    ].update(mm=None),
    "points that are no sum": lambda t, _m: t["marking.Marking"][0].update(points=1),
    "a question without its answer": lambda t, _m: t["drills.Drill"][0]["questions"][0].pop(
        "answer"
    ),
    "a time that no clock shows": lambda t, _m: t["sheets.HandIn"][0].update(
        handed_in_at="9999-12-31T23:59:59+00:00"
    ),
    "a name too long": lambda t, _m: t[PERSON][1].update(display_name="x" * 500),
}


@pytest.mark.parametrize("change", SPOILED.values(), ids=SPOILED)
@pytest.mark.django_db(transaction=True)
def test_a_spoiled_archive_is_refused_whole(full, browsers, change):
    before = [User.objects.count(), TeachingClass.objects.count(), Draft.objects.count()]
    answer = read(browsers, spoiled(packed(full), change))
    assert answer.status_code == 422
    assert (
        answer.json()["detail"].endswith(("came from.", "cannot be used."))
        or "cannot be used" in (answer.json()["detail"])
    )
    assert [User.objects.count(), TeachingClass.objects.count(), Draft.objects.count()] == before


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (lambda _d: b"", "is no archive of a class"),
        (lambda _d: b"PK\x03\x04nonsense", "is no archive of a class"),
        (lambda d: d[: len(d) // 2], "is no archive of a class"),
        (
            lambda d: spoiled(
                d, lambda t, _m: t["sheets.Reading"][0].update(typed="9"), sums=False
            ),
            "was damaged on its way",
        ),
        (
            lambda d: spoiled(d, lambda _t, m: m.update(format="edrix-class/9")),
            "is no edrix-class/1",
        ),
    ],
    ids=["nothing", "no zip", "half of it", "damaged", "of another time"],
)
def test_files_that_are_no_archive(full, browsers, data, says):
    answer = read(browsers, data(packed(full)))
    assert answer.status_code == 422
    assert says in answer.json()["detail"]


def test_a_rota_keeps_its_hours_at_a_school_of_another_zone(full, browsers, settings):
    """Eight o'clock is when the hall opens, wherever it stands."""
    data = packed(full)
    settings.TIME_ZONE = "America/New_York"
    class_id = read(browsers, data).json()["class_id"]
    (booking,) = RotaBooking.objects.filter(rota__teaching_class_id=class_id)
    assert f"{timezone.localtime(booking.starts_at):%Y-%m-%dT%H:%M}" == booking.slot


@pytest.mark.parametrize(
    ("who", "out", "back"),
    [
        ("nobody", 401, 401),
        ("student", 403, 403),
        ("other student", 404, 403),
        ("other instructor", 404, 201),
        ("instructor", 200, 201),
    ],
)
def test_who_may_take_a_class_away_and_bring_it(full, browsers, who, out, back):
    assert taken_away(browsers[who], full.class_a).status_code == out
    assert read(browsers, packed(full), who).status_code == back


def test_an_older_archive_brings_only_what_its_students_drilled_alone(full, browsers):
    """Its drills name no class, and are of all classes of whoever was in it."""
    tove = browsers["instructor"]
    own = {"engine_id": full.engine_id, "held": "class", "class_id": full.class_a}
    assert tove.send("POST", "/api/drills", own).status_code == 201

    def older(tables, _manifest):
        for row in tables["drills.Drill"]:
            del row["teaching_class_id"]

    answer = read(browsers, spoiled(packed(full), older))
    class_id = answer.json()["class_id"]
    told = tove.get(f"/api/classes/{class_id}/drills").json()
    assert [(one["person"], one["held"], one["answered"]) for one in told] == [
        ("Ines Falkner", "alone", 1)
    ]
