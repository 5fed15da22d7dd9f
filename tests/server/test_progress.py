"""A student's progress: what a class sees of it, and what is signed off."""

import pytest

from edrix.marking import handing_in
from edrix.practice.models import PracticeRun
from edrix.progress.models import SignOff
from edrix.sheets import services as sheets
from edrix.sheets.lines import TypedLine
from tests.server.conftest import right_lines, tick_the_lists
from tests.server.test_drills import right_answer
from tests.server.test_practice import Run


@pytest.fixture
def two_sheets(school):
    """Ines measures stand 3 twice, first all 0.02 tight, then well; with her lists ticked."""
    tick_the_lists(school, school.ines)
    new = sheets.NewSheet(school.stand.id, "Second measuring", "two-stop", "0.03", "mm")
    second = sheets.set_sheet(school.tove, school.class_a, new)
    for sheet, off in ((school.sheet, 0.02), (second, 0.0)):
        lines = [
            TypedLine(**line | {"reading": f"{float(line['reading']) - off:.2f}"})
            for line in right_lines()
        ]
        handing_in.hand_in(
            school.ines, sheet.id, lines, request_key=f"key-{sheet.id:06}", confirmed=True
        )


def see(browsers, school, who="instructor"):
    path = f"/api/classes/{school.class_a}/students/{school.ines.id}/progress"
    return browsers[who].get(path).json()


def sign(browsers, school, **fields):
    path = f"/api/classes/{school.class_a}/students/{school.ines.id}/sign-offs"
    return browsers["instructor"].send("POST", path, fields)


def skills(told):
    return {one["skill"]: one for one in told["skills"]}


def test_biases_shrink_and_skills_show(school, browsers, two_sheets):
    told = see(browsers, school)
    first, second = told["hands"]
    assert (first["title"], second["title"]) == ("First measuring", "Second measuring")
    assert first["bias_mm"] == pytest.approx(-0.02, abs=0.004)
    assert second["bias_mm"] == pytest.approx(0.0, abs=0.004)
    found = skills(told)
    assert {name: one["state"] for name, one in found.items()} == {
        "place": "shown",
        "measure": "shown",
        "screw": "unseen",
        "shim": "unseen",
        "close": "shown",
    }
    assert found["place"]["train"] is None
    assert found["screw"]["train"]["title"] == "practice run “First run”"
    assert found["shim"]["train"] is None, "this class has no practice engine with shims"


def test_a_student_sees_skills_and_no_figure_that_tells_the_key(school, browsers, two_sheets):
    told = browsers["student"].get(f"/api/classes/{school.class_a}/progress").json()
    assert {hand["bias_mm"] for hand in told["hands"]} == {None}
    assert {hand["repeatability_mm"] for hand in told["hands"]} == {None}
    assert skills(told)["place"]["state"] == "shown"
    assert skills(told)["screw"]["train"]["path"] == "/work"


def test_drills_count_towards_finding_the_place(school, browsers):
    ines = browsers["student"]
    for _ in range(2):
        drill = ines.send("POST", "/api/drills", {"engine_id": school.engine_id}).json()
        for number in range(1, len(drill["questions"]) + 1):
            given = {"given": list(right_answer(drill["id"], number))}
            ines.send("POST", f"/api/drills/{drill['id']}/answers/{number}", given)
    place = skills(see(browsers, school))["place"]
    assert (place["state"], place["shares"]) == ("nearly", [1.0, 1.0])
    assert place["says"].endswith("in drills only")
    assert place["train"]["title"] == "practice run “First run”"


def test_nobody_is_sent_to_a_test_to_learn(school, browsers, two_sheets):
    school.practice.level = "test"
    school.practice.save(update_fields=["level"])
    assert skills(see(browsers, school))["screw"]["train"] is None


def test_figures_in_the_wrong_unit_are_no_bias_of_the_hand(school, browsers):
    """9.8 thou written as 0.10 mm is no hand that reads 0.15 mm tight."""
    lines = [
        TypedLine(**line | {"reading": f"{round(float(line['reading']) / 0.0254) / 100:.2f}"})
        for line in right_lines()
    ]
    handing_in.hand_in(
        school.ines, school.sheet.id, lines, request_key="key-in-thou", confirmed=True
    )
    (hand,) = see(browsers, school)["hands"]
    assert hand["bias_mm"] is None
    assert hand["slips"] == 1
    assert "reads tight" not in skills(see(browsers, school))["measure"]["says"]


def test_ended_runs_count(school, browsers):
    run = PracticeRun.objects.get(id=school.run_id)
    valves = [{"valve": n, "within": True, "measured": True} for n in range(1, 9)]
    run.ended_at, run.outcome = run.began_at, "quiet"
    run.debrief = {"valves": valves, "moments": []}
    run.save()
    found = skills(see(browsers, school))
    assert (found["screw"]["state"], found["screw"]["says"]) == ("nearly", "100 % right of late")
    assert found["close"]["state"] == "nearly"
    # One valve left outside its spec: adjusting was not right, closing up was.
    valves[2]["within"] = False
    run.save()
    found = skills(see(browsers, school))
    assert found["screw"]["says"] == "0 % right of late"
    assert found["close"]["says"] == "100 % right of late"


def test_a_run_of_nothing_but_closing_up_shows_no_skill(school, browsers):
    """Four actions and no leaf: the valve that was planted wrong is left wrong, which counts, and
    the rest proves nothing."""
    run = Run(browsers["student"], school.run_id)
    for name in ("count-tools", "tool-off"):
        run.do(name)
    run.do("cover", on=True)
    run.do("start")
    found = skills(see(browsers, school))
    states = [found[name]["state"] for name in ("place", "screw", "shim", "close")]
    assert states == ["unseen", "not-yet", "unseen", "unseen"]


@pytest.mark.parametrize(
    ("level", "state"),
    [("shown", "unseen"), ("prompted", "unseen"), ("alone", "nearly"), ("test", "nearly")],
)
def test_only_what_was_done_alone_shows_a_skill(school, browsers, level, state):
    """Two runs of nothing but *Show me* gave "Adjust: shown"."""
    run = PracticeRun.objects.get(id=school.run_id)
    run.practice.level = level
    run.practice.save(update_fields=["level"])
    run.ended_at, run.outcome = run.began_at, "quiet"
    valves = [{"valve": n, "within": True, "measured": True} for n in range(1, 9)]
    run.debrief = {"valves": valves, "moments": []}
    run.save()
    assert skills(see(browsers, school))["screw"]["state"] == state


def test_a_test_tells_its_student_nothing_before_its_debriefs_are_opened(school, browsers):
    def own():
        return browsers["student"].get(f"/api/classes/{school.class_a}/progress").json()

    run = PracticeRun.objects.get(id=school.run_id)
    run.practice.level = "test"
    run.practice.save(update_fields=["level"])
    before = own()["skills"]
    run.ended_at, run.outcome = run.began_at, "damage"
    valves = [{"valve": n, "within": False, "measured": True} for n in range(1, 9)]
    run.debrief = {"valves": valves, "moments": [], "passed": False}
    run.save()
    assert own()["skills"] == before
    assert skills(see(browsers, school))["screw"]["state"] == "not-yet"
    run.practice.debriefs_at = run.ended_at
    run.practice.save(update_fields=["debriefs_at"])
    assert skills(own())["screw"]["state"] == "not-yet"
    assert skills(own())["close"]["state"] == "not-yet"


def test_a_skill_is_signed_off_and_taken_back(school, browsers):
    told = sign(browsers, school, skill="place", note="Seen at stand 3.").json()
    signed = skills(told)["place"]["signed"]
    assert (signed["by"], signed["note"]) == ("Tove", "Seen at stand 3.")
    mine = browsers["student"].get(f"/api/classes/{school.class_a}/progress").json()
    assert skills(mine)["place"]["signed"]["by"] == "Tove"
    told = sign(browsers, school, skill="place", signed=False).json()
    assert skills(told)["place"]["signed"] is None
    assert SignOff.objects.count() == 2, "both stay on record"


@pytest.mark.parametrize(
    ("fields", "status"),
    [({"skill": "dancing"}, 422), ({"skill": "place", "note": "x" * 201}, 422), ({}, 422)],
)
def test_what_is_no_sign_off(school, browsers, fields, status):
    assert sign(browsers, school, **fields).status_code == status
    assert not SignOff.objects.exists()


def test_a_skill_is_named_in_twenty_letters_at_most(school, browsers):
    """What no skill is called is told back; a whole page is not."""
    wrong = sign(browsers, school, skill="juggling with shims.")
    assert wrong.status_code == 422
    assert "“juggling with shims.” is no skill; there are place, measure" in wrong.json()["detail"]
    long = sign(browsers, school, skill="juggling with shims..")
    assert long.status_code == 422
    assert "juggling" not in long.json()["detail"]


def test_students_of_other_classes_are_not_there(school, browsers):
    path = f"/api/classes/{school.class_a}/students/{school.rolf.id}/progress"
    assert browsers["instructor"].get(path).status_code == 404


def test_no_query_for_each_sheet(school, browsers, two_sheets, django_assert_max_num_queries):
    """Two sheets of a stand cost what ten would: the number here does not grow with them."""
    for number in range(3, 8):
        new = sheets.NewSheet(school.stand.id, f"No. {number}", "two-stop", "0.03", "mm")
        sheet = sheets.set_sheet(school.tove, school.class_a, new)
        lines = [TypedLine(**line) for line in right_lines()]
        handing_in.hand_in(
            school.ines, sheet.id, lines, request_key=f"key-{sheet.id:06}", confirmed=True
        )
    browsers.sign_in("instructor", "student")
    with django_assert_max_num_queries(23):
        see(browsers, school)
