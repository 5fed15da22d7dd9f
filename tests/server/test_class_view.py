"""A sheet's class at a glance, for its instructors: cells, groups, and a key that is in doubt."""

from edrix.accounts.models import User
from edrix.classes import roll
from edrix.marking import handing_in
from edrix.sheets.lines import TypedLine
from tests.server.conftest import right_lines, tick_the_lists


def hand_in_as(school, student, change):
    """Right lines, of which some are changed: by valve."""
    tick_the_lists(school, student)
    lines = [TypedLine(**line | change.get(line["valve"], {})) for line in right_lines()]
    return handing_in.hand_in(
        student, school.sheet.id, lines, request_key=f"click-of-{student.id}", confirmed=True
    )


def crew(school, many):
    names = "\n".join(f"Crew {chr(65 + n)}" for n in range(many))
    roll.add_students(school.tove, school.class_a, names)
    return list(User.objects.filter(display_name__startswith="Crew ").order_by("display_name"))


def view_of(browsers, school):
    return browsers["instructor"].get(f"/api/sheets/{school.sheet.id}/class-view").json()


def test_each_cell_says_what_is_wrong_there(school, browsers):
    hand_in_as(
        school,
        school.ines,
        {
            1: {"reading": "0.45", "verdict": "loose"},
            2: {"reading": ""},
            4: {"crank_deg": 90.0},
            6: {"verdict": "loose"},
        },
    )
    view = view_of(browsers, school)
    (row,) = view["rows"]
    assert row["student"] == "Ines Falkner"
    assert row["cells"][:6] == ["larger", "blank", "right", "place", "right", "verdict"]
    assert row["gaps_mm"][:2] == [0.45, None]
    assert row["errors_mm"][0] > 0.05
    assert [valve["number"] for valve in view["valves"]] == list(range(1, 9))
    # Bo is in the class and has not handed in.
    assert view["waits"] == 1
    assert view["doubts"] == []


def test_a_wrong_key_shows_before_a_class_is_failed_by_it(school, browsers):
    for student in crew(school, 6):
        hand_in_as(school, student, {6: {"reading": "0.35", "verdict": "loose"}})
    view = view_of(browsers, school)
    assert [valve["number"] for valve in view["valves"] if valve["doubted"]] == [6]
    (says,) = view["doubts"]
    assert says.startswith("6 of 6 read valve 6 loose, about 0.35 mm where the key says")
    board = browsers["instructor"].get(f"/api/sheets/{school.sheet.id}/findings").json()
    assert board["doubts"] == view["doubts"]
    # Nothing of it is told to a student: it would tell the key.
    own = browsers["student"].get(f"/api/sheets/{school.sheet.id}").json()
    assert "doubt" not in str(own)


def test_what_explains_the_figures_is_grouped(school, browsers):
    for student in crew(school, 2):
        hand_in_as(school, student, {7: {"reading": "2.5"}})
    (group,) = view_of(browsers, school)["groups"]
    assert (group["kind"], group["label"]) == ("decimal-slip", "Decimal point")
    assert [member["valves"] for member in group["of"]] == [[7], [7]]


def test_an_instructors_decision_counts_in_the_cell(school, browsers):
    made = hand_in_as(school, school.ines, {1: {"reading": "0.45", "verdict": "loose"}})
    body = {"valve": 1, "part": "reading", "right": True, "reason": "I measured it again"}
    tove = browsers["instructor"]
    assert tove.send("POST", f"/api/hand-ins/{made.id}/decisions", body).status_code == 200
    assert view_of(browsers, school)["rows"][0]["cells"][0] == "right"


def test_a_sheet_without_hand_ins_is_an_empty_view(school, browsers):
    view = view_of(browsers, school)
    assert (view["rows"], view["groups"], view["doubts"]) == ([], [], [])


def test_no_query_for_each_sheet(school, browsers, django_assert_max_num_queries):
    for student in crew(school, 5):
        hand_in_as(school, student, {})
    browsers.sign_in("instructor")
    with django_assert_max_num_queries(18):
        view_of(browsers, school)
