"""A typing mistake in a name is put right, wherever it stands; names that are taken are told."""

import pytest

from edrix.accounts.models import User
from edrix.classes import roll
from edrix.sheets.models import Sheet
from edrix.stands import services as stands
from tests.server.conftest import School


def rename(browsers, path, body, who="instructor"):
    return browsers[who].send("PATCH", path, body)


def names(school: School) -> dict[str, tuple[str, str]]:
    """What can be renamed: its address and field."""
    return {
        "class": (f"/api/classes/{school.class_a}", "name"),
        "student": (f"/api/classes/{school.class_a}/students/{school.ines.id}", "name"),
        "stand": (f"/api/stands/{school.stand.id}", "name"),
        "sheet": (f"/api/sheets/{school.sheet.id}", "name"),
        "practice": (f"/api/practice/{school.practice.id}", "name"),
    }


WHAT = ["class", "student", "stand", "sheet", "practice"]


@pytest.mark.parametrize("what", WHAT)
def test_a_name_is_put_right_and_tidied(school, browsers, what):
    path, field = names(school)[what]
    assert rename(browsers, path, {field: "  Łódź   winter "}).status_code == 204
    tove = browsers["instructor"]
    told = {
        "class": lambda: tove.get(path).json()["name"],
        "student": lambda: User.objects.get(id=school.ines.id).display_name,
        "stand": lambda: tove.get(f"/api/classes/{school.class_a}/stands").json()[0]["name"],
        "sheet": lambda: Sheet.objects.get(id=school.sheet.id).title,
        "practice": lambda: tove.get(f"/api/classes/{school.class_a}/practice").json()[0]["title"],
    }
    assert told[what]() == "Łódź winter"


@pytest.mark.parametrize("what", WHAT)
@pytest.mark.parametrize("name", ["", "   ", "x" * 300])
def test_no_name_and_a_novel_change_nothing(school, browsers, what, name):
    path, field = names(school)[what]
    answer = rename(browsers, path, {field: name})
    assert answer.status_code == 422
    assert answer.json()["fields"][0]["path"] == field


def test_a_name_that_is_taken_is_told(school, browsers):
    stands.create_stand(school.tove, school.class_a, "Stand 4", school.engine_id)
    answer = rename(browsers, f"/api/stands/{school.stand.id}", {"name": "Stand 4"})
    assert answer.status_code == 409
    assert "a stand called Stand 4 already" in answer.json()["detail"]
    # To its own name it may be renamed: nothing is taken by itself.
    assert (
        rename(browsers, f"/api/stands/{school.stand.id}", {"name": "Stand 3"}).status_code == 204
    )


def test_a_student_signs_in_as_before(school, browsers):
    path, _ = names(school)["student"]
    assert rename(browsers, path, {"name": "Inès Falkner"}).status_code == 204
    assert browsers["nobody"].sign_in("ines.falkner").status_code == 200


def test_a_shared_student_is_renamed_by_the_class_that_made_the_account(school, browsers):
    """Otherwise anybody could rename anybody by adding them to a class of their own."""
    roll.add_students(school.rolf, school.class_b, "Ines, ines.falkner")
    path = f"/api/classes/{school.class_b}/students/{school.ines.id}"
    refused = rename(browsers, path, {"name": "Nobody"}, "other instructor")
    assert refused.status_code == 403
    assert "was made in Class A" in refused.json()["detail"]
    assert User.objects.get(id=school.ines.id).display_name == "Ines Falkner"


def test_who_teaches_keeps_their_own_name(school, browsers):
    User.objects.filter(id=school.bo.id).update(may_teach=True)
    path = f"/api/classes/{school.class_a}/students/{school.bo.id}"
    assert rename(browsers, path, {"name": "Nobody"}).status_code == 403


@pytest.mark.parametrize("code", [0, 1, 8, 11, 12, 14, 27, 31])
def test_control_characters_are_refused_at_the_edge(school, browsers, code):
    """One of them in a name made every workbook of the class fail for good."""
    path = f"/api/classes/{school.class_a}/students/{school.ines.id}"
    answer = rename(browsers, path, {"name": f"Ines{chr(code)} Falkner"})
    assert answer.status_code == 422
    assert "control characters" in answer.json()["detail"]
    assert User.objects.get(id=school.ines.id).display_name == "Ines Falkner"
    file = browsers["instructor"].get(f"/api/sheets/{school.sheet.id}/marks.xlsx")
    assert file.status_code == 200
