"""The class as an instrument over HTTP: whole, left out with a reason, or refused in words."""

import pytest

from edrix.accounts.models import User
from edrix.classes import roll
from edrix.marking import handing_in
from edrix.sheets import services as sheets
from edrix.sheets.lines import TypedLine
from tests.server.conftest import KEY_MM, STOPS
from valvetrain.study import Measured, cells_of, study


def lines(by, odd=None):
    written = []
    for valve, gap in KEY_MM.items():
        reading = (odd or {}).get(valve, f"{float(gap) + by + 0.01 * (valve % 2):.2f}")
        written.append(
            TypedLine(valve=valve, reading=reading, crank_deg=STOPS[valve], verdict="within")
        )
    return written


@pytest.fixture
def trials(school):
    """The school's sheet and one more on the same key."""
    new = sheets.NewSheet(school.stand.id, "Second trial", "two-stop", "0.03", "mm")
    return [school.sheet, sheets.set_sheet(school.tove, school.class_a, new)]


def hand_in(who, sheet, by=0.0, odd=None):
    handing_in.hand_in(
        who, sheet.id, lines(by, odd), request_key=f"study-{who.id}-{sheet.id}", confirmed=True
    )


def read(browsers, school):
    return browsers["instructor"].get(f"/api/stands/{school.stand.id}/study")


def test_it_is_the_cores_study_of_what_was_handed_in(browsers, school, trials):
    measured = []
    for who, bias in ((school.ines, 0.0), (school.bo, 0.03)):
        for trial, sheet in enumerate(trials, start=1):
            by = bias + 0.01 * (trial - 1)
            hand_in(who, sheet, by)
            measured += [
                Measured(who.display_name, line.valve, trial, float(line.reading))
                for line in lines(by)
            ]
    told = read(browsers, school).json()
    expected = study(cells_of(measured), [float(KEY_MM[valve]) for valve in sorted(KEY_MM)])
    assert (told["students"], told["valves"]) == (2, 8)
    assert told["trials"] == [sheet.title for sheet in trials]
    assert told["left_out"] == []
    for ours, core in zip(told["components"], expected.components, strict=True):
        assert ours["deviation_mm"] == pytest.approx(core.deviation_mm)
    assert [hand["bias_mm"] for hand in told["hands"]] == pytest.approx(
        [hand.bias_mm for hand in expected.hands]
    )
    assert all(-1 <= hand["agreed"]["kappa"] <= 1 for hand in told["hands"])
    # Every verdict of two sheets of eight valves counts; all said "within".
    assert {hand["agreed"]["judged"] for hand in told["hands"]} == {16}
    assert (told["together"]["judged"], told["together"]["alike"]) == (16, 16)
    assert {valve["valve"] for valve in told["hardest"]} == set(KEY_MM)


def test_who_cannot_be_in_it_is_named_with_the_reason(browsers, school, trials):
    more = roll.add_students(school.tove, school.class_a, "Runa Castell\nEskil Dorn")
    runa, eskil = (User.objects.get(id=one.id) for one in more)
    for who in (school.ines, school.bo, runa, eskil):
        hand_in(who, trials[0], odd={2: "2.5"} if who == runa else None)
    for who in (school.ines, school.bo, runa):
        hand_in(who, trials[1], 0.01)
    told = read(browsers, school).json()
    assert told["students"] == 2
    assert told["left_out"] == [
        {"student": "Eskil Dorn", "why": "no sheet “Second trial”"},
        {"student": "Runa Castell", "why": f"a slip of the pen on “{trials[0].title}”"},
    ]


def test_a_blank_valve_leaves_its_student_out(browsers, school, trials):
    for sheet in trials:
        hand_in(school.ines, sheet)
        hand_in(school.bo, sheet, odd={3: ""} if sheet == trials[1] else None)
    answer = read(browsers, school)
    assert answer.status_code == 409
    assert "1 of the students" in answer.json()["detail"]


def test_one_sheet_is_no_study(browsers, school):
    answer = read(browsers, school)
    assert answer.status_code == 409
    assert "set the same stand again" in answer.json()["detail"]


def test_two_of_one_name_are_told_apart(browsers, school, trials):
    (twin,) = roll.add_students(school.tove, school.class_a, "Ines Falkner")
    for sheet in trials:
        hand_in(school.ines, sheet)
        hand_in(User.objects.get(id=twin.id), sheet, 0.02)
    names = [hand["student"] for hand in read(browsers, school).json()["hands"]]
    assert len(set(names)) == 2


def test_few_queries(browsers, school, trials, django_assert_max_num_queries):
    for sheet in trials:
        hand_in(school.ines, sheet)
        hand_in(school.bo, sheet, 0.02)
    browsers.sign_in("instructor")
    with django_assert_max_num_queries(24):
        read(browsers, school)


def test_one_more_sheet_does_not_empty_it(browsers, school, trials):
    for who in (school.ines, school.bo):
        for sheet in trials:
            hand_in(who, sheet, 0.01 * sheet.id % 0.03)
    before = read(browsers, school).json()
    new = sheets.NewSheet(school.stand.id, "This morning", "two-stop", "0.03", "mm")
    third = sheets.set_sheet(school.tove, school.class_a, new)
    assert read(browsers, school).json() == before
    told = browsers["instructor"].get(f"/api/stands/{school.stand.id}/trials").json()["trials"]
    assert [(one["title"], one["handed_in"], one["proposed"]) for one in told] == [
        ("First measuring", 2, True),
        ("Second trial", 2, True),
        ("This morning", 0, False),
    ]
    # Once half are through, it is a trial like the others.
    hand_in(school.ines, third)
    assert "This morning" in {
        one["title"]
        for one in browsers["instructor"]
        .get(f"/api/stands/{school.stand.id}/trials")
        .json()["trials"]
        if one["proposed"]
    }


def test_its_trials_are_chosen(browsers, school, trials):
    new = sheets.NewSheet(school.stand.id, "Third trial", "two-stop", "0.03", "mm")
    three = [*trials, sheets.set_sheet(school.tove, school.class_a, new)]
    for who in (school.ines, school.bo):
        for sheet in three:
            hand_in(who, sheet, 0.01 * (sheet.id % 3))
    path = f"/api/stands/{school.stand.id}/study?sheets={three[0].id}&sheets={three[2].id}"
    told = browsers["instructor"].get(path).json()
    assert told["trials"] == ["First measuring", "Third trial"]
    alone = browsers["instructor"].get(path.split("&")[0])
    assert alone.status_code == 409
    assert "1 of 3 sheets" in alone.json()["detail"]
    assert "choose two at least" in alone.json()["detail"]
    other = browsers["instructor"].get(path + "&sheets=999999")
    assert other.status_code == 404
