"""What was missed comes back: from a class, from one's own drills, until it is right twice."""

from datetime import timedelta

import pytest
from django.utils import timezone

from edrix.asking import services as asking
from edrix.drills import again
from edrix.drills.models import Drill, Missed
from tests.server.asking_table import asked
from tests.server.test_drills import give, right_answer


def comes_round():
    """The days go by until everything is due."""
    Missed.objects.filter(due_on__isnull=False).update(due_on=timezone.localdate())


@pytest.fixture
def sure_and_wrong(school):
    """Asked in class, Ines was sure and wrong, Bo guessed and was wrong."""
    question = asked(school)
    asking.answer(school.ines, question.id, ["7", "8"], 3)
    asking.answer(school.bo, question.id, ["7", "8"], 1)
    asking.step(school.tove, question.id, "proof")
    asking.step(school.tove, question.id, "end")
    return question


def back(browsers, who):
    return browsers[who].get("/api/my/now").json()["day"]["back"]


def new_drill(browsers, school, who="student"):
    return browsers[who].send("POST", "/api/drills", {"engine_id": school.engine_id}).json()


def test_sure_and_wrong_is_the_next_days_drill_and_a_guess_is_not(sure_and_wrong, school, browsers):
    (one,) = Missed.objects.all()
    assert (one.person_id, one.kind) == (school.ines.id, "which-valves")
    assert one.due_on == timezone.localdate() + timedelta(days=1)
    assert back(browsers, "student") == []
    comes_round()
    (told,) = back(browsers, "student")
    assert (told["engine_id"], told["questions"]) == (school.engine_id, 1)
    assert back(browsers, "classmate") == []


def test_who_was_never_shown_that_it_was_wrong_is_not_drilled(school):
    question = asked(school)
    asking.answer(school.ines, question.id, ["7", "8"], 3)
    asking.step(school.tove, question.id, "end")
    assert not Missed.objects.exists()


def test_asked_twice_it_comes_back_once(sure_and_wrong, school):
    question = asked(school, request_key="press-0002")
    asking.answer(school.ines, question.id, ["7"], 3)
    asking.step(school.tove, question.id, "proof")
    # The next question ends it.
    asked(school, request_key="press-0003")
    assert Missed.objects.count() == 1


def test_a_drill_begins_with_it_until_it_was_right_twice(sure_and_wrong, school, browsers):
    for in_a_row in (1, 2):
        comes_round()
        drill = new_drill(browsers, school)
        assert drill["questions"][0]["kind"] == "which-valves"
        assert len(drill["questions"]) == 10
        give(browsers["student"], drill, 1, list(right_answer(drill["id"], 1)))
        one = Missed.objects.get()
        assert one.right_in_a_row == in_a_row
    assert one.due_on is None
    assert Drill.objects.get(id=new_drill(browsers, school)["id"]).comes_back == []


def test_wrong_again_it_begins_anew_and_the_first_answer_stands(sure_and_wrong, school, browsers):
    comes_round()
    drill = new_drill(browsers, school)
    right = right_answer(drill["id"], 1)
    wrong = next([o["id"]] for o in drill["questions"][0]["options"] if (o["id"],) != right)
    give(browsers["student"], drill, 1, wrong)
    assert Missed.objects.get().due_on == timezone.localdate() + timedelta(days=1)
    give(browsers["student"], drill, 1, list(right))
    assert Missed.objects.get().right_in_a_row == 0


def test_what_is_missed_alone_comes_back_too(school, browsers):
    drill = new_drill(browsers, school)
    right = right_answer(drill["id"], 1)
    wrong = next([o["id"]] for o in drill["questions"][0]["options"] if (o["id"],) != right)
    give(browsers["student"], drill, 1, wrong)
    assert Missed.objects.get().kind == drill["questions"][0]["kind"]


def test_a_drill_before_a_class_holds_nothing_of_anybody(sure_and_wrong, school, browsers):
    comes_round()
    body = {"engine_id": school.engine_id, "held": "class"}
    made = browsers["instructor"].send("POST", "/api/drills", body).json()
    assert Drill.objects.get(id=made["id"]).comes_back == []


def test_a_number_of_another_place_moves_nothing(sure_and_wrong, school):
    """A drill that came with a class from elsewhere."""
    one = Missed.objects.get()
    for of in (
        again.OneMissed(school.bo.id, one.engine_version, one.kind),
        again.OneMissed(school.ines.id, one.engine_version, "fires-next"),
    ):
        again.was_answered(one.id, of, right=True)
    assert Missed.objects.get().right_in_a_row == 0
