"""A class that is asked: open until it is closed, changed until then, and nothing told before."""

import threading
from datetime import timedelta

import pytest
from django.db import OperationalError, connections
from django.utils import timezone

from edrix.asking import services as asking
from edrix.asking.models import ClassAnswer, ClassQuestion
from edrix.classes import roll
from edrix.classes import services as classes
from edrix.errors import ConflictError
from tests.server.asking_table import asked, question_body


class Room:
    """Class A with its instructor's wall and two phones."""

    def __init__(self, school, browsers):
        self.school, self.browsers = school, browsers
        self.tove = browsers["instructor"]

    def ask(self, **more):
        path = f"/api/classes/{self.school.class_a}/questions"
        answer = self.tove.send("POST", path, question_body(self.school, **more))
        assert answer.status_code == 201, answer.content
        return answer.json()["question"]

    def wall(self, after=""):
        return self.tove.get(f"/api/classes/{self.school.class_a}/question?after={after}")

    def step(self, question, to):
        return self.tove.send("POST", f"/api/questions/{question['id']}/step", {"to": to})

    def give(self, who, question, *given, sure=0):
        path = f"/api/questions/{question['id']}/answer"
        return self.browsers[who].send("PUT", path, {"given": list(given), "sure": sure})

    def phone(self, who):
        questions = self.browsers[who].get("/api/my/now").json()["questions"]
        return questions[0] if questions else None


@pytest.fixture
def room(school, browsers):
    return Room(school, browsers)


class TestALesson:
    """1-3-4-2 at firing TDC of 1: valves 1, 2, 3 and 5 may be set, and cylinder 4 rocks."""

    def test_from_the_question_to_the_proof(self, room):
        question = room.ask()
        assert question["state"] == "open"
        assert room.phone("student")["asks"] == "Which valves may be set now?"
        assert room.give("student", question, "7", "8", sure=3).status_code == 200
        assert room.give("classmate", question, "1", "2", "3", "5").status_code == 200
        wall = room.wall().json()["question"]
        assert (wall["answered"], wall["present"]) == (2, 2)
        assert wall["spread"] is wall["proof"] is None
        spread = room.step(question, "spread").json()["question"]
        assert spread["state"] == "spread"
        assert spread["spread"]["votes"]["7"] == spread["spread"]["votes"]["1"] == 1
        assert spread["spread"]["right"] == 1
        assert spread["proof"] is None
        proof = room.step(question, "proof").json()["question"]["proof"]
        assert proof["answer"] == ["1", "2", "3", "5"]
        (mistake,) = proof["mistakes"]
        assert mistake["label"] == "Companion mistaken"
        assert (mistake["answers"], mistake["sure"]) == (1, 1)
        assert proof["shows"]["crank_deg"] is not None
        assert room.step(question, "end").json()["question"] is None
        assert room.phone("student") is None

    def test_the_phone_learns_its_own_with_the_proof_and_never_the_others(self, room):
        question = room.ask()
        room.give("student", question, "7", "8", sure=3)
        room.give("classmate", question, "1", "2", "3", "5")
        for to in (None, "close", "spread"):
            if to:
                room.step(question, to)
            told = room.phone("student")
            assert told["answer"] is told["because"] is told["steps"] is None
            assert told["own"] == {"given": ["7", "8"], "sure": 3, "right": None, "wrong": None}
        room.step(question, "proof")
        told = room.phone("student")
        assert told["answer"] == ["1", "2", "3", "5"]
        assert told["own"]["right"] is False
        assert told["own"]["wrong"]["label"] == "Companion mistaken"
        assert told["own"]["wrong"]["cure"].startswith("Say both aloud")
        assert room.phone("classmate")["own"]["right"] is True
        assert "votes" not in told
        assert "answered" not in told

    def test_nothing_on_the_phone_tells_which_turn_the_crank_is_in(self, room):
        """Of 0° and 360° the wheel shows the same; what differs is what anybody sees."""
        room.ask(crank_deg=0)
        first = room.phone("student")["drawing"]
        room.ask(crank_deg=360, request_key="press-0002")
        second = room.phone("student")["drawing"]
        assert first["wheel_deg"] == second["wheel_deg"] == 0
        assert [v["number"] for v in first["valves"]] == list(range(1, 9))
        assert [v["down"] for v in first["valves"]] != [v["down"] for v in second["valves"]]
        assert "crank_deg" not in room.phone("student")

    def test_a_mark_on_the_phone_is_a_letter_and_says_nothing_else(self, room):
        room.ask(kind="which-valves")
        for mark in room.phone("student")["drawing"]["marks"]:
            assert set(mark) == {"label", "deg"}

    def test_an_answer_is_changed_until_the_close_and_what_stands_counts(self, room):
        question = room.ask()
        for given in (["7"], ["1", "2"], ["1", "2", "3", "5"]):
            assert room.give("student", question, *given).json()["given"] == given
        room.step(question, "close")
        late = room.give("student", question, "7")
        assert late.status_code == 409
        assert late.json()["detail"] == ("This question is closed. Your answer from before counts.")
        assert ClassAnswer.objects.get().given == ["1", "2", "3", "5"]
        never = room.give("classmate", question, "7")
        assert never.json()["detail"] == (
            "This question is closed. No answer of yours was counted."
        )

    def test_a_count_down_ends_by_itself(self, room):
        question = room.ask(seconds=20)
        assert 19 <= question["seconds_left"] <= 20
        ClassQuestion.objects.update(closes_at=timezone.now() - timedelta(seconds=1))
        assert room.wall().json()["question"]["state"] == "closed"
        # Sent before the end, and late over thin Wi-Fi.
        assert room.give("student", question, "1").status_code == 200
        ClassQuestion.objects.update(closes_at=timezone.now() - timedelta(seconds=3))
        assert room.give("student", question, "2").status_code == 409

    def test_what_was_closed_by_hand_has_no_grace(self, room):
        question = room.ask(seconds=20)
        room.step(question, "close")
        assert room.give("student", question, "1").status_code == 409

    def test_the_next_question_ends_the_one_before(self, room):
        first = room.ask()
        second = room.ask(kind="which-stroke", crank_deg=50, request_key="press-0002")
        assert room.phone("student")["id"] == second["id"]
        assert room.give("student", first, "1").status_code == 409
        assert ClassQuestion.objects.filter(ended_at__isnull=True).count() == 1

    def test_the_same_press_twice_asks_once(self, room):
        """The instructor's laptop lost the answer on the way."""
        assert room.ask()["id"] == room.ask()["id"]
        assert ClassQuestion.objects.count() == 1

    def test_a_step_again_is_nothing_new(self, room):
        question = room.ask()
        room.step(question, "spread")
        at = ClassQuestion.objects.get().closed_at
        assert room.step(question, "spread").status_code == 200
        assert room.step(question, "close").json()["question"]["state"] == "spread"
        assert ClassQuestion.objects.get().closed_at == at

    def test_ended_without_a_proof_was_not_proved(self, room):
        question = room.ask()
        room.step(question, "end")
        kept = ClassQuestion.objects.get()
        assert kept.closed_at is not None
        assert kept.spread_at is kept.proof_at is None

    def test_one_that_nobody_ended_lapses(self, room):
        """The lesson is over and the laptop was shut: next week no phone is asked it."""
        question = room.ask()
        room.give("student", question, "7")
        ClassQuestion.objects.update(asked_at=timezone.now() - timedelta(hours=3, minutes=1))
        assert room.phone("student") is None
        late = room.give("student", question, "8")
        assert late.status_code == 409
        assert "Your answer from before counts." in late.json()["detail"]
        assert room.wall().json()["question"] is None
        # On a page that still shows it, its steps are for the record.
        assert room.step(question, "proof").status_code == 200
        assert room.phone("student") is None
        assert room.ask(request_key="press-0003")["state"] == "open"
        assert ClassQuestion.objects.filter(ended_at__isnull=True).count() == 1


class TestBadInput:
    @pytest.mark.parametrize(
        ("given", "says"),
        [
            ([], "none of the options"),
            (["99"], "none of the options"),
            (["1", "99"], "none of the options"),
            (["power", "exhaust"], "Only one may be chosen."),
        ],
    )
    def test_what_is_no_answer(self, room, given, says):
        kind = "which-stroke" if "power" in given else "which-valves"
        question = room.ask(kind=kind, crank_deg=50)
        answer = room.give("student", question, *given)
        assert answer.status_code == 422
        assert says in answer.json()["detail"]
        assert not ClassAnswer.objects.exists()

    @pytest.mark.parametrize(
        ("more", "says"),
        [
            ({"kind": "which-mark", "crank_deg": 100}, "No mark stands at the pointer here"),
            ({"kind": "which-stroke"}, "too near to a dead centre here"),
            ({"kind": "no-such"}, "There is no question “no-such”"),
        ],
    )
    def test_what_cannot_be_asked_here_is_said_and_asks_nothing(self, room, school, more, says):
        before = room.ask(request_key="press-0009")
        answer = room.tove.send(
            "POST", f"/api/classes/{school.class_a}/questions", question_body(school, **more)
        )
        assert answer.status_code == 422
        assert says in answer.json()["detail"]
        assert room.phone("student")["id"] == before["id"]

    def test_another_class_is_not_asked(self, room, browsers):
        question = room.ask()
        assert browsers["other student"].get("/api/my/now").json()["questions"] == []
        assert room.give("other student", question, "1").status_code == 404

    def test_who_left_is_not_asked(self, room, school):
        question = room.ask()
        classes.change_student(school.tove, school.class_a, school.ines.id, left=True)
        assert room.phone("student") is None
        assert room.give("student", question, "1").status_code == 404


class TestTheCursor:
    def test_nothing_new_costs_nothing(
        self, room, django_capture_on_commit_callbacks, django_assert_max_num_queries
    ):
        with django_capture_on_commit_callbacks(execute=True):
            question = room.ask()
        after = room.wall().json()["cursor"]
        with django_assert_max_num_queries(4):
            assert room.wall(after).status_code == 304
        with django_capture_on_commit_callbacks(execute=True):
            room.give("student", question, "1")
        told = room.wall(after)
        assert told.status_code == 200
        assert told.json()["question"]["answered"] == 1

    def test_the_answers_of_others_wake_no_phone(
        self, room, browsers, django_capture_on_commit_callbacks, django_assert_max_num_queries
    ):
        with django_capture_on_commit_callbacks(execute=True):
            question = room.ask()
        phone = browsers["classmate"]
        after = phone.get("/api/my/now?day=false").json()["cursor"]
        with django_capture_on_commit_callbacks(execute=True):
            room.give("student", question, "1")
        with django_assert_max_num_queries(3):
            assert phone.get(f"/api/my/now?day=false&after={after}").status_code == 304
        with django_capture_on_commit_callbacks(execute=True):
            room.step(question, "proof")
        assert phone.get(f"/api/my/now?day=false&after={after}").status_code == 200

    def test_a_question_does_not_tell_the_day_again(
        self, room, browsers, django_capture_on_commit_callbacks
    ):
        phone = browsers["classmate"]
        first = phone.get("/api/my/now").json()
        assert first["day"] is not None
        with django_capture_on_commit_callbacks(execute=True):
            room.ask()
        second = phone.get(f"/api/my/now?after={first['cursor']}").json()
        assert len(second["questions"]) == 1
        assert second["day"] is None
        third = phone.get(f"/api/my/now?after={second['cursor']}")
        assert third.status_code == 304

    def test_what_is_kept_stays_kept_though_the_beat_fails(
        self, room, monkeypatch, django_capture_on_commit_callbacks
    ):
        def fails(*_args):
            raise OperationalError("the database went away")

        monkeypatch.setattr("edrix.classes.beats._beat", fails)
        with django_capture_on_commit_callbacks(execute=True):
            question = room.ask()
            assert room.give("student", question, "1").status_code == 200
        assert ClassAnswer.objects.count() == 1


class TestTheRecord:
    def test_what_was_asked_and_what_the_room_mistakes_most(self, room, school, browsers):
        for number in range(3):
            question = room.ask(request_key=f"press-{number:04}")
            room.give("student", question, "7", "8", sure=3)
            room.give("classmate", question, *(["7"] if number else ["1", "2", "3", "5"]))
        told = browsers["instructor"].get(f"/api/classes/{school.class_a}/questions").json()
        assert [one["right"] for one in told["questions"]] == [0, 0, 1]
        assert {one["sure_and_wrong"] for one in told["questions"]} == {1}
        companion, lobe = told["mistakes"]
        assert (companion["label"], companion["answers"], companion["students"]) == (
            "Companion mistaken", 3, 1,
        )  # fmt: skip
        assert companion["asked"] == "who-rocks"
        assert (lobe["answers"], lobe["students"]) == (2, 1)


@pytest.mark.django_db(transaction=True)
def test_sixty_answers_at_once_are_all_kept_once(school):
    """And each of them twice, as from two devices."""
    names = "\n".join(f"Student {number}" for number in range(58))
    roll.add_students(school.tove, school.class_a, names)
    question = asked(school)
    people = list(classes.students_of(school.class_a))
    assert len(people) == 60
    failed = []

    def answer(person):
        try:
            for given in (["7"], ["1", "2", "3", "5"]):
                asking.answer(person, question.id, given, 1)
        except Exception as fault:
            failed.append(fault)
        finally:
            connections.close_all()

    threads = [threading.Thread(target=answer, args=(person,)) for person in people]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert failed == []
    kept = ClassAnswer.objects.filter(question=question)
    assert kept.count() == 60
    assert all(one.right for one in kept)


@pytest.mark.django_db(transaction=True)
def test_two_devices_of_one_person_keep_one_answer(school):
    question = asked(school)
    barrier = threading.Barrier(2)
    failed = []

    def answer(given):
        try:
            barrier.wait(timeout=20)
            asking.answer(school.ines, question.id, given, 0)
        except ConflictError as fault:
            failed.append(fault)
        finally:
            connections.close_all()

    threads = [threading.Thread(target=answer, args=([one],)) for one in ("7", "8")]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert failed == []
    assert ClassAnswer.objects.count() == 1


def test_a_colleagues_sheet_is_on_every_phone_and_tells_nothing_before_its_proof(room):
    asked = room.ask(kind="find-the-mistake", crank_deg=0)
    phone = room.phone("student")
    assert len(phone["sheet"]) == len(asked["sheet"]) >= 2
    assert phone["drawing"] is None
    assert phone["answer"] is None
    assert phone["because"] is None
    assert "shown_deg" not in phone
    room.give("student", asked, phone["options"][0]["id"], sure=3)
    for to in ("close", "spread", "proof"):
        assert room.step(asked, to).status_code == 200
    told = room.phone("student")
    assert told["answer"][0] in {option["id"] for option in told["options"]}
    number = told["answer"][0].split(":")[0]
    (line,) = (one for one in told["sheet"] if f"{one['valve']}" == number)
    assert told["because"].startswith(f"Valve {line['valve']}: ")
    shows = room.wall().json()["question"]["proof"]["shows"]
    assert shows is None or shows["crank_deg"] == line["at_deg"]
